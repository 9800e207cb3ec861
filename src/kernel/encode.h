// Dense codes for the values of a column, in order of first appearance, by open addressing.
#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>
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

// Writes the code of each row; rows whose key is `missing` get the missing code.
template <class KeyOf>
std::vector<std::size_t> encode(std::size_t rows, KeyOf key_of, std::uint64_t missing, std::int32_t* codes) {
  Encoder encoder;
  for (std::size_t row = 0; row < rows; ++row) {
    const std::uint64_t key = key_of(row);
    codes[row] = key == missing ? missing_int : encoder.code(key, row);
  }
  return encoder.first_rows();
}

}  // namespace kernel
