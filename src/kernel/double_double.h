// A sum kept as two doubles (hi + lo, 106 bits), so that adding amounts loses nothing in practice.
// The additions are Knuth's TwoSum and Dekker's Fast2Sum (Knuth, TAOCP vol. 2, 4.2.2; Dekker 1971).
#pragma once
#include <cmath>
#include <limits>

namespace kernel {

struct DoubleDouble {
  double hi = 0.0;
  double lo = 0.0;

  void add(double x) {
    const double s = hi + x;
    const double b = s - hi;
    const double e = ((hi - (s - b)) + (x - b)) + lo;
    hi = s + e;
    lo = e - (hi - s);
  }

  void add(const DoubleDouble& other) {
    add(other.hi);
    add(other.lo);
  }
};

// Remembers how far apart the values of a sum lie, to tell whether 106 bits held every partial sum exactly.
struct ExponentSpread {
  double largest = 0.0;
  double smallest = std::numeric_limits<double>::infinity();

  void see(double x) {
    const double a = std::fabs(x);
    largest = a > largest ? a : largest;
    const double b = a == 0.0 ? std::numeric_limits<double>::infinity() : a;
    smallest = b < smallest ? b : smallest;
  }

  void see(const ExponentSpread& other) {
    largest = other.largest > largest ? other.largest : largest;
    smallest = other.smallest < smallest ? other.smallest : smallest;
  }

  // True when `n` such values can be added in any order without losing a bit: from the last bit of the
  // smallest value to the first bit of the largest possible sum are at most 105 bits.
  bool exact_for(double n) const {
    if (largest == 0.0) return true;
    const int top = std::ilogb(largest) + std::ilogb(n < 2.0 ? 2.0 : n) + 2;
    const int bottom = std::ilogb(smallest) - 52;
    return top - bottom <= 105 && bottom > -1022 && top < 1022;
  }
};

}  // namespace kernel
