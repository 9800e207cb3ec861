// Exact sums of doubles, one for each cell: two doubles where these hold it, and for a cell
// whose values lie too far apart an accumulator as wide as the double range. Sums merge without
// losing a bit, in any order.
#pragma once
#include <cstddef>
#include <vector>
#include "cells.h"
#include "double_double.h"
#include "packing.h"
#include "wide_sum.h"

namespace kernel {

class ExactSum {
 public:
  explicit ExactSum(std::size_t cells = 0) : sums_(cells) {}

  std::size_t cells() const { return sums_.size(); }

  void add(std::size_t cell, double x) {
    if (wide_.none() || !wide_.has(cell)) {
      if (sums_[cell].add_exactly(x)) return;
      widen(cell);
    }
    wide_.at(cell).add(x);
  }

  // For long runs of additions: where the sums lie, while none is wide.
  DoubleDouble* plain_sums() { return wide_.none() ? sums_.data() : nullptr; }

  void merge(std::size_t cell, const ExactSum& from, std::size_t from_cell) {
    if (const WideSum* wide = from.wide_.find(from_cell)) {
      if (!wide_.has(cell)) widen(cell);
      wide_.at(cell).add(*wide);
      return;
    }
    const DoubleDouble other = from.sums_[from_cell];
    if (other.hi != 0.0) add(cell, other.hi);
    if (other.lo != 0.0) add(cell, other.lo);
  }

  void copy(std::size_t cell, const ExactSum& from, std::size_t from_cell) {
    sums_[cell] = from.sums_[from_cell];
    wide_.drop(cell);
    if (const WideSum* other = from.wide_.find(from_cell)) {
      check_wide_sums();
      wide_.at(cell) = *other;
    }
  }

  // hi is the sum rounded to a double, NaN where none is so large.
  DoubleDouble value(std::size_t cell) const {
    const WideSum* wide = wide_.find(cell);
    return wide ? wide->value() : sums_[cell];
  }

  template <class Packing>
  void pack(Packing& packing) {
    kernel::pack(packing, sums_);
    kernel::pack(packing, wide_);
  }

 private:
  std::vector<DoubleDouble> sums_;
  SomeCells<WideSum> wide_;

  void widen(std::size_t cell) {
    check_wide_sums();
    WideSum& wide = wide_.at(cell);
    wide.add(sums_[cell].hi);
    wide.add(sums_[cell].lo);
    sums_[cell] = DoubleDouble();
  }
};

}  // namespace kernel
