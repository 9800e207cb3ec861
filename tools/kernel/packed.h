// Text packed as gzip does it.
#pragma once
#include <zlib.h>
#include <string>
#include <vector>

inline std::vector<unsigned char> gzip_of(const std::string& text) {
  z_stream stream{};
  deflateInit2(&stream, 6, Z_DEFLATED, 15 + 16, 8, Z_DEFAULT_STRATEGY);
  std::vector<unsigned char> out(text.size() + 100);
  stream.next_in = reinterpret_cast<unsigned char*>(const_cast<char*>(text.data()));
  stream.avail_in = static_cast<uInt>(text.size());
  stream.next_out = out.data();
  stream.avail_out = static_cast<uInt>(out.size());
  deflate(&stream, Z_FINISH);
  out.resize(out.size() - stream.avail_out);
  deflateEnd(&stream);
  return out;
}
