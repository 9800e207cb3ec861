// The variance from a sum and a sum of squares kept in two parts each: (squares - sum^2 / n) / (n - 1). The parts are exact, so
// what the subtraction leaves is not the rounding of two large numbers.
#pragma once
#include <cmath>
#include "double_double.h"

namespace kernel {

inline double variance(const DoubleDouble& sum, const DoubleDouble& squares, double n) {
  // n * squares - sum^2, each product in its exact parts.
  DoubleDouble spread;
  auto add_product = [&spread](double x, double y, double sign) {
    const double product = x * y;
    spread.add(sign * product);
    spread.add(sign * std::fma(x, y, -product));
  };
  add_product(n, squares.hi, 1.0);
  add_product(sum.hi, sum.hi, -1.0);
  add_product(n, squares.lo, 1.0);
  add_product(sum.hi, sum.lo, -2.0);
  add_product(sum.lo, sum.lo, -1.0);
  const double value = (spread.hi + spread.lo) / (n * (n - 1.0));
  return value < 0.0 ? 0.0 : value;
}

}  // namespace kernel
