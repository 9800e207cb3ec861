// The bound: one plain pass over the bytes that an ask reads (days, codes, amounts), adding each
// column up, on as many threads as the ask uses.
#include <Rcpp.h>
#include <thread>

// [[Rcpp::export]]
double plain_pass(Rcpp::NumericVector days, Rcpp::IntegerVector codes,
  Rcpp::NumericVector amounts, int threads) {
  const double* d = days.begin();
  const int* c = codes.begin();
  const double* a = amounts.begin();
  const R_xlen_t n = days.size();
  std::vector<double> sums(threads * 8);
  auto run = [&](int t) {
    double x = 0, y = 0;
    long long z = 0;
    for (R_xlen_t i = n * t / threads; i < n * (t + 1) / threads; ++i) {
      x += d[i];
      z += c[i];
      y += a[i];
    }
    sums[t * 8] = x + y + static_cast<double>(z);
  };
  std::vector<std::thread> others;
  for (int t = 1; t < threads; ++t) others.emplace_back(run, t);
  run(0);
  for (auto& other : others) other.join();
  double total = 0;
  for (double s : sums) total += s;
  return total;
}
