// Days against a calendar table: look-up by position, and the facts a
// daybook needs about its dates.
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

// How many days are missing, and the first and last of the others (none: first > last).
struct DayFacts {
  std::size_t missing = 0;
  double first = std::numeric_limits<double>::infinity();
  double last = -std::numeric_limits<double>::infinity();
};

inline bool is_missing(double day) { return day != day; }
inline bool is_missing(std::int32_t day) { return day == missing_int; }

// Looks each day up in table[day - first_day]; a missing day stays missing. Returns
// how many days lie outside.
template <class Day>
std::size_t look_up_days(const Day* days, std::size_t rows, const std::int32_t* table, std::int32_t first_day,
                         std::int32_t n_days, std::int32_t* out, int threads) {
  const int blocks = block_count(rows, threads);
  std::vector<std::size_t> outside(blocks, 0);
  for_blocks(rows, blocks, [&](int block, std::size_t first, std::size_t last) {
    std::size_t count = 0;
    for (std::size_t i = first; i < last; ++i) {
      const std::int32_t at = DayColumn::offset(days[i], first_day, n_days);
      if (at >= 0) {
        out[i] = table[at];
      } else {
        out[i] = missing_int;
        count += is_missing(days[i]) ? 0 : 1;
      }
    }
    outside[block] = count;
  });
  std::size_t total = 0;
  for (const std::size_t count : outside) total += count;
  return total;
}

template <class Day>
DayFacts day_facts(const Day* days, std::size_t rows, int threads) {
  const int blocks = block_count(rows, threads);
  std::vector<DayFacts> found(blocks);
  for_blocks(rows, blocks, [&](int block, std::size_t begin, std::size_t end) {
    std::size_t missing = 0;
    double first = found[block].first;
    double last = found[block].last;
    for (std::size_t i = begin; i < end; ++i) {
      const bool none = is_missing(days[i]);
      const auto day = static_cast<double>(days[i]);
      missing += none ? 1 : 0;
      first = !none && day < first ? day : first;
      last = !none && day > last ? day : last;
    }
    found[block] = DayFacts{missing, first, last};
  });
  for (int block = 1; block < blocks; ++block) {
    found[0].missing += found[block].missing;
    found[0].first = std::min(found[0].first, found[block].first);
    found[0].last = std::max(found[0].last, found[block].last);
  }
  found[0].first = std::floor(found[0].first);
  found[0].last = std::floor(found[0].last);
  return found[0];
}

// How many rows are left out, by the first reason that fits: no date, after the as-of day,
// then each condition unmet.
template <class Day>
std::vector<std::size_t> left_out(const Day* days, std::size_t rows, std::int32_t as_of,
                                  const std::vector<const std::int32_t*>& conditions, int threads) {
  const int blocks = block_count(rows, threads);
  std::vector<std::vector<std::size_t>> found(blocks, std::vector<std::size_t>(2 + conditions.size(), 0));
  const double end = static_cast<double>(as_of) + 1.0;
  for_blocks(rows, blocks, [&](int block, std::size_t first, std::size_t last) {
    std::vector<std::size_t>& counts = found[block];
    for (std::size_t i = first; i < last; ++i) {
      if (is_missing(days[i])) {
        ++counts[0];
      } else if (static_cast<double>(days[i]) >= end) {
        ++counts[1];
      } else {
        for (std::size_t c = 0; c < conditions.size(); ++c) {
          if (conditions[c][i] == 1) continue;
          ++counts[2 + c];
          break;
        }
      }
    }
  });
  for (int block = 1; block < blocks; ++block) {
    for (std::size_t c = 0; c < found[0].size(); ++c) found[0][c] += found[block][c];
  }
  return found[0];
}

}  // namespace kernel
