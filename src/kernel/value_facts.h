// What is learnt of the values of a column while they are summed: how far apart they lie, and whether they are decimal
// amounts (whole cents, or whole ten-thousandths).
#pragma once
#include <cmath>
#include <cstddef>
#include <limits>

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
    if (on_grid(off_cents_, 100.0, n)) return 2;
    if (on_grid(off_fine_, 10000.0, n)) return 4;
    return -1;
  }

 private:
  static constexpr int lanes = 4;
  double largest_ = 0.0;
  double smallest_ = std::numeric_limits<double>::infinity();
  double off_cents_ = 0.0;
  double off_fine_ = 0.0;

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
