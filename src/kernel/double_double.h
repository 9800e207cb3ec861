// A sum kept as two doubles (hi + lo, 106 bits). The additions are Knuth's TwoSum and Dekker's
// Fast2Sum (Knuth, TAOCP vol. 2, 4.2.2; Dekker 1971).
#pragma once
#include <cmath>

namespace kernel {

struct DoubleDouble {
  double hi = 0.0;
  double lo = 0.0;

  // True where the sum is exact; else nothing has changed.
  bool add_exactly(double x) {
    const double s = hi + x;
    const double b = s - hi;
    const double t = (hi - (s - b)) + (x - b);
    const double e = t + lo;
    const double c = e - t;
    const double lost = (t - (e - c)) + (lo - c);
    const double sum = s + e;
    if (lost != 0.0 || !(std::fabs(sum) <= 1.7976931348623157e308)) return false;
    hi = sum;
    lo = e - (sum - s);
    return true;
  }

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
