// The bound for assigning periods: one plain pass over the dates that writes the whole day of each.
#include <Rcpp.h>
#include <thread>

// [[Rcpp::export]]
Rcpp::IntegerVector plain_dates(Rcpp::NumericVector dates, int threads) {
  const R_xlen_t n = dates.size();
  Rcpp::IntegerVector out(Rcpp::no_init(n));
  const double* from = dates.begin();
  int* to = out.begin();
  auto run = [&](int t) {
    for (R_xlen_t i = n * t / threads; i < n * (t + 1) / threads; ++i) to[i] = static_cast<int>(from[i]);
  };
  std::vector<std::thread> others;
  for (int t = 1; t < threads; ++t) others.emplace_back(run, t);
  run(0);
  for (auto& other : others) other.join();
  return out;
}
