// What a Parquet file says beside its own description, in the words of another format (Apache Arrow,
// "Encapsulated message format" and "Schema.fbs", in FlatBuffers and base64): which columns are more
// than their values, sets of words or durations.
#pragma once
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>
#include "byte_numbers.h"

namespace kernel {

inline std::vector<unsigned char> base64_bytes(const std::string& text) {
  static const std::string letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::vector<unsigned char> bytes;
  std::uint32_t bits = 0;
  unsigned held = 0;
  for (const char letter : text) {
    const std::size_t value = letters.find(letter);
    if (value == std::string::npos) break;
    bits = bits << 6u | static_cast<std::uint32_t>(value);
    held += 6;
    if (held < 8) continue;
    held -= 8;
    bytes.push_back(static_cast<unsigned char>(bits >> held));
  }
  return bytes;
}

// Tables and lists in bytes; whatever would lie outside them is none.
class FlatBytes {
 public:
  using Place = std::optional<std::size_t>;

  explicit FlatBytes(std::vector<unsigned char> bytes) : bytes_(std::move(bytes)) {}

  std::optional<std::uint32_t> whole(std::size_t at, unsigned bytes) const {
    if (at > bytes_.size() || bytes > bytes_.size() - at) return std::nullopt;
    return static_cast<std::uint32_t>(little_endian(bytes_.data() + at, bytes));
  }

  // Where a table or list lies that is told of at a place.
  Place behind(Place at) const {
    const auto way = at ? whole(*at, 4) : std::nullopt;
    if (!way || *way == 0) return std::nullopt;
    return *at + *way;
  }

  // Where a table has a field, none where it lacks it.
  Place field(Place table, std::size_t slot) const {
    const auto back = table ? whole(*table, 4) : std::nullopt;
    if (!back) return std::nullopt;
    const std::int64_t head = static_cast<std::int64_t>(*table) - static_cast<std::int32_t>(*back);
    if (head < 0) return std::nullopt;
    const auto size = whole(static_cast<std::size_t>(head), 2);
    const std::size_t at = 4 + 2 * slot;
    if (!size || at + 2 > *size) return std::nullopt;
    const auto way = whole(static_cast<std::size_t>(head) + at, 2);
    if (!way || *way == 0) return std::nullopt;
    return *table + *way;
  }

 private:
  std::vector<unsigned char> bytes_;
};

// For each field whether it is more than its values; none where it cannot be read.
inline std::optional<std::vector<bool>> arrow_fields(const std::string& base64) {
  constexpr std::uint32_t duration = 18;
  const FlatBytes bytes(base64_bytes(base64));
  // A mark of four bytes that older writers leave out, then a length.
  const std::size_t begin = bytes.whole(0, 4) == 0xffffffffu ? 8 : 4;
  const auto schema = bytes.behind(bytes.field(bytes.behind(begin), 2));
  const auto list = bytes.behind(bytes.field(schema, 1));
  const auto count = list ? bytes.whole(*list, 4) : std::nullopt;
  if (!count) return std::nullopt;
  std::vector<bool> more;
  for (std::size_t i = 0; i < *count; ++i) {
    const auto field = bytes.behind(*list + 4 + 4 * i);
    const auto type = bytes.field(field, 2);
    const auto kind = type ? bytes.whole(*type, 1) : std::nullopt;
    if (!kind) return std::nullopt;
    more.push_back(*kind == duration || bytes.field(field, 4).has_value());
  }
  return more;
}

}  // namespace kernel
