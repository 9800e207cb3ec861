// The cells of plain delimited text, and what they say: numbers, days, words of totals.
#pragma once
#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <string_view>
#include "columns.h"

namespace kernel {

struct ScanCell {
  std::string_view text;  // without its quotes
  bool doubled = false;   // it holds doubled quotes
};

// The cell at `at`, which is moved to its end; false where quotes do not stand as RFC 4180 has them.
inline bool scan_cell(const char*& at, const char* end, char separator, char quote, ScanCell& cell) {
  if (at < end && *at == quote) {
    const char* begin = ++at;
    while (true) {
      at = static_cast<const char*>(std::memchr(at, quote, static_cast<std::size_t>(end - at)));
      if (at == nullptr) return false;
      if (at + 1 >= end || at[1] != quote) break;
      cell.doubled = true;
      at += 2;
    }
    cell.text = std::string_view(begin, static_cast<std::size_t>(at - begin));
    ++at;
    // A cell over several lines may have been opened by a stray quote.
    if (cell.text.find_first_of("\r\n") != std::string_view::npos) return false;
    return at >= end || *at == separator || *at == '\n' || *at == '\r';
  }
  const char* begin = at;
  while (at < end && *at != separator && *at != '\n' && *at != '\r') {
    if (*at == quote) return false;
    ++at;
  }
  cell.text = std::string_view(begin, static_cast<std::size_t>(at - begin));
  return true;
}

inline bool is_blank(char c) { return c == ' ' || c == '\t'; }

// Whether a cell is empty: of blanks alone, or of nothing.
inline bool is_empty(std::string_view text) {
  return text.empty() ||
         (is_blank(text.front()) && std::all_of(text.begin(), text.end(), is_blank));
}

inline std::string_view without_blanks(std::string_view text) {
  while (!text.empty() && is_blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && is_blank(text.back())) text.remove_suffix(1);
  return text;
}

inline bool is_digit(char c) { return c >= '0' && c <= '9'; }

// How the point of a number is written: not at all; before three digits, where it may mark
// thousands as well (1.500); or where only decimals can follow it.
enum class Point { none, either, decimal };

// Digits with a sign and a fraction at most, no more of them than a double holds. The nearest double
// is one division of two whole numbers that doubles hold.
inline bool plain_number(std::string_view text, double& value, Point& point) {
  static constexpr std::array<double, 16> tens{1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11,
    1e12, 1e13, 1e14, 1e15};
  const char* at = text.data();
  const char* end = at + text.size();
  const bool minus = at < end && *at == '-';
  at += minus ? 1 : 0;
  const char* first = at;
  std::uint64_t digits = 0;
  for (; at < end && is_digit(*at); ++at) digits = digits * 10 + static_cast<std::uint64_t>(*at - '0');
  const std::ptrdiff_t before = at - first;
  if (before == 0 || before > 15 || (before > 1 && *first == '0')) return false;
  std::ptrdiff_t after = 0;
  point = Point::none;
  if (at < end) {
    if (*at != '.') return false;
    const char* decimals = ++at;
    for (; at < end && is_digit(*at); ++at) digits = digits * 10 + static_cast<std::uint64_t>(*at - '0');
    after = at - decimals;
    if (at != end || after == 0 || before + after > 15) return false;
    point = after == 3 && before <= 3 && *first != '0' ? Point::either : Point::decimal;
  }
  value = static_cast<double>(digits) / tens[static_cast<std::size_t>(after)];
  if (minus) value = -value;
  return true;
}

// Days since 1970 of a civil date (Howard Hinnant, chrono-compatible low-level date algorithms).
inline std::int32_t day_of(int year, int month, int day) {
  year -= month <= 2 ? 1 : 0;
  const int era = year / 400;
  const int of_era = year - era * 400;
  const int of_year = (153 * (month + (month > 2 ? -3 : 9)) + 2) / 5 + day - 1;
  return era * 146097 + of_era * 365 + of_era / 4 - of_era / 100 + of_year - 719468;
}

// A date as ISO 8601 writes it: 2026-08-31.
inline bool plain_day(std::string_view text, std::int32_t& day) {
  if (text.size() != 10 || text[4] != '-' || text[7] != '-') return false;
  for (std::size_t i = 0; i < 10; ++i)
    if (i != 4 && i != 7 && !is_digit(text[i])) return false;
  auto two = [&](std::size_t i) { return (text[i] - '0') * 10 + (text[i + 1] - '0'); };
  const int year = two(0) * 100 + two(2);
  const int month = two(5);
  const int of_month = two(8);
  static constexpr std::array<int, 12> lengths{31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31};
  if (year < 1 || month < 1 || month > 12) return false;
  const bool leap = (year % 4 == 0 && year % 100 != 0) || year % 400 == 0;
  const int length = lengths[static_cast<std::size_t>(month - 1)] + (month == 2 && leap ? 1 : 0);
  if (of_month < 1 || of_month > length) return false;
  day = day_of(year, month, of_month);
  return true;
}

inline bool is_word_byte(char c) {
  return is_digit(c) || c == '_' || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}

// Words are letters, digits and whatever is not ASCII.
inline bool is_letter_byte(char c) { return is_word_byte(c) || static_cast<unsigned char>(c) >= 0x80; }

// A word of totals lines, in small letters (of ASCII alone), in the languages of the trade.
inline bool is_total_word(std::string_view word) {
  static constexpr std::array<std::string_view, 25> words{"total", "totals", "subtotal", "subtotals", "totaal",
    "subtotaal", "totale", "subtotale", "totali", "totales", "totais", "totaux", "sum", "suma", "summe", "soma",
    "somma", "somme", "gesamt", "gesamtbetrag", "razem", "saldo", "solde", "balance", "riporto"};
  for (const std::string_view one : words) {
    if (word == one) return true;
  }
  const auto ends = [word](std::string_view end) {
    return word.size() > end.size() && word.substr(word.size() - end.size()) == end;
  };
  static constexpr std::array<std::string_view, 7> marked{"\xc3\xbc" "bertrag", "\xc3\x9c" "bertrag",
    "og\xc3\xb3\xc5\x82" "em", "og\xc3\x93\xc5\x81" "em", "\xc5\x82\xc4\x85" "cznie", "\xc5\x81\xc4\x85" "cznie",
    "\xc5\x81\xc4\x84" "cznie"};
  for (const std::string_view one : marked) {
    if (word == one) return true;
  }
  return ends("summe");
}

// Whether a text holds a word that totals lines have, wherever it stands; or is carried or brought forward.
inline bool says_total(std::string_view text) {
  constexpr std::size_t longest = 40;
  std::string_view before;
  char low[2][longest];
  int turn = 0;
  for (std::size_t at = 0; at < text.size();) {
    if (!is_letter_byte(text[at])) {
      ++at;
      continue;
    }
    std::size_t n = 0;
    for (; at < text.size() && is_letter_byte(text[at]); ++at, ++n) {
      if (n < longest) low[turn][n] = text[at] >= 'A' && text[at] <= 'Z' ? static_cast<char>(text[at] - 'A' + 'a') : text[at];
    }
    if (n > longest) {
      before = {};
      continue;
    }
    const std::string_view word(low[turn], n);
    if (is_total_word(word) || (word == "forward" && (before == "carried" || before == "brought"))) return true;
    before = word;
    turn = 1 - turn;
  }
  return false;
}

}  // namespace kernel
