// Bytes packed by Snappy ("Snappy compressed format description"): literals, and copies of what came
// before.
#pragma once
#include <cstddef>
#include <cstring>
#include <memory>
#include "byte_numbers.h"

namespace kernel {

class SnappyReader {
 public:
  using Bytes = std::unique_ptr<unsigned char[]>;

  SnappyReader(const unsigned char* bytes, std::size_t n) : at_(bytes), end_(bytes + n) {}

  // `size`: how many bytes there must be. Three packed bytes give 64 at most, so that no few bytes
  // ask for much memory.
  Bytes unpacked(std::size_t size) {
    if (size > 24 * left() + 64 || varint(at_, end_) != size) throw DamagedBytes();
    Bytes to(new unsigned char[size + step]);
    std::size_t done = 0;
    while (done < size) done += element(to.get(), done, size - done);
    if (at_ != end_) throw DamagedBytes();
    return to;
  }

 private:
  const unsigned char* at_;
  const unsigned char* end_;
  // Short pieces are written as so many bytes at once; what follows writes over the rest.
  static constexpr std::size_t step = 16;

  std::size_t left() const { return static_cast<std::size_t>(end_ - at_); }

  std::size_t number(std::size_t bytes) {
    if (bytes > left()) throw DamagedBytes();
    at_ += bytes;
    return static_cast<std::size_t>(little_endian(at_ - bytes, bytes));
  }

  // A literal or a copy behind `done` bytes; how long it is.
  std::size_t element(unsigned char* to, std::size_t done, std::size_t room) {
    const std::size_t tag = number(1), upper = tag >> 2u;
    switch (tag & 3u) {
      case 0: return literal(to + done, room, 1 + (upper < 60 ? upper : number(upper - 59)));
      case 1: return copy(to, done, room, 4 + (upper & 7u), (upper >> 3u) << 8u | number(1));
      case 2: return copy(to, done, room, upper + 1, number(2));
      default: return copy(to, done, room, upper + 1, number(4));
    }
  }

  std::size_t literal(unsigned char* to, std::size_t room, std::size_t n) {
    if (n > room || n > left()) throw DamagedBytes();
    if (n <= step && left() >= step) std::memcpy(to, at_, step);
    else std::memcpy(to, at_, n);
    at_ += n;
    return n;
  }

  // A copy may reach into what it writes: it then repeats itself.
  static std::size_t copy(unsigned char* to, std::size_t done, std::size_t room, std::size_t n, std::size_t back) {
    if (n > room || back == 0 || back > done) throw DamagedBytes();
    unsigned char* at = to + done;
    if (n <= step && back >= step) std::memcpy(at, at - back, step);
    else if (back >= n) std::memcpy(at, at - back, n);
    else for (std::size_t i = 0; i < n; ++i) at[i] = at[i - back];
    return n;
  }
};

}  // namespace kernel
