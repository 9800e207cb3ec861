// The routines that Rcpp's headers call. They stand here, so that the package starts without
// Rcpp's namespace, which takes as long to load as all the rest. COMPILING_RCPP (Makevars) makes
// the headers link to them.
#include <cxxabi.h>

#include <cstdlib>
#include <string>

#include <Rcpp.h>

#define OF_THIS_LIBRARY __attribute__((visibility("hidden")))

namespace {

// Objects that C++ holds are links of one list between two ends that R never frees; its tokens
// are the links.
SEXP list_of_held() {
  static const SEXP first = [] {
    const SEXP last = PROTECT(Rf_cons(R_NilValue, R_NilValue));
    const SEXP list = Rf_cons(R_NilValue, last);
    R_PreserveObject(list);
    UNPROTECT(1);
    return list;
  }();
  return first;
}

}  // namespace

namespace Rcpp {

OF_THIS_LIBRARY SEXP Rcpp_precious_preserve(SEXP object) {
  if (object == R_NilValue) return R_NilValue;
  PROTECT(object);
  const SEXP before = list_of_held();
  const SEXP after = CDR(before);
  const SEXP token = PROTECT(Rf_cons(before, after));
  SET_TAG(token, object);
  SETCDR(before, token);
  SETCAR(after, token);
  UNPROTECT(2);
  return token;
}

OF_THIS_LIBRARY void Rcpp_precious_remove(SEXP token) {
  if (token == R_NilValue || TYPEOF(token) != LISTSXP) return;
  SET_TAG(token, R_NilValue);
  const SEXP before = CAR(token);
  const SEXP after = CDR(token);
  SETCDR(before, after);
  SETCAR(after, before);
}

}  // namespace Rcpp

OF_THIS_LIBRARY void* dataptr(SEXP x) { return const_cast<void*>(DATAPTR_RO(x)); }

OF_THIS_LIBRARY const char* char_get_string_elt(SEXP x, R_xlen_t i) {
  return CHAR(STRING_ELT(x, i));
}

OF_THIS_LIBRARY std::string demangle(const std::string& name) {
  int status = 0;
  char* told = abi::__cxa_demangle(name.c_str(), nullptr, nullptr, &status);
  const std::string found = status == 0 && told ? told : name;
  std::free(told);
  return found;
}

// Errors of C++ carry no trace of calls: what they say is raised again in R, with the caller's
// own call.
OF_THIS_LIBRARY SEXP rcpp_get_stack_trace() { return R_NilValue; }

OF_THIS_LIBRARY SEXP rcpp_set_stack_trace(SEXP) { return R_NilValue; }
