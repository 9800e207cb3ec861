// Small whole numbers as runs of one value and as values of a few bits (Apache Parquet, "Encodings",
// the hybrid of run lengths and packed bits).
#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include "byte_numbers.h"

namespace kernel {

class BitRuns {
 public:
  // width: bits of a value, 32 at most.
  BitRuns(const unsigned char* bytes, std::size_t n, unsigned width)
    : at_(bytes), end_(bytes + n), width_(width) {
    if (width > 32) throw DamagedBytes();
  }

  void read(std::uint32_t* to, std::size_t n) {
    while (n > 0) {
      if (left_ == 0) begin_run();
      const std::size_t some = std::min(n, left_);
      if (packed_) unpack(to, some);
      else std::fill_n(to, some, value_);
      to += some;
      n -= some;
      left_ -= some;
    }
  }

 private:
  const unsigned char* at_;
  const unsigned char* end_;
  unsigned width_;
  std::size_t left_ = 0;
  bool packed_ = false;
  std::uint32_t value_ = 0;
  const unsigned char* run_ = nullptr;
  std::size_t bit_ = 0;

  std::size_t bytes_left() const { return static_cast<std::size_t>(end_ - at_); }

  void begin_run() {
    const std::uint64_t head = varint(at_, end_);
    if (head >> 33u != 0) throw DamagedBytes();
    packed_ = (head & 1u) != 0;
    if (packed_) begin_packed(static_cast<std::size_t>(head >> 1u));
    else begin_repeated(static_cast<std::size_t>(head >> 1u));
  }

  // Eight values take as many bytes as a value has bits; the last eight may be cut short.
  void begin_packed(std::size_t eights) {
    const std::size_t bytes = std::min(eights * width_, bytes_left());
    left_ = width_ == 0 ? eights * 8 : bytes * 8 / width_;
    run_ = at_;
    bit_ = 0;
    at_ += bytes;
  }

  void begin_repeated(std::size_t n) {
    const std::size_t bytes = (width_ + 7) / 8;
    if (bytes > bytes_left()) throw DamagedBytes();
    value_ = static_cast<std::uint32_t>(little_endian(at_, bytes));
    at_ += bytes;
    left_ = n;
  }

  void unpack(std::uint32_t* to, std::size_t n) {
    const std::uint64_t mask = (std::uint64_t{1} << width_) - 1;
    for (std::size_t i = 0; i < n; ++i, bit_ += width_) {
      const unsigned char* from = run_ + bit_ / 8;
      const std::size_t bytes = std::min<std::size_t>(8, static_cast<std::size_t>(end_ - from));
      // A count that the compiler knows becomes one load.
      const std::uint64_t bits = bytes == 8 ? little_endian(from, 8) : little_endian(from, bytes);
      to[i] = static_cast<std::uint32_t>(bits >> (bit_ % 8) & mask);
    }
  }
};

}  // namespace kernel
