// The fold: one pass over the orders that turns them into states, one for each (span, group) cell.
#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <vector>
#include "blocks.h"
#include "columns.h"
#include "double_double.h"
#include "value_facts.h"
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
// of places of decimal amounts that were summed, -1 where they are none.
struct ColumnStates {
  int decimals = -1;
  std::vector<DoubleDouble> sum;
  std::vector<DoubleDouble> square;
  std::vector<Range> range;
  std::vector<std::int64_t> missing;
};

struct States {
  std::size_t n_groups = 0;
  std::size_t n_cells = 0;
  std::vector<std::int64_t> lines;
  std::vector<ColumnStates> columns;
  std::vector<std::int32_t> cell_of_row;  // only where the rows of each cell are wanted
};

inline std::size_t group_count(const std::vector<CodeColumn>& dimensions) {
  std::size_t n = 1;
  for (const auto& d : dimensions) n *= static_cast<std::size_t>(d.levels) + 1;
  return n;
}

// The cell of each row of a chunk: span-major, the groups of a span side by side. Rows left out get cell `n_cells`.
class CellFinder {
 public:
  CellFinder(const FoldOrders& orders, const SpanTable& spans)
      : orders_(orders), spans_(spans), groups_(group_count(orders.dimensions)) {}

  void find(std::size_t first, std::size_t n, std::int32_t* cell) const {
    if (orders_.days.ints) find_spans(orders_.days.ints + first, n, cell);
    else find_spans(orders_.days.doubles + first, n, cell);
    for (const auto& d : orders_.dimensions) add_dimension(d, first, n, cell);
    if (orders_.keep) drop(orders_.keep + first, n, cell);
    const auto outside = static_cast<std::int32_t>(groups_ * spans_.n_spans);
    for (std::size_t i = 0; i < n; ++i) cell[i] = cell[i] < 0 ? outside : cell[i];
  }

 private:
  const FoldOrders& orders_;
  const SpanTable& spans_;
  const std::size_t groups_;

  template <class Day>
  void find_spans(const Day* days, std::size_t n, std::int32_t* cell) const {
    for (std::size_t i = 0; i < n; ++i) {
      const std::int32_t at = DayColumn::offset(days[i], spans_.first_day, spans_.n_days);
      cell[i] = at < 0 ? -1 : spans_.span_of[at];
    }
  }

  // A negative cell stays negative: cell * size + code < 0 as long as code < size.
  static void add_dimension(const CodeColumn& d, std::size_t first, std::size_t n, std::int32_t* cell) {
    const std::int32_t* codes = d.codes + first;
    const std::int32_t size = d.levels + 1;
    for (std::size_t i = 0; i < n; ++i) {
      const std::int32_t code = codes[i] == missing_int ? d.levels : codes[i] - 1;
      cell[i] = cell[i] < 0 ? -1 : cell[i] * size + code;
    }
  }

  static void drop(const std::int32_t* keep, std::size_t n, std::int32_t* cell) {
    for (std::size_t i = 0; i < n; ++i) cell[i] = keep[i] == 1 ? cell[i] : -1;
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
         int threads)
      : orders_(orders), spans_(spans), wanted_(wanted), blocks_(block_count(orders.rows, threads)) {
    if (want_rows) cell_of_row_.resize(orders.rows);
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
      if (wanted_[c].sum && !facts[0][c].exact_for(n)) sum_again(c, column.sum, false);
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
  const int blocks_;
  std::size_t n_groups_;
  std::size_t n_cells_;
  std::vector<std::int32_t> cell_of_row_;

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
      if (wanted_[c].sum) column.sum.resize(n_cells_ + 1);
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
        if (wanted_[c].sum) {
          DoubleDouble* sum = column.sum.data();
          ValueFacts facts = facts_of[c];
          auto add = [&](std::int32_t k, auto x) {
            in_parts(x, [&](double part) {
              sum[k].add(part);
              facts.see(part);
            });
          };
          each_amount(wanted_[c].amount, at, n, cell, add, skip);
          facts_of[c] = facts;
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
      for (std::size_t k = 0; k < a.sum.size(); ++k) a.sum[k].add(b.sum[k]);
      for (std::size_t k = 0; k < a.square.size(); ++k) a.square[k].add(b.square[k]);
      for (std::size_t k = 0; k < a.range.size(); ++k) a.range[k].add(b.range[k]);
    }
  }
};

}  // namespace kernel
