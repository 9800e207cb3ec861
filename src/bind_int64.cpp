// R's door to 64-bit whole numbers, which R itself takes for doubles: what they are worth,
// and how they are written.
#include <Rcpp.h>
#include <cstdint>
#include <cstring>
#include <string>
#include "columns.h"

namespace {

std::int64_t whole(double bits) {
  std::int64_t number;
  std::memcpy(&number, &bits, sizeof number);
  return number;
}

}  // namespace

// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector kernel_int64_doubles(SEXP x) {
  Rcpp::NumericVector out(Rcpp::no_init(Rf_xlength(x)));
  const double* bits = REAL_RO(x);
  for (R_xlen_t i = 0; i < out.size(); ++i) {
    const std::int64_t number = whole(bits[i]);
    out[i] = number == kernel::missing_int64 ? NA_REAL : static_cast<double>(number);
  }
  return out;
}

// [[Rcpp::export(rng = false)]]
Rcpp::CharacterVector kernel_int64_texts(SEXP x) {
  Rcpp::CharacterVector out(Rf_xlength(x));
  const double* bits = REAL_RO(x);
  for (R_xlen_t i = 0; i < out.size(); ++i) {
    const std::int64_t number = whole(bits[i]);
    if (number == kernel::missing_int64) SET_STRING_ELT(out, i, NA_STRING);
    else SET_STRING_ELT(out, i, Rf_mkChar(std::to_string(number).c_str()));
  }
  return out;
}
