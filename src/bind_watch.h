// What R is asked and told during long work.
#pragma once
#include <Rcpp.h>
#include <chrono>
#include <functional>

inline bool interrupted() {
  return R_ToplevelExec([](void*) { R_CheckUserInterrupt(); }, nullptr) == FALSE;
}

// Looks for Ctrl-C, and tells an R function how far the work is once it has taken some seconds.
inline std::function<bool(double)> teller(SEXP progress, double after) {
  const auto begun = std::chrono::steady_clock::now();
  return [progress, after, begun](double part) {
    const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - begun;
    if (!Rf_isNull(progress) && taken.count() >= after) {
      Rcpp::Function tell(progress);
      tell(part);
    }
    return !interrupted();
  };
}
