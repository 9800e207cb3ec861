// R's door to the scanning of plain delimited text.
#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC optimize("O3")
#endif
#include <Rcpp.h>
#include "bind_watch.h"
#include "scan.h"

namespace {

const char* trouble_word(kernel::ScanTrouble trouble) {
  switch (trouble) {
    case kernel::ScanTrouble::none: return "";
    case kernel::ScanTrouble::quotes: return "quotes";
    case kernel::ScanTrouble::width: return "width";
    case kernel::ScanTrouble::line_ends: return "line ends";
    case kernel::ScanTrouble::bytes: return "bytes";
    case kernel::ScanTrouble::furniture: return "furniture";
    case kernel::ScanTrouble::totals: return "totals";
    case kernel::ScanTrouble::gaps: return "gaps";
    default: return "type";
  }
}

using Blocks = std::vector<kernel::ScannedBlock>;

bool fits_whole(const Blocks& blocks, std::size_t c) {
  constexpr double most = 2147483647.0;
  for (const auto& block : blocks) {
    if (!block.columns[c].whole) return false;
    for (const double x : block.columns[c].numbers) if (x > most || x < -most) return false;
  }
  return true;
}

// Memory of each block is given back as soon as its values are R's.
SEXP numbers_of(Blocks& blocks, std::size_t c, std::size_t records) {
  const auto n = static_cast<R_xlen_t>(records);
  if (fits_whole(blocks, c)) {
    Rcpp::IntegerVector out(Rcpp::no_init(n));
    int* to = out.begin();
    for (auto& block : blocks) {
      for (const double x : block.columns[c].numbers) *to++ = kernel::is_known(x) ? static_cast<int>(x) : NA_INTEGER;
      block.columns[c] = kernel::ScannedColumn();
    }
    return out;
  }
  Rcpp::NumericVector out(Rcpp::no_init(n));
  double* to = out.begin();
  for (auto& block : blocks) {
    to = std::copy(block.columns[c].numbers.begin(), block.columns[c].numbers.end(), to);
    block.columns[c] = kernel::ScannedColumn();
  }
  return out;
}

SEXP days_of(Blocks& blocks, std::size_t c, std::size_t records) {
  Rcpp::IntegerVector out(Rcpp::no_init(static_cast<R_xlen_t>(records)));
  int* to = out.begin();
  for (auto& block : blocks) {
    to = std::copy(block.columns[c].codes.begin(), block.columns[c].codes.end(), to);
    block.columns[c] = kernel::ScannedColumn();
  }
  return out;
}

Rcpp::List texts_of(Blocks& blocks, std::size_t c, std::size_t records) {
  Rcpp::IntegerVector codes(Rcpp::no_init(static_cast<R_xlen_t>(records)));
  kernel::TextDictionary whole;
  kernel::join_codes(blocks, c, whole, codes.begin());
  Rcpp::CharacterVector texts(static_cast<R_xlen_t>(whole.texts().size()));
  for (std::size_t i = 0; i < whole.texts().size(); ++i) {
    const std::string_view text = whole.texts()[i];
    SET_STRING_ELT(texts, static_cast<R_xlen_t>(i),
                   Rf_mkCharLenCE(text.data(), static_cast<int>(text.size()), CE_UTF8));
  }
  return Rcpp::List::create(Rcpp::_["codes"] = codes, Rcpp::_["texts"] = texts);
}

}  // namespace

// The records of a part of a file from byte `from` (from 0) on, `bytes` long: list(trouble: why the
// general reader must take it, "" for none; types: those found; columns: NULL for those passed over;
// records; next: the byte after). `types`: of each column -1 to find it, 0 to pass over it, 1 for
// text, 2 for numbers, 3 for days.
// [[Rcpp::export]]
Rcpp::List kernel_scan(std::string path, double from, double bytes, std::string separator, std::string quote,
                       std::string first_name, Rcpp::IntegerVector types, int threads, SEXP progress,
                       double progress_after) {
  kernel::ScanPlan plan{separator[0], quote[0], first_name, {}};
  for (const int type : types) plan.types.push_back(static_cast<kernel::ScanType>(type));
  kernel::Watch watch(teller(progress, progress_after));
  kernel::ScannedText text;
  try {
    text = kernel::scan_text(plan, path, static_cast<std::size_t>(from), static_cast<std::size_t>(bytes),
                             threads, watch);
  } catch (const kernel::Stopped&) {
    throw Rcpp::internal::InterruptedException();
  }
  Rcpp::IntegerVector found(types.size());
  std::transform(plan.types.begin(), plan.types.end(), found.begin(), [](auto type) { return static_cast<int>(type); });
  if (text.trouble != kernel::ScanTrouble::none || text.records > 2147483647u)
    return Rcpp::List::create(Rcpp::_["trouble"] = text.records > 2147483647u ? "records" : trouble_word(text.trouble));
  Rcpp::List columns(types.size());
  for (R_xlen_t c = 0; c < types.size(); ++c) {
    const auto place = static_cast<std::size_t>(c);
    switch (plan.types[place]) {
      case kernel::ScanType::skip: break;
      case kernel::ScanType::number: columns[c] = numbers_of(text.blocks, place, text.records); break;
      case kernel::ScanType::day: columns[c] = days_of(text.blocks, place, text.records); break;
      default: columns[c] = texts_of(text.blocks, place, text.records);
    }
  }
  return Rcpp::List::create(Rcpp::_["trouble"] = "", Rcpp::_["types"] = found, Rcpp::_["columns"] = columns,
                            Rcpp::_["records"] = static_cast<double>(text.records),
                            Rcpp::_["next"] = static_cast<double>(text.next));
}
