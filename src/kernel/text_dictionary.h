// The different texts of a column, each with a code from 1 in order of first
// appearance, by open addressing.
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <deque>
#include <string>
#include <string_view>
#include <vector>

namespace kernel {

class TextDictionary {
 public:
  explicit TextDictionary(std::size_t slots = 1024) : slots_(slots, 0) {}

  // `lasting` text stays where it is as long as the dictionary; any other is copied when it is new.
  std::int32_t code(std::string_view text, bool lasting) {
    const std::uint64_t key = hash(text);
    std::size_t at = key & (slots_.size() - 1);
    while (slots_[at] != 0) {
      const std::int32_t known = slots_[at];
      if (hashes_[known - 1] == key && texts_[known - 1] == text) return known;
      at = (at + 1) & (slots_.size() - 1);
    }
    if (!lasting) text = copies_.emplace_back(text);
    texts_.push_back(text);
    hashes_.push_back(key);
    slots_[at] = static_cast<std::int32_t>(texts_.size());
    if (texts_.size() * 2 > slots_.size()) grow();
    return static_cast<std::int32_t>(texts_.size());
  }

  const std::vector<std::string_view>& texts() const { return texts_; }

 private:
  std::vector<std::int32_t> slots_;  // 0: free
  std::vector<std::string_view> texts_;
  std::vector<std::uint64_t> hashes_;
  std::deque<std::string> copies_;

  static std::uint64_t hash(std::string_view text) {
    constexpr std::uint64_t spread = 0x9e3779b97f4a7c15ULL;
    std::uint64_t h = text.size() * spread;
    const char* at = text.data();
    std::size_t left = text.size();
    for (; left >= 8; at += 8, left -= 8) {
      std::uint64_t eight;
      std::memcpy(&eight, at, 8);
      h = (h ^ eight) * spread;
      h ^= h >> 32;
    }
    std::uint64_t rest = 0;
    std::memcpy(&rest, at, left);
    h = (h ^ rest) * spread;
    return h ^ (h >> 29);
  }

  void grow() {
    slots_.assign(slots_.size() * 2, 0);
    for (std::size_t i = 0; i < hashes_.size(); ++i) {
      std::size_t at = hashes_[i] & (slots_.size() - 1);
      while (slots_[at] != 0) at = (at + 1) & (slots_.size() - 1);
      slots_[at] = static_cast<std::int32_t>(i + 1);
    }
  }
};

}  // namespace kernel
