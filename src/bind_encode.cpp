// R's door to the encoding of columns into dense codes.
#include <Rcpp.h>
#include <cstring>
#include "encode.h"

namespace {

std::uint64_t bits_of(double x) {
  if (x == 0.0) x = 0.0;  // negative zero is zero
  if (x != x) x = NA_REAL;
  std::uint64_t bits;
  std::memcpy(&bits, &x, sizeof bits);
  return bits;
}

}  // namespace

// Codes from 1 in order of first appearance, NA for missing, and the row (from 1) where each code
// first stands. Text is told apart by its address in R's string cache: the caller joins texts that
// differ only by encoding.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_encode(SEXP x, int threads = 1) {
  const auto rows = static_cast<std::size_t>(Rf_xlength(x));
  Rcpp::IntegerVector codes(Rcpp::no_init(Rf_xlength(x)));
  std::vector<std::size_t> first;
  if (TYPEOF(x) == STRSXP) {
    const SEXP* text = STRING_PTR_RO(x);
    auto key = [text](std::size_t row) { return reinterpret_cast<std::uint64_t>(text[row]); };
    first = kernel::encode(rows, key, reinterpret_cast<std::uint64_t>(NA_STRING), codes.begin(), threads);
  } else if (TYPEOF(x) == REALSXP && Rf_inherits(x, "integer64")) {
    const double* numbers = REAL_RO(x);
    auto key = [numbers](std::size_t row) {
      std::uint64_t bits;
      std::memcpy(&bits, numbers + row, sizeof bits);
      return bits;
    };
    first = kernel::encode(rows, key, static_cast<std::uint64_t>(kernel::missing_int64),
      codes.begin(), threads);
  } else if (TYPEOF(x) == REALSXP) {
    const double* numbers = REAL_RO(x);
    auto key = [numbers](std::size_t row) { return bits_of(numbers[row]); };
    first = kernel::encode(rows, key, bits_of(NA_REAL), codes.begin(), threads);
  } else {
    const int* numbers = TYPEOF(x) == LGLSXP ? LOGICAL_RO(x) : INTEGER_RO(x);
    auto key = [numbers](std::size_t row) {
      return static_cast<std::uint64_t>(static_cast<std::int64_t>(numbers[row]));
    };
    const auto missing = static_cast<std::uint64_t>(static_cast<std::int64_t>(NA_INTEGER));
    first = kernel::encode(rows, key, missing, codes.begin(), threads);
  }
  Rcpp::NumericVector rows_of(first.size());
  std::transform(first.begin(), first.end(), rows_of.begin(), [](std::size_t row) { return row + 1.0; });
  return Rcpp::List::create(Rcpp::_["codes"] = codes, Rcpp::_["first"] = rows_of);
}

// The joint codes of several code columns: for key spaces too large to address directly.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_encode_pair(Rcpp::IntegerVector a, Rcpp::IntegerVector b, int threads = 1) {
  Rcpp::IntegerVector codes(Rcpp::no_init(a.size()));
  auto key = [&](std::size_t row) {
    return (static_cast<std::uint64_t>(static_cast<std::uint32_t>(a[row])) << 32) |
           static_cast<std::uint64_t>(static_cast<std::uint32_t>(b[row]));
  };
  // No pair of codes: codes start at 1, a missing code is 2^31.
  const auto none = ~static_cast<std::uint64_t>(0);
  const std::vector<std::size_t> first = kernel::encode(a.size(), key, none, codes.begin(), threads);
  Rcpp::NumericVector rows_of(first.size());
  std::transform(first.begin(), first.end(), rows_of.begin(), [](std::size_t row) { return row + 1.0; });
  return Rcpp::List::create(Rcpp::_["codes"] = codes, Rcpp::_["first"] = rows_of);
}
