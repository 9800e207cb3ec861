// R's door to the reading of delimited text.
#include <Rcpp.h>
#include <algorithm>
#include <string_view>
#include <vector>
#include "bind_strings.h"
#include "delimited.h"
#include "gzip.h"
#include "text_dictionary.h"

namespace {

const char* bytes_of(const Rcpp::RawVector& bytes) { return reinterpret_cast<const char*>(RAW_RO(bytes)); }

const char* fault_word(kernel::TextFault fault) {
  switch (fault) {
    case kernel::TextFault::records: return "records";
    case kernel::TextFault::open_quote: return "open_quote";
    case kernel::TextFault::after_quote: return "after_quote";
    case kernel::TextFault::runs_on: return "runs_on";
    case kernel::TextFault::too_large: return "too_large";
    default: return "";
  }
}

Rcpp::List text_column(kernel::TextColumn& column) {
  Rcpp::IntegerVector codes(column.codes.begin(), column.codes.end());
  std::vector<std::int32_t>().swap(column.codes);
  return Rcpp::List::create(Rcpp::_["codes"] = codes, Rcpp::_["texts"] = strings_of(column.dictionary));
}

Rcpp::CharacterVector texts_of(const std::vector<kernel::TextCell>& record, char quote) {
  Rcpp::CharacterVector texts(static_cast<R_xlen_t>(record.size()));
  std::transform(record.begin(), record.end(), texts.begin(), [&](const kernel::TextCell& cell) {
    return string_of(cell.doubled ? kernel::without_doubled_quotes(cell.text, quote) : cell.text);
  });
  return texts;
}

Rcpp::List odd_record(const kernel::OddRecord& record) {
  Rcpp::CharacterVector texts(static_cast<R_xlen_t>(record.texts.size()));
  for (std::size_t i = 0; i < record.texts.size(); ++i)
    SET_STRING_ELT(texts, static_cast<R_xlen_t>(i), string_of(record.texts[i]));
  return Rcpp::List::create(
      Rcpp::_["line"] = static_cast<double>(record.line),
      Rcpp::_["after"] = static_cast<double>(record.after), Rcpp::_["texts"] = texts);
}

}  // namespace

// What spoils a whole text: the line (from 1) of the first zero byte, and of the first bytes that
// are no UTF-8; 0 for none.
// [[Rcpp::export(rng = false)]]
Rcpp::IntegerVector kernel_text_flaws(Rcpp::RawVector bytes) {
  const char* begin = bytes_of(bytes);
  const char* end = begin + bytes.size();
  return Rcpp::IntegerVector::create(
      Rcpp::_["zero"] = static_cast<int>(kernel::line_of_zero_byte(begin, end)),
      Rcpp::_["encoding"] = static_cast<int>(kernel::line_of_other_encoding(begin, end)));
}

// The first records from byte `from` (from 0) on, at most `most` of them, without empty lines: of each
// its texts, where the next record begins, and on which line. A fault ends them, and so does a
// record of more cells than `widest`.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_first_records(Rcpp::RawVector bytes, double from, std::string separator,
  std::string quote, int most, int widest) {
  const char* begin = bytes_of(bytes);
  const char* end = begin + bytes.size();
  const char* counted = begin;
  std::size_t lines = 1;
  std::vector<Rcpp::List> records;
  kernel::CellReader cells(begin + static_cast<std::size_t>(from), end, separator[0], quote[0]);
  std::vector<kernel::TextCell> record;
  do {
    cells.pass_empty_lines();
    record.clear();
    do {
      record.push_back(cells.next());
    } while (!record.back().last && record.back().fault == kernel::TextFault::none);
    lines += kernel::count_line_ends(counted, cells.at());
    counted = cells.at();
    records.push_back(Rcpp::List::create(
        Rcpp::_["texts"] = texts_of(record, quote[0]), Rcpp::_["fault"] = fault_word(record.back().fault),
        Rcpp::_["next"] = static_cast<double>(cells.at() - begin),
        Rcpp::_["line"] = static_cast<double>(lines)));
  } while (cells.at() < end && records.size() < static_cast<std::size_t>(most) &&
           record.back().fault == kernel::TextFault::none &&
           record.size() <= static_cast<std::size_t>(widest));
  return Rcpp::List(records.begin(), records.end());
}

// The records from byte `from` on, which is the beginning of line `line`. `odd`: for each record of
// another number of cells its line, how many records stand before it, and its texts. `fills`: whether
// cells lacking at the end of a record are empty ones.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_read_delimited(Rcpp::RawVector bytes, double from, double line,
  std::string separator, std::string quote, int columns, bool fills) {
  const char* begin = bytes_of(bytes) + static_cast<std::size_t>(from);
  const char* end = bytes_of(bytes) + bytes.size();
  kernel::DelimitedText text = kernel::DelimitedReader(begin, end, separator[0], quote[0],
    static_cast<std::size_t>(columns), static_cast<std::size_t>(line), fills).read();
  if (text.fault != kernel::TextFault::none) {
    return Rcpp::List::create(
        Rcpp::_["fault"] = fault_word(text.fault), Rcpp::_["line"] = static_cast<double>(text.fault_line),
        Rcpp::_["cells"] = static_cast<double>(text.fault_cells),
        Rcpp::_["count"] = static_cast<double>(text.faults));
  }
  Rcpp::List read(columns);
  for (int c = 0; c < columns; ++c) read[c] = text_column(text.columns[static_cast<std::size_t>(c)]);
  Rcpp::List odd(static_cast<R_xlen_t>(text.odd.size()));
  std::transform(text.odd.begin(), text.odd.end(), odd.begin(), odd_record);
  return Rcpp::List::create(
      Rcpp::_["fault"] = "", Rcpp::_["columns"] = read, Rcpp::_["odd"] = odd,
      Rcpp::_["records"] = static_cast<double>(text.records),
      Rcpp::_["lines"] = Rcpp::IntegerVector(text.lines.begin(), text.lines.end()),
      Rcpp::_["told"] = static_cast<double>(text.line_ends),
      Rcpp::_["counted"] = static_cast<double>(kernel::count_line_ends(begin, end)));
}

// How many bytes of a text there are to the end of its last whole line.
// [[Rcpp::export(rng = false)]]
double kernel_whole_lines(Rcpp::RawVector bytes) {
  const std::string_view text(bytes_of(bytes), static_cast<std::size_t>(bytes.size()));
  const std::size_t last = text.rfind('\n');
  return last == std::string_view::npos ? 0 : static_cast<double>(last + 1);
}

// The line from byte `from` (from 0) on; "" where its end is not among the next 10,000 bytes.
// [[Rcpp::export(rng = false)]]
Rcpp::String kernel_line_at(Rcpp::RawVector bytes, double from) {
  constexpr std::size_t furthest = 10000;
  const std::string_view text(bytes_of(bytes), static_cast<std::size_t>(bytes.size()));
  const std::size_t begin = std::min(static_cast<std::size_t>(from), text.size());
  const std::string_view rest = text.substr(begin, furthest);
  const auto stop = std::find_if(rest.begin(), rest.end(), kernel::is_line_end);
  if (stop == rest.end()) return "";
  return string_of(rest.substr(0, static_cast<std::size_t>(stop - rest.begin())));
}

// The place of the first line (from 1) that is the same as each line of a text from byte `from` on; 0 for
// empty ones.
// [[Rcpp::export(rng = false)]]
Rcpp::IntegerVector kernel_first_lines(Rcpp::RawVector bytes, double from) {
  const char* at = bytes_of(bytes) + static_cast<std::size_t>(from);
  const char* end = bytes_of(bytes) + bytes.size();
  kernel::TextDictionary known;
  std::vector<int> places;  // by the code of a line
  std::vector<int> first;
  while (at < end) {
    const char* stop = at;
    while (stop < end && !kernel::is_line_end(*stop)) ++stop;
    const std::string_view line(at, static_cast<std::size_t>(stop - at));
    const std::size_t code = line.empty() ? 0 : static_cast<std::size_t>(known.code(line, true));
    if (code > places.size()) places.push_back(static_cast<int>(first.size()) + 1);
    first.push_back(code == 0 ? 0 : places[code - 1]);
    at = stop < end ? kernel::past_line_end(stop, end) : stop;
  }
  return Rcpp::IntegerVector(first.begin(), first.end());
}

// [[Rcpp::export(rng = false)]]
Rcpp::RawVector kernel_gunzip(Rcpp::RawVector bytes, double most) {
  const std::vector<unsigned char> plain =
      kernel::gunzip(RAW_RO(bytes), static_cast<std::size_t>(bytes.size()), static_cast<std::size_t>(most));
  return Rcpp::RawVector(plain.begin(), plain.end());
}

// Texts without the blanks, tabs and line ends at their ends, in one step over each.
// [[Rcpp::export(rng = false)]]
Rcpp::CharacterVector kernel_trimmed(Rcpp::CharacterVector texts) {
  Rcpp::CharacterVector out = Rcpp::clone(texts);
  auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\n'; };
  for (R_xlen_t i = 0; i < texts.size(); ++i) {
    const SEXP text = STRING_ELT(texts, i);
    if (text == NA_STRING) continue;
    const char* begin = CHAR(text);
    const char* end = begin + LENGTH(text);
    while (begin < end && blank(*begin)) ++begin;
    while (begin < end && blank(*(end - 1))) --end;
    if (end - begin < LENGTH(text)) {
      SET_STRING_ELT(out, i, Rf_mkCharLenCE(begin, static_cast<int>(end - begin), Rf_getCharCE(text)));
    }
  }
  return out;
}
