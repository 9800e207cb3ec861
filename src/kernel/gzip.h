// Gzip-compressed bytes, of one member or several. A stream that is cut or damaged is an error,
// never a part of what it held.
#pragma once
#include <zlib.h>
#include <algorithm>
#include <cstddef>
#include <new>
#include <stdexcept>
#include <vector>

namespace kernel {

struct DamagedGzip : std::runtime_error {
  using std::runtime_error::runtime_error;
};

// Refused beyond `most` bytes, and where it holds far more than text can be packed to.
inline std::vector<unsigned char> gunzip(const unsigned char* data, std::size_t size, std::size_t most) {
  constexpr std::size_t small = std::size_t{64} << 20;
  constexpr std::size_t usual_ratio = 200;
  constexpr std::size_t step = std::size_t{1} << 20;
  std::vector<unsigned char> out;
  std::size_t read = 0;
  std::size_t written = 0;
  while (read < size) {
    z_stream stream{};
    if (inflateInit2(&stream, 15 + 16) != Z_OK) throw std::bad_alloc();
    int state = Z_OK;
    while (state == Z_OK) {
      out.resize(written + step);
      const std::size_t given = std::min(step, size - read);
      stream.next_in = const_cast<unsigned char*>(data + read);
      stream.avail_in = static_cast<uInt>(given);
      stream.next_out = out.data() + written;
      stream.avail_out = static_cast<uInt>(step);
      state = inflate(&stream, Z_NO_FLUSH);
      read += given - stream.avail_in;
      written += step - stream.avail_out;
      if (written > most || (written > small && written / usual_ratio > size)) {
        inflateEnd(&stream);
        throw DamagedGzip(written > most ? "it unpacks to more than can be held"
                                         : "it unpacks to more than 200 times its size, which no orders do");
      }
      if (state == Z_OK && read == size && stream.avail_out > 0) state = Z_BUF_ERROR;
    }
    inflateEnd(&stream);
    if (state == Z_BUF_ERROR) throw DamagedGzip("its compressed data end too early: the file was cut off");
    if (state != Z_STREAM_END) throw DamagedGzip("its compressed data are damaged");
  }
  out.resize(written);
  return out;
}

}  // namespace kernel
