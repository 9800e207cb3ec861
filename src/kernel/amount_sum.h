// The state of a sum of amounts, one for each cell. Amounts that stand for decimals are added as
// whole numbers of ten-thousandths, all others exactly as doubles: both merge without loss, in any
// order and with any other part.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <string>
#include <vector>
#include "cells.h"
#include "columns.h"
#include "decimal_grid.h"
#include "exact_sum.h"
#include "packing.h"
#if defined(__SSE2__)
#include <emmintrin.h>
#endif

namespace kernel {

__extension__ typedef __int128 Int128;

// Of all amounts: the largest. Of those that are no decimals: how many, and how far off
// the grids they lie at most.
struct AmountFacts {
  double largest = 0.0;
  double others = 0.0;
  double off_hundredths = 0.0;
  double off_ten_thousandths = 0.0;

  void see_size(double x) { largest = std::fabs(x) > largest ? std::fabs(x) : largest; }
  void see_other(double off_by_hundredths, double off_by_ten_thousandths) {
    others += 1.0;
    off_hundredths = std::max(off_hundredths, off_by_hundredths);
    off_ten_thousandths = std::max(off_ten_thousandths, off_by_ten_thousandths);
  }
  void merge(const AmountFacts& other) {
    largest = std::max(largest, other.largest);
    others += other.others;
    off_hundredths = std::max(off_hundredths, other.off_hundredths);
    off_ten_thousandths = std::max(off_ten_thousandths, other.off_ten_thousandths);
  }

  // The grid on which the others lie up to the dust that binary arithmetic leaves, at
  // most 16 units in the last place of the largest amount, where their dust cannot add up
  // to half a unit; 0 for none.
  double dusty_grid() const {
    if (dusty(off_hundredths, hundredths)) return hundredths;
    if (dusty(off_ten_thousandths, ten_thousandths)) return ten_thousandths;
    return 0.0;
  }

 private:
  bool dusty(double off, double per_unit) const {
    return off <= 16.0 * grid_dust * largest * per_unit && off * others < 0.25 && largest * per_unit >= 0.5;
  }
};

class AmountSum {
 public:
  static constexpr const char* name = "sum";
  static constexpr std::size_t bytes = 24;  // with amounts that are no decimals
  static std::vector<std::string> figures() { return {"sum"}; }

  explicit AmountSum(std::size_t cells = 0) : units_(cells, 0) {}

  std::size_t cells() const { return units_.size(); }
  const AmountFacts& facts() const { return facts_; }

  void add(std::size_t cell, double x) {
    facts_.see_size(x);
    const GridPlace coarse(x, hundredths);
    if (coarse.on()) return add_units(cell, whole_units(x, hundredths) * 100);
    const GridPlace fine(x, ten_thousandths);
    if (fine.on()) return add_units(cell, whole_units(x, ten_thousandths));
    facts_.see_other(coarse.off, fine.off);
    others().add(cell, x);
  }

  // The same for many amounts; gives skip(cell) those that are no finite numbers. Most amounts are
  // hundredths: these are told two at a time, where the machine can, and added at once.
  template <class Skip>
  void add_run(const std::int32_t* cell, const double* x, std::size_t n, Skip skip) {
    std::size_t i = 0;
#if defined(__SSE2__)
    const __m128d per_unit = _mm_set1_pd(hundredths);
    const __m128d shift = _mm_set1_pd(grid_shift), dust = _mm_set1_pd(grid_dust);
    const __m128d limit = _mm_set1_pd(grid_limit), sign = _mm_set1_pd(-0.0);
    const __m128i zero = _mm_castpd_si128(shift);
    std::int64_t* units = units_.data();
    __m128d largest = _mm_set1_pd(facts_.largest * hundredths);
    for (; i + 2 <= n; i += 2) {
      const __m128d y = _mm_mul_pd(_mm_loadu_pd(x + i), per_unit);
      const __m128d shifted = _mm_add_pd(y, shift);
      const __m128d size = _mm_andnot_pd(sign, y);
      const __m128d off = _mm_andnot_pd(sign, _mm_sub_pd(y, _mm_sub_pd(shifted, shift)));
      const __m128d on = _mm_and_pd(_mm_cmple_pd(off, _mm_mul_pd(size, dust)), _mm_cmplt_pd(size, limit));
      if (_mm_movemask_pd(on) == 3) {
        largest = _mm_max_pd(largest, size);
        std::int64_t two[2];
        _mm_storeu_si128(reinterpret_cast<__m128i*>(two), _mm_sub_epi64(_mm_castpd_si128(shifted), zero));
        for (int k = 0; k < 2; ++k) {
          std::int64_t sum;
          if (__builtin_add_overflow(units[cell[i + k]], two[k] * 100, &sum))
            add_units(cell[i + k], two[k] * 100);
          else units[cell[i + k]] = sum;
        }
      } else {
        add_finite(cell[i], x[i], skip);
        add_finite(cell[i + 1], x[i + 1], skip);
      }
    }
    double two[2];
    _mm_storeu_pd(two, largest);
    facts_.see_size(std::max(two[0], two[1]) / hundredths);
#endif
    for (; i < n; ++i) add_finite(cell[i], x[i], skip);
  }

  void add(std::size_t cell, std::int64_t x) {
    facts_.see_size(static_cast<double>(x));
    std::int64_t units;
    if (__builtin_mul_overflow(x, std::int64_t{10000}, &units))
      more_units_.at(cell) += static_cast<Int128>(x) * 10000;
    else add_units(cell, units);
  }

  // Whole numbers; missing ones are given to skip(cell).
  template <class Skip>
  void add_run(const std::int32_t* cell, const std::int32_t* x, std::size_t n, Skip skip) {
    std::int64_t* units = units_.data();
    std::int64_t largest = 0;
    for (std::size_t i = 0; i < n; ++i) {
      if (x[i] == missing_int) {
        skip(cell[i]);
        continue;
      }
      const std::int64_t counted = std::int64_t{x[i]} * 10000;
      largest = std::max(largest, counted < 0 ? -counted : counted);
      std::int64_t sum;
      if (__builtin_add_overflow(units[cell[i]], counted, &sum))
        add_units(static_cast<std::size_t>(cell[i]), counted);
      else units[cell[i]] = sum;
    }
    facts_.see_size(static_cast<double>(largest) / ten_thousandths);
  }

  template <class Skip>
  void add_run(const std::int32_t* cell, const std::int64_t* x, std::size_t n, Skip skip) {
    for (std::size_t i = 0; i < n; ++i) {
      if (x[i] == missing_int64) skip(cell[i]);
      else add(static_cast<std::size_t>(cell[i]), x[i]);
    }
  }

  // Sums that were added up elsewhere: as ten-thousandths, or as amounts that lie on no grid.
  void give_units(std::size_t cell, double units) {
    facts_.see_size(units / ten_thousandths);
    add_units(cell, static_cast<std::int64_t>(units));
  }
  void give_other(std::size_t cell, double sum) {
    facts_.see_size(sum);
    facts_.see_other(1.0, 1.0);
    others().add(cell, sum);
  }

  void merge_facts(const AmountSum& from) { facts_.merge(from.facts_); }

  void merge(std::size_t cell, const AmountSum& from, std::size_t from_cell) {
    add_units(cell, from.units_[from_cell]);
    if (const Int128* more = from.more_units_.find(from_cell)) more_units_.at(cell) += *more;
    if (from.others_.cells() > 0) others().merge(cell, from.others_, from_cell);
  }

  void copy(std::size_t cell, const AmountSum& from, std::size_t from_cell) {
    units_[cell] = from.units_[from_cell];
    more_units_.drop(cell);
    if (const Int128* more = from.more_units_.find(from_cell)) more_units_.at(cell) = *more;
    if (from.others_.cells() > 0) others().copy(cell, from.others_, from_cell);
    else if (others_.cells() > 0) others_.copy(cell, ExactSum(1), 0);
  }

  bool known(std::size_t) const { return true; }

  template <class Packing>
  void pack(Packing& packing) {
    kernel::pack(packing, units_);
    kernel::pack(packing, more_units_);
    kernel::pack(packing, others_);
    kernel::pack(packing, facts_);
  }

  // NaN or infinite where no double can hold it.
  double finish(std::size_t cell, int) const {
    const Int128* more = more_units_.find(cell);
    const Int128 units = static_cast<Int128>(units_[cell]) + (more ? *more : 0);
    if (others_.cells() == 0) return decimal(units);
    const DoubleDouble rest = others_.value(cell);
    if (rest.hi == 0.0) return decimal(units);
    const double grid = facts_.dusty_grid();
    if (grid > 0.0) {
      const double whole = std::round(rest.hi * grid + rest.lo * grid);
      if (std::fabs(whole) < 0x1p50) {
        return decimal(units + static_cast<Int128>(whole) * static_cast<Int128>(ten_thousandths / grid));
      }
    }
    DoubleDouble sum = parts(units);
    sum.add(rest);
    return sum.hi;
  }

 private:
  std::vector<std::int64_t> units_;   // ten-thousandths
  SomeCells<Int128> more_units_;      // of cells whose units do not fit 64 bits
  ExactSum others_{0};                // made with the first amount that is no decimal
  AmountFacts facts_;

  template <class Skip>
  void add_finite(std::int32_t cell, double x, Skip skip) {
    if (std::fabs(x) <= std::numeric_limits<double>::max()) add(static_cast<std::size_t>(cell), x);
    else skip(cell);
  }

  ExactSum& others() {
    if (others_.cells() == 0) others_ = ExactSum(units_.size());
    return others_;
  }

  void add_units(std::size_t cell, std::int64_t units) {
    std::int64_t sum;
    if (__builtin_add_overflow(units_[cell], units, &sum)) more_units_.at(cell) += units;
    else units_[cell] = sum;
  }

  // Ten-thousandths as a number, in two parts.
  static DoubleDouble parts(Int128 units) {
    const Int128 whole = units / 10000;
    const double high = static_cast<double>(whole);
    DoubleDouble sum{high, static_cast<double>(whole - static_cast<Int128>(high))};
    const double fraction = static_cast<double>(units % 10000);
    const double quotient = fraction / ten_thousandths;
    sum.add(quotient);
    sum.add(std::fma(-quotient, ten_thousandths, fraction) / ten_thousandths);
    return sum;
  }

  // The double nearest to a number of ten-thousandths.
  static double decimal(Int128 units) {
    constexpr Int128 exact = Int128{1} << 53;
    if (units < exact && units > -exact) return static_cast<double>(units) / ten_thousandths;
    return parts(units).hi;
  }
};

}  // namespace kernel
