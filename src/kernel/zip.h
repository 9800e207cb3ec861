// The parts of a zip archive in memory (as PKWARE's APPNOTE has it): their list from the central
// directory, and each whole, held against its size and its check sum. Nothing is unpacked to disk.
// Archives in several pieces, encrypted parts and archives beyond 4 GB are refused.
#pragma once
#include <zlib.h>
#include <cstddef>
#include <cstdint>
#include <stdexcept>
#include <string>
#include <vector>

namespace kernel {

struct DamagedZip : std::runtime_error {
  using std::runtime_error::runtime_error;
};

struct ZipPart {
  std::string name;
  std::size_t packed = 0;
  std::size_t size = 0;
  std::size_t at = 0;  // of its local header
  std::uint32_t check = 0;
  unsigned method = 0;
  unsigned flags = 0;
};

class ZipArchive {
 public:
  ZipArchive(const unsigned char* data, std::size_t size) : data_(data), size_(size) {
    const std::size_t end = end_record();
    const std::size_t count = number(end + 10, 2);
    std::size_t at = number(end + 16, 4);
    for (std::size_t i = 0; i < count; ++i) {
      if (number(at, 4) != 0x02014b50) throw DamagedZip("its list of parts is damaged");
      ZipPart part;
      part.flags = static_cast<unsigned>(number(at + 8, 2));
      part.method = static_cast<unsigned>(number(at + 10, 2));
      part.check = static_cast<std::uint32_t>(number(at + 16, 4));
      part.packed = number(at + 20, 4);
      part.size = number(at + 24, 4);
      const std::size_t name = number(at + 28, 2);
      part.at = number(at + 42, 4);
      part.name = text(at + 46, name);
      at += 46 + name + number(at + 30, 2) + number(at + 32, 2);
      parts_.push_back(part);
    }
  }

  const std::vector<ZipPart>& parts() const { return parts_; }

  std::vector<unsigned char> read(const ZipPart& part) const {
    if (part.flags & 1U) throw DamagedZip("it is encrypted");
    if (number(part.at, 4) != 0x04034b50)
      throw DamagedZip("the part " + part.name + " is not where it should be");
    const std::size_t first = part.at + 30 + number(part.at + 26, 2) + number(part.at + 28, 2);
    if (first > size_ || part.packed > size_ - first)
      throw DamagedZip("the part " + part.name + " is cut off");
    std::vector<unsigned char> out(part.size);
    if (part.method == 0 && part.packed == part.size) {
      out.assign(data_ + first, data_ + first + part.size);
    } else if (part.method != 8 || !inflated(data_ + first, part.packed, out)) {
      throw DamagedZip("the part " + part.name + " is damaged");
    }
    if (crc32_z(0, out.data(), out.size()) != part.check)
      throw DamagedZip("the part " + part.name + " is damaged");
    return out;
  }

 private:
  const unsigned char* data_;
  std::size_t size_;
  std::vector<ZipPart> parts_;

  std::size_t number(std::size_t at, std::size_t bytes) const {
    if (at > size_ || bytes > size_ - at) throw DamagedZip("it ends too early");
    std::size_t value = 0;
    for (std::size_t i = bytes; i > 0; --i) value = value << 8 | data_[at + i - 1];
    return value;
  }

  std::string text(std::size_t at, std::size_t bytes) const {
    if (at > size_ || bytes > size_ - at) throw DamagedZip("it ends too early");
    return std::string(reinterpret_cast<const char*>(data_ + at), bytes);
  }

  // It stands at the end, before a comment of at most 65,535 bytes.
  std::size_t end_record() const {
    constexpr std::size_t length = 22;
    if (size_ < length) throw DamagedZip("it is no archive, as a workbook should be");
    const std::size_t first = size_ > length + 65535 ? size_ - length - 65535 : 0;
    for (std::size_t at = size_ - length + 1; at > first; --at) {
      if (number(at - 1, 4) == 0x06054b50) return at - 1;
    }
    throw DamagedZip("it is no archive, as a workbook should be, or it was cut off");
  }

  static bool inflated(const unsigned char* packed, std::size_t size, std::vector<unsigned char>& out) {
    z_stream stream{};
    if (inflateInit2(&stream, -15) != Z_OK) throw std::bad_alloc();
    unsigned char none = 0;
    stream.next_in = const_cast<unsigned char*>(packed);
    stream.avail_in = static_cast<uInt>(size);
    stream.next_out = out.empty() ? &none : out.data();
    stream.avail_out = static_cast<uInt>(out.size());
    const int state = inflate(&stream, Z_FINISH);
    const bool whole = state == Z_STREAM_END && stream.total_out == out.size();
    inflateEnd(&stream);
    return whole;
  }
};

}  // namespace kernel
