// An object of R held from outside R: whoever has the handle has the object, but a copy saved
// to a file does not hold it.
#include <Rcpp.h>

namespace {

struct Held {
  SEXP object;
  explicit Held(SEXP x) : object(x) { R_PreserveObject(object); }
  ~Held() { R_ReleaseObject(object); }
};

}  // namespace

// [[Rcpp::export(rng = false)]]
SEXP kernel_hold(SEXP x) { return Rcpp::XPtr<Held>(new Held(x)); }

// The object, or NULL where the handle came from a file.
// [[Rcpp::export(rng = false)]]
SEXP kernel_held(SEXP handle) {
  const auto* held = static_cast<const Held*>(R_ExternalPtrAddr(handle));
  return held ? held->object : R_NilValue;
}
