// R's door to the ends of Parquet files and to their row groups.
#include <Rcpp.h>
#include "parquet_file.h"

// What a file says of its columns (name; whether their values lie there as texts, as whole numbers of 64
// bits, or as doubles and nothing else) and of its row groups (rows, bytes once unpacked).
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_parquet_facts(std::string path) {
  const kernel::ParquetEnd end = kernel::parquet_end(path);
  Rcpp::CharacterVector names;
  Rcpp::LogicalVector texts, wide, doubles;
  for (const auto& column : end.columns()) {
    names.push_back(Rcpp::String(column.name, CE_UTF8));
    texts.push_back(column.type == 6);
    wide.push_back(column.type == 2);
    doubles.push_back(column.plain && (column.type == 4 || column.type == 5));
  }
  Rcpp::NumericVector rows, bytes;
  for (const auto& group : end.groups()) {
    rows.push_back(static_cast<double>(group.rows));
    bytes.push_back(static_cast<double>(group.bytes));
  }
  return Rcpp::List::create(Rcpp::_["names"] = names, Rcpp::_["texts"] = texts,
    Rcpp::_["wide"] = wide, Rcpp::_["doubles"] = doubles, Rcpp::_["rows"] = rows, Rcpp::_["bytes"] = bytes);
}

// The row groups from `first` to `last` and some columns, all by their places from 1, as a file at `to`.
// [[Rcpp::export(rng = false)]]
void kernel_parquet_part(std::string path, int first, int last, Rcpp::IntegerVector columns, std::string to) {
  std::vector<std::size_t> wanted;
  for (const int column : columns) wanted.push_back(static_cast<std::size_t>(column) - 1);
  kernel::write_row_groups(path, kernel::parquet_end(path), static_cast<std::size_t>(first) - 1,
    static_cast<std::size_t>(last), wanted, to);
}
