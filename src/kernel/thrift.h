// The compact form of Thrift values, as the ends of Parquet files are written in it (Apache Thrift,
// "Thrift compact protocol encoding"): what is looked for is read, all else is passed over.
#pragma once
#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>
#include "byte_numbers.h"

namespace kernel {

enum class ThriftType : std::uint8_t {
  stop, yes, no, i8, i16, i32, i64, real, binary, list, set, map, structure
};

class ThriftReader {
 public:
  ThriftReader(const unsigned char* bytes, std::size_t n) : begin_(bytes), at_(bytes), end_(bytes + n) {}

  std::size_t place() const { return static_cast<std::size_t>(at_ - begin_); }

  struct List {
    ThriftType type;
    std::size_t count;
  };

  // Calls use(id, type) for each field of a structure; where it says false, the value is passed over.
  template <class Use>
  void structure(Use use) {
    const Deeper deeper(depth_);
    for (std::int64_t id = 0;;) {
      const unsigned char head = byte();
      const ThriftType type = known(head & 15u);
      if (type == ThriftType::stop) return;
      id = head >> 4u ? id + (head >> 4u) : whole();
      if (id < 0 || id > 32767) throw DamagedBytes();
      if (!use(id, type)) skip(type);
    }
  }

  std::int64_t whole() {
    const std::uint64_t bits = varint();
    return static_cast<std::int64_t>(bits >> 1u) ^ -static_cast<std::int64_t>(bits & 1u);
  }

  // Never more than the bytes that are left hold: each value of a list takes one at least.
  List list() {
    const unsigned char head = byte();
    const std::uint64_t count = head >> 4u == 15u ? varint() : head >> 4u;
    if (count > left()) throw DamagedBytes();
    return {known(head & 15u), static_cast<std::size_t>(count)};
  }

  std::string text() {
    const std::size_t n = length();
    std::string text(reinterpret_cast<const char*>(at_), n);
    at_ += n;
    return text;
  }

  void skip(ThriftType type) {
    switch (type) {
      case ThriftType::stop: throw DamagedBytes();
      case ThriftType::yes:
      case ThriftType::no: return;
      case ThriftType::i8: byte(); return;
      case ThriftType::i16:
      case ThriftType::i32:
      case ThriftType::i64: varint(); return;
      case ThriftType::real: forward(8); return;
      case ThriftType::binary: forward(length()); return;
      case ThriftType::list:
      case ThriftType::set: return skip_list();
      case ThriftType::map: return skip_map();
      case ThriftType::structure: return structure([](std::int64_t, ThriftType) { return false; });
    }
  }

 private:
  const unsigned char* begin_;
  const unsigned char* at_;
  const unsigned char* end_;
  int depth_ = 0;

  struct Deeper {
    explicit Deeper(int& depth) : depth_(depth) {
      if (++depth_ > 32) throw DamagedBytes();
    }
    ~Deeper() { --depth_; }
    int& depth_;
  };

  static ThriftType known(unsigned type) {
    if (type > static_cast<unsigned>(ThriftType::structure)) throw DamagedBytes();
    return static_cast<ThriftType>(type);
  }

  std::size_t left() const { return static_cast<std::size_t>(end_ - at_); }

  unsigned char byte() {
    if (at_ == end_) throw DamagedBytes();
    return *at_++;
  }

  void forward(std::size_t n) {
    if (n > left()) throw DamagedBytes();
    at_ += n;
  }

  std::uint64_t varint() { return kernel::varint(at_, end_); }

  std::size_t length() {
    const std::uint64_t n = varint();
    if (n > left()) throw DamagedBytes();
    return static_cast<std::size_t>(n);
  }

  // Truth values take a byte in a list, none as a field.
  void skip_value(ThriftType type) {
    if (type == ThriftType::yes || type == ThriftType::no) byte();
    else skip(type);
  }

  void skip_list() {
    const Deeper deeper(depth_);
    const List values = list();
    for (std::size_t i = 0; i < values.count; ++i) skip_value(values.type);
  }

  void skip_map() {
    const Deeper deeper(depth_);
    const std::uint64_t count = varint();
    if (count == 0) return;
    const unsigned char types = byte();
    for (std::uint64_t i = 0; i < count; ++i) {
      skip_value(known(types >> 4u));
      skip_value(known(types & 15u));
    }
  }
};

// A whole number as bytes of its own, shortest first.
inline void append_varint(std::vector<unsigned char>& to, std::uint64_t bits) {
  for (; bits > 127; bits >>= 7u) to.push_back(static_cast<unsigned char>(bits | 128u));
  to.push_back(static_cast<unsigned char>(bits));
}

inline void append_whole(std::vector<unsigned char>& to, std::int64_t x) {
  append_varint(to, (static_cast<std::uint64_t>(x) << 1u) ^ static_cast<std::uint64_t>(x >> 63));
}

}  // namespace kernel
