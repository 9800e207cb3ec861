// The gaps between the values of a cell that follow each other, each value taken once, as one figure.
#pragma once
#include <algorithm>
#include <cmath>
#include <cstddef>
#include <limits>
#include <numeric>
#include <vector>
#include "row_lists.h"

namespace kernel {

enum class GapFigure { quantile, mean, sd, count };

// Leaves the gaps where the values were.
inline void values_to_gaps(std::vector<double>& values) {
  std::sort(values.begin(), values.end());
  values.erase(std::unique(values.begin(), values.end()), values.end());
  std::adjacent_difference(values.begin(), values.end(), values.begin());
  if (!values.empty()) values.erase(values.begin());
}

inline double sd_of(const std::vector<double>& values, double mean) {
  if (values.size() < 2) return std::numeric_limits<double>::quiet_NaN();
  double squares = 0.0;
  for (const double x : values) squares += (x - mean) * (x - mean);
  return std::sqrt(squares / (static_cast<double>(values.size()) - 1.0));
}

inline double figure_of_gaps(std::vector<double>& gaps, GapFigure figure, double p, RankFinder& finder) {
  if (figure == GapFigure::count) return static_cast<double>(gaps.size());
  if (figure == GapFigure::quantile) return quantile_of(gaps, p, finder);
  if (gaps.empty()) return std::numeric_limits<double>::quiet_NaN();
  const double mean = std::accumulate(gaps.begin(), gaps.end(), 0.0) / static_cast<double>(gaps.size());
  return figure == GapFigure::mean ? mean : sd_of(gaps, mean);
}

inline void figures_of_gaps(const RowLists& lists, const Intervals& intervals, const double* sorted,
                            GapFigure figure, double p, int threads, double* out) {
  figures_of_values(lists, intervals, sorted, threads, out,
                    [figure, p](const std::vector<double>& values, RankFinder& finder) {
                      std::vector<double> gaps = values;
                      values_to_gaps(gaps);
                      return figure_of_gaps(gaps, figure, p, finder);
                    });
}

}  // namespace kernel
