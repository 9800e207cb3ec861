// Which doubles stand for decimal amounts: those nearest to a whole number of hundredths, or of ten-thousandths. That is told of
// each value by itself, so that it does not matter what else a column holds.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <limits>
#if defined(__SSE2__)
#include <emmintrin.h>
#endif

namespace kernel {

constexpr double hundredths = 100.0;
constexpr double ten_thousandths = 10000.0;
constexpr double grid_limit = 2251799813685248.0;  // 2^51: below it doubles have room beside whole numbers
constexpr double grid_shift = 6755399441055744.0;  // 1.5 * 2^52: adding it leaves the nearest whole number in the last bits
constexpr double grid_dust = std::numeric_limits<double>::epsilon();

// The nearest whole number of units, for |x * per_unit| below the limit.
inline std::int64_t whole_units(double x, double per_unit) {
  const double shifted = x * per_unit + grid_shift;
  std::int64_t bits, zero;
  std::memcpy(&bits, &shifted, sizeof bits);
  std::memcpy(&zero, &grid_shift, sizeof zero);
  return bits - zero;
}

// How far x * per_unit lies from a whole number; 1 beyond the limit.
inline double off_grid(double x, double per_unit) {
  const double y = std::fabs(x * per_unit);
  const double nearest = (y + grid_shift) - grid_shift;
  return y < grid_limit ? std::fabs(y - nearest) : 1.0;
}

// x is the double nearest to a whole number of units, up to the rounding of the product.
inline bool on_grid(double x, double per_unit) {
  const double y = std::fabs(x * per_unit);
  return y < grid_limit && off_grid(x, per_unit) <= grid_dust * y;
}

// Whether all finite values of a run lie on a grid, and the largest of them.
class GridCheck {
 public:
  explicit GridCheck(double per_unit) : per_unit_(per_unit) {}

  void see(const double* x, std::size_t n) {
    std::size_t i = 0;
#if defined(__SSE2__)
    const __m128d unit = _mm_set1_pd(per_unit_), shift = _mm_set1_pd(grid_shift);
    const __m128d finite = _mm_set1_pd(std::numeric_limits<double>::max()), dust = _mm_set1_pd(grid_dust);
    const __m128d sign = _mm_set1_pd(-0.0);
    __m128d off = _mm_setzero_pd(), largest = _mm_setzero_pd();
    for (; i + 2 <= n; i += 2) {
      const __m128d size = _mm_andnot_pd(sign, _mm_loadu_pd(x + i));
      const __m128d y = _mm_mul_pd(size, unit);
      const __m128d nearest = _mm_sub_pd(_mm_add_pd(y, shift), shift);
      const __m128d known = _mm_cmple_pd(size, finite);
      const __m128d over = _mm_sub_pd(_mm_andnot_pd(sign, _mm_sub_pd(y, nearest)), _mm_mul_pd(y, dust));
      off = _mm_max_pd(_mm_and_pd(known, over), off);
      largest = _mm_max_pd(_mm_and_pd(known, y), largest);
    }
    double two[2];
    _mm_storeu_pd(two, off);
    off_ = off_ || two[0] > 0.0 || two[1] > 0.0;
    _mm_storeu_pd(two, largest);
    see_size(two[0]);
    see_size(two[1]);
#endif
    for (; i < n; ++i) {
      if (!(std::fabs(x[i]) <= std::numeric_limits<double>::max())) continue;
      off_ = off_ || !on_grid(x[i], per_unit_);
      see_size(std::fabs(x[i] * per_unit_));
    }
  }

  void see(const GridCheck& other) {
    off_ = off_ || other.off_;
    see_size(other.largest_);
  }

  // All n values lie on the grid, and their sum in units fits 63 bits.
  bool holds(double n) const { return !off_ && largest_ < grid_limit && largest_ * n < 4.6e18; }
  double largest() const { return largest_ / per_unit_; }

 private:
  double per_unit_;
  bool off_ = false;
  double largest_ = 0.0;  // in units

  void see_size(double y) { largest_ = y > largest_ ? y : largest_; }
};

}  // namespace kernel
