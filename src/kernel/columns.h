// Read-only views of columns as they lie in memory: no copy is made of what is already usable.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <limits>

namespace kernel {

constexpr std::int32_t missing_int = std::numeric_limits<std::int32_t>::min();
constexpr std::int64_t missing_int64 = std::numeric_limits<std::int64_t>::min();

// The double that R keeps for what is not known.
inline double missing_real() {
  const std::uint64_t bits = 0x7ff00000000007a2ULL;
  double x;
  std::memcpy(&x, &bits, sizeof x);
  return x;
}

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

// Calls use(x) with the amounts of a column from a row on, as they lie in memory.
template <class Use>
void with_amounts(const AmountColumn& column, std::size_t first, Use use) {
  if (column.type == AmountType::real) use(static_cast<const double*>(column.data) + first);
  else if (column.type == AmountType::integer) use(static_cast<const std::int32_t*>(column.data) + first);
  else use(static_cast<const std::int64_t*>(column.data) + first);
}

inline bool is_known(double x) { return std::fabs(x) <= std::numeric_limits<double>::max(); }
inline bool is_known(std::int32_t x) { return x != missing_int; }
inline bool is_known(std::int64_t x) { return x != missing_int64; }
inline double as_amount(double x) { return x; }
inline std::int64_t as_amount(std::int64_t x) { return x; }
inline std::int64_t as_amount(std::int32_t x) { return x; }

// Calls add(cell, value) for each known amount of a run, a double or a 64-bit whole number, and
// skip(cell) for the others.
template <class Amount, class Add, class Skip>
void each_amount(const std::int32_t* cell, const Amount* x, std::size_t n, Add add, Skip skip) {
  for (std::size_t i = 0; i < n; ++i) {
    if (is_known(x[i])) add(static_cast<std::size_t>(cell[i]), as_amount(x[i]));
    else skip(cell[i]);
  }
}

}  // namespace kernel
