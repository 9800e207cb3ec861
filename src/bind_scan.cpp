// R's door to the scanning of plain delimited text.
#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC optimize("O3")
#endif
#include <Rcpp.h>
#include "bind_strings.h"
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

SEXP shortened(SEXP values, std::size_t records) {
  return static_cast<std::size_t>(Rf_xlength(values)) == records
    ? values : Rf_xlengthgets(values, static_cast<R_xlen_t>(records));
}

// Numbers written without a fraction that whole numbers of 32 bits hold are such.
SEXP numbers_of(Rcpp::NumericVector values, const Blocks& blocks, std::size_t c) {
  constexpr double most = 2147483647.0;
  const std::uint64_t fractions = kernel::bits_of_blocks(blocks, &kernel::ScannedBlock::fractions);
  const bool whole = (fractions >> c & 1) == 0 && std::all_of(values.begin(), values.end(), [](double x) {
    return !kernel::is_known(x) || (x <= most && x >= -most);
  });
  if (!whole) return values;
  Rcpp::IntegerVector out(Rcpp::no_init(values.size()));
  std::transform(values.begin(), values.end(), out.begin(),
    [](double x) { return kernel::is_known(x) ? static_cast<int>(x) : NA_INTEGER; });
  return out;
}

Rcpp::List texts_of(SEXP codes, const Blocks& blocks, std::size_t c, std::size_t records) {
  kernel::TextDictionary whole;
  kernel::join_codes(blocks, c, whole, INTEGER(codes));
  kernel::close_ranks(blocks, INTEGER(codes));
  return Rcpp::List::create(Rcpp::_["codes"] = shortened(codes, records), Rcpp::_["texts"] = strings_of(whole));
}

// The memory for a column, filled from several threads.
SEXP room_for(kernel::ScanType type, std::size_t places) {
  if (type == kernel::ScanType::skip) return R_NilValue;
  return Rf_allocVector(type == kernel::ScanType::number ? REALSXP : INTSXP, static_cast<R_xlen_t>(places));
}

kernel::ScanTarget target_of(SEXP values) {
  if (Rf_isNull(values)) return {};
  return TYPEOF(values) == REALSXP ? kernel::ScanTarget{REAL(values), nullptr}
    : kernel::ScanTarget{nullptr, INTEGER(values)};
}

// A type that does not hold for a whole column makes it one of texts, and all is scanned again.
kernel::ScannedText scanned(kernel::ScanPlan& plan, const kernel::ScanSource& part, Rcpp::List columns,
                            int threads, kernel::Watch& watch) {
  kernel::ScannedText text;
  text.trouble = kernel::settle_types(plan, kernel::ScanSource(part).head());
  if (text.trouble != kernel::ScanTrouble::none) return text;
  const std::size_t places = kernel::count_lines(part);
  for (std::size_t c = 0; c < plan.types.size(); ++c)
    columns[static_cast<R_xlen_t>(c)] = room_for(plan.types[c], places);
  while (true) {
    std::vector<kernel::ScanTarget> targets;
    for (R_xlen_t c = 0; c < columns.size(); ++c) targets.push_back(target_of(columns[c]));
    kernel::ScanSource source(part);
    text = kernel::scan_blocks(plan, targets, places, source, threads, watch);
    if (text.trouble != kernel::ScanTrouble::type) return text;
    plan.types[text.column] = kernel::ScanType::text;
    columns[static_cast<R_xlen_t>(text.column)] = room_for(kernel::ScanType::text, places);
  }
}

SEXP values_of(SEXP values, kernel::ScanType type, const Blocks& blocks, std::size_t c, std::size_t records) {
  switch (type) {
    case kernel::ScanType::skip: return R_NilValue;
    case kernel::ScanType::number:
      kernel::close_ranks(blocks, REAL(values));
      return numbers_of(shortened(values, records), blocks, c);
    case kernel::ScanType::day:
      kernel::close_ranks(blocks, INTEGER(values));
      return shortened(values, records);
    default: return texts_of(values, blocks, c, records);
  }
}

}  // namespace

// The records of a part of a file from byte `from` (from 0) on, `bytes` long: list(trouble: why the
// general reader must take it, "" for none; types: those found; columns: NULL for those passed over;
// records; next: the byte after; decimals: whether a column has points that only mark decimals, TRUE,
// or may mark thousands as well, NA; repeats: how many records are `first_record` once more, which is
// the first of the file). `types`: of each column -1 to find it, -2 the same but to pass over it where its
// texts hardly come back, 0 to pass over it, 1 for text, 2 for numbers, 3 for days.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_scan(std::string path, double from, double bytes, std::string separator, std::string quote,
                       std::string first_name, std::string first_record, Rcpp::IntegerVector types, bool keeps_totals, int threads,
                       SEXP progress, double progress_after) {
  kernel::ScanPlan plan{separator[0], quote[0], first_name, first_record, {}, keeps_totals};
  for (const int type : types) plan.types.push_back(static_cast<kernel::ScanType>(type));
  kernel::Watch watch(teller(progress, progress_after));
  Rcpp::List columns(types.size());
  kernel::ScannedText text;
  try {
    const kernel::ScanSource part(path, static_cast<std::size_t>(from), static_cast<std::size_t>(bytes),
                                  quote[0]);
    text = scanned(plan, part, columns, threads, watch);
  } catch (const kernel::Stopped&) {
    throw Rcpp::internal::InterruptedException();
  }
  if (text.lines > 2147483647u) return Rcpp::List::create(Rcpp::_["trouble"] = "records");
  if (text.trouble != kernel::ScanTrouble::none)
    return Rcpp::List::create(Rcpp::_["trouble"] = trouble_word(text.trouble));
  const std::uint64_t fractions = kernel::bits_of_blocks(text.blocks, &kernel::ScannedBlock::fractions);
  const std::uint64_t settled = kernel::bits_of_blocks(text.blocks, &kernel::ScannedBlock::decimals);
  Rcpp::LogicalVector decimals(types.size());
  double repeats = 0;
  for (const kernel::ScannedBlock& block : text.blocks) repeats += static_cast<double>(block.repeats);
  Rcpp::IntegerVector found(types.size());
  for (R_xlen_t c = 0; c < types.size(); ++c) {
    const auto place = static_cast<std::size_t>(c);
    found[c] = static_cast<int>(plan.types[place]);
    const bool number = plan.types[place] == kernel::ScanType::number;
    decimals[c] = number && (settled >> place & 1) != 0 ? TRUE
      : number && (fractions >> place & 1) != 0 ? NA_LOGICAL : FALSE;
    columns[c] = values_of(columns[c], plan.types[place], text.blocks, place, text.records);
  }
  return Rcpp::List::create(Rcpp::_["trouble"] = "", Rcpp::_["types"] = found, Rcpp::_["columns"] = columns,
                            Rcpp::_["records"] = static_cast<double>(text.records),
                            Rcpp::_["next"] = static_cast<double>(text.next),
                            Rcpp::_["decimals"] = decimals, Rcpp::_["repeats"] = repeats);
}

// The byte after the first line end from a byte on; the size of the file where there is none.
// [[Rcpp::export(rng = false)]]
double kernel_line_end(std::string path, double from) {
  return static_cast<double>(kernel::line_end_after(path, static_cast<std::size_t>(from)));
}

// Which texts hold a word that totals lines have; an unknown one does not.
// [[Rcpp::export(rng = false)]]
Rcpp::LogicalVector kernel_says_total(Rcpp::CharacterVector texts) {
  Rcpp::LogicalVector says(texts.size());
  for (R_xlen_t i = 0; i < texts.size(); ++i) {
    const SEXP text = STRING_ELT(texts, i);
    says[i] = text != NA_STRING && kernel::says_total(Rf_translateCharUTF8(text));
  }
  return says;
}
