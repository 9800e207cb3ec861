// The state of a variance, one for each cell: how many values, their exact sum and the
// exact sum of their squares.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>
#include "columns.h"
#include "exact_sum.h"
#include "packing.h"

namespace kernel {

class Moments {
 public:
  static constexpr const char* name = "moments";
  static constexpr std::size_t bytes = 40;
  static std::vector<std::string> figures() { return {"variance"}; }

  explicit Moments(std::size_t cells = 0) : counts_(cells, 0.0), sums_(cells), squares_(cells) {}

  std::size_t cells() const { return counts_.size(); }

  void add(std::size_t cell, double x) {
    counts_[cell] += 1.0;
    sums_.add(cell, x);
    const double product = x * x;
    squares_.add(cell, product);
    if (std::isfinite(product)) squares_.add(cell, std::fma(x, x, -product));
  }
  void add(std::size_t cell, std::int64_t x) { add(cell, static_cast<double>(x)); }

  template <class Amount, class Skip>
  void add_run(const std::int32_t* cell, const Amount* x, std::size_t n, Skip skip) {
    each_amount(cell, x, n, [this](std::size_t k, auto value) { add(k, value); }, skip);
  }

  // What was worked out elsewhere: count, mean, and the squares about it. Products are added in their
  // exact parts, so that values that are all alike have no variance.
  void give(std::size_t cell, double count, double mean, double spread) {
    counts_[cell] += count;
    add_product(sums_, cell, count, mean);
    const double square = mean * mean;
    add_product(squares_, cell, count, square);
    squares_.add(cell, count * std::fma(mean, mean, -square));
    squares_.add(cell, spread);
  }

  void merge_facts(const Moments&) {}

  void merge(std::size_t cell, const Moments& from, std::size_t from_cell) {
    counts_[cell] += from.counts_[from_cell];
    sums_.merge(cell, from.sums_, from_cell);
    squares_.merge(cell, from.squares_, from_cell);
  }

  void copy(std::size_t cell, const Moments& from, std::size_t from_cell) {
    counts_[cell] = from.counts_[from_cell];
    sums_.copy(cell, from.sums_, from_cell);
    squares_.copy(cell, from.squares_, from_cell);
  }

  // The variance of a sample, (squares - sum^2 / n) / (n - 1); of fewer than
  // two values there is none.
  bool known(std::size_t cell) const { return counts_[cell] >= 2.0; }
  double finish(std::size_t cell, int) const {
    const double n = counts_[cell];
    return spread_about_mean(n, sums_.value(cell), squares_.value(cell)) / (n - 1.0);
  }

  // The squares about the mean, squares - sum^2 / n: n * squares - sum^2 with each product in its exact
  // parts, so that what is left is not the rounding of two large numbers.
  static double spread_about_mean(double n, DoubleDouble sum, DoubleDouble squares) {
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
    const double value = (spread.hi + spread.lo) / n;
    return value < 0.0 ? 0.0 : value;
  }

  template <class Packing>
  void pack(Packing& packing) {
    kernel::pack(packing, counts_);
    kernel::pack(packing, sums_);
    kernel::pack(packing, squares_);
  }

 private:
  static void add_product(ExactSum& into, std::size_t cell, double x, double y) {
    const double product = x * y;
    into.add(cell, product);
    into.add(cell, std::fma(x, y, -product));
  }

  std::vector<double> counts_;
  ExactSum sums_;
  ExactSum squares_;
};

}  // namespace kernel
