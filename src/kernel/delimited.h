// Delimited text as columns: for each the codes of its cells and their different texts. Nothing is
// left out and nothing joined: a record of more or fewer cells stands apart, and what cannot be
// read is a fault that names its line.
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <limits>
#include <string>
#include <string_view>
#include <vector>
#include "columns.h"
#include "delimited_cells.h"
#include "text_dictionary.h"

namespace kernel {

struct TextColumn {
  std::vector<std::int32_t> codes;  // the missing code for empty cells
  TextDictionary dictionary;
};

// A record that has not as many cells as there are columns, and how many that have stand before it.
struct OddRecord {
  std::size_t line;
  std::size_t after;
  std::vector<std::string> texts;
};

constexpr std::size_t most_odd_records = 10000;

// The records of a text, or its first fault: the line (from 1), and for too many odd records the
// cells of the first of them and their number.
struct DelimitedText {
  std::vector<TextColumn> columns;
  std::vector<OddRecord> odd;
  std::vector<std::int32_t> lines;  // on which each record begins
  std::size_t records = 0;
  std::size_t line_ends = 0;  // told while reading: of records, empty lines and inside quotes
  TextFault fault = TextFault::none;
  std::size_t fault_line = 0;
  std::size_t fault_cells = 0;
  std::size_t faults = 0;
};

class DelimitedReader {
 public:
  DelimitedReader(const char* begin, const char* end, char separator, char quote,
    std::size_t columns, std::size_t first_line, bool fills = false)
      : begin_(begin), end_(end), separator_(separator), quote_(quote), line_(first_line), fills_(fills) {
    found_.columns.resize(columns);
  }

  DelimitedText read() {
    CellReader cells(begin_, end_, separator_, quote_);
    std::vector<TextCell> record;
    while (!stopped()) {
      const std::size_t empty = cells.pass_empty_lines();
      line_ += empty;
      found_.line_ends += empty;
      if (cells.done()) break;
      const char* from = cells.at();
      std::size_t inside = 0;
      record.clear();
      do {
        record.push_back(cells.next());
        inside += record.back().line_ends;
      } while (!record.back().last && record.back().fault == TextFault::none);
      if (record.back().fault != TextFault::none) {
        see_fault(record.back().fault, line_ + inside - record.back().line_ends, 0);
        break;
      }
      keep(record);
      if (inside > 0 && record.size() == found_.columns.size())
        spread_.push_back({from, cells.at(), line_, found_.records - 1});
      const bool ended = is_line_end(cells.at()[-1]);
      line_ += inside + (ended ? 1 : 0);
      found_.line_ends += inside + (ended ? 1 : 0);
    }
    if (found_.fault == TextFault::none) check_spread();
    return std::move(found_);
  }

 private:
  // A record over several lines.
  struct Spread {
    const char* from;
    const char* to;
    std::size_t line;
    std::size_t record;
  };
  const char* begin_;
  const char* end_;
  char separator_;
  char quote_;
  std::size_t line_;
  bool fills_;  // whether cells that a record lacks at its end are empty ones
  DelimitedText found_;
  std::vector<Spread> spread_;

  bool stopped() const { return found_.fault != TextFault::none && found_.fault != TextFault::records; }

  void see_fault(TextFault fault, std::size_t line, std::size_t cells) {
    found_.fault = fault;
    found_.fault_line = line;
    found_.fault_cells = cells;
  }

  void keep_apart(const std::vector<TextCell>& record) {
    ++found_.faults;
    if (found_.odd.size() == most_odd_records) {
      see_fault(TextFault::records, found_.odd.front().line, found_.odd.front().texts.size());
      return;
    }
    OddRecord odd{line_, found_.records, {}};
    for (const TextCell& cell : record) odd.texts.push_back(plain_text(cell));
    found_.odd.push_back(std::move(odd));
  }

  std::string plain_text(const TextCell& cell) const {
    return cell.doubled ? without_doubled_quotes(cell.text, quote_) : std::string(cell.text);
  }

  // Cells that are not there, or empty ones that are too many.
  void fit(std::vector<TextCell>& record) const {
    while (record.size() > found_.columns.size() && record.back().text.empty()) record.pop_back();
    if (record.size() < found_.columns.size()) record.resize(found_.columns.size());
  }

  void keep(std::vector<TextCell>& record) {
    if (fills_) fit(record);
    if (record.size() != found_.columns.size()) {
      keep_apart(record);
      return;
    }
    if (found_.records == static_cast<std::size_t>(std::numeric_limits<std::int32_t>::max())) {
      see_fault(TextFault::too_large, line_, 0);
      return;
    }
    ++found_.records;
    if (found_.fault != TextFault::none) return;
    found_.lines.push_back(static_cast<std::int32_t>(line_));
    for (std::size_t c = 0; c < record.size(); ++c) {
      TextColumn& column = found_.columns[c];
      const TextCell& cell = record[c];
      if (cell.text.empty()) column.codes.push_back(missing_int);
      else if (cell.doubled)
        column.codes.push_back(column.dictionary.code(without_doubled_quotes(cell.text, quote_), false));
      else column.codes.push_back(column.dictionary.code(cell.text, true));
    }
  }

  // A quoted cell over several lines is text with line breaks, or it was opened by a stray quote
  // and ran on over records. It ran on where one of its inner lines, or each line that it touches,
  // would make a record like the others by itself.
  void check_spread() {
    if (spread_.empty()) return;
    const std::vector<bool> numbers = number_columns();
    for (const Spread& record : spread_) {
      std::size_t lines = 0;
      std::size_t alike = 0;
      bool inner = false;
      const char* at = record.from;
      while (at < record.to) {
        const char* stop = at;
        while (stop < record.to && !is_line_end(*stop)) ++stop;
        const bool like = like_a_record(at, stop, numbers);
        const char* next = stop < record.to ? past_line_end(stop, record.to) : stop;
        alike += like ? 1 : 0;
        inner = inner || (like && lines > 0 && next < record.to);
        ++lines;
        at = next;
      }
      if (inner || alike == lines) {
        see_fault(TextFault::runs_on, record.line, 0);
        return;
      }
    }
  }

  bool like_a_record(const char* from, const char* to, const std::vector<bool>& numbers) const {
    CellReader cells(from, to, separator_, quote_);
    std::size_t n = 0;
    for (bool last = false; !last && n <= numbers.size(); ++n) {
      const TextCell cell = one_line_cell(cells, to);
      if (n < numbers.size() && numbers[n] && !cell.text.empty() && !is_number_like(cell.text)) return false;
      last = cell.last;
    }
    return n == numbers.size();
  }

  // As it reads when a quote that is not closed on its line is a character.
  TextCell one_line_cell(CellReader& cells, const char* to) const {
    CellReader plain = cells;
    TextCell cell = cells.next();
    if (cell.fault == TextFault::none) return cell;
    const char* stop = std::find(plain.at(), to, separator_);
    cell = TextCell();
    cell.text = std::string_view(plain.at(), static_cast<std::size_t>(stop - plain.at()));
    cell.last = stop == to;
    cells = CellReader(stop == to ? to : stop + 1, to, separator_, quote_);
    return cell;
  }

  // Which columns hold numbers or dates only, in the records that stand on one line.
  std::vector<bool> number_columns() const {
    std::vector<bool> is_spread(found_.records, false);
    for (const Spread& record : spread_) is_spread[record.record] = true;
    std::vector<bool> numbers;
    for (const TextColumn& column : found_.columns) {
      std::vector<bool> like;
      for (const std::string_view text : column.dictionary.texts()) like.push_back(is_number_like(text));
      bool all = true;
      bool any = false;
      for (std::size_t r = 0; r < found_.records && all; ++r) {
        if (is_spread[r] || column.codes[r] == missing_int) continue;
        any = true;
        all = like[static_cast<std::size_t>(column.codes[r]) - 1];
      }
      numbers.push_back(any && all);
    }
    return numbers;
  }

  static bool is_number_like(std::string_view text) {
    return text.find_first_of("0123456789") != std::string_view::npos &&
           text.find_first_not_of("0123456789.,:/+- TZ") == std::string_view::npos;
  }
};

// Line ends counted apart from any reading of cells.
inline std::size_t count_line_ends(const char* at, const char* end) {
  std::size_t n = 0;
  for (const char* c = at; c < end; ++c) {
    n += *c == '\n' ? 1 : 0;
    n += *c == '\r' && (c + 1 == end || c[1] != '\n') ? 1 : 0;
  }
  return n;
}

// The line (from 1) of the first byte that is zero, 0 where there is none.
inline std::size_t line_of_zero_byte(const char* begin, const char* end) {
  const void* zero = begin == end ? nullptr : std::memchr(begin, 0, static_cast<std::size_t>(end - begin));
  return zero ? count_line_ends(begin, static_cast<const char*>(zero)) + 1 : 0;
}

// The line (from 1) of the first bytes that are no UTF-8 (RFC 3629), 0 where there are none.
inline std::size_t line_of_other_encoding(const char* begin, const char* end) {
  const auto* at = reinterpret_cast<const unsigned char*>(begin);
  const auto* stop = reinterpret_cast<const unsigned char*>(end);
  while (at < stop) {
    if (*at < 0x80) {
      ++at;
      continue;
    }
    const int more = *at >= 0xf0 && *at <= 0xf4 ? 3
      : *at >= 0xe0 && *at < 0xf0 ? 2
      : *at >= 0xc2 && *at < 0xe0 ? 1 : 0;
    bool good = more > 0 && stop - at > more;
    for (int i = 1; good && i <= more; ++i) good = (at[i] & 0xc0) == 0x80;
    if (good && *at == 0xe0) good = at[1] >= 0xa0;
    if (good && *at == 0xed) good = at[1] < 0xa0;
    if (good && *at == 0xf0) good = at[1] >= 0x90;
    if (good && *at == 0xf4) good = at[1] < 0x90;
    if (!good) return count_line_ends(begin, reinterpret_cast<const char*>(at)) + 1;
    at += more + 1;
  }
  return 0;
}

}  // namespace kernel
