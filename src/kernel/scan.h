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

// Of `spare` columns the type is found as of open ones, but they are passed over where their texts hardly
// come back: these cost more than the rest of the file, and may never be asked for.
enum class ScanType : int { spare = -2, open = -1, skip = 0, text = 1, number = 2, day = 3 };

enum class ScanTrouble { none, quotes, width, line_ends, bytes, furniture, totals, gaps, type };

// How the records of a text are cut, and what is wanted of each column.
struct ScanPlan {
  char separator;
  char quote;
  std::string first_name;  // the header of the first column, by which a repeated header is known
  std::string first_record;  // of the file, without its line end: an export that is appended repeats it
  std::vector<ScanType> types;
  bool keeps_totals = false;  // whether what may be a totals line is a line as any other
};

// Where the values of a column go, a place for each line of the text.
struct ScanTarget {
  double* numbers = nullptr;
  std::int32_t* codes = nullptr;  // days, or codes of texts
};

// Which cells of a record are empty, a bit for each column, and how many records are like that.
struct Gaps {
  std::uint64_t cells;
  std::size_t records;
};

constexpr std::size_t most_scanned_columns = 64;
constexpr std::size_t most_gaps = 1000;

// A block of records: `first` is the place of the first of them, `lines` how many could be there.
struct ScannedBlock {
  std::size_t first = 0;
  std::size_t lines = 0;
  std::size_t records = 0;
  std::vector<TextDictionary> dictionaries;  // of each column, the texts of this block
  std::vector<Gaps> gaps;
  std::uint64_t fractions = 0;  // a bit for each column of numbers where one has a fraction
  std::uint64_t decimals = 0;   // and where one has a fraction that can be nothing else
  std::size_t repeats = 0;      // how many records are the first record of the file once more
  ScanTrouble trouble = ScanTrouble::none;
  std::size_t column = 0;  // where a type does not hold
};

class BlockScanner {
 public:
  BlockScanner(const ScanPlan& plan, const std::vector<ScanTarget>& targets, std::size_t first)
      : plan_(plan), targets_(targets), row_(first) {
    for (const ScanType type : plan.types)
      found_.dictionaries.emplace_back(is_text(type) ? 1024 : 1);
  }

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
  const std::vector<ScanTarget>& targets_;
  std::size_t row_;
  ScannedBlock found_;

  static bool is_text(ScanType type) {
    return type == ScanType::text || type == ScanType::open || type == ScanType::spare;
  }

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
    if (begins_alike(at, end)) ++found_.repeats;
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
      if (is_empty(cell.text)) {
        cell.text = {};
        gaps |= std::uint64_t{1} << c;
      }
      take(c, cell);
      if (!last) ++at;
    }
    count_gaps(gaps);
    ++found_.records;
    ++row_;
    return at < end ? past_line(at, end) : at;
  }

  bool begins_alike(const char* at, const char* end) const {
    const std::string& first = plan_.first_record;
    if (first.empty() || static_cast<std::size_t>(end - at) < first.size() || *at != first[0]) return false;
    if (std::memcmp(at, first.data(), first.size()) != 0) return false;
    const char* behind = at + first.size();
    return behind == end || is_line_end(*behind);
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
    switch (plan_.types[c]) {
      case ScanType::number: take_number(c, cell); break;
      case ScanType::day: take_day(c, cell); break;
      case ScanType::skip: look_at(c, cell.text); break;
      default: targets_[c].codes[row_] = cell.text.empty() ? missing_int : code_of(c, cell);
    }
  }

  void take_number(std::size_t c, const ScanCell& cell) {
    double value = missing_real();
    Point point = Point::none;
    if (!cell.text.empty() && !plain_number(cell.text, value, point)) see(ScanTrouble::type, c);
    if (point != Point::none) found_.fractions |= std::uint64_t{1} << c;
    if (point == Point::decimal) found_.decimals |= std::uint64_t{1} << c;
    targets_[c].numbers[row_] = value;
  }

  void take_day(std::size_t c, const ScanCell& cell) {
    std::int32_t day = missing_int;
    if (!cell.text.empty() && !plain_day(cell.text, day)) see(ScanTrouble::type, c);
    targets_[c].codes[row_] = day;
  }

  std::int32_t code_of(std::size_t c, const ScanCell& cell) {
    TextDictionary& dictionary = found_.dictionaries[c];
    const std::size_t known = dictionary.texts().size();
    const std::int32_t code = cell.doubled
      ? dictionary.code(without_doubled_quotes(cell.text, plan_.quote), false)
      : dictionary.code(cell.text, false);
    if (static_cast<std::size_t>(code) > known) look_at(c, cell.text);
    return code;
  }

  void look_at(std::size_t c, std::string_view text) {
    const bool marked = text.substr(0, 3) == "\xef\xbb\xbf";  // an order mark: a file was appended here
    if (c == 0 && !text.empty() && (without_blanks(text) == plan_.first_name || marked)) see(ScanTrouble::furniture);
    if (!plan_.keeps_totals && says_total(text)) see(ScanTrouble::totals);
  }
};

// What a text, or a part of it, holds; `next` is the byte after it.
struct ScannedText {
  std::vector<ScannedBlock> blocks;
  std::size_t lines = 0;
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

// Whether of the texts in the later half of some records one in fifty stood in the earlier half: so it is
// of up to some 50,000 texts that take turns, and of numbers of orders it is not.
inline bool come_back(const std::vector<std::int32_t>& codes, std::size_t records) {
  const auto half = codes.begin() + static_cast<std::ptrdiff_t>(records / 2);
  const auto end = codes.begin() + static_cast<std::ptrdiff_t>(records);
  const std::int32_t known = half == codes.begin() ? 0 : *std::max_element(codes.begin(), half);
  const auto back = std::count_if(half, end, [&](std::int32_t code) { return code <= known; });
  return 50 * back >= end - half;
}

constexpr std::size_t looked_at = 2000;

// The types of columns that are open, from the first records.
inline ScanTrouble settle_types(ScanPlan& plan, std::string_view head) {
  const std::size_t width = plan.types.size();
  std::vector<std::vector<double>> numbers(width, std::vector<double>(looked_at));
  std::vector<std::vector<std::int32_t>> codes(width, std::vector<std::int32_t>(looked_at));
  std::vector<ScanTarget> targets;
  for (std::size_t c = 0; c < width; ++c) targets.push_back({numbers[c].data(), codes[c].data()});
  ScannedBlock block = BlockScanner(plan, targets, 0).scan(head.data(), head.data() + head.size(), looked_at);
  if (block.trouble != ScanTrouble::none) return block.trouble;
  for (std::size_t c = 0; c < width; ++c) {
    const bool spare = plan.types[c] == ScanType::spare;
    if (plan.types[c] != ScanType::open && !spare) continue;
    const auto& texts = block.dictionaries[c].texts();
    auto all = [&](auto holds) { return !texts.empty() && std::all_of(texts.begin(), texts.end(), holds); };
    double value;
    Point point;
    std::int32_t day;
    if (all([&](std::string_view text) { return plain_number(text, value, point); }))
      plan.types[c] = ScanType::number;
    else if (all([&](std::string_view text) { return plain_day(text, day); })) plan.types[c] = ScanType::day;
    else if (spare && block.records == looked_at && !come_back(codes[c], looked_at))
      plan.types[c] = ScanType::skip;
    else plan.types[c] = ScanType::text;
  }
  return ScanTrouble::none;
}

// How many lines a source has, each of which may be a record.
inline std::size_t count_lines(ScanSource source) {
  std::vector<char> bytes;
  std::size_t lines = 0;
  while (source.next(bytes)) lines += lines_of(bytes);
  return lines;
}

// Scans what a source gives, block by block, into the targets, which have a place for each line.
inline ScannedText scan_blocks(const ScanPlan& plan, const std::vector<ScanTarget>& targets,
  std::size_t places, ScanSource& source, int threads, Watch& watch) {
  ScannedText text;
  std::mutex taking;
  std::atomic<bool> ended{false};
  auto work = [&](bool tells) {
    std::vector<char> bytes;
    while (!ended) {
      if (tells) watch.at(source.done());
      else watch.go_on();
      std::size_t place;
      std::size_t first;
      std::size_t lines;
      {
        std::lock_guard<std::mutex> lock(taking);
        if (ended || !source.next(bytes)) break;
        place = text.blocks.size();
        text.blocks.emplace_back();
        first = text.lines;
        lines = lines_of(bytes);
        text.lines += lines;
        if (text.lines > places) throw FileTrouble("it changed while it was read");
      }
      ScannedBlock block = BlockScanner(plan, targets, first).scan(bytes.data(), bytes.data() + bytes.size(),
        std::numeric_limits<std::size_t>::max());
      block.first = first;
      block.lines = lines;
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
  if (text.trouble == ScanTrouble::none)
    text.trouble = trouble_of_gaps(text.blocks, plan.types.size(), text.records);
  return text;
}

// A bit for each column, from the blocks.
inline std::uint64_t bits_of_blocks(const std::vector<ScannedBlock>& blocks, std::uint64_t ScannedBlock::*bits) {
  std::uint64_t all = 0;
  for (const ScannedBlock& block : blocks) all |= block.*bits;
  return all;
}

// Values of blocks moved together, where lines between them were empty.
template <class Value>
void close_ranks(const std::vector<ScannedBlock>& blocks, Value* values) {
  std::size_t to = 0;
  for (const ScannedBlock& block : blocks) {
    if (to != block.first) std::copy_n(values + block.first, block.records, values + to);
    to += block.records;
  }
}

// The codes of the blocks of a column become those of one dictionary.
inline void join_codes(const std::vector<ScannedBlock>& blocks, std::size_t column, TextDictionary& whole,
  std::int32_t* codes) {
  for (const ScannedBlock& block : blocks) {
    std::vector<std::int32_t> to;
    for (const std::string_view text : block.dictionaries[column].texts())
      to.push_back(whole.code(text, false));
    for (std::size_t row = block.first; row < block.first + block.records; ++row)
      if (codes[row] != missing_int) codes[row] = to[static_cast<std::size_t>(codes[row]) - 1];
  }
}

}  // namespace kernel
