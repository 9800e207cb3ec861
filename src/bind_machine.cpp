// What the machine offers.
#include <Rcpp.h>
#include <thread>

// [[Rcpp::export]]
int kernel_cores() { return static_cast<int>(std::thread::hardware_concurrency()); }
