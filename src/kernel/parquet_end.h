// The end of a Parquet file (Apache Parquet, "parquet.thrift"): what its columns are called, how many
// rows it has, and where its row groups lie; and a smaller file that holds some of these only.
#pragma once
#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <stdexcept>
#include <string>
#include <utility>
#include <vector>
#include "arrow_fields.h"
#include "thrift.h"

namespace kernel {

struct DamagedParquet : std::runtime_error {
  DamagedParquet() : std::runtime_error("it is damaged, or not what its ending says") {}
};

// Bytes from `from` to before `to`.
struct ByteRange {
  std::int64_t from = 0;
  std::int64_t to = 0;
};

enum class ParquetPacking { none = 0, snappy = 1 };

// The values of a column in a row group.
struct ParquetChunk {
  ByteRange bytes;   // of the file
  int packing = -1;  // ParquetPacking, or another
};

struct RowGroup {
  std::int64_t rows = 0;
  std::int64_t bytes = 0;  // once unpacked
  std::vector<ParquetChunk> columns;
  ByteRange described;     // of the file's end, where the group is described
};

// What columns hold that are read here; `other`: all else.
enum class ParquetKind { other, whole, day, wide, number, text, moment, decimal };

struct ParquetColumn {
  std::string name;
  int type = -1;       // of the values as they lie in the file: 2 is whole, 4 and 5 are numbers, 6 is text
  bool plain = true;   // nothing more is said of what they mean
  int meaning = -1;    // what is said of it in the older way
  int scale = 0;       // decimals of numbers that lie there as whole ones
  int repetition = 0;  // 0: each row has a value; 1: it may be missing; 2: it may have several
  bool more = false;   // more is said of it elsewhere: it is a set of words or a duration

  ParquetKind kind() const {
    if (more || repetition < 0 || repetition > 1) return ParquetKind::other;
    if (type == 5 && plain) return ParquetKind::number;
    if (type == 6 && meaning == 0) return ParquetKind::text;
    if ((type == 1 || type == 2) && meaning == 5 && scale >= 0 && scale <= 15) return ParquetKind::decimal;
    return type == 1 ? short_kind() : type == 2 ? long_kind() : ParquetKind::other;
  }

  // The unit in which the values lie there.
  double unit() const {
    if (kind() == ParquetKind::moment) return meaning == 9 ? 1e3 : 1e6;
    return std::pow(10.0, scale);
  }

 private:
  // 6: days; 15 to 17: whole numbers of 8 to 32 bits.
  ParquetKind short_kind() const {
    if (meaning == 6) return ParquetKind::day;
    return plain || (meaning >= 15 && meaning <= 17) ? ParquetKind::whole : ParquetKind::other;
  }

  // 9 and 10: thousandths and millionths of a second; 18: whole numbers of 64 bits.
  ParquetKind long_kind() const {
    if (meaning == 9 || meaning == 10) return ParquetKind::moment;
    return plain || meaning == 18 ? ParquetKind::wide : ParquetKind::other;
  }
};

class ParquetEnd {
 public:
  // bytes: the end of the file, without its length and mark; file: how many bytes stand before it.
  ParquetEnd(std::vector<unsigned char> bytes, std::int64_t file) : bytes_(std::move(bytes)), file_(file) {
    try {
      read();
    } catch (const DamagedBytes&) {
      throw DamagedParquet();
    }
    std::int64_t left = rows_;
    for (const auto& group : groups_) {
      if (group.rows > left || group.columns.size() != columns_.size()) throw DamagedParquet();
      left -= group.rows;
    }
    if (left != 0) throw DamagedParquet();
  }

  const std::vector<ParquetColumn>& columns() const { return columns_; }
  const std::vector<RowGroup>& groups() const { return groups_; }
  std::int64_t rows() const { return rows_; }

  // Whether a column is of a kind and packed in a way that are read here.
  bool is_common(std::size_t column) const {
    if (columns_.at(column).kind() == ParquetKind::other) return false;
    return std::all_of(groups_.begin(), groups_.end(), [column](const RowGroup& group) {
      const int packing = group.columns[column].packing;
      return packing == static_cast<int>(ParquetPacking::none) || packing == static_cast<int>(ParquetPacking::snappy);
    });
  }

  // The end of a file that holds the row groups from `first` to before `last` only, each at its place.
  std::vector<unsigned char> end_of(std::size_t first, std::size_t last) const {
    std::vector<unsigned char> end(bytes_.begin(), bytes_.begin() + rows_said_.from);
    std::int64_t rows = 0;
    for (std::size_t g = first; g < last; ++g) rows += groups_[g].rows;
    auto append = [&](std::int64_t from, std::int64_t to) {
      end.insert(end.end(), bytes_.begin() + from, bytes_.begin() + to);
    };
    append_whole(end, rows);
    append(rows_said_.to, list_said_.from);
    // All lists are said in their long form: 15, then the count.
    end.push_back(static_cast<unsigned char>(0xf0u | static_cast<unsigned>(ThriftType::structure)));
    append_varint(end, last - first);
    for (std::size_t g = first; g < last; ++g) append(groups_[g].described.from, groups_[g].described.to);
    append(list_said_.to, static_cast<std::int64_t>(bytes_.size()));
    return end;
  }

 private:
  std::vector<unsigned char> bytes_;
  std::int64_t file_;
  std::vector<ParquetColumn> columns_;
  std::vector<RowGroup> groups_;
  std::int64_t rows_ = -1;
  ByteRange rows_said_;
  ByteRange list_said_;
  bool nested_ = false;
  std::string arrow_;

  void read() {
    ThriftReader in(bytes_.data(), bytes_.size());
    in.structure([&](std::int64_t id, ThriftType type) {
      if (id == 2 && type == ThriftType::list) read_columns(in);
      else if (id == 3 && type == ThriftType::i64) {
        rows_said_.from = place(in);
        rows_ = in.whole();
        rows_said_.to = place(in);
      } else if (id == 4 && type == ThriftType::list) {
        list_said_.from = place(in);
        read_groups(in);
        list_said_.to = place(in);
      } else if (id == 5 && type == ThriftType::list) read_words(in);
      else return false;
      return true;
    });
    if (list_said_.to == 0 || rows_said_.to > list_said_.from) throw DamagedParquet();
    for (std::size_t i = 0; i < columns_.size(); ++i) columns_[i].more = columns_[i].more || nested_;
    if (!arrow_.empty()) read_more();
  }

  static std::int64_t place(const ThriftReader& in) { return static_cast<std::int64_t>(in.place()); }

  // Of the tree of columns those that hold values.
  void read_columns(ThriftReader& in) {
    const ThriftReader::List list = in.list();
    if (list.type != ThriftType::structure) throw DamagedParquet();
    for (std::size_t i = 0; i < list.count; ++i) {
      ParquetColumn column;
      std::int64_t children = 0;
      in.structure([&](std::int64_t id, ThriftType type) {
        if (id == 1 && type == ThriftType::i32) column.type = static_cast<int>(in.whole());
        else if (id == 3 && type == ThriftType::i32) column.repetition = static_cast<int>(in.whole());
        else if (id == 4 && type == ThriftType::binary) column.name = in.text();
        else if (id == 5 && type == ThriftType::i32) children = in.whole();
        else if (id == 6 && type == ThriftType::i32) column.meaning = static_cast<int>(in.whole());
        else if (id == 7 && type == ThriftType::i32) column.scale = static_cast<int>(in.whole());
        else {
          column.plain = column.plain && id != 10;
          return false;
        }
        column.plain = column.plain && id != 6;
        return true;
      });
      // The first is the root of the tree.
      if (i > 0 && children == 0) columns_.push_back(std::move(column));
      nested_ = nested_ || (i > 0 && children != 0);
    }
  }

  // Pairs of words, one of which may tell more of the columns.
  void read_words(ThriftReader& in) {
    const ThriftReader::List list = in.list();
    if (list.type != ThriftType::structure) throw DamagedParquet();
    for (std::size_t i = 0; i < list.count; ++i) {
      std::string key, value;
      in.structure([&](std::int64_t id, ThriftType type) {
        if (type != ThriftType::binary || id > 2) return false;
        (id == 1 ? key : value) = in.text();
        return true;
      });
      if (key == "ARROW:schema") arrow_ = std::move(value);
    }
  }

  // What is not understood may be anything.
  void read_more() {
    const auto more = arrow_fields(arrow_);
    const bool known = more && more->size() == columns_.size();
    for (std::size_t i = 0; i < columns_.size(); ++i)
      columns_[i].more = columns_[i].more || !known || (*more)[i];
  }

  void read_groups(ThriftReader& in) {
    const ThriftReader::List list = in.list();
    if (list.type != ThriftType::structure) throw DamagedParquet();
    for (std::size_t i = 0; i < list.count; ++i) {
      RowGroup group;
      group.described.from = place(in);
      in.structure([&](std::int64_t id, ThriftType type) {
        if (id == 1 && type == ThriftType::list) read_chunks(in, group);
        else if (id == 2 && type == ThriftType::i64) group.bytes = in.whole();
        else if (id == 3 && type == ThriftType::i64) group.rows = in.whole();
        else return false;
        return true;
      });
      group.described.to = place(in);
      if (group.rows < 0) throw DamagedParquet();
      groups_.push_back(std::move(group));
    }
  }

  void read_chunks(ThriftReader& in, RowGroup& group) {
    const ThriftReader::List list = in.list();
    if (list.type != ThriftType::structure) throw DamagedParquet();
    for (std::size_t i = 0; i < list.count; ++i) {
      in.structure([&](std::int64_t id, ThriftType type) {
        if (id != 3 || type != ThriftType::structure) return false;
        group.columns.push_back(read_chunk(in));
        return true;
      });
    }
  }

  // From its dictionary, or its first page, as many bytes as it takes.
  ParquetChunk read_chunk(ThriftReader& in) {
    std::int64_t bytes = -1, pages = -1, dictionary = 0;
    ParquetChunk chunk;
    in.structure([&](std::int64_t id, ThriftType type) {
      if (id == 4 && type == ThriftType::i32) chunk.packing = static_cast<int>(in.whole());
      else if (type != ThriftType::i64) return false;
      else if (id == 7) bytes = in.whole();
      else if (id == 9) pages = in.whole();
      else if (id == 11) dictionary = in.whole();
      else return false;
      return true;
    });
    const std::int64_t from = dictionary > 0 ? std::min(dictionary, pages) : pages;
    if (from < 0 || bytes < 0 || from > file_ || bytes > file_ - from) throw DamagedParquet();
    chunk.bytes = {from, from + bytes};
    return chunk;
  }
};

}  // namespace kernel
