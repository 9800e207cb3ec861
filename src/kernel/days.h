// Days against a calendar table: look-up by position, and the facts a daybook needs about its dates.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <vector>
#include "columns.h"

namespace kernel {

inline std::int32_t whole_day(std::int32_t day) { return day; }
inline std::int32_t whole_day(double day) {
  return std::fabs(day) < 2147483647.0 ? static_cast<std::int32_t>(std::floor(day)) : missing_int;
}

// Looks each day up in table[day - first_day]; a missing day stays missing. Returns how many days lie outside.
template <class Day>
std::size_t look_up_days(const Day* days, std::size_t rows, const std::int32_t* table, std::int32_t first_day,
                         std::int32_t n_days, std::int32_t* out) {
  std::size_t outside = 0;
  for (std::size_t i = 0; i < rows; ++i) {
    const std::int32_t at = DayColumn::offset(days[i], first_day, n_days);
    if (at >= 0) {
      out[i] = table[at];
    } else {
      out[i] = missing_int;
      if (whole_day(days[i]) != missing_int) ++outside;
    }
  }
  return outside;
}

struct DayFacts {
  std::size_t missing = 0;
  std::int32_t first = std::numeric_limits<std::int32_t>::max();
  std::int32_t last = std::numeric_limits<std::int32_t>::min();
};

template <class Day>
DayFacts day_facts(const Day* days, std::size_t rows) {
  DayFacts facts;
  for (std::size_t i = 0; i < rows; ++i) {
    const std::int32_t day = whole_day(days[i]);
    if (day == missing_int) {
      ++facts.missing;
      continue;
    }
    facts.first = day < facts.first ? day : facts.first;
    facts.last = day > facts.last ? day : facts.last;
  }
  return facts;
}

// How many rows are left out, by the first reason that fits: no date, after the as-of day, then each condition unmet.
template <class Day>
std::vector<std::size_t> left_out(const Day* days, std::size_t rows, std::int32_t as_of,
                                  const std::vector<const std::int32_t*>& conditions) {
  std::vector<std::size_t> counts(2 + conditions.size(), 0);
  for (std::size_t i = 0; i < rows; ++i) {
    const std::int32_t day = whole_day(days[i]);
    if (day == missing_int) {
      ++counts[0];
    } else if (day > as_of) {
      ++counts[1];
    } else {
      for (std::size_t c = 0; c < conditions.size(); ++c) {
        if (conditions[c][i] == 1) continue;
        ++counts[2 + c];
        break;
      }
    }
  }
  return counts;
}

}  // namespace kernel
