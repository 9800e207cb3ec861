// R's door to the ends of Parquet files and to their row groups.
#include <Rcpp.h>
#include "bind_strings.h"
#include "bind_watch.h"
#include "parquet_columns.h"

// What a file says of its columns (name; whether their values lie there as texts, as whole numbers of 64
// bits, or as doubles and nothing else; whether they are in a form that kernel_parquet_columns() reads) and
// of its row groups (rows, bytes once unpacked).
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_parquet_facts(std::string path) {
  const kernel::ParquetEnd end = kernel::parquet_end(path);
  Rcpp::CharacterVector names;
  Rcpp::LogicalVector texts, wide, doubles, here;
  for (std::size_t c = 0; c < end.columns().size(); ++c) {
    const kernel::ParquetColumn& column = end.columns()[c];
    names.push_back(Rcpp::String(column.name, CE_UTF8));
    texts.push_back(column.type == 6);
    wide.push_back(column.type == 2);
    doubles.push_back(column.plain && (column.type == 4 || column.type == 5));
    here.push_back(end.is_common(c));
  }
  Rcpp::NumericVector rows, bytes;
  for (const auto& group : end.groups()) {
    rows.push_back(static_cast<double>(group.rows));
    bytes.push_back(static_cast<double>(group.bytes));
  }
  return Rcpp::List::create(Rcpp::_["names"] = names, Rcpp::_["texts"] = texts,
    Rcpp::_["wide"] = wide, Rcpp::_["doubles"] = doubles, Rcpp::_["here"] = here,
    Rcpp::_["rows"] = rows, Rcpp::_["bytes"] = bytes);
}

// The row groups from `first` to `last` and some columns, all by their places from 1, as a file at `to`.
// [[Rcpp::export(rng = false)]]
void kernel_parquet_part(std::string path, int first, int last, Rcpp::IntegerVector columns, std::string to) {
  std::vector<std::size_t> wanted;
  for (const int column : columns) wanted.push_back(static_cast<std::size_t>(column) - 1);
  kernel::write_row_groups(path, kernel::parquet_end(path), static_cast<std::size_t>(first) - 1,
    static_cast<std::size_t>(last), wanted, to);
}

namespace {

SEXP room_for(kernel::ParquetKind kind, double rows) {
  switch (kind) {
    case kernel::ParquetKind::other: return R_NilValue;
    case kernel::ParquetKind::number:
    case kernel::ParquetKind::decimal:
    case kernel::ParquetKind::moment:
    case kernel::ParquetKind::wide: return Rf_allocVector(REALSXP, static_cast<R_xlen_t>(rows));
    default: return Rf_allocVector(INTSXP, static_cast<R_xlen_t>(rows));
  }
}

kernel::ParquetTarget target_of(SEXP values) {
  if (Rf_isNull(values)) return {};
  return TYPEOF(values) == REALSXP ? kernel::ParquetTarget{nullptr, REAL(values)}
    : kernel::ParquetTarget{INTEGER(values), nullptr};
}

}  // namespace

// Columns of the row groups from `first` to `last`, all by their places from 1: for each NULL, where its
// form is not read here, or list(values, texts): whole numbers, days ("Date"), times ("POSIXct"), doubles, or
// codes of texts.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_parquet_columns(std::string path, int first, int last, Rcpp::IntegerVector columns, int threads) {
  const kernel::ParquetEnd end = kernel::parquet_end(path);
  double rows = 0;
  for (int g = first; g <= last; ++g)
    rows += static_cast<double>(end.groups().at(static_cast<std::size_t>(g) - 1).rows);
  std::vector<std::size_t> places;
  std::vector<kernel::ParquetTarget> targets;
  Rcpp::List values(columns.size());
  for (R_xlen_t i = 0; i < columns.size(); ++i) {
    places.push_back(static_cast<std::size_t>(columns[i]) - 1);
    values[i] = room_for(end.columns().at(places.back()).kind(), rows);
    targets.push_back(target_of(values[i]));
  }
  kernel::ParquetColumns read(path, end, static_cast<std::size_t>(first) - 1, static_cast<std::size_t>(last),
    places, targets);
  kernel::Watch watch(teller(R_NilValue, 0));
  try {
    read.read(threads, watch);
  } catch (const kernel::Stopped&) {
    throw Rcpp::internal::InterruptedException();
  }
  Rcpp::List found(columns.size());
  for (R_xlen_t i = 0; i < columns.size(); ++i) {
    const auto place = static_cast<std::size_t>(i);
    if (read.is_other(place)) continue;
    const kernel::ParquetKind kind = end.columns()[places[place]].kind();
    Rcpp::RObject texts, held = values[i];
    if (kind == kernel::ParquetKind::day) held.attr("class") = "Date";
    if (kind == kernel::ParquetKind::moment) {
      held.attr("class") = Rcpp::CharacterVector::create("POSIXct", "POSIXt");
      held.attr("tzone") = "UTC";
    }
    if (kind == kernel::ParquetKind::text) {
      kernel::TextDictionary whole;
      read.join_texts(place, whole);
      texts = strings_of(whole);
    }
    found[i] = Rcpp::List::create(Rcpp::_["values"] = held, Rcpp::_["texts"] = texts);
  }
  return found;
}
