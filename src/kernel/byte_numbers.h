// Whole numbers as bytes: the smallest first, or seven bits in each byte as long as more follow.
#pragma once
#include <cstddef>
#include <cstdint>
#include <stdexcept>

namespace kernel {

// Bytes that are not what they should be.
struct DamagedBytes : std::runtime_error {
  DamagedBytes() : std::runtime_error("damaged") {}
};

inline std::uint64_t little_endian(const unsigned char* at, std::size_t n) {
  std::uint64_t x = 0;
  for (std::size_t i = 0; i < n; ++i) x |= static_cast<std::uint64_t>(at[i]) << (8 * i);
  return x;
}

// The number at `at`, which moves behind it.
inline std::uint64_t varint(const unsigned char*& at, const unsigned char* end) {
  std::uint64_t bits = 0;
  for (unsigned shift = 0; shift < 64; shift += 7) {
    if (at == end) throw DamagedBytes();
    const unsigned char next = *at++;
    bits |= static_cast<std::uint64_t>(next & 127u) << shift;
    if (next < 128) return bits;
  }
  throw DamagedBytes();
}

}  // namespace kernel
