// The fold: one pass over the orders that turns them into states, one for each (span, group) cell.
#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <limits>
#include <vector>
#include "blocks.h"
#include "columns.h"
#include "double_double.h"
#include "value_facts.h"
#include "watch.h"
#include "wide_sum.h"

namespace kernel {

struct Range {
  double least = std::numeric_limits<double>::infinity();
  double greatest = -std::numeric_limits<double>::infinity();

  void add(double x) {
    least = x < least ? x : least;
    greatest = x > greatest ? x : greatest;
  }
  void add(const Range& other) {
    least = std::min(least, other.least);
    greatest = std::max(greatest, other.greatest);
  }
};

// Which span each day falls in: span_of[day - first_day], -1 where no interval of the ask needs the day.
struct SpanTable {
  std::int32_t first_day;
  const std::int32_t* span_of;
  std::int32_t n_days;
  std::int32_t n_spans;
};

struct FoldOrders {
  std::size_t rows;
  DayColumn days;
  std::vector<CodeColumn> dimensions;
  const std::int32_t* keep;  // null: every row; else rows with a zero or missing entry are left out
};

struct WantedColumn {
  AmountColumn amount;
  bool sum;
  bool square;  // the sum of squares; wanted together with the sum
  bool range;
};

// States of one amount column. `missing` counts the lines whose amount is not a finite number; `decimals` is the number
// of places of decimal amounts that were summed, -1 where they are none. Whole numbers and decimal amounts are summed as whole
// numbers of their last place: then `per_unit` says how many of these make one, and `sum` counts them; else it is 0.
struct ColumnStates {
  int decimals = -1;
  double per_unit = 0.0;
  std::vector<std::int64_t> units;
  std::vector<DoubleDouble> sum;
  std::vector<DoubleDouble> square;
  std::vector<Range> range;
  std::vector<std::uint32_t> missing;
};

struct States {
  std::size_t n_groups = 0;
  std::size_t n_cells = 0;
  std::vector<std::uint32_t> lines;  // narrow, so that more cells stay in cache: see the limit on rows
  std::vector<ColumnStates> columns;
  std::vector<std::int32_t> cell_of_row;  // only where the rows of each cell are wanted
};

inline std::size_t group_count(const std::vector<CodeColumn>& dimensions) {
  std::size_t n = 1;
  for (const auto& d : dimensions) n *= static_cast<std::size_t>(d.levels) + 1;
  return n;
}

// The cell of each row of a chunk: span-major, the groups of a span side by side. Rows left out get cell `n_cells`. No
// step branches: a day in no span begins so far below zero that no code lifts it above.
class CellFinder {
 public:
  CellFinder(const FoldOrders& orders, const SpanTable& spans) : orders_(orders), first_(spans.first_day - 1) {
    std::size_t groups = group_count(orders.dimensions);
    outside_ = static_cast<std::int32_t>(groups * spans.n_spans);
    base_of_.assign(spans.n_days + 1, no_cell);
    for (std::int32_t day = 0; day < spans.n_days; ++day) {
      const std::int32_t span = spans.span_of[day];
      if (span >= 0) base_of_[day + 1] = static_cast<std::int32_t>(span * groups);
    }
    for (const auto& d : orders.dimensions) {
      groups /= static_cast<std::size_t>(d.levels) + 1;
      strides_.push_back(static_cast<std::int32_t>(groups));
    }
  }

  void find(std::size_t first, std::size_t n, std::int32_t* cell) const {
    if (orders_.days.ints) find_bases(orders_.days.ints + first, n, cell);
    else find_bases(orders_.days.doubles + first, n, cell);
    for (std::size_t d = 0; d < strides_.size(); ++d) {
      add_codes(orders_.dimensions[d].codes + first, orders_.dimensions[d].levels, strides_[d], n, cell);
    }
    if (orders_.keep) drop(orders_.keep + first, n, cell);
    const std::int32_t outside = outside_;
    for (std::size_t i = 0; i < n; ++i) cell[i] = cell[i] < 0 ? outside : cell[i];
  }

 private:
  static constexpr std::int32_t no_cell = std::numeric_limits<std::int32_t>::min() / 2;
  const FoldOrders& orders_;
  std::int32_t first_;
  std::int32_t outside_;
  std::vector<std::int32_t> base_of_;  // entry 0 stands for all days outside the table
  std::vector<std::int32_t> strides_;

  // The table begins one day early, so that a fraction of the day before it does not count as its first day.
  void find_bases(const double* days, std::size_t n, std::int32_t* cell) const {
    const std::int32_t* base = base_of_.data();
    const auto length = static_cast<double>(base_of_.size());
    const double first = first_;
    for (std::size_t i = 0; i < n; ++i) {  // in steps that a compiler turns into vector instructions; NaN becomes 0
      const double at = days[i] - first;
      const double above = at > 0.0 ? at : 0.0;
      cell[i] = static_cast<std::int32_t>(above < length ? above : 0.0);
    }
    for (std::size_t i = 0; i < n; ++i) cell[i] = base[cell[i]];
  }
  void find_bases(const std::int32_t* days, std::size_t n, std::int32_t* cell) const {
    const std::int32_t* base = base_of_.data();
    const auto length = static_cast<std::uint32_t>(base_of_.size());
    for (std::size_t i = 0; i < n; ++i) {
      const std::uint32_t at = static_cast<std::uint32_t>(days[i]) - static_cast<std::uint32_t>(first_);
      cell[i] = base[at < length ? at : 0];
    }
  }

  static void add_codes(const std::int32_t* codes, std::int32_t levels, std::int32_t stride, std::size_t n,
                        std::int32_t* cell) {
    if (stride == 1) {  // the last dimension, often the only one
      for (std::size_t i = 0; i < n; ++i) cell[i] += codes[i] == missing_int ? levels : codes[i] - 1;
      return;
    }
    for (std::size_t i = 0; i < n; ++i) cell[i] += (codes[i] == missing_int ? levels : codes[i] - 1) * stride;
  }

  static void drop(const std::int32_t* keep, std::size_t n, std::int32_t* cell) {
    for (std::size_t i = 0; i < n; ++i) cell[i] = keep[i] == 1 ? cell[i] : no_cell;
  }
};

// Calls add(cell, value) for each known amount of a chunk and skip(cell) for the others.
template <class Add, class Skip>
void each_amount(const AmountColumn& column, std::size_t first, std::size_t n, const std::int32_t* cell, Add add,
                 Skip skip) {
  if (column.type == AmountType::real) {
    const double* x = static_cast<const double*>(column.data) + first;
    for (std::size_t i = 0; i < n; ++i) {
      if (std::fabs(x[i]) <= std::numeric_limits<double>::max()) add(cell[i], x[i]);
      else skip(cell[i]);
    }
  } else if (column.type == AmountType::integer) {
    const std::int32_t* x = static_cast<const std::int32_t*>(column.data) + first;
    for (std::size_t i = 0; i < n; ++i) {
      if (x[i] != missing_int) add(cell[i], static_cast<double>(x[i]));
      else skip(cell[i]);
    }
  } else {
    const std::int64_t* x = static_cast<const std::int64_t*>(column.data) + first;
    for (std::size_t i = 0; i < n; ++i) {
      if (x[i] != missing_int64) add(cell[i], x[i]);
      else skip(cell[i]);
    }
  }
}

class Folder {
 public:
  Folder(const FoldOrders& orders, const SpanTable& spans, const std::vector<WantedColumn>& wanted, bool want_rows,
         int threads, Watch& watch)
      : orders_(orders), spans_(spans), wanted_(wanted), watch_(watch), blocks_(block_count(orders.rows, threads)) {
    if (orders.rows > std::numeric_limits<std::uint32_t>::max()) throw std::length_error("more than 4 billion orders");
    if (want_rows) cell_of_row_.resize(orders.rows);
    for (const auto& column : wanted) per_unit_.push_back(likely_unit(column, orders.rows));
    n_groups_ = group_count(orders.dimensions);
    n_cells_ = n_groups_ * static_cast<std::size_t>(spans.n_spans);
  }

  States fold() {
    std::vector<States> parts(blocks_);
    std::vector<std::vector<ValueFacts>> facts(blocks_, std::vector<ValueFacts>(wanted_.size()));
    for_blocks(orders_.rows, blocks_, [&](int block, std::size_t first, std::size_t last) {
      parts[block] = empty_states();
      fold_rows(first, last, parts[block], facts[block]);
    });
    for (int block = 1; block < blocks_; ++block) {
      merge(parts[0], parts[block]);
      for (std::size_t c = 0; c < wanted_.size(); ++c) facts[0][c].see(facts[block][c]);
    }
    for (std::size_t c = 0; c < wanted_.size(); ++c) {
      const auto n = static_cast<double>(orders_.rows);
      auto& column = parts[0].columns[c];
      column.decimals = facts[0][c].decimals(n);
      if (wanted_[c].sum) finish_sum(c, facts[0][c], n, column);
      if (wanted_[c].square && !facts[0][c].squares_exact_for(n)) sum_again(c, column.square, true);
    }
    parts[0].cell_of_row = std::move(cell_of_row_);
    return std::move(parts[0]);
  }

 private:
  static constexpr std::size_t chunk = 2048;
  const FoldOrders& orders_;
  const SpanTable& spans_;
  const std::vector<WantedColumn>& wanted_;
  Watch& watch_;
  const int blocks_;
  std::size_t n_groups_;
  std::size_t n_cells_;
  std::vector<std::int32_t> cell_of_row_;
  std::vector<double> per_unit_;

  // One cell more than there are: rows left out fall into it, so that the inner loops need no branch.
  States empty_states() const {
    States states;
    states.n_groups = n_groups_;
    states.n_cells = n_cells_;
    states.lines.assign(n_cells_ + 1, 0);
    states.columns.resize(wanted_.size());
    for (std::size_t c = 0; c < wanted_.size(); ++c) {
      auto& column = states.columns[c];
      column.missing.assign(n_cells_ + 1, 0);
      if (wanted_[c].sum && per_unit_[c] > 0.0) column.units.assign(n_cells_ + 1, 0);
      if (wanted_[c].sum && per_unit_[c] == 0.0) column.sum.resize(n_cells_ + 1);
      if (wanted_[c].square) column.square.resize(n_cells_ + 1);
      if (wanted_[c].range) column.range.resize(n_cells_ + 1);
    }
    return states;
  }

  template <class Use>
  void for_chunks(std::size_t first, std::size_t last, Use use) const {
    const CellFinder finder(orders_, spans_);
    std::vector<std::int32_t> cell(chunk);
    for (std::size_t at = first; at < last; at += chunk) {
      const std::size_t n = std::min(chunk, last - at);
      if ((at - first) % (64 * chunk) == 0) {
        if (first == 0) watch_.at(static_cast<double>(at) / static_cast<double>(last));
        else watch_.go_on();
      }
      finder.find(at, n, cell.data());
      use(at, n, cell.data());
    }
  }

  void fold_rows(std::size_t first, std::size_t last, States& states, std::vector<ValueFacts>& facts_of) {
    for_chunks(first, last, [&](std::size_t at, std::size_t n, const std::int32_t* cell) {
      if (!cell_of_row_.empty()) std::copy_n(cell, n, cell_of_row_.data() + at);
      for (std::size_t i = 0; i < n; ++i) ++states.lines[cell[i]];
      for (std::size_t c = 0; c < wanted_.size(); ++c) {
        auto& column = states.columns[c];
        auto skip = [&](std::int32_t k) { ++column.missing[k]; };
        if (wanted_[c].sum && per_unit_[c] > 0.0) {
          std::int64_t* units = column.units.data();
          const double per_unit = per_unit_[c];
          auto add = [units, per_unit](std::int32_t k, auto x) { units[k] += whole_units(x, per_unit); };
          each_amount(wanted_[c].amount, at, n, cell, add, skip);
          if (wanted_[c].amount.type == AmountType::real) {
            facts_of[c].see_units(static_cast<const double*>(wanted_[c].amount.data) + at, n, per_unit);
          }
        } else if (wanted_[c].sum) {
          DoubleDouble* sum = column.sum.data();
          auto add = [sum](std::int32_t k, auto x) { in_parts(x, [&](double part) { sum[k].add(part); }); };
          each_amount(wanted_[c].amount, at, n, cell, add, skip);
          see_amounts(wanted_[c].amount, at, n, facts_of[c]);
        }
        if (wanted_[c].square) {
          DoubleDouble* square = column.square.data();
          auto add = [square](std::int32_t k, auto x) { in_squares(x, [&](double part) { square[k].add(part); }); };
          each_amount(wanted_[c].amount, at, n, cell, add, [](std::int32_t) {});
        }
        if (wanted_[c].range) {
          Range* range = column.range.data();
          auto widen = [range](std::int32_t k, auto x) { range[k].add(static_cast<double>(x)); };
          if (wanted_[c].sum) each_amount(wanted_[c].amount, at, n, cell, widen, [](std::int32_t) {});
          else each_amount(wanted_[c].amount, at, n, cell, widen, skip);
        }
        if (!wanted_[c].sum && !wanted_[c].range) {
          each_amount(wanted_[c].amount, at, n, cell, [](std::int32_t, auto) {}, skip);
        }
      }
    });
  }

  // Gives a value in parts that are exact as doubles: a 64-bit integer in two halves.
  template <class Use>
  static void in_parts(double x, Use use) {
    use(x);
  }
  template <class Use>
  static void in_parts(std::int64_t x, Use use) {
    use(static_cast<double>(x >> 32) * 4294967296.0);
    use(static_cast<double>(x & 0xffffffffLL));
  }

  // The unit in which a column can likely be summed as whole numbers, judged by its first values; 0 for none. What was
  // guessed wrong is summed again in another way.
  static double likely_unit(const WantedColumn& column, std::size_t rows) {
    if (!column.sum || column.square || column.amount.type == AmountType::integer64) return 0.0;
    if (column.amount.type == AmountType::integer) return 1.0;
    ValueFacts facts;
    const std::size_t probed = std::min<std::size_t>(rows, 4096);
    facts.see(static_cast<const double*>(column.amount.data), probed);
    const int decimals = facts.decimals(static_cast<double>(probed));
    return decimals == 2 ? 100.0 : decimals == 4 ? 10000.0 : 0.0;
  }

  // The nearest whole number of units. Adding 1.5 * 2^52 leaves it in the last bits; larger values are found out afterwards.
  static std::int64_t whole_units(double x, double per_unit) {
    const double whole = 6755399441055744.0;
    const double shifted = x * per_unit + whole;
    std::int64_t bits, zero;
    std::memcpy(&bits, &shifted, sizeof bits);
    std::memcpy(&zero, &whole, sizeof zero);
    return bits - zero;
  }
  static std::int64_t whole_units(std::int64_t x, double) { return x; }

  // Units become a sum; where they did not fit the values after all, or the values lie too far apart for a DoubleDouble,
  // the column is summed again with wide accumulators.
  void finish_sum(std::size_t c, const ValueFacts& facts, double n, ColumnStates& column) const {
    const double unit = per_unit_[c];
    if (unit == 0.0) {
      if (!facts.exact_for(n)) sum_again(c, column.sum, false);
      return;
    }
    column.sum.resize(n_cells_ + 1);
    const bool whole = wanted_[c].amount.type == AmountType::integer;
    if (whole || (facts.lies_on(unit, n) && facts.largest() * unit < 2251799813685248.0)) {
      column.per_unit = unit;
      for (std::size_t k = 0; k < n_cells_; ++k) {
        column.sum[k].hi = static_cast<double>(column.units[k]);
        column.sum[k].lo = static_cast<double>(column.units[k] - static_cast<std::int64_t>(column.sum[k].hi));
      }
    } else {
      sum_again(c, column.sum, false);
      column.decimals = -1;
    }
    column.units.clear();
  }

  // What kind of values a chunk holds. Whole numbers of 32 bits can be neither far apart nor fractions.
  static void see_amounts(const AmountColumn& amount, std::size_t first, std::size_t n, ValueFacts& facts) {
    if (amount.type == AmountType::real) {
      facts.see(static_cast<const double*>(amount.data) + first, n);
    } else if (amount.type == AmountType::integer64) {
      const std::int64_t* x = static_cast<const std::int64_t*>(amount.data) + first;
      for (std::size_t i = 0; i < n; ++i) {
        if (x[i] == missing_int64) continue;
        in_parts(x[i], [&facts](double part) { facts.see(&part, 1); });
      }
    }
  }

  // Gives a square in two parts whose sum it is exactly.
  template <class Value, class Use>
  static void in_squares(Value value, Use use) {
    const auto x = static_cast<double>(value);
    const double product = x * x;
    use(product);
    use(std::fma(x, x, -product));
  }

  // The second way to sum, for a column whose values lie too far apart: wide accumulators, rounded once.
  void sum_again(std::size_t c, std::vector<DoubleDouble>& sum, bool squares) const {
    std::vector<WideSum> wide(n_cells_ + 1);
    auto add = [&](std::int32_t k, auto x) {
      auto use = [&](double part) { wide[k].add(part); };
      if (squares) in_squares(x, use);
      else in_parts(x, use);
    };
    for_chunks(0, orders_.rows, [&](std::size_t at, std::size_t n, const std::int32_t* cell) {
      each_amount(wanted_[c].amount, at, n, cell, add, [](std::int32_t) {});
    });
    for (std::size_t k = 0; k < n_cells_; ++k) sum[k] = wide[k].value();
  }

  void merge(States& into, const States& from) const {
    for (std::size_t k = 0; k < n_cells_; ++k) into.lines[k] += from.lines[k];
    for (std::size_t c = 0; c < wanted_.size(); ++c) {
      auto& a = into.columns[c];
      const auto& b = from.columns[c];
      for (std::size_t k = 0; k < n_cells_; ++k) a.missing[k] += b.missing[k];
      for (std::size_t k = 0; k < a.units.size(); ++k) a.units[k] += b.units[k];
      for (std::size_t k = 0; k < a.sum.size(); ++k) a.sum[k].add(b.sum[k]);
      for (std::size_t k = 0; k < a.square.size(); ++k) a.square[k].add(b.square[k]);
      for (std::size_t k = 0; k < a.range.size(); ++k) a.range[k].add(b.range[k]);
    }
  }
};

}  // namespace kernel
