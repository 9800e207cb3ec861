// Read-only views of columns as they lie in memory: no copy is made of what is already usable.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <limits>

namespace kernel {

constexpr std::int32_t missing_int = std::numeric_limits<std::int32_t>::min();
constexpr std::int64_t missing_int64 = std::numeric_limits<std::int64_t>::min();

// Whole days since 1970-01-01, stored as integers or as doubles (a fraction of a day is dropped).
struct DayColumn {
  const std::int32_t* ints = nullptr;
  const double* doubles = nullptr;

  // The day less `first`, or -1 when it is missing or outside [first, first + length).
  static std::int32_t offset(std::int32_t day, std::int32_t first, std::int32_t length) {
    const std::int64_t at = static_cast<std::int64_t>(day) - first;
    return at >= 0 && at < length ? static_cast<std::int32_t>(at) : -1;
  }
  static std::int32_t offset(double day, std::int32_t first, std::int32_t length) {
    const double at = day - first;
    return at >= 0.0 && at < length ? static_cast<std::int32_t>(at) : -1;  // false for NaN
  }
};

// Codes 1..levels of a dimension; a missing code is the member after the last.
struct CodeColumn {
  const std::int32_t* codes;
  std::int32_t levels;
};

enum class AmountType { real, integer, integer64 };

struct AmountColumn {
  AmountType type;
  const void* data;
};

}  // namespace kernel
