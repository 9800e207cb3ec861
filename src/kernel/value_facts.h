// What is learnt of the values of a column while they are summed: how far apart they lie, and whether they are decimal
// amounts (whole cents, or whole ten-thousandths).
#pragma once
#include <cmath>
#include <cstddef>
#include <limits>
#if defined(__SSE2__)
#include <emmintrin.h>
#endif

namespace kernel {

class ValueFacts {
 public:
  // Values that are no finite numbers are passed over. Whether they lie on ten-thousandths is looked at only where they do not
  // lie on hundredths; values on hundredths are off ten-thousandths by a hundred times their dust.
  void see(const double* x, std::size_t n) {
    ValueFacts chunk;
    chunk.see_lanes(x, n, 100.0, chunk.off_cents_);
    if (chunk.off_cents_ < 1e-4) chunk.off_fine_ = 100.0 * chunk.off_cents_;
    else chunk.see_lanes(x, n, 10000.0, chunk.off_fine_);
    see(chunk);
  }

  // The little that must be known of values summed as whole numbers of a unit: how far off they are, and how large. The other
  // grid counts as missed.
  void see_units(const double* x, std::size_t n, double per_unit) {
    double off = 0.0;
    double largest = 0.0;
    look_on_grid(x, n, per_unit, off, largest);
    largest /= per_unit;
    largest_ = largest > largest_ ? largest : largest_;
    double& own = per_unit == 100.0 ? off_cents_ : off_fine_;
    double& other = per_unit == 100.0 ? off_fine_ : off_cents_;
    own = off > own ? off : own;
    other = 1.0;
  }

  void see(const ValueFacts& other) {
    largest_ = other.largest_ > largest_ ? other.largest_ : largest_;
    smallest_ = other.smallest_ < smallest_ ? other.smallest_ : smallest_;
    off_cents_ = other.off_cents_ > off_cents_ ? other.off_cents_ : off_cents_;
    off_fine_ = other.off_fine_ > off_fine_ ? other.off_fine_ : off_fine_;
  }

  // True when `n` such values can be added as DoubleDouble in any order without losing a bit: from the last bit
  // of the smallest value to the first bit of the largest possible sum are at most 105 bits.
  bool exact_for(double n) const {
    if (largest_ == 0.0) return true;
    const int top = std::ilogb(largest_) + std::ilogb(n < 2.0 ? 2.0 : n) + 2;
    const int bottom = std::ilogb(smallest_) - 52;
    return top - bottom <= 105 && bottom > -1022 && top < 1022;
  }

  // The same for the squares of the values, each in two parts.
  bool squares_exact_for(double n) const {
    if (largest_ == 0.0) return true;
    const int top = 2 * (std::ilogb(largest_) + 1) + std::ilogb(n < 2.0 ? 2.0 : n) + 2;
    const int bottom = 2 * (std::ilogb(smallest_) - 52);
    return top - bottom <= 105 && bottom > -1022 && top < 1022;
  }

  // 2 or 4 when every value stands for a decimal number of so many places, up to the dust that binary arithmetic
  // leaves, and the dust of `n` values cannot add up to half a last place; else -1.
  int decimals(double n) const {
    if (lies_on(100.0, n)) return 2;
    if (lies_on(10000.0, n)) return 4;
    return -1;
  }
  bool lies_on(double per_unit, double n) const {
    return on_grid(per_unit == 100.0 ? off_cents_ : off_fine_, per_unit, n);
  }
  double largest() const { return largest_; }

 private:
  static constexpr int lanes = 4;
  double largest_ = 0.0;
  double smallest_ = std::numeric_limits<double>::infinity();
  double off_cents_ = 0.0;
  double off_fine_ = 0.0;

  // Two values at a time where the machine can: the order in which a maximum is found does not matter. Values that are no
  // finite numbers are passed over.
  static void look_on_grid(const double* x, std::size_t n, double per_unit, double& off, double& largest) {
    const double whole = 6755399441055744.0;
    std::size_t i = 0;
#if defined(__SSE2__)
    const __m128d unit = _mm_set1_pd(per_unit), shift = _mm_set1_pd(whole);
    const __m128d finite = _mm_set1_pd(std::numeric_limits<double>::max());
    const __m128d sign = _mm_set1_pd(-0.0);
    __m128d off2 = _mm_setzero_pd(), largest2 = _mm_setzero_pd();
    for (; i + 2 <= n; i += 2) {
      const __m128d y = _mm_andnot_pd(sign, _mm_mul_pd(_mm_loadu_pd(x + i), unit));
      const __m128d nearest = _mm_sub_pd(_mm_add_pd(y, shift), shift);
      const __m128d known = _mm_cmple_pd(y, finite);
      off2 = _mm_max_pd(_mm_and_pd(known, _mm_andnot_pd(sign, _mm_sub_pd(y, nearest))), off2);
      largest2 = _mm_max_pd(_mm_and_pd(known, y), largest2);
    }
    double lanes2[2];
    _mm_storeu_pd(lanes2, off2);
    off = lanes2[0] > lanes2[1] ? lanes2[0] : lanes2[1];
    _mm_storeu_pd(lanes2, largest2);
    largest = lanes2[0] > lanes2[1] ? lanes2[0] : lanes2[1];
#endif
    for (; i < n; ++i) {
      const double y = std::fabs(x[i] * per_unit);
      if (!(y <= std::numeric_limits<double>::max())) continue;
      const double nearest = (y + whole) - whole;
      off = std::fabs(y - nearest) > off ? std::fabs(y - nearest) : off;
      largest = y > largest ? y : largest;
    }
  }

  // Four lanes, so that the steps of one value need not wait for those of the one before.
  void see_lanes(const double* x, std::size_t n, double per_unit, double& off_grid_by) {
    const double infinity = std::numeric_limits<double>::infinity();
    double largest[lanes] = {0.0, 0.0, 0.0, 0.0};
    double smallest[lanes] = {infinity, infinity, infinity, infinity};
    double off[lanes] = {0.0, 0.0, 0.0, 0.0};
    auto look = [&](int k, double value) {
      const double magnitude = std::fabs(value);
      const double a = magnitude < infinity ? magnitude : 0.0;
      const double b = a > 0.0 ? a : infinity;
      const double c = off_grid(a * per_unit);
      largest[k] = a > largest[k] ? a : largest[k];
      smallest[k] = b < smallest[k] ? b : smallest[k];
      off[k] = c > off[k] ? c : off[k];
    };
    std::size_t i = 0;
    for (; i + lanes <= n; i += lanes) {
      for (int k = 0; k < lanes; ++k) look(k, x[i + k]);
    }
    for (; i < n; ++i) look(0, x[i]);
    for (int k = 0; k < lanes; ++k) {
      largest_ = largest[k] > largest_ ? largest[k] : largest_;
      smallest_ = smallest[k] < smallest_ ? smallest[k] : smallest_;
      off_grid_by = off[k] > off_grid_by ? off[k] : off_grid_by;
    }
  }

  bool on_grid(double off, double per_unit, double n) const {
    const double dust = 16.0 * std::numeric_limits<double>::epsilon() * largest_ * per_unit;
    return off <= dust && off * n < 0.25 && largest_ * per_unit >= 0.5;
  }

  // How far a value lies from a whole number. Adding 1.5 * 2^52 rounds to whole numbers; far larger values are off.
  static double off_grid(double y) {
    const double whole = 6755399441055744.0;
    const double nearest = (y + whole) - whole;
    return y < 2251799813685248.0 ? std::fabs(y - nearest) : 1.0;
  }
};

}  // namespace kernel
