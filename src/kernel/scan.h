// Plain delimited text straight into numbers, days and codes of texts: in blocks that end with a
// record, by several threads, without a copy of the text. What is unusual about a text (quotes
// inside cells, records of another width, other encodings, what may be a title or a total) is a
// trouble: then the general reader (delimited.h) takes it, so that both read alike.
#pragma once
#include <algorithm>
#include <atomic>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <memory>
#include <mutex>
#include <string>
#include <string_view>
#include <vector>
#include "blocks.h"
#include "columns.h"
#include "delimited.h"
#include "scan_cells.h"
#include "scan_source.h"
#include "text_dictionary.h"
#include "watch.h"

namespace kernel {

enum class ScanType : int { open = -1, skip = 0, text = 1, number = 2, day = 3 };

enum class ScanTrouble { none, quotes, width, line_ends, bytes, furniture, totals, gaps, type };

// How the records of a text are cut, and what is wanted of each column.
struct ScanPlan {
  char separator;
  char quote;
  std::string first_name;  // the header of the first column, by which a repeated header is known
  std::vector<ScanType> types;
};

struct ScannedColumn {
  std::vector<double> numbers;
  std::vector<std::int32_t> codes;  // days, or codes of texts
  TextDictionary dictionary;
  bool whole = true;  // no number is written with a fraction
};

// Which cells of a record are empty, a bit for each column, and how many records are like that.
struct Gaps {
  std::uint64_t cells;
  std::size_t records;
};

constexpr std::size_t most_scanned_columns = 64;
constexpr std::size_t most_gaps = 1000;

struct ScannedBlock {
  std::vector<ScannedColumn> columns;
  std::vector<Gaps> gaps;
  std::size_t records = 0;
  ScanTrouble trouble = ScanTrouble::none;
  std::size_t column = 0;  // where a type does not hold
};

class BlockScanner {
 public:
  explicit BlockScanner(const ScanPlan& plan) : plan_(plan) { found_.columns.resize(plan.types.size()); }

  // Records up to `most` of them.
  ScannedBlock scan(const char* at, const char* end, std::size_t most) {
    if (spoiled(at, end)) found_.trouble = ScanTrouble::bytes;
    while (at < end && found_.trouble == ScanTrouble::none && found_.records < most) {
      if (is_line_end(*at)) at = past_line(at, end);
      else at = record(at, end);
    }
    return std::move(found_);
  }

 private:
  const ScanPlan& plan_;
  ScannedBlock found_;

  void see(ScanTrouble trouble, std::size_t column = 0) {
    if (found_.trouble != ScanTrouble::none) return;
    found_.trouble = trouble;
    found_.column = column;
  }

  static bool spoiled(const char* at, const char* end) {
    unsigned char high = 0;
    bool zero = false;
    for (const char* c = at; c < end; ++c) {
      high |= static_cast<unsigned char>(*c);
      zero |= *c == 0;
    }
    return zero || (high >= 0x80 && line_of_other_encoding(at, end) != 0);
  }

  const char* past_line(const char* at, const char* end) {
    if (*at == '\r' && (at + 1 == end || at[1] != '\n')) see(ScanTrouble::line_ends);
    return past_line_end(at, end);
  }

  const char* record(const char* at, const char* end) {
    const std::size_t width = plan_.types.size();
    std::uint64_t gaps = 0;
    for (std::size_t c = 0; c < width; ++c) {
      ScanCell cell;
      if (!scan_cell(at, end, plan_.separator, plan_.quote, cell)) {
        see(ScanTrouble::quotes);
        return end;
      }
      const bool last = at >= end || *at != plan_.separator;
      if (last != (c + 1 == width)) {
        see(ScanTrouble::width);
        return end;
      }
      if (cell.text.empty()) gaps |= std::uint64_t{1} << c;
      take(c, cell);
      if (!last) ++at;
    }
    count_gaps(gaps);
    ++found_.records;
    return at < end ? past_line(at, end) : at;
  }

  void count_gaps(std::uint64_t cells) {
    for (Gaps& known : found_.gaps) {
      if (known.cells != cells) continue;
      ++known.records;
      return;
    }
    if (found_.gaps.size() == most_gaps) see(ScanTrouble::gaps);
    else found_.gaps.push_back({cells, 1});
  }

  void take(std::size_t c, const ScanCell& cell) {
    ScannedColumn& column = found_.columns[c];
    switch (plan_.types[c]) {
      case ScanType::number: take_number(c, column, cell); break;
      case ScanType::day: take_day(c, column, cell); break;
      case ScanType::skip: look_at(c, cell.text); break;
      default: take_text(c, column, cell);
    }
  }

  void take_number(std::size_t c, ScannedColumn& column, const ScanCell& cell) {
    double value = missing_real();
    bool fraction = false;
    if (!cell.text.empty() && !plain_number(cell.text, value, fraction)) see(ScanTrouble::type, c);
    column.whole = column.whole && !fraction;
    column.numbers.push_back(value);
  }

  void take_day(std::size_t c, ScannedColumn& column, const ScanCell& cell) {
    std::int32_t day = missing_int;
    if (!cell.text.empty() && !plain_day(cell.text, day)) see(ScanTrouble::type, c);
    column.codes.push_back(day);
  }

  void take_text(std::size_t c, ScannedColumn& column, const ScanCell& cell) {
    if (cell.text.empty()) {
      column.codes.push_back(missing_int);
      return;
    }
    const std::size_t known = column.dictionary.texts().size();
    const std::int32_t code = cell.doubled
      ? column.dictionary.code(without_doubled_quotes(cell.text, plan_.quote), false)
      : column.dictionary.code(cell.text, false);
    if (static_cast<std::size_t>(code) > known) look_at(c, cell.text);
    column.codes.push_back(code);
  }

  void look_at(std::size_t c, std::string_view text) {
    if (c == 0 && !text.empty() && text == plan_.first_name) see(ScanTrouble::furniture);
    if (says_total(text)) see(ScanTrouble::totals);
  }
};

// What a text, or a part of it, holds; `next` is the byte after it.
struct ScannedText {
  std::vector<ScannedBlock> blocks;
  std::size_t records = 0;
  std::size_t next = 0;
  ScanTrouble trouble = ScanTrouble::none;
  std::size_t column = 0;
};

inline int bits(std::uint64_t x) {
  int n = 0;
  for (; x != 0; x &= x - 1) ++n;
  return n;
}

// Records that lack what others have may be titles, footers or totals.
inline ScanTrouble trouble_of_gaps(const std::vector<ScannedBlock>& blocks, std::size_t width,
  std::size_t records) {
  std::vector<std::size_t> empty(width, 0);
  for (const ScannedBlock& block : blocks) {
    for (const Gaps& gaps : block.gaps)
      for (std::size_t c = 0; c < width; ++c) empty[c] += (gaps.cells >> c & 1) != 0 ? gaps.records : 0;
  }
  std::uint64_t always = 0;
  for (std::size_t c = 0; c < width; ++c) {
    const std::size_t filled = records - empty[c];
    if (filled > 0 && 2 * filled >= records) always |= std::uint64_t{1} << c;
  }
  const std::size_t lone = width > 1 ? width - 1 : width;
  for (const ScannedBlock& block : blocks) {
    for (const Gaps& gaps : block.gaps) {
      if (static_cast<std::size_t>(bits(gaps.cells)) >= lone) return ScanTrouble::furniture;
      const int lacking = bits(gaps.cells & always);
      if (lacking >= 2 && 2 * lacking >= bits(always)) return ScanTrouble::totals;
    }
  }
  return ScanTrouble::none;
}

// The types of columns that are open, from the first records.
inline ScanTrouble settle_types(ScanPlan& plan, std::string_view head) {
  constexpr std::size_t looked_at = 2000;
  ScannedBlock block = BlockScanner(plan).scan(head.data(), head.data() + head.size(), looked_at);
  if (block.trouble != ScanTrouble::none) return block.trouble;
  for (std::size_t c = 0; c < plan.types.size(); ++c) {
    if (plan.types[c] != ScanType::open) continue;
    const auto& texts = block.columns[c].dictionary.texts();
    auto all = [&](auto holds) { return !texts.empty() && std::all_of(texts.begin(), texts.end(), holds); };
    double value;
    bool fraction;
    std::int32_t day;
    if (all([&](std::string_view text) { return plain_number(text, value, fraction); }))
      plan.types[c] = ScanType::number;
    else if (all([&](std::string_view text) { return plain_day(text, day); }))
      plan.types[c] = ScanType::day;
    else plan.types[c] = ScanType::text;
  }
  return ScanTrouble::none;
}

// Scans what a source gives, block by block.
inline ScannedText scan_blocks(const ScanPlan& plan, ScanSource& source, int threads, Watch& watch) {
  ScannedText text;
  std::mutex taking;
  std::atomic<bool> ended{false};
  auto work = [&](bool tells) {
    std::vector<char> bytes;
    while (!ended) {
      if (tells) watch.at(source.done());
      else watch.go_on();
      std::size_t place;
      {
        std::lock_guard<std::mutex> lock(taking);
        if (ended || !source.next(bytes)) break;
        place = text.blocks.size();
        text.blocks.emplace_back();
      }
      ScannedBlock block = BlockScanner(plan).scan(bytes.data(), bytes.data() + bytes.size(),
        std::numeric_limits<std::size_t>::max());
      if (block.trouble != ScanTrouble::none) ended = true;
      std::lock_guard<std::mutex> lock(taking);
      text.blocks[place] = std::move(block);
    }
  };
  for_blocks(static_cast<std::size_t>(threads), threads, [&](int block, std::size_t, std::size_t) {
    work(block == 0);
  });
  text.next = source.at();
  for (const ScannedBlock& block : text.blocks) {
    text.records += block.records;
    if (block.trouble == ScanTrouble::none || text.trouble != ScanTrouble::none) continue;
    text.trouble = block.trouble;
    text.column = block.column;
  }
  if (text.trouble == ScanTrouble::none && source.trouble()) text.trouble = ScanTrouble::quotes;
  return text;
}

// The records of a part of a text. A type that does not hold for a whole column makes it one of
// texts, and the part is scanned again.
inline ScannedText scan_text(ScanPlan& plan, const std::string& path, std::size_t from, std::size_t bytes,
  int threads, Watch& watch) {
  ScannedText text;
  text.trouble = settle_types(plan, ScanSource(path, from, bytes, plan.quote).head());
  while (text.trouble == ScanTrouble::none) {
    ScanSource source(path, from, bytes, plan.quote);
    text = scan_blocks(plan, source, threads, watch);
    if (text.trouble != ScanTrouble::type) break;
    plan.types[text.column] = ScanType::text;
    text.trouble = ScanTrouble::none;
  }
  if (text.trouble == ScanTrouble::none)
    text.trouble = trouble_of_gaps(text.blocks, plan.types.size(), text.records);
  return text;
}

// One column of all blocks: the codes of its blocks become those of one dictionary.
inline void join_codes(std::vector<ScannedBlock>& blocks, std::size_t column, TextDictionary& whole,
  std::int32_t* out) {
  for (ScannedBlock& block : blocks) {
    ScannedColumn& own = block.columns[column];
    std::vector<std::int32_t> to;
    for (const std::string_view text : own.dictionary.texts()) to.push_back(whole.code(text, false));
    for (const std::int32_t code : own.codes)
      *out++ = code == missing_int ? missing_int : to[static_cast<std::size_t>(code) - 1];
    own = ScannedColumn();
  }
}

}  // namespace kernel
