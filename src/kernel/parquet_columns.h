// Columns of Parquet files in the form that most programs write (Apache Parquet, "Data Pages" and
// "Encodings"): values as they are or as places in a dictionary, packed by Snappy or not at all. Any
// other form is left to others.
#pragma once
#include <atomic>
#include <cstring>
#include <fstream>
#include <memory>
#include <string_view>
#include "bit_runs.h"
#include "blocks.h"
#include "columns.h"
#include "parquet_file.h"
#include "snappy.h"
#include "text_dictionary.h"
#include "watch.h"

namespace kernel {

// A form that is not read here.
struct OtherForm : std::runtime_error {
  OtherForm() : std::runtime_error("another form") {}
};

// A stretch of bytes that is read from its beginning.
class ByteRun {
 public:
  ByteRun(const unsigned char* bytes, std::size_t n) : at_(bytes), end_(bytes + n) {}

  const unsigned char* bytes() const { return at_; }
  std::size_t left() const { return static_cast<std::size_t>(end_ - at_); }

  ByteRun take(std::size_t n) {
    if (n > left()) throw DamagedParquet();
    at_ += n;
    return ByteRun(at_ - n, n);
  }
  std::size_t take_length() { return static_cast<std::size_t>(little_endian(take(4).bytes(), 4)); }

 private:
  const unsigned char* at_;
  const unsigned char* end_;
};

enum class PageKind { rows = 0, dictionary = 2, rows_2 = 3 };
enum class PageForm { values = 0, old_places = 2, runs = 3, places = 8 };

// What stands above a page.
struct PageHead {
  int kind = -1;
  std::int64_t unpacked = -1;
  std::int64_t packed = -1;
  std::int64_t values = -1;
  int form = -1;
  int levels_form = static_cast<int>(PageForm::runs);
  std::int64_t levels = 0;   // bytes of them, in pages of the second kind
  std::int64_t repeats = 0;  // the same of those of lists
  bool is_packed = true;

  bool is_of_places() const {
    return form == static_cast<int>(PageForm::old_places) || form == static_cast<int>(PageForm::places);
  }
};

inline PageHead page_head(ByteRun& bytes) {
  ThriftReader in(bytes.bytes(), bytes.left());
  PageHead head;
  auto number = [&](std::int64_t& to) { return to = in.whole(), true; };
  auto word = [&](int& to) { return to = static_cast<int>(in.whole()), true; };
  auto rows = [&](std::int64_t id, ThriftType type) {
    if (type != ThriftType::i32) return false;
    return id == 1 ? number(head.values) : id == 2 ? word(head.form) : id == 3 && word(head.levels_form);
  };
  auto rows_2 = [&](std::int64_t id, ThriftType type) {
    if (id == 7) head.is_packed = type == ThriftType::yes;
    if (type != ThriftType::i32) return false;
    return id == 1 ? number(head.values) : id == 4 ? word(head.form)
      : id == 5 ? number(head.levels) : id == 6 && number(head.repeats);
  };
  in.structure([&](std::int64_t id, ThriftType type) {
    if (type == ThriftType::i32)
      return id == 1 ? word(head.kind) : id == 2 ? number(head.unpacked) : id == 3 && number(head.packed);
    if (type != ThriftType::structure) return false;
    if (id == 5 || id == 7) in.structure(rows);
    else if (id == 8) in.structure(rows_2);
    else return false;
    return true;
  });
  if (head.unpacked < 0 || head.packed < 0 || head.levels < 0) throw DamagedParquet();
  bytes.take(in.place());
  return head;
}

// Values that all take as many bytes, whole numbers of a unit among them.
template <class Raw, class Value>
class FixedValues {
 public:
  explicit FixedValues(Value* values, double unit = 1) : values_(values), unit_(unit) {}

  void learn(ByteRun bytes, std::size_t n) {
    if (n > bytes.left() / sizeof(Raw)) throw DamagedParquet();
    known_.resize(n);
    copy(bytes, n, known_.data());
  }

  void take(ByteRun bytes, std::size_t row, std::size_t n) {
    if (n > bytes.left() / sizeof(Raw)) throw DamagedParquet();
    copy(bytes, n, values_ + row);
  }

  void take(const std::vector<std::uint32_t>& places, std::size_t row, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) {
      if (places[i] >= known_.size()) throw DamagedParquet();
      values_[row + i] = known_[places[i]];
    }
  }

  Value* values() { return values_; }
  static Value missing() {
    if constexpr (std::is_same_v<Value, double>) return missing_real();
    else return missing_int;
  }

 private:
  Value* values_;
  double unit_;
  std::vector<Value> known_;

  void copy(ByteRun bytes, std::size_t n, Value* to) const {
    for (std::size_t i = 0; i < n; ++i) {
      Raw raw;
      std::memcpy(&raw, bytes.bytes() + i * sizeof(Raw), sizeof(Raw));
      to[i] = value_of(raw);
    }
  }

  Value value_of(Raw raw) const {
    if constexpr (std::is_same_v<Raw, Value>) {
      return raw;
    } else {
      // Larger ones are more than a double holds.
      constexpr std::int64_t most = std::int64_t{1} << 53;
      if (raw >= most || raw <= -most) throw OtherForm();
      return static_cast<double>(raw) / unit_;
    }
  }
};

// Texts as codes of a dictionary, in the order in which they first appear in the rows.
class TextValues {
 public:
  TextValues(std::int32_t* codes, TextDictionary& texts) : codes_(codes), texts_(texts) {}

  void learn(ByteRun bytes, std::size_t n) {
    if (n > bytes.left() / 4) throw DamagedParquet();
    known_.clear();
    for (std::size_t i = 0; i < n; ++i) known_.emplace_back(text(bytes));
    codes_of_known_.assign(n, 0);
  }

  void take(ByteRun bytes, std::size_t row, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) codes_[row + i] = texts_.code(text(bytes), false);
  }

  void take(const std::vector<std::uint32_t>& places, std::size_t row, std::size_t n) {
    for (std::size_t i = 0; i < n; ++i) {
      if (places[i] >= known_.size()) throw DamagedParquet();
      std::int32_t& code = codes_of_known_[places[i]];
      if (code == 0) code = texts_.code(known_[places[i]], false);
      codes_[row + i] = code;
    }
  }

  std::int32_t* values() { return codes_; }
  static std::int32_t missing() { return missing_int; }

 private:
  std::int32_t* codes_;
  TextDictionary& texts_;
  std::vector<std::string> known_;
  std::vector<std::int32_t> codes_of_known_;

  static std::string_view text(ByteRun& bytes) {
    const ByteRun text = bytes.take(bytes.take_length());
    if (text.left() > 0 && std::memchr(text.bytes(), 0, text.left()) != nullptr) throw DamagedParquet();
    return {reinterpret_cast<const char*>(text.bytes()), text.left()};
  }
};

// The pages of a column in a row group, put where its rows begin.
template <class Values>
class ChunkReader {
 public:
  ChunkReader(ParquetPacking packing, bool optional, Values values)
    : packing_(packing), optional_(optional), values_(std::move(values)) {}

  void read(ByteRun bytes, std::size_t row, std::size_t rows) {
    for (const std::size_t end = row + rows; row < end;) {
      const PageHead head = page_head(bytes);
      const ByteRun page = bytes.take(static_cast<std::size_t>(head.packed));
      if (head.kind == static_cast<int>(PageKind::dictionary)) read_dictionary(head, page);
      else if (head.kind != 1) row += read_rows(head, page, row, end - row);  // 1: an index
    }
  }

 private:
  ParquetPacking packing_;
  bool optional_;
  Values values_;
  std::vector<std::uint32_t> levels_;
  std::vector<std::uint32_t> places_;

  // As bytes of its own, or as they lie there.
  ByteRun unpacked(ByteRun packed, std::int64_t size, bool is_packed, SnappyReader::Bytes& held) const {
    if (packing_ == ParquetPacking::none || !is_packed) return packed;
    held = SnappyReader(packed.bytes(), packed.left()).unpacked(static_cast<std::size_t>(size));
    return ByteRun(held.get(), static_cast<std::size_t>(size));
  }

  static std::size_t count_of(std::int64_t said) {
    if (said < 0) throw DamagedParquet();
    return static_cast<std::size_t>(said);
  }

  void read_dictionary(const PageHead& head, ByteRun page) {
    if (head.form != static_cast<int>(PageForm::values) && !head.is_of_places()) throw OtherForm();
    SnappyReader::Bytes held;
    values_.learn(unpacked(page, head.unpacked, true, held), count_of(head.values));
  }

  std::size_t read_rows(const PageHead& head, ByteRun page, std::size_t row, std::size_t most) {
    const bool second = head.kind == static_cast<int>(PageKind::rows_2);
    if (!second && head.kind != static_cast<int>(PageKind::rows)) throw OtherForm();
    if (head.levels_form != static_cast<int>(PageForm::runs) || head.repeats != 0) throw OtherForm();
    const std::size_t rows = count_of(head.values);
    if (rows > most) throw DamagedParquet();
    SnappyReader::Bytes held;
    std::size_t known = rows;
    if (second) {
      const ByteRun levels = page.take(static_cast<std::size_t>(head.levels));
      page = unpacked(page, head.unpacked - head.levels, head.is_packed, held);
      if (optional_) known = read_levels(levels, rows);
    } else {
      page = unpacked(page, head.unpacked, true, held);
      if (optional_) known = read_levels(page.take(page.take_length()), rows);
    }
    if (known > 0) read_values(head, page, row, known);
    if (known < rows) spread(row, rows, known);
    return rows;
  }

  // How many of the rows have a value.
  std::size_t read_levels(ByteRun bytes, std::size_t rows) {
    levels_.resize(rows);
    BitRuns(bytes.bytes(), bytes.left(), 1).read(levels_.data(), rows);
    return static_cast<std::size_t>(std::count(levels_.begin(), levels_.end(), 1u));
  }

  void read_values(const PageHead& head, ByteRun bytes, std::size_t row, std::size_t n) {
    if (head.form == static_cast<int>(PageForm::values)) return values_.take(bytes, row, n);
    if (!head.is_of_places()) throw OtherForm();
    const unsigned width = *bytes.take(1).bytes();
    places_.resize(n);
    BitRuns(bytes.bytes(), bytes.left(), width).read(places_.data(), n);
    values_.take(places_, row, n);
  }

  // Values that lie side by side move to their rows, from the last on.
  void spread(std::size_t row, std::size_t rows, std::size_t known) {
    auto* values = values_.values() + row;
    for (std::size_t i = rows; i-- > 0;) values[i] = levels_[i] == 1 ? values[--known] : values_.missing();
  }
};

// Where the values of a column go: days, whole numbers and codes of texts, or doubles.
struct ParquetTarget {
  std::int32_t* ints = nullptr;
  double* doubles = nullptr;
};

class ParquetColumns {
 public:
  // The row groups from `first` to before `last`.
  ParquetColumns(const std::string& path, const ParquetEnd& end, std::size_t first, std::size_t last,
    const std::vector<std::size_t>& places, const std::vector<ParquetTarget>& targets)
    : path_(path), end_(end), first_(first), last_(last), places_(places), targets_(targets),
      other_(new std::atomic<bool>[places.size()]) {
    for (std::size_t i = 0; i < places.size(); ++i) other_[i] = !end.is_common(places[i]);
  }

  void read(int threads, Watch& watch) {
    const std::size_t chunks = places_.size() * (last_ - first_);
    texts_.resize(places_.size());
    for (auto& texts : texts_) texts.resize(static_cast<std::size_t>(threads));
    reader_.assign(chunks, 0);
    std::atomic<std::size_t> next{0};
    threads = static_cast<int>(std::min(static_cast<std::size_t>(threads), std::max<std::size_t>(chunks, 1)));
    for_blocks(static_cast<std::size_t>(threads), threads, [&](int block, std::size_t, std::size_t) {
      for (std::size_t at = next++; at < chunks; at = next++) {
        if (block == 0) watch.at(static_cast<double>(at) / static_cast<double>(chunks));
        else watch.go_on();
        reader_[at] = static_cast<std::size_t>(block);
        read_chunk(at % places_.size(), at / places_.size());
      }
    });
  }

  // Whether the column in a place was in a form that is not read here.
  bool is_other(std::size_t place) const { return other_[place]; }

  // The codes of the readers become those of one dictionary, in the order of the rows.
  void join_texts(std::size_t place, TextDictionary& whole) const {
    std::vector<std::vector<std::int32_t>> to;
    for (const auto& texts : texts_[place]) to.emplace_back(texts.texts().size(), 0);
    std::int32_t* codes = targets_[place].ints;
    for (std::size_t g = 0; g < last_ - first_; ++g) {
      const std::size_t reader = reader_[chunk_at(place, g)];
      for (std::int32_t* end = codes + rows_of(g); codes < end; ++codes) {
        if (*codes == missing_int) continue;
        std::int32_t& code = to[reader][static_cast<std::size_t>(*codes) - 1];
        if (code == 0) code = whole.code(texts_[place][reader].texts()[static_cast<std::size_t>(*codes) - 1], false);
        *codes = code;
      }
    }
  }

 private:
  const std::string& path_;
  const ParquetEnd& end_;
  std::size_t first_;
  std::size_t last_;
  std::vector<std::size_t> places_;
  std::vector<ParquetTarget> targets_;
  std::unique_ptr<std::atomic<bool>[]> other_;
  std::vector<std::vector<TextDictionary>> texts_;  // of each column, by its readers
  std::vector<std::size_t> reader_;                 // of each chunk

  const ParquetColumn& column(std::size_t place) const { return end_.columns().at(places_[place]); }
  ParquetKind kind(std::size_t place) const { return column(place).kind(); }
  const ParquetChunk& chunk(std::size_t place, std::size_t group) const {
    return end_.groups().at(group).columns.at(places_[place]);
  }

  std::size_t chunk_at(std::size_t place, std::size_t group) const { return group * places_.size() + place; }

  // Groups are counted from the first that is read.
  std::size_t rows_of(std::size_t group) const {
    return static_cast<std::size_t>(end_.groups()[first_ + group].rows);
  }

  std::size_t row_of(std::size_t group) const {
    std::size_t row = 0;
    for (std::size_t g = 0; g < group; ++g) row += rows_of(g);
    return row;
  }

  void read_chunk(std::size_t place, std::size_t group) {
    if (other_[place]) return;
    const ByteRange range = chunk(place, first_ + group).bytes;
    std::vector<unsigned char> bytes(static_cast<std::size_t>(range.to - range.from));
    std::ifstream file(path_, std::ios::binary);
    read_at(file, range.from, bytes.data(), range.to - range.from);
    try {
      take(ByteRun(bytes.data(), bytes.size()), place, group);
    } catch (const OtherForm&) {
      other_[place] = true;
    } catch (const DamagedBytes&) {
      throw DamagedParquet();
    }
  }

  void take(ByteRun bytes, std::size_t place, std::size_t group) {
    const ParquetTarget& to = targets_[place];
    const double unit = column(place).unit();
    const bool is_short = column(place).type == 1;
    switch (kind(place)) {
      case ParquetKind::whole:
      case ParquetKind::day: return take(bytes, place, group, FixedValues<std::int32_t, std::int32_t>(to.ints));
      case ParquetKind::decimal:
        if (is_short) return take(bytes, place, group, FixedValues<std::int32_t, double>(to.doubles, unit));
        return take(bytes, place, group, FixedValues<std::int64_t, double>(to.doubles, unit));
      case ParquetKind::moment:
      case ParquetKind::wide: return take(bytes, place, group, FixedValues<std::int64_t, double>(to.doubles, unit));
      case ParquetKind::number: return take(bytes, place, group, FixedValues<double, double>(to.doubles));
      case ParquetKind::text:
        return take(bytes, place, group, TextValues(to.ints, texts_[place][reader_[chunk_at(place, group)]]));
      case ParquetKind::other: throw OtherForm();
    }
  }

  template <class Values>
  void take(ByteRun bytes, std::size_t place, std::size_t group, Values values) {
    const auto packing = static_cast<ParquetPacking>(chunk(place, first_ + group).packing);
    ChunkReader<Values>(packing, column(place).repetition == 1, std::move(values))
      .read(bytes, row_of(group), rows_of(group));
  }
};

}  // namespace kernel
