// A sum kept as two doubles (hi + lo, 106 bits), so that adding amounts loses nothing in practice.
// The additions are Knuth's TwoSum and Dekker's Fast2Sum (Knuth, TAOCP vol. 2, 4.2.2; Dekker 1971).
#pragma once

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

}  // namespace kernel
