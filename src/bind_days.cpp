// R's door to the calendar look-ups over days.
#include <Rcpp.h>
#include "days.h"

// The entry of `table` for each day (table[0] is `first_day`), and how many
// days lie outside the table.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_look_up_days(SEXP days, Rcpp::IntegerVector table, int first_day, int threads = 1) {
  const auto rows = static_cast<std::size_t>(Rf_xlength(days));
  Rcpp::IntegerVector out(Rcpp::no_init(Rf_xlength(days)));
  const auto n = static_cast<std::int32_t>(table.size());
  const std::size_t outside =
      TYPEOF(days) == INTSXP
          ? kernel::look_up_days(INTEGER_RO(days), rows, table.begin(), first_day, n, out.begin(), threads)
          : kernel::look_up_days(REAL_RO(days), rows, table.begin(), first_day, n, out.begin(), threads);
  return Rcpp::List::create(Rcpp::_["values"] = out, Rcpp::_["outside"] = static_cast<double>(outside));
}

// How many days are missing, the first and the last (NA when there is none).
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_day_facts(SEXP days, int threads = 1) {
  const auto rows = static_cast<std::size_t>(Rf_xlength(days));
  const kernel::DayFacts facts = TYPEOF(days) == INTSXP ? kernel::day_facts(INTEGER_RO(days), rows, threads)
                                                        : kernel::day_facts(REAL_RO(days), rows, threads);
  const bool none = facts.missing == rows;
  return Rcpp::List::create(Rcpp::_["missing"] = static_cast<double>(facts.missing),
                            Rcpp::_["first"] = none ? NA_REAL : facts.first,
                            Rcpp::_["last"] = none ? NA_REAL : facts.last);
}

// Rows left out: without a day, after `as_of`, then by each condition (logical vectors).
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector kernel_left_out(SEXP days, int as_of, Rcpp::List conditions, int threads = 1) {
  const auto rows = static_cast<std::size_t>(Rf_xlength(days));
  std::vector<const std::int32_t*> met;
  for (R_xlen_t c = 0; c < conditions.size(); ++c) met.push_back(LOGICAL_RO(conditions[c]));
  const std::vector<std::size_t> counts = TYPEOF(days) == INTSXP
                                              ? kernel::left_out(INTEGER_RO(days), rows, as_of, met, threads)
                                              : kernel::left_out(REAL_RO(days), rows, as_of, met, threads);
  return Rcpp::NumericVector(counts.begin(), counts.end());
}
