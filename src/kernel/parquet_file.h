// Parquet files on disk: their end as it stands there, and some of their row groups as a file.
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <fstream>
#include <ios>
#include <string>
#include <vector>
#include "parquet_end.h"

namespace kernel {

constexpr std::int64_t parquet_mark_bytes = 4;
inline const char* parquet_mark() { return "PAR1"; }

inline void read_at(std::ifstream& file, std::int64_t at, void* to, std::int64_t n) {
  file.seekg(at);
  if (!file.read(static_cast<char*>(to), n)) throw DamagedParquet();
}

inline ParquetEnd parquet_end(const std::string& path) {
  std::ifstream file(path, std::ios::binary | std::ios::ate);
  const std::int64_t size = file ? static_cast<std::int64_t>(file.tellg()) : -1;
  if (size < 3 * parquet_mark_bytes) throw DamagedParquet();
  unsigned char last[8];
  read_at(file, size - 8, last, 8);
  const auto length = static_cast<std::int64_t>(little_endian(last, 4));
  const std::int64_t from = size - 8 - length;
  if (std::memcmp(last + 4, parquet_mark(), 4) != 0 || from < parquet_mark_bytes) throw DamagedParquet();
  std::vector<unsigned char> end(static_cast<std::size_t>(length));
  read_at(file, from, end.data(), length);
  return ParquetEnd(std::move(end), from);
}

// Some row groups with some columns as a file of their own, in which all bytes lie where they lie in the
// whole: what is left out is a hole. Nothing but the wanted columns can be read from it.
inline void write_row_groups(const std::string& path, const ParquetEnd& whole, std::size_t first,
  std::size_t last, const std::vector<std::size_t>& columns, const std::string& to) {
  std::ifstream from(path, std::ios::binary);
  std::ofstream out(to, std::ios::binary | std::ios::trunc);
  out.exceptions(std::ios::failbit | std::ios::badbit);
  out.write(parquet_mark(), parquet_mark_bytes);
  std::int64_t end_at = parquet_mark_bytes;
  std::vector<char> bytes;
  for (std::size_t g = first; g < last; ++g) {
    for (const std::size_t c : columns) {
      const ByteRange range = whole.groups().at(g).columns.at(c).bytes;
      bytes.resize(static_cast<std::size_t>(range.to - range.from));
      read_at(from, range.from, bytes.data(), range.to - range.from);
      out.seekp(range.from);
      out.write(bytes.data(), range.to - range.from);
      end_at = std::max(end_at, range.to);
    }
  }
  std::vector<unsigned char> end = whole.end_of(first, last);
  const auto length = static_cast<std::uint32_t>(end.size());
  for (unsigned i = 0; i < 4; ++i) end.push_back(static_cast<unsigned char>(length >> (8 * i)));
  end.insert(end.end(), parquet_mark(), parquet_mark() + parquet_mark_bytes);
  out.seekp(end_at);
  out.write(reinterpret_cast<const char*>(end.data()), static_cast<std::streamsize>(end.size()));
  out.close();
}

}  // namespace kernel
