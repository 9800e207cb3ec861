// Which doubles stand for decimal amounts: those nearest to a whole number of hundredths,
// or of ten-thousandths. That is told of each value by itself, so that it does not matter
// what else a column holds.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <limits>

namespace kernel {

constexpr double hundredths = 100.0;
constexpr double ten_thousandths = 10000.0;
constexpr double grid_limit = 2251799813685248.0;  // 2^51: below it doubles have room beside whole numbers
// 1.5 * 2^52: adding it leaves the nearest whole number in the last bits.
constexpr double grid_shift = 6755399441055744.0;
constexpr double grid_dust = std::numeric_limits<double>::epsilon();

// The nearest whole number of units, for |x * per_unit| below the limit.
inline std::int64_t whole_units(double x, double per_unit) {
  const double shifted = x * per_unit + grid_shift;
  std::int64_t bits, zero;
  std::memcpy(&bits, &shifted, sizeof bits);
  std::memcpy(&zero, &grid_shift, sizeof zero);
  return bits - zero;
}

// How a value lies to a grid: its size in units, and how far off a whole number
// that is (1 beyond the limit).
struct GridPlace {
  double size;
  double off;

  GridPlace(double x, double per_unit) : size(std::fabs(x * per_unit)) {
    const double nearest = (size + grid_shift) - grid_shift;
    off = size < grid_limit ? std::fabs(size - nearest) : 1.0;
  }

  // The double nearest to a whole number of units, up to the rounding of the product.
  bool on() const { return off <= grid_dust * size && size < grid_limit; }
};

}  // namespace kernel
