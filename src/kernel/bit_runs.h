// Whole numbers in few bytes: runs of 1,024, each as differences from its least value or, where that takes
// fewer bits, as differences from the value before. What is unpacked is checked against its own length, as
// it may come from a damaged file.
#pragma once
#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <stdexcept>
#include <vector>

namespace kernel {

constexpr std::size_t run_length = 1024;

inline int bits_needed(std::uint64_t most) {
  int bits = 0;
  while (most > 0) {
    ++bits;
    most >>= 1;
  }
  return bits;
}

// Small differences of either sign are small numbers.
inline std::uint64_t folded_sign(std::int64_t x) {
  return (static_cast<std::uint64_t>(x) << 1) ^ static_cast<std::uint64_t>(x >> 63);
}

inline std::int64_t unfolded_sign(std::uint64_t x) {
  return static_cast<std::int64_t>(x >> 1) ^ -static_cast<std::int64_t>(x & 1);
}

class BitWriter {
 public:
  explicit BitWriter(std::vector<unsigned char>& bytes) : bytes_(bytes) {}

  // At most 56 bits at a time.
  void add(std::uint64_t value, int bits) {
    held_ |= value << filled_;
    filled_ += bits;
    while (filled_ >= 8) {
      bytes_.push_back(static_cast<unsigned char>(held_));
      held_ >>= 8;
      filled_ -= 8;
    }
  }

  void finish() {
    if (filled_ > 0) bytes_.push_back(static_cast<unsigned char>(held_));
    held_ = 0;
    filled_ = 0;
  }

 private:
  std::vector<unsigned char>& bytes_;
  std::uint64_t held_ = 0;
  int filled_ = 0;
};

// The least of 1, 100 and 10,000 of whose parts all values are whole numbers, few enough to be packed; 0
// where there is none.
inline double whole_scale(const double* x, std::size_t n) {
  constexpr double most = 1125899906842624.0 / 10000;
  double scale = 1;
  for (std::size_t i = 0; i < n; ++i) {
    if (!(std::fabs(x[i]) < most)) return 0;
    while (std::nearbyint(x[i] * scale) / scale != x[i]) {
      if (scale >= 10000) return 0;
      scale *= 100;
    }
  }
  return scale;
}

// Whether each row is greater than that before it, by its first column that differs.
inline bool rows_ascend(const std::vector<const double*>& columns, std::size_t n) {
  for (std::size_t i = 1; i < n; ++i) {
    bool greater = false;
    for (const double* column : columns) {
      if (column[i] == column[i - 1]) continue;
      greater = column[i] > column[i - 1];
      break;
    }
    if (!greater) return false;
  }
  return true;
}

// Values of up to 54 bits: those of doubles that are whole.
inline std::vector<unsigned char> packed_runs(const std::int64_t* values, std::size_t n) {
  std::vector<unsigned char> bytes;
  bytes.reserve(n * 2 + 64);
  for (std::size_t from = 0; from < n; from += run_length) {
    const std::size_t count = std::min(run_length, n - from);
    const std::int64_t* run = values + from;
    const auto ends = std::minmax_element(run, run + count);
    std::uint64_t steps = 0;
    for (std::size_t i = 1; i < count; ++i) steps = std::max(steps, folded_sign(run[i] - run[i - 1]));
    const int plain = bits_needed(static_cast<std::uint64_t>(*ends.second - *ends.first));
    const int by_steps = bits_needed(steps);
    const bool stepped = by_steps < plain;
    const std::int64_t base = stepped ? run[0] : *ends.first;
    const int bits = stepped ? by_steps : plain;
    bytes.push_back(static_cast<unsigned char>(bits | (stepped ? 128 : 0)));
    for (int byte = 0; byte < 8; ++byte) {
      bytes.push_back(static_cast<unsigned char>(static_cast<std::uint64_t>(base) >> (8 * byte)));
    }
    BitWriter writer(bytes);
    for (std::size_t i = stepped ? 1 : 0; i < count; ++i) {
      writer.add(stepped ? folded_sign(run[i] - run[i - 1]) : static_cast<std::uint64_t>(run[i] - base),
                 bits);
    }
    writer.finish();
  }
  return bytes;
}

// The n values again; an error where the bytes do not hold them.
inline std::vector<std::int64_t> unpacked_runs(const unsigned char* bytes, std::size_t size, std::size_t n) {
  // Every run takes nine bytes at least.
  if (n / run_length > size) throw std::runtime_error("the packed values are cut off");
  std::vector<std::int64_t> values(n);
  std::size_t at = 0;
  for (std::size_t from = 0; from < n; from += run_length) {
    const std::size_t count = std::min(run_length, n - from);
    if (size - at < 9) throw std::runtime_error("the packed values are cut off");
    const bool stepped = (bytes[at] & 128) != 0;
    const int bits = bytes[at] & 127;
    std::uint64_t base = 0;
    for (int byte = 0; byte < 8; ++byte) {
      base |= static_cast<std::uint64_t>(bytes[at + 1 + byte]) << (8 * byte);
    }
    at += 9;
    const std::size_t coded = stepped ? count - 1 : count;
    if (bits > 56 || size - at < (coded * bits + 7) / 8) {
      throw std::runtime_error("the packed values are damaged");
    }
    const std::uint64_t mask = bits == 0 ? 0 : ~std::uint64_t{0} >> (64 - bits);
    std::uint64_t held = 0, last = base;
    int filled = 0;
    for (std::size_t i = 0; i < count; ++i) {
      if (stepped && i == 0) {
        values[from] = static_cast<std::int64_t>(base);
        continue;
      }
      while (filled < bits) {
        held |= static_cast<std::uint64_t>(bytes[at++]) << filled;
        filled += 8;
      }
      const std::uint64_t code = held & mask;
      held = bits == 0 ? held : held >> bits;
      filled -= bits;
      // Of damaged bytes sums may wrap around: unsigned, they do so without harm.
      last = stepped ? last + static_cast<std::uint64_t>(unfolded_sign(code)) : base + code;
      values[from + i] = static_cast<std::int64_t>(last);
    }
  }
  return values;
}

}  // namespace kernel
