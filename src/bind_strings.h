// Texts of the kernel as R's.
#pragma once
#include <Rcpp.h>
#include <string_view>
#include "text_dictionary.h"

inline SEXP string_of(std::string_view text) {
  return Rf_mkCharLenCE(text.data(), static_cast<int>(text.size()), CE_UTF8);
}

inline Rcpp::CharacterVector strings_of(const kernel::TextDictionary& texts) {
  Rcpp::CharacterVector strings(static_cast<R_xlen_t>(texts.texts().size()));
  for (R_xlen_t i = 0; i < strings.size(); ++i)
    SET_STRING_ELT(strings, i, string_of(texts.texts()[static_cast<std::size_t>(i)]));
  return strings;
}
