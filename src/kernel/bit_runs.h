// Small whole numbers as runs of one value and as values of a few bits (Apache Parquet, "Encodings",
// the hybrid of run lengths and packed bits).
#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <stdexcept>

namespace kernel {

struct DamagedRuns : std::runtime_error {
  DamagedRuns() : std::runtime_error("damaged") {}
};

class BitRuns {
 public:
  // width: bits of a value, 32 at most.
  BitRuns(const unsigned char* bytes, std::size_t n, unsigned width)
    : at_(bytes), end_(bytes + n), width_(width) {
    if (width > 32) throw DamagedRuns();
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

  std::uint64_t header() {
    std::uint64_t bits = 0;
    for (unsigned shift = 0; shift < 35; shift += 7) {
      if (at_ == end_) throw DamagedRuns();
      const unsigned char next = *at_++;
      bits |= static_cast<std::uint64_t>(next & 127u) << shift;
      if (next < 128) return bits;
    }
    throw DamagedRuns();
  }

  void begin_run() {
    const std::uint64_t head = header();
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
    if (bytes > bytes_left()) throw DamagedRuns();
    value_ = static_cast<std::uint32_t>(bits_at(at_, bytes));
    at_ += bytes;
    left_ = n;
  }

  static std::uint64_t bits_at(const unsigned char* at, std::size_t bytes) {
    std::uint64_t x = 0;
    for (std::size_t i = 0; i < bytes; ++i) x |= static_cast<std::uint64_t>(at[i]) << (8 * i);
    return x;
  }

  void unpack(std::uint32_t* to, std::size_t n) {
    const std::uint64_t mask = (std::uint64_t{1} << width_) - 1;
    for (std::size_t i = 0; i < n; ++i, bit_ += width_) {
      const unsigned char* from = run_ + bit_ / 8;
      const std::size_t bytes = std::min<std::size_t>(8, static_cast<std::size_t>(end_ - from));
      // A count that the compiler knows becomes one load.
      const std::uint64_t bits = bytes == 8 ? bits_at(from, 8) : bits_at(from, bytes);
      to[i] = static_cast<std::uint32_t>(bits >> (bit_ % 8) & mask);
    }
  }
};

}  // namespace kernel
