// Bytes packed by Snappy ("Snappy compressed format description"): literals, and copies of what came
// before.
#pragma once
#include <cstddef>
#include <cstring>
#include <memory>
#include <stdexcept>

namespace kernel {

struct DamagedSnappy : std::runtime_error {
  DamagedSnappy() : std::runtime_error("damaged") {}
};

class SnappyReader {
 public:
  using Bytes = std::unique_ptr<unsigned char[]>;

  SnappyReader(const unsigned char* bytes, std::size_t n) : at_(bytes), end_(bytes + n) {}

  // `size`: how many bytes there must be. Three packed bytes give 64 at most, so that no few bytes
  // ask for much memory.
  Bytes unpacked(std::size_t size) {
    if (size > 24 * left() + 64 || length_said() != size) throw DamagedSnappy();
    Bytes to(new unsigned char[size + step]);
    std::size_t done = 0;
    while (done < size) done += element(to.get(), done, size - done);
    if (at_ != end_) throw DamagedSnappy();
    return to;
  }

 private:
  const unsigned char* at_;
  const unsigned char* end_;
  // Short pieces are written as so many bytes at once; what follows writes over the rest.
  static constexpr std::size_t step = 16;

  std::size_t left() const { return static_cast<std::size_t>(end_ - at_); }

  std::size_t little_endian(unsigned bytes) {
    if (bytes > left()) throw DamagedSnappy();
    std::size_t x = 0;
    for (unsigned i = 0; i < bytes; ++i) x |= static_cast<std::size_t>(at_[i]) << (8 * i);
    at_ += bytes;
    return x;
  }

  std::size_t length_said() {
    std::size_t n = 0;
    for (unsigned shift = 0; shift < 35; shift += 7) {
      const std::size_t next = little_endian(1);
      n |= (next & 127u) << shift;
      if (next < 128) return n;
    }
    throw DamagedSnappy();
  }

  // A literal or a copy behind `done` bytes; how long it is.
  std::size_t element(unsigned char* to, std::size_t done, std::size_t room) {
    const std::size_t tag = little_endian(1), upper = tag >> 2u;
    switch (tag & 3u) {
      case 0: return literal(to + done, room, 1 + (upper < 60 ? upper : little_endian(static_cast<unsigned>(upper) - 59)));
      case 1: return copy(to, done, room, 4 + (upper & 7u), (upper >> 3u) << 8u | little_endian(1));
      case 2: return copy(to, done, room, upper + 1, little_endian(2));
      default: return copy(to, done, room, upper + 1, little_endian(4));
    }
  }

  std::size_t literal(unsigned char* to, std::size_t room, std::size_t n) {
    if (n > room || n > left()) throw DamagedSnappy();
    if (n <= step && left() >= step) std::memcpy(to, at_, step);
    else std::memcpy(to, at_, n);
    at_ += n;
    return n;
  }

  // A copy may reach into what it writes: it then repeats itself.
  static std::size_t copy(unsigned char* to, std::size_t done, std::size_t room, std::size_t n, std::size_t back) {
    if (n > room || back == 0 || back > done) throw DamagedSnappy();
    unsigned char* at = to + done;
    if (n <= step && back >= step) std::memcpy(at, at - back, step);
    else if (back >= n) std::memcpy(at, at - back, n);
    else for (std::size_t i = 0; i < n; ++i) at[i] = at[i - back];
    return n;
  }
};

}  // namespace kernel
