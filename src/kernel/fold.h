// The fold: one pass over the orders that turns them into states, one for each (span, group) cell.
#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <stdexcept>
#include <vector>
#include "blocks.h"
#include "columns.h"
#include "counts.h"
#include "states.h"
#include "watch.h"

namespace kernel {

// Which span each day falls in: span_of[day - first_day], -1 where no interval
// of the ask needs the day.
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
  WantedStates states;
};

// The states of one amount column, those that are wanted; `missing` counts the lines whose
// amount is not a finite number.
struct ColumnStates {
  Counts missing;
  AmountStates states;
};

// All states have one cell more than there are: rows left out fall into it, so that the
// inner loops need no branch.
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

// The cell of each row of a chunk: span-major, the groups of a span side by side. Rows
// left out get cell `n_cells`. No step branches: a day in no span begins so far below zero
// that no code lifts it above.
class CellFinder {
 public:
  CellFinder(const FoldOrders& orders, const SpanTable& spans)
      : orders_(orders), first_(spans.first_day - 1) {
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

  // The table begins one day early, so that a fraction of the day before it does
  // not count as its first day.
  void find_bases(const double* days, std::size_t n, std::int32_t* cell) const {
    const std::int32_t* base = base_of_.data();
    const auto length = static_cast<double>(base_of_.size());
    const double first = first_;
    // In steps that a compiler turns into vector instructions; NaN becomes 0.
    for (std::size_t i = 0; i < n; ++i) {
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

class Folder {
 public:
  Folder(const FoldOrders& orders, const SpanTable& spans, const std::vector<WantedColumn>& wanted,
    bool want_rows,
         int threads, Watch& watch)
      : orders_(orders), spans_(spans), wanted_(wanted), watch_(watch),
      blocks_(block_count(orders.rows, threads)) {
    if (orders.rows > std::numeric_limits<std::uint32_t>::max())
      throw std::length_error("more than 4 billion orders");
    n_groups_ = group_count(orders.dimensions, spans.n_spans);
    n_cells_ = n_groups_ * static_cast<std::size_t>(spans.n_spans);
    if (want_rows) cell_of_row_.resize(orders.rows);
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
    for (std::size_t c = 0; c < wanted_.size(); ++c) states.columns.push_back(finished(parts[0].columns[c]));
    states.cell_of_row = std::move(cell_of_row_);
    return states;
  }

 private:
  static constexpr std::size_t chunk = 2048;

  struct BlockColumn {
    std::vector<std::uint32_t> missing;  // narrow, so that more cells stay in cache: see the limit on rows
    AmountStates states;
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

  Block empty_block() const {
    Block block;
    block.lines.assign(n_cells_ + 1, 0);
    block.columns.resize(wanted_.size());
    for (std::size_t c = 0; c < wanted_.size(); ++c) {
      BlockColumn& column = block.columns[c];
      column.missing.assign(n_cells_ + 1, 0);
      each_wanted(wanted_[c].states, [&](auto place) {
        std::get<place>(column.states) = StateAt<place>(n_cells_ + 1);
      });
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

  // Each amount is told missing once, by the first of the states that look at it.
  void fold_column(std::size_t c, std::size_t at, std::size_t n,
    const std::int32_t* cell, BlockColumn& column) const {
    const auto skip = [&column](std::int32_t k) { ++column.missing[k]; };
    const auto pass = [](auto...) {};
    with_amounts(wanted_[c].amount, at, [&](const auto* x) {
      bool told = false;
      each_wanted(wanted_[c].states, [&](auto place) {
        if (told) std::get<place>(column.states).add_run(cell, x, n, pass);
        else std::get<place>(column.states).add_run(cell, x, n, skip);
        told = true;
      });
      if (!told) each_amount(cell, x, n, pass, skip);
    });
  }

  static ColumnStates finished(BlockColumn& column) {
    return {Counts(column.missing), std::move(column.states)};
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
      each_state([&](auto place) { merge_cells(std::get<place>(a.states), std::get<place>(b.states)); });
    }
  }
};

}  // namespace kernel
