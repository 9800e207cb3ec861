// Dense codes for the values of a column, in order of first appearance, by open addressing.
#pragma once
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

 private:
  struct Slot {
    std::uint64_t key;
    std::int32_t code;  // 0: free
  };
  std::vector<Slot> slots_;
  std::vector<std::size_t> first_rows_;

  static std::size_t hash(std::uint64_t key) {
    key ^= key >> 32;
    key *= 0x9e3779b97f4a7c15ULL;
    return static_cast<std::size_t>(key >> 20);
  }

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

// Writes the code of each row, in order of first appearance; rows whose key is `missing` get the missing code. Gives the
// first row of each code. Blocks are coded apart and their codes joined in block order, so that the codes do not depend on
// the number of threads.
template <class KeyOf>
std::vector<std::size_t> encode(std::size_t rows, KeyOf key_of, std::uint64_t missing, std::int32_t* codes,
                                int threads) {
  const int blocks = block_count(rows, threads);
  std::vector<Encoder> encoders(blocks);
  for_blocks(rows, blocks, [&](int block, std::size_t first, std::size_t last) {
    Encoder& encoder = encoders[block];
    for (std::size_t row = first; row < last; ++row) {
      const std::uint64_t key = key_of(row);
      codes[row] = key == missing ? missing_int : encoder.code(key, row);
    }
  });
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
  return encoders[0].first_rows();
}

}  // namespace kernel
