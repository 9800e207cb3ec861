// What the rows of each cell hold, side by side, for what cannot be merged from numbers: medians,
// quantiles, distinct values, the most common.
#pragma once
#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <utility>
#include <vector>
#include "blocks.h"
#include "columns.h"
#include "intervals.h"

namespace kernel {

// Where the rows of each cell lie, in order of group, then span, then row: those of a cell
// begin at offsets[g * spans + s].
struct RowLists {
  const double* offsets;
  std::size_t groups;
  std::size_t spans;

  std::size_t at(std::size_t group, std::size_t span) const {
    return static_cast<std::size_t>(offsets[group * spans + span]);
  }
};

// Sorts what rows hold by cell, keeping their order: a counting sort in blocks of rows, each read
// from first to last. `cell_of_row` numbers cells span by span (span * groups + group), one beyond
// the last for rows left out; to_group maps groups to the groups wanted, -1 to leave out.
class CellSorter {
 public:
  CellSorter(const std::vector<std::int32_t>& cell_of_row, std::size_t groups, std::size_t spans,
             const std::int32_t* to_group, std::size_t new_groups, int threads)
      : cell_of_row_(cell_of_row), blocks_(block_count(cell_of_row.size(), threads)) {
    const std::size_t places = new_groups * spans;
    place_of_.assign(groups * spans + 1, places);  // the last place takes what is left out
    for (std::size_t cell = 0; cell < groups * spans; ++cell) {
      const std::int32_t group = to_group[cell % groups];
      if (group >= 0) place_of_[cell] = static_cast<std::size_t>(group) * spans + cell / groups;
    }
    next_.assign(blocks_, std::vector<std::size_t>(places + 1, 0));
    for_blocks(cell_of_row.size(), blocks_, [&](int block, std::size_t first, std::size_t last) {
      for (std::size_t row = first; row < last; ++row) ++next_[block][place_of_[cell_of_row_[row]]];
    });
    std::size_t total = 0;
    for (std::size_t place = 0; place <= places; ++place) {
      offsets_.push_back(static_cast<double>(total));
      for (auto& next : next_) {
        const std::size_t count = next[place];
        next[place] = total;
        total += count;
      }
    }
  }

  // Where the rows of each place begin; the last entry is how many rows are wanted in all.
  const std::vector<double>& offsets() const { return offsets_; }

  template <class ValueOf, class Value>
  void sort(ValueOf value_of, Value* sorted) {
    const std::size_t left_out = offsets_.size() - 1;
    for_blocks(cell_of_row_.size(), blocks_, [&](int block, std::size_t first, std::size_t last) {
      std::vector<std::size_t>& next = next_[block];
      for (std::size_t row = first; row < last; ++row) {
        const std::size_t place = place_of_[cell_of_row_[row]];
        if (place != left_out) sorted[next[place]++] = value_of(row);
      }
    });
  }

 private:
  const std::vector<std::int32_t>& cell_of_row_;
  const int blocks_;
  std::vector<std::size_t> place_of_;
  std::vector<std::vector<std::size_t>> next_;
  std::vector<double> offsets_;
};

// Lists of one part of the orders, with the group of the whole that each of its groups is
// (from 0, -1 to leave out).
struct ListsOfPart {
  RowLists lists;
  const std::int32_t* to_group;
};

// The lists of several parts of the orders as those of the whole: where each cell begins
// there, and, through place(part, from, to, count), where the run of each cell of each part
// goes, parts in their order.
template <class Place>
std::vector<double> merge_lists(const std::vector<ListsOfPart>& parts,
  std::size_t groups, std::size_t spans, Place place) {
  std::vector<double> offsets(groups * spans + 1, 0.0);
  auto each_cell = [&](auto use) {
    for (std::size_t p = 0; p < parts.size(); ++p) {
      const RowLists& lists = parts[p].lists;
      for (std::size_t g = 0; g < lists.groups; ++g) {
        if (parts[p].to_group[g] < 0) continue;
        const std::size_t to = static_cast<std::size_t>(parts[p].to_group[g]) * spans;
        for (std::size_t s = 0; s < spans; ++s) {
          const std::size_t from = lists.at(g, s);
          use(p, to + s, from, static_cast<std::size_t>(lists.offsets[g * spans + s + 1]) - from);
        }
      }
    }
  };
  each_cell([&](std::size_t, std::size_t cell, std::size_t, std::size_t count) {
    offsets[cell + 1] += static_cast<double>(count);
  });
  for (std::size_t cell = 1; cell < offsets.size(); ++cell) offsets[cell] += offsets[cell - 1];
  std::vector<double> next(offsets.begin(), offsets.end() - 1);
  each_cell([&](std::size_t part, std::size_t cell, std::size_t from, std::size_t count) {
    place(part, from, static_cast<std::size_t>(next[cell]), count);
    next[cell] += static_cast<double>(count);
  });
  return offsets;
}

// Calls work(group, scratch) for each group, in as many threads as given; make_scratch()
// makes one for each thread.
template <class MakeScratch, class Work>
void for_groups(const RowLists& lists, int threads, MakeScratch make_scratch, Work work) {
  const auto total = static_cast<std::size_t>(lists.offsets[lists.groups * lists.spans]);
  const int blocks = std::min<int>(block_count(total, threads),
    static_cast<int>(std::max<std::size_t>(lists.groups, 1)));
  for_blocks(lists.groups, blocks, [&](int, std::size_t first, std::size_t last) {
    auto scratch = make_scratch();
    for (std::size_t group = first; group < last; ++group) work(group, scratch);
  });
}

// Visits where the rows of each interval of a group lie; of an interval that prolongs the one
// before only the new rows, after which `done(i)` reads the result. `clear()` starts anew.
template <class Clear, class Visit, class Done>
void for_intervals(const RowLists& lists, const Intervals& intervals,
  std::size_t group, Clear clear, Visit visit,
                   Done done) {
  for (std::size_t i = 0; i < intervals.count; ++i) {
    if (intervals.missing(i)) continue;
    const bool prolongs = intervals.prolongs(i);
    if (!prolongs) clear();
    const std::size_t from = lists.at(group, prolongs ? intervals.end[i - 1] : intervals.first[i]);
    const std::size_t to = lists.at(group, intervals.end[i]);
    for (std::size_t r = from; r < to; ++r) visit(r);
    done(i);
  }
}

// How many different codes (from 1; missing ones do not count) occur in
// each interval of each group.
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
    auto visit = [&](std::size_t r) {
      const std::int32_t code = codes[r];
      if (code == missing_int || s.stamp[code] == s.now) return;
      s.stamp[code] = s.now;
      ++s.count;
    };
    for_intervals(lists, intervals, group, clear, visit,
                  [&](std::size_t i) { out[i * lists.groups + group] = static_cast<double>(s.count); });
  });
}

// The code that occurs most often in each interval of each group, the first in order (place) of
// several; NaN where none does.
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
    auto visit = [&](std::size_t r) {
      const std::int32_t code = codes[r];
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

// The values of rank `below` and `below + 1` (from 0) of some values. Many values are first counted
// into bins, and only the bins that hold these ranks are sorted.
class RankFinder {
 public:
  std::pair<double, double> find(std::vector<double>& values, std::size_t below) {
    if (values.size() < 2048) return sorted(values, below);
    const auto ends = std::minmax_element(values.begin(), values.end());
    const double low = *ends.first;
    const double scale = static_cast<double>(bins - 1) / (*ends.second - low);
    if (!(scale > 0.0) || scale > 1e300) return sorted(values, below);  // all alike, or nearly
    auto bin_of = [low, scale](double x) { return static_cast<std::size_t>((x - low) * scale); };
    counts_.assign(bins, 0);
    for (const double x : values) ++counts_[bin_of(x)];
    std::size_t first = 0;
    std::size_t before = 0;
    while (before + counts_[first] <= below) before += counts_[first++];
    std::size_t last = first;
    std::size_t until = before + counts_[last];
    while (until <= below + 1 && last + 1 < bins) until += counts_[++last];
    few_.clear();
    for (const double x : values) {
      const std::size_t bin = bin_of(x);
      if (bin >= first && bin <= last) few_.push_back(x);
    }
    return sorted(few_, below - before);
  }

 private:
  static constexpr std::size_t bins = 1024;
  std::vector<std::uint32_t> counts_;
  std::vector<double> few_;

  static std::pair<double, double> sorted(std::vector<double>& values, std::size_t below) {
    std::nth_element(values.begin(), values.begin() + below, values.end());
    const double low = values[below];
    const bool more = below + 1 < values.size();
    return {low, more ? *std::min_element(values.begin() + below + 1, values.end()) : low};
  }
};

// Quantiles of type 7 (Hyndman and Fan 1996) over the finite values of each interval of each
// group; NaN where none is.
inline double quantile_of(std::vector<double>& values, double p, RankFinder& finder) {
  if (values.empty()) return std::numeric_limits<double>::quiet_NaN();
  const double h = (static_cast<double>(values.size()) - 1.0) * p;
  const auto below = static_cast<std::size_t>(std::floor(h + 4.0 * std::numeric_limits<double>::epsilon()));
  const auto ranks = finder.find(values, below);
  const double part = h - static_cast<double>(below);
  return std::fabs(part) < 1e-12 ? ranks.first : ranks.first + part * (ranks.second - ranks.first);
}

// `figure(values, finder)` of the finite values of each interval of each group. It may put them in
// another order, and must leave them all: an interval that prolongs the one before adds to them.
template <typename Figure>
void figures_of_values(const RowLists& lists, const Intervals& intervals, const double* sorted, int threads,
                       double* out, Figure figure) {
  struct Scratch {
    std::vector<double> values;
    RankFinder finder;
  };
  for_groups(lists, threads, [] { return Scratch(); }, [&](std::size_t group, Scratch& scratch) {
    std::vector<double>& values = scratch.values;
    for_intervals(
        lists, intervals, group, [&] { values.clear(); },
        [&](std::size_t r) {
          if (std::fabs(sorted[r]) <= std::numeric_limits<double>::max()) values.push_back(sorted[r]);
        },
        [&](std::size_t i) { out[i * lists.groups + group] = figure(values, scratch.finder); });
  });
}

inline void quantiles(const RowLists& lists, const Intervals& intervals, const double* sorted, double p,
                      int threads, double* out) {
  figures_of_values(lists, intervals, sorted, threads, out,
                    [p](std::vector<double>& values, RankFinder& finder) { return quantile_of(values, p, finder); });
}

}  // namespace kernel
