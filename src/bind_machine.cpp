// What the machine offers.
#include <Rcpp.h>
#include <fstream>
#include <limits>
#include <thread>
#if !defined(_WIN32)
#include <unistd.h>
#endif

// [[Rcpp::export(rng = false)]]
int kernel_cores() { return static_cast<int>(std::thread::hardware_concurrency()); }

// Bytes of memory: what the machine has, or what its owner lets this process have; infinite where
// neither is told.
// [[Rcpp::export(rng = false)]]
double kernel_memory() {
  double least = std::numeric_limits<double>::infinity();
#if defined(_SC_PHYS_PAGES)
  const double pages = static_cast<double>(sysconf(_SC_PHYS_PAGES));
  if (pages > 0.0) least = pages * static_cast<double>(sysconf(_SC_PAGESIZE));
#endif
  for (const char* file : {"/sys/fs/cgroup/memory.max", "/sys/fs/cgroup/memory/memory.limit_in_bytes"}) {
    double limit = 0.0;
    if (std::ifstream(file) >> limit && limit > 0.0 && limit < least) least = limit;
  }
  return least;
}
