// The rows of each cell, for what cannot be merged from numbers: medians, quantiles, distinct values, the most common.
#pragma once
#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <vector>
#include "blocks.h"
#include "columns.h"

namespace kernel {

// Rows in order of group, then span, then row; offsets[g * spans + s] is where the rows of a cell begin.
struct RowLists {
  const std::int32_t* rows;
  const double* offsets;
  std::size_t groups;
  std::size_t spans;

  std::size_t at(std::size_t group, std::size_t span) const {
    return static_cast<std::size_t>(offsets[group * spans + span]);
  }
};

// Sorts rows by cell, keeping their order: a counting sort. `cell_of_row` numbers cells span by span (span * groups + group),
// one beyond the last for rows left out; to_group maps groups to the groups wanted, -1 to leave out.
inline void sort_rows(const std::vector<std::int32_t>& cell_of_row, std::size_t groups, std::size_t spans,
                      const std::int32_t* to_group, std::size_t new_groups, std::int32_t* rows, double* offsets) {
  auto place = [&](std::int32_t cell) -> std::int64_t {
    if (static_cast<std::size_t>(cell) >= groups * spans) return -1;
    const std::int32_t group = to_group[cell % groups];
    return group < 0 ? -1 : static_cast<std::int64_t>(group) * spans + cell / groups;
  };
  std::vector<std::int64_t> place_of(groups * spans + 1, -1);
  for (std::size_t cell = 0; cell < groups * spans; ++cell) place_of[cell] = place(static_cast<std::int32_t>(cell));
  std::vector<std::size_t> next(new_groups * spans + 1, 0);
  for (const std::int32_t cell : cell_of_row) {
    if (place_of[cell] >= 0) ++next[place_of[cell] + 1];
  }
  for (std::size_t k = 1; k < next.size(); ++k) next[k] += next[k - 1];
  std::copy(next.begin(), next.end(), offsets);
  for (std::size_t row = 0; row < cell_of_row.size(); ++row) {
    const std::int64_t k = place_of[cell_of_row[row]];
    if (k >= 0) rows[next[k]++] = static_cast<std::int32_t>(row);
  }
}

// The intervals asked of each group: spans [first, end), a missing first where there is none.
struct Intervals {
  const std::int32_t* first;
  const std::int32_t* end;
  std::size_t count;

  bool missing(std::size_t i) const { return first[i] == missing_int; }
  bool prolongs(std::size_t i) const {
    return i > 0 && !missing(i - 1) && first[i - 1] == first[i] && end[i - 1] <= end[i] && end[i - 1] >= first[i];
  }
};

// Calls work(group, scratch) for each group, in as many threads as given; make_scratch() makes one for each thread.
template <class MakeScratch, class Work>
void for_groups(const RowLists& lists, int threads, MakeScratch make_scratch, Work work) {
  const auto total = static_cast<std::size_t>(lists.offsets[lists.groups * lists.spans]);
  const int blocks = std::min<int>(block_count(total, threads), static_cast<int>(std::max<std::size_t>(lists.groups, 1)));
  for_blocks(lists.groups, blocks, [&](int, std::size_t first, std::size_t last) {
    auto scratch = make_scratch();
    for (std::size_t group = first; group < last; ++group) work(group, scratch);
  });
}

// Visits the rows of each interval of a group; an interval that prolongs the one before only its new rows, after which
// `done(i)` reads the result. `clear()` starts anew.
template <class Clear, class Visit, class Done>
void for_intervals(const RowLists& lists, const Intervals& intervals, std::size_t group, Clear clear, Visit visit,
                   Done done) {
  for (std::size_t i = 0; i < intervals.count; ++i) {
    if (intervals.missing(i)) continue;
    const bool prolongs = intervals.prolongs(i);
    if (!prolongs) clear();
    const std::size_t from = lists.at(group, prolongs ? intervals.end[i - 1] : intervals.first[i]);
    const std::size_t to = lists.at(group, intervals.end[i]);
    for (std::size_t r = from; r < to; ++r) visit(lists.rows[r]);
    done(i);
  }
}

// How many different codes (from 1; missing ones do not count) occur in each interval of each group.
inline void count_distinct(const RowLists& lists, const Intervals& intervals, const std::int32_t* codes,
                           std::size_t levels, int threads, double* out) {
  struct Scratch {
    std::vector<std::int32_t> stamp;
    std::int32_t now = 0;
    std::size_t count = 0;
  };
  auto make = [&] {
    Scratch scratch;
    scratch.stamp.assign(levels + 1, 0);
    return scratch;
  };
  for_groups(lists, threads, make, [&](std::size_t group, Scratch& s) {
    auto clear = [&] {
      ++s.now;
      s.count = 0;
    };
    auto visit = [&](std::int32_t row) {
      const std::int32_t code = codes[row];
      if (code == missing_int || s.stamp[code] == s.now) return;
      s.stamp[code] = s.now;
      ++s.count;
    };
    for_intervals(lists, intervals, group, clear, visit,
                  [&](std::size_t i) { out[i * lists.groups + group] = static_cast<double>(s.count); });
  });
}

// The code that occurs most often in each interval of each group, the first in order (place) of several; NaN where none
// does.
inline void most_common(const RowLists& lists, const Intervals& intervals, const std::int32_t* codes,
                        const std::int32_t* place, std::size_t levels, int threads, double* out) {
  struct Scratch {
    std::vector<std::int32_t> count;
    std::vector<std::int32_t> seen;
    std::int32_t best = 0;
  };
  auto make = [&] {
    Scratch scratch;
    scratch.count.assign(levels + 1, 0);
    return scratch;
  };
  for_groups(lists, threads, make, [&](std::size_t group, Scratch& s) {
    auto clear = [&] {
      for (const std::int32_t code : s.seen) s.count[code] = 0;
      s.seen.clear();
      s.best = 0;
    };
    auto visit = [&](std::int32_t row) {
      const std::int32_t code = codes[row];
      if (code == missing_int) return;
      if (s.count[code]++ == 0) s.seen.push_back(code);
      const bool more = s.best == 0 || s.count[code] > s.count[s.best];
      if (more || (s.count[code] == s.count[s.best] && place[code - 1] < place[s.best - 1])) s.best = code;
    };
    for_intervals(lists, intervals, group, clear, visit, [&](std::size_t i) {
      out[i * lists.groups + group] = s.best == 0 ? std::numeric_limits<double>::quiet_NaN() : s.best;
    });
  });
}

// Quantiles of type 7 (Hyndman and Fan 1996) over the finite values of each interval of each group; NaN where none is.
inline double quantile_of(std::vector<double>& values, double p) {
  if (values.empty()) return std::numeric_limits<double>::quiet_NaN();
  const double h = (static_cast<double>(values.size()) - 1.0) * p;
  const auto below = static_cast<std::size_t>(std::floor(h + 4.0 * std::numeric_limits<double>::epsilon()));
  std::nth_element(values.begin(), values.begin() + below, values.end());
  const double low = values[below];
  const double part = h - static_cast<double>(below);
  if (std::fabs(part) < 1e-12 || below + 1 >= values.size()) return low;
  const double high = *std::min_element(values.begin() + below + 1, values.end());
  return low + part * (high - low);
}

template <class ValueOf>
void quantiles(const RowLists& lists, const Intervals& intervals, ValueOf value_of, double p, int threads, double* out) {
  auto make = [] { return std::vector<double>(); };
  for_groups(lists, threads, make, [&](std::size_t group, std::vector<double>& values) {
    for_intervals(
        lists, intervals, group, [&] { values.clear(); },
        [&](std::int32_t row) {
          const double x = value_of(row);
          if (std::fabs(x) <= std::numeric_limits<double>::max()) values.push_back(x);
        },
        [&](std::size_t i) { out[i * lists.groups + group] = quantile_of(values, p); });
  });
}

}  // namespace kernel
