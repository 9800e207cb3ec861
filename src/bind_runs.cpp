// Whole numbers packed into bytes and back.
#include <Rcpp.h>
#include <limits>
#include "bit_runs.h"

// Doubles that are whole numbers below 2^53.
// [[Rcpp::export]]
Rcpp::RawVector kernel_pack_whole(Rcpp::NumericVector x) {
  const std::vector<std::int64_t> values(x.begin(), x.end());
  const std::vector<unsigned char> bytes = kernel::packed_runs(values.data(), values.size());
  return Rcpp::RawVector(bytes.begin(), bytes.end());
}

// [[Rcpp::export]]
Rcpp::NumericVector kernel_unpack_whole(Rcpp::RawVector bytes, double n) {
  if (!(n >= 0) || n > std::numeric_limits<int>::max()) throw std::runtime_error("the packed values are damaged");
  const std::vector<std::int64_t> values =
    kernel::unpacked_runs(bytes.begin(), static_cast<std::size_t>(bytes.size()), static_cast<std::size_t>(n));
  return Rcpp::NumericVector(values.begin(), values.end());
}
