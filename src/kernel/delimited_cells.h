// The cells of delimited text as RFC 4180 has them: a cell that begins with a quote ends at the
// next quote that is not doubled, whatever stands in between; in any other cell a quote is a
// character like others. Records end with a line feed, a carriage return, or both.
#pragma once
#include <algorithm>
#include <cstddef>
#include <string>
#include <string_view>

namespace kernel {

enum class TextFault { none, records, open_quote, after_quote, runs_on, too_large };

struct TextCell {
  std::string_view text;  // without its quotes; doubled quotes are still doubled
  bool quoted = false;
  bool doubled = false;         // it holds doubled quotes
  std::size_t line_ends = 0;    // inside its quotes
  bool last = false;            // the last of its record
  TextFault fault = TextFault::none;
};

inline bool is_line_end(char c) { return c == '\n' || c == '\r'; }

// Past one line end: "\r\n" is one.
inline const char* past_line_end(const char* at, const char* end) {
  if (*at == '\r' && at + 1 < end && at[1] == '\n') return at + 2;
  return at + 1;
}

class CellReader {
 public:
  CellReader(const char* at, const char* end, char separator, char quote)
      : at_(at), end_(end), separator_(separator), quote_(quote) {}

  const char* at() const { return at_; }
  bool done() const { return at_ >= end_; }

  TextCell next() {
    TextCell cell;
    if (is_quoted_behind_blanks()) pass_blanks();
    if (at_ < end_ && *at_ == quote_) read_quoted(cell);
    else read_plain(cell);
    return cell;
  }

  // Passes over empty lines; gives how many.
  std::size_t pass_empty_lines() {
    std::size_t passed = 0;
    while (at_ < end_ && is_line_end(*at_)) {
      at_ = past_line_end(at_, end_);
      ++passed;
    }
    return passed;
  }

 private:
  const char* at_;
  const char* end_;
  char separator_;
  char quote_;

  void read_plain(TextCell& cell) {
    const char* begin = at_;
    while (at_ < end_ && *at_ != separator_ && !is_line_end(*at_)) ++at_;
    cell.text = std::string_view(begin, static_cast<std::size_t>(at_ - begin));
    pass_end(cell);
  }

  void read_quoted(TextCell& cell) {
    const char* begin = ++at_;
    cell.quoted = true;
    while (at_ < end_) {
      if (*at_ == quote_) {
        if (at_ + 1 < end_ && at_[1] == quote_) {
          cell.doubled = true;
          at_ += 2;
          continue;
        }
        break;
      }
      if (is_line_end(*at_)) {
        ++cell.line_ends;
        at_ = past_line_end(at_, end_);
      } else {
        ++at_;
      }
    }
    cell.text = std::string_view(begin, static_cast<std::size_t>(at_ - begin));
    if (at_ >= end_) {
      cell.fault = TextFault::open_quote;
      return;
    }
    ++at_;
    const char* closed = at_;
    pass_blanks();
    if (!at_end_of_cell()) {
      at_ = closed;
      cell.fault = TextFault::after_quote;
    } else {
      pass_end(cell);
    }
  }

  void pass_blanks() {
    while (at_ < end_ && *at_ == ' ' && separator_ != ' ') ++at_;
  }

  bool at_end_of_cell() const { return at_ >= end_ || *at_ == separator_ || is_line_end(*at_); }

  // Whether blanks stand before a quote that is closed at the end of the cell, on its line: as ", "
  // between cells leaves them. A quote anywhere else is one of the text.
  bool is_quoted_behind_blanks() const {
    if (at_ >= end_ || *at_ != ' ') return false;
    CellReader ahead = *this;
    ahead.pass_blanks();
    if (ahead.at_ >= end_ || *ahead.at_ != quote_) return false;
    TextCell cell;
    ahead.read_quoted(cell);
    return cell.fault == TextFault::none && cell.line_ends == 0;
  }

  // Past the separator or the end of the record.
  void pass_end(TextCell& cell) {
    cell.last = at_ >= end_ || is_line_end(*at_);
    if (at_ < end_) at_ = cell.last ? past_line_end(at_, end_) : at_ + 1;
  }
};

inline std::string without_doubled_quotes(std::string_view text, char quote) {
  std::string plain;
  plain.reserve(text.size());
  for (std::size_t i = 0; i < text.size(); ++i) {
    plain.push_back(text[i]);
    if (text[i] == quote) ++i;
  }
  return plain;
}

}  // namespace kernel
