// What is learnt of the values of a column while they are summed: how far apart they lie, and whether they are decimal
// amounts (whole cents, or whole ten-thousandths).
#pragma once
#include <cmath>
#include <limits>

namespace kernel {

class ValueFacts {
 public:
  void see(double x) {
    const double a = std::fabs(x);
    largest_ = a > largest_ ? a : largest_;
    const double b = a == 0.0 ? std::numeric_limits<double>::infinity() : a;
    smallest_ = b < smallest_ ? b : smallest_;
    const double c = off_grid(a * 100.0);
    off_cents_ = c > off_cents_ ? c : off_cents_;
    const double d = off_grid(a * 10000.0);
    off_fine_ = d > off_fine_ ? d : off_fine_;
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
  double largest_ = 0.0;
  double smallest_ = std::numeric_limits<double>::infinity();
  double off_cents_ = 0.0;
  double off_fine_ = 0.0;

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
