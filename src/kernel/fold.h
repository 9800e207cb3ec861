// The fold: one pass over the orders that turns them into states, one for each (span, group) cell.
#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <stdexcept>
#include <vector>
#include "amount_sum.h"
#include "blocks.h"
#include "columns.h"
#include "counts.h"
#include "extremes.h"
#include "moments.h"
#include "watch.h"

namespace kernel {

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

// What is wanted of an amount.
struct WantedColumn {
  AmountColumn amount;
  bool sum;
  bool moments;
  bool extremes;
};

// The states of one amount column, those that are wanted; `missing` counts the lines whose amount is not a finite number.
struct ColumnStates {
  Counts missing;
  AmountSum sum;
  Moments moments;
  Extremes extremes;
};

// All states have one cell more than there are: rows left out fall into it, so that the inner loops need no branch.
struct States {
  std::size_t n_groups = 0;
  Counts lines;
  std::vector<ColumnStates> columns;
  std::vector<std::int32_t> cell_of_row;  // only where the rows of each cell are wanted
};

// Cells are numbered with 32 bits: more of them are refused before any is made.
struct TooManyCells : std::length_error {
  TooManyCells() : std::length_error("more than 2 billion cells") {}
};

inline std::size_t group_count(const std::vector<CodeColumn>& dimensions, std::int32_t n_spans) {
  constexpr std::size_t most = static_cast<std::size_t>(std::numeric_limits<std::int32_t>::max()) - 1;
  std::size_t n = 1;
  for (const auto& d : dimensions) {
    n *= static_cast<std::size_t>(d.levels) + 1;
    if (n > most) throw TooManyCells();
  }
  if (n * static_cast<std::size_t>(n_spans) > most) throw TooManyCells();
  return n;
}

// The cell of each row of a chunk: span-major, the groups of a span side by side. Rows left out get cell `n_cells`. No
// step branches: a day in no span begins so far below zero that no code lifts it above.
class CellFinder {
 public:
  CellFinder(const FoldOrders& orders, const SpanTable& spans) : orders_(orders), first_(spans.first_day - 1) {
    std::size_t groups = group_count(orders.dimensions, spans.n_spans);
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

// Calls add(cell, value) for each known amount of a chunk, a double or a 64-bit whole number, and skip(cell) for the others.
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
      if (x[i] != missing_int) add(cell[i], static_cast<std::int64_t>(x[i]));
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

// How the sum of a column is begun. Whole numbers, and decimals as far as the first values tell, are counted in units and looked
// at on the way; what was guessed wrong is added again as amounts of any kind.
struct SumPlan {
  double per_unit = 0.0;           // 100 or 10,000; 1 for whole numbers; 0: amounts of any kind
  bool counted() const { return per_unit > 0.0; }
};

class Folder {
 public:
  Folder(const FoldOrders& orders, const SpanTable& spans, const std::vector<WantedColumn>& wanted, bool want_rows,
         int threads, Watch& watch)
      : orders_(orders), spans_(spans), wanted_(wanted), watch_(watch), blocks_(block_count(orders.rows, threads)) {
    if (orders.rows > std::numeric_limits<std::uint32_t>::max()) throw std::length_error("more than 4 billion orders");
    n_groups_ = group_count(orders.dimensions, spans.n_spans);
    n_cells_ = n_groups_ * static_cast<std::size_t>(spans.n_spans);
    if (want_rows) cell_of_row_.resize(orders.rows);
    for (const auto& column : wanted) plans_.push_back(sum_plan(column, orders.rows));
  }

  States fold() {
    std::vector<Block> parts(blocks_);
    for_blocks(orders_.rows, blocks_, [&](int block, std::size_t first, std::size_t last) {
      parts[block] = empty_block();
      fold_rows(first, last, parts[block]);
    });
    for (int block = 1; block < blocks_; ++block) merge(parts[0], parts[block]);
    States states;
    states.n_groups = n_groups_;
    states.lines = Counts(parts[0].lines);
    for (std::size_t c = 0; c < wanted_.size(); ++c) states.columns.push_back(finished(c, parts[0].columns[c]));
    states.cell_of_row = std::move(cell_of_row_);
    return states;
  }

 private:
  static constexpr std::size_t chunk = 2048;

  struct BlockColumn {
    std::vector<std::uint32_t> missing;  // narrow, so that more cells stay in cache: see the limit on rows
    std::vector<std::uint64_t> units;    // unsigned: whether they fit is told afterwards
    GridCheck check{hundredths};
    std::int32_t largest = 0;  // of whole numbers
    AmountSum sum;
    Moments moments;
    Extremes extremes;
  };
  struct Block {
    std::vector<std::uint32_t> lines;
    std::vector<BlockColumn> columns;
  };

  const FoldOrders& orders_;
  const SpanTable& spans_;
  const std::vector<WantedColumn>& wanted_;
  Watch& watch_;
  const int blocks_;
  std::size_t n_groups_ = 0;
  std::size_t n_cells_ = 0;
  std::vector<std::int32_t> cell_of_row_;
  std::vector<SumPlan> plans_;

  Block empty_block() const {
    Block block;
    block.lines.assign(n_cells_ + 1, 0);
    block.columns.resize(wanted_.size());
    for (std::size_t c = 0; c < wanted_.size(); ++c) {
      BlockColumn& column = block.columns[c];
      column.missing.assign(n_cells_ + 1, 0);
      column.check = GridCheck(plans_[c].per_unit);
      if (wanted_[c].sum && plans_[c].counted()) column.units.assign(n_cells_ + 1, 0);
      if (wanted_[c].sum && !plans_[c].counted()) column.sum = AmountSum(n_cells_ + 1);
      if (wanted_[c].moments) column.moments = Moments(n_cells_ + 1);
      if (wanted_[c].extremes) column.extremes = Extremes(n_cells_ + 1);
    }
    return block;
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

  void fold_rows(std::size_t first, std::size_t last, Block& block) {
    for_chunks(first, last, [&](std::size_t at, std::size_t n, const std::int32_t* cell) {
      if (!cell_of_row_.empty()) std::copy_n(cell, n, cell_of_row_.data() + at);
      for (std::size_t i = 0; i < n; ++i) ++block.lines[cell[i]];
      for (std::size_t c = 0; c < wanted_.size(); ++c) fold_column(c, at, n, cell, block.columns[c]);
    });
  }

  void fold_column(std::size_t c, std::size_t at, std::size_t n, const std::int32_t* cell, BlockColumn& column) const {
    const WantedColumn& wanted = wanted_[c];
    const auto pass = [](std::int32_t) {};
    // Each amount is told missing once, by the first of the states that look at it.
    bool told = false;
    auto each = [&](auto add) {
      if (told) each_amount(wanted.amount, at, n, cell, add, pass);
      else each_amount(wanted.amount, at, n, cell, add, [&](std::int32_t k) { ++column.missing[k]; });
      told = true;
    };
    if (wanted.sum && plans_[c].counted()) {
      std::uint64_t* units = column.units.data();
      const double per_unit = plans_[c].per_unit;
      each([units, per_unit](std::int32_t k, auto x) { units[k] += counted_units(x, per_unit); });
      if (wanted.amount.type == AmountType::real) column.check.see(static_cast<const double*>(wanted.amount.data) + at, n);
      else see_largest(static_cast<const std::int32_t*>(wanted.amount.data) + at, n, column.largest);
    } else if (wanted.sum) {
      each([&](std::int32_t k, auto x) { column.sum.add(static_cast<std::size_t>(k), x); });
    }
    if (wanted.moments) each([&](std::int32_t k, auto x) { column.moments.add(static_cast<std::size_t>(k), x); });
    if (wanted.extremes) each([&](std::int32_t k, auto x) { column.extremes.add(static_cast<std::size_t>(k), x); });
    if (!told) each([](std::int32_t, auto) {});
  }

  static std::uint64_t counted_units(double x, double per_unit) {
    return static_cast<std::uint64_t>(whole_units(x, per_unit));
  }
  static std::uint64_t counted_units(std::int64_t x, double) { return static_cast<std::uint64_t>(x); }

  static void see_largest(const std::int32_t* x, std::size_t n, std::int32_t& largest) {
    std::int32_t most = largest;
    for (std::size_t i = 0; i < n; ++i) {
      const std::int32_t size = x[i] == missing_int ? 0 : x[i] < 0 ? -x[i] : x[i];
      most = size > most ? size : most;
    }
    largest = most;
  }

  static SumPlan sum_plan(const WantedColumn& column, std::size_t rows) {
    if (!column.sum || column.amount.type == AmountType::integer64) return {};
    if (column.amount.type == AmountType::integer) return {1.0};
    for (const double per_unit : {hundredths, ten_thousandths}) {
      GridCheck first(per_unit);
      first.see(static_cast<const double*>(column.amount.data), std::min<std::size_t>(rows, 4096));
      if (first.holds(1.0)) return {per_unit};
    }
    return {};
  }

  ColumnStates finished(std::size_t c, BlockColumn& column) const {
    ColumnStates states;
    states.missing = Counts(column.missing);
    states.moments = std::move(column.moments);
    states.extremes = std::move(column.extremes);
    states.sum = std::move(column.sum);
    if (!wanted_[c].sum || !plans_[c].counted()) return states;
    const bool whole = wanted_[c].amount.type == AmountType::integer;
    if (whole || column.check.holds(static_cast<double>(orders_.rows))) {
      states.sum = AmountSum(n_cells_ + 1);
      const double largest = whole ? static_cast<double>(column.largest) : column.check.largest();
      states.sum.take_units(column.units, static_cast<std::int64_t>(ten_thousandths / plans_[c].per_unit), largest);
    } else {
      states.sum = summed_again(c);
    }
    return states;
  }

  AmountSum summed_again(std::size_t c) const {
    std::vector<AmountSum> parts(blocks_);
    for_blocks(orders_.rows, blocks_, [&](int block, std::size_t from, std::size_t to) {
      parts[block] = AmountSum(n_cells_ + 1);
      auto add = [&](std::int32_t k, auto x) { parts[block].add(static_cast<std::size_t>(k), x); };
      for_chunks(from, to, [&](std::size_t at, std::size_t n, const std::int32_t* cell) {
        each_amount(wanted_[c].amount, at, n, cell, add, [](std::int32_t) {});
      });
    });
    for (int block = 1; block < blocks_; ++block) merge_cells(parts[0], parts[block]);
    return std::move(parts[0]);
  }

  template <class State>
  void merge_cells(State& into, const State& from) const {
    if (from.cells() == 0) return;
    into.merge_facts(from);
    for (std::size_t k = 0; k < n_cells_; ++k) into.merge(k, from, k);
  }

  template <class Number>
  static void add_all(std::vector<Number>& into, const std::vector<Number>& from) {
    for (std::size_t k = 0; k < from.size(); ++k) into[k] += from[k];
  }

  void merge(Block& into, const Block& from) const {
    add_all(into.lines, from.lines);
    for (std::size_t c = 0; c < wanted_.size(); ++c) {
      BlockColumn& a = into.columns[c];
      const BlockColumn& b = from.columns[c];
      add_all(a.missing, b.missing);
      add_all(a.units, b.units);
      a.check.see(b.check);
      a.largest = std::max(a.largest, b.largest);
      merge_cells(a.sum, b.sum);
      merge_cells(a.moments, b.moments);
      merge_cells(a.extremes, b.extremes);
    }
  }
};

}  // namespace kernel
