// Whole numbers packed into bytes and back.
#include <Rcpp.h>
#include <cmath>
#include <limits>
#include "bit_runs.h"

// Doubles that are whole numbers below 2^50 once they are scaled.
// [[Rcpp::export]]
Rcpp::RawVector kernel_pack_whole(Rcpp::NumericVector x, double scale = 1) {
  std::vector<std::int64_t> values(x.size());
  for (R_xlen_t i = 0; i < x.size(); ++i) values[i] = static_cast<std::int64_t>(std::nearbyint(x[i] * scale));
  const std::vector<unsigned char> bytes = kernel::packed_runs(values.data(), values.size());
  return Rcpp::RawVector(bytes.begin(), bytes.end());
}

// 1, 100 or 10,000 where all values are whole numbers of its parts, 0 where they are not.
// [[Rcpp::export]]
double kernel_whole_scale(Rcpp::NumericVector x) {
  return kernel::whole_scale(x.begin(), static_cast<std::size_t>(x.size()));
}

// Whether each row of some columns of numbers is greater than that before it; nothing is missing in such.
// [[Rcpp::export]]
bool kernel_rows_ascend(Rcpp::List columns) {
  std::vector<Rcpp::NumericVector> held;
  std::vector<const double*> values;
  for (SEXP column : columns) {
    held.push_back(Rcpp::as<Rcpp::NumericVector>(column));
    values.push_back(held.back().begin());
  }
  return held.empty() || kernel::rows_ascend(values, static_cast<std::size_t>(held[0].size()));
}

// [[Rcpp::export]]
Rcpp::NumericVector kernel_unpack_whole(Rcpp::RawVector bytes, double n) {
  if (!(n >= 0) || n > std::numeric_limits<int>::max()) {
    throw std::runtime_error("the packed values are damaged");
  }
  const std::vector<std::int64_t> values =
    kernel::unpacked_runs(bytes.begin(), static_cast<std::size_t>(bytes.size()), static_cast<std::size_t>(n));
  return Rcpp::NumericVector(values.begin(), values.end());
}
