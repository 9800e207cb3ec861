// Dense codes for the values of a column, by open addressing: one table while it fits the cache,
// else one for each partition of the keys.
#pragma once
#include <algorithm>
#include <atomic>
#include <cstddef>
#include <cstdint>
#include <vector>
#include "blocks.h"
#include "columns.h"

namespace kernel {

class Encoder {
 public:
  Encoder() : slots_(1024, Slot{0, 0}) {}

  // The code (from 1) of a key; a new key takes the next one and remembers its row.
  std::int32_t code(std::uint64_t key, std::size_t row) {
    std::size_t at = hash(key) & (slots_.size() - 1);
    while (slots_[at].code != 0) {
      if (slots_[at].key == key) return slots_[at].code;
      at = (at + 1) & (slots_.size() - 1);
    }
    first_rows_.push_back(row);
    const auto fresh = static_cast<std::int32_t>(first_rows_.size());
    slots_[at] = Slot{key, fresh};
    if (first_rows_.size() * 2 > slots_.size()) grow();
    return fresh;
  }

  const std::vector<std::size_t>& first_rows() const { return first_rows_; }

  static std::uint64_t spread(std::uint64_t key) {
    key ^= key >> 32;
    return key * 0x9e3779b97f4a7c15ULL;
  }

 private:
  struct Slot {
    std::uint64_t key;
    std::int32_t code;  // 0: free
  };
  std::vector<Slot> slots_;
  std::vector<std::size_t> first_rows_;

  static std::size_t hash(std::uint64_t key) { return static_cast<std::size_t>(spread(key) >> 20); }

  void grow() {
    std::vector<Slot> old(slots_.size() * 2, Slot{0, 0});
    old.swap(slots_);
    for (const auto& slot : old) {
      if (slot.code == 0) continue;
      std::size_t at = hash(slot.key) & (slots_.size() - 1);
      while (slots_[at].code != 0) at = (at + 1) & (slots_.size() - 1);
      slots_[at] = slot;
    }
  }
};

constexpr std::size_t most_in_cache = std::size_t{1} << 17;  // keys of one table: 4 MB

// One table for each block of rows, their codes joined in block order, so that the codes
// do not depend on the number of threads. False, with nothing to be used, where some
// table outgrows the cache.
template <class KeyOf>
bool encode_in_blocks(std::size_t rows, KeyOf key_of, std::uint64_t missing, std::int32_t* codes, int threads,
                      std::vector<std::size_t>& first_rows) {
  const int blocks = block_count(rows, threads);
  std::vector<Encoder> encoders(blocks);
  std::atomic<bool> outgrown{false};
  for_blocks(rows, blocks, [&](int block, std::size_t first, std::size_t last) {
    Encoder& encoder = encoders[block];
    for (std::size_t row = first; row < last; ++row) {
      const std::uint64_t key = key_of(row);
      codes[row] = key == missing ? missing_int : encoder.code(key, row);
      if ((row & 1023) == 0) {
        if (encoder.first_rows().size() > most_in_cache) outgrown = true;
        if (outgrown) return;
      }
    }
  });
  if (outgrown) return false;
  std::vector<std::vector<std::int32_t>> joint(blocks);
  for (int block = 1; block < blocks; ++block) {
    for (const std::size_t row : encoders[block].first_rows()) {
      joint[block].push_back(encoders[0].code(key_of(row), row));
    }
  }
  for_blocks(rows, blocks, [&](int block, std::size_t first, std::size_t last) {
    if (block == 0) return;
    const std::vector<std::int32_t>& to = joint[block];
    for (std::size_t row = first; row < last; ++row) {
      if (codes[row] != missing_int) codes[row] = to[codes[row] - 1];
    }
  });
  first_rows = encoders[0].first_rows();
  return true;
}

// Rows are dealt out to partitions by their keys, in the order of rows; each partition has a table
// of its own, small enough for the cache.
template <class KeyOf>
std::vector<std::size_t> encode_in_partitions(std::size_t rows,
  KeyOf key_of, std::uint64_t missing, std::int32_t* codes,
                                              int threads) {
  constexpr std::size_t partitions = 256;
  const int blocks = block_count(rows, threads);
  const auto partition_of =
    [](std::uint64_t key) { return static_cast<std::size_t>(Encoder::spread(key) >> 56); };
  std::vector<std::size_t> starts(partitions * blocks + 1, 0);
  for_blocks(rows, blocks, [&](int block, std::size_t first, std::size_t last) {
    std::vector<std::size_t> counts(partitions, 0);
    for (std::size_t row = first; row < last; ++row) {
      const std::uint64_t key = key_of(row);
      if (key != missing) ++counts[partition_of(key)];
    }
    for (std::size_t p = 0; p < partitions; ++p) starts[p * blocks + block + 1] = counts[p];
  });
  for (std::size_t i = 1; i < starts.size(); ++i) starts[i] += starts[i - 1];
  struct Item {
    std::uint64_t key;
    std::size_t row;
  };
  std::vector<Item> dealt(starts.back());
  for_blocks(rows, blocks, [&](int block, std::size_t first, std::size_t last) {
    std::vector<std::size_t> at(partitions);
    for (std::size_t p = 0; p < partitions; ++p) at[p] = starts[p * blocks + block];
    for (std::size_t row = first; row < last; ++row) {
      const std::uint64_t key = key_of(row);
      if (key == missing) {
        codes[row] = missing_int;
      } else {
        dealt[at[partition_of(key)]++] = Item{key, row};
      }
    }
  });
  std::vector<std::vector<std::size_t>> found(partitions);
  const int teams = std::min<int>(blocks, static_cast<int>(partitions));
  for_blocks(partitions, teams, [&](int, std::size_t first, std::size_t last) {
    for (std::size_t p = first; p < last; ++p) {
      Encoder encoder;
      for (std::size_t i = starts[p * blocks]; i < starts[(p + 1) * blocks]; ++i) {
        codes[dealt[i].row] = encoder.code(dealt[i].key, dealt[i].row);
      }
      found[p] = encoder.first_rows();
    }
  });
  std::vector<std::int32_t> offset(partitions, 0);
  std::vector<std::size_t> first_rows;
  for (std::size_t p = 0; p < partitions; ++p) {
    offset[p] = static_cast<std::int32_t>(first_rows.size());
    first_rows.insert(first_rows.end(), found[p].begin(), found[p].end());
  }
  for_blocks(partitions, teams, [&](int, std::size_t first, std::size_t last) {
    for (std::size_t p = first; p < last; ++p) {
      for (std::size_t i = starts[p * blocks]; i < starts[(p + 1) * blocks]; ++i)
        codes[dealt[i].row] += offset[p];
    }
  });
  return first_rows;
}

// Writes the code (from 1) of each row; rows whose key is `missing` get the missing code. Gives
// the first row of each code. Few codes stand in order of first appearance; many in an order that
// depends on the keys alone.
template <class KeyOf>
std::vector<std::size_t> encode(std::size_t rows, KeyOf key_of, std::uint64_t missing, std::int32_t* codes,
                                int threads) {
  std::vector<std::size_t> first_rows;
  if (encode_in_blocks(rows, key_of, missing, codes, threads, first_rows)) return first_rows;
  return encode_in_partitions(rows, key_of, missing, codes, threads);
}

}  // namespace kernel
