// R's door to the fold and to the merging of states. Inputs were checked in R.
#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC optimize("O3")  // the loops over a chunk are written to be worked off several rows at a time
#endif
#include <Rcpp.h>
#include <chrono>
#include "fold.h"
#include "merge.h"
#include "row_lists.h"
#include "variance.h"

namespace {

kernel::DayColumn day_column(SEXP days) {
  kernel::DayColumn column;
  if (TYPEOF(days) == INTSXP) column.ints = INTEGER_RO(days);
  else column.doubles = REAL_RO(days);
  return column;
}

kernel::AmountColumn amount_column(SEXP x) {
  if (Rf_inherits(x, "integer64")) return {kernel::AmountType::integer64, REAL_RO(x)};
  if (TYPEOF(x) == REALSXP) return {kernel::AmountType::real, REAL_RO(x)};
  if (TYPEOF(x) == LGLSXP) return {kernel::AmountType::integer, LOGICAL_RO(x)};
  return {kernel::AmountType::integer, INTEGER_RO(x)};
}

Rcpp::NumericMatrix counts(const std::vector<std::uint32_t>& from, std::size_t groups, std::size_t spans) {
  Rcpp::NumericMatrix m(Rcpp::no_init(groups, spans));
  std::copy_n(from.begin(), groups * spans, m.begin());
  return m;
}

bool interrupted() {
  return R_ToplevelExec([](void*) { R_CheckUserInterrupt(); }, nullptr) == FALSE;
}

// Looks for Ctrl-C, and tells an R function how far the work is once it has taken some seconds.
std::function<bool(double)> teller(SEXP progress, double after) {
  const auto begun = std::chrono::steady_clock::now();
  return [progress, after, begun](double part) {
    const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - begun;
    if (!Rf_isNull(progress) && taken.count() >= after) {
      Rcpp::Function tell(progress);
      tell(part);
    }
    return !interrupted();
  };
}

template <class State, class Part>
Rcpp::NumericMatrix part_of(const std::vector<State>& from, Part part, std::size_t groups, std::size_t spans) {
  Rcpp::NumericMatrix m(Rcpp::no_init(groups, spans));
  std::transform(from.begin(), from.begin() + groups * spans, m.begin(), part);
  return m;
}

Rcpp::List column_states(const kernel::ColumnStates& column, std::size_t groups, std::size_t spans) {
  using kernel::DoubleDouble;
  using kernel::Range;
  Rcpp::List states;
  states["missing"] = Rcpp::List::create(Rcpp::_["a"] = counts(column.missing, groups, spans));
  if (!column.sum.empty()) {
    states["sum"] = Rcpp::List::create(
        Rcpp::_["a"] = part_of(column.sum, [](const DoubleDouble& s) { return s.hi; }, groups, spans),
        Rcpp::_["b"] = part_of(column.sum, [](const DoubleDouble& s) { return s.lo; }, groups, spans));
  }
  if (!column.square.empty()) {
    states["square"] = Rcpp::List::create(
        Rcpp::_["a"] = part_of(column.square, [](const DoubleDouble& s) { return s.hi; }, groups, spans),
        Rcpp::_["b"] = part_of(column.square, [](const DoubleDouble& s) { return s.lo; }, groups, spans));
  }
  if (!column.range.empty()) {
    states["least"] = Rcpp::List::create(
        Rcpp::_["a"] = part_of(column.range, [](const Range& r) { return r.least; }, groups, spans));
    states["greatest"] = Rcpp::List::create(
        Rcpp::_["a"] = part_of(column.range, [](const Range& r) { return r.greatest; }, groups, spans));
  }
  return states;
}

template <class Call>
void with_merge(const std::string& kind, Call call) {
  if (kind == "sum" || kind == "square") call(kernel::MergeSum());
  else if (kind == "least") call(kernel::MergeLeast());
  else if (kind == "greatest") call(kernel::MergeGreatest());
  else call(kernel::MergeCount());
}

// A state of one kind as R holds it: list(a = matrix) or list(a = matrix, b = matrix), groups by spans.
struct RState {
  Rcpp::NumericMatrix a;
  Rcpp::NumericMatrix b;
  bool two;

  explicit RState(const Rcpp::List& state) : a(Rcpp::as<Rcpp::NumericMatrix>(state["a"])), two(state.size() == 2) {
    if (two) b = Rcpp::as<Rcpp::NumericMatrix>(state["b"]);
  }
  RState(int groups, int columns, double fill, bool two_parts) : a(groups, columns), two(two_parts) {
    std::fill(a.begin(), a.end(), fill);
    if (two) b = Rcpp::NumericMatrix(groups, columns);
  }
  kernel::StateMatrix view() const {
    return {a.begin(), two ? b.begin() : nullptr, static_cast<std::size_t>(a.nrow()),
            static_cast<std::size_t>(a.ncol())};
  }
  kernel::MutableMatrix target() { return {a.begin(), two ? b.begin() : nullptr}; }
  Rcpp::List list() const {
    return two ? Rcpp::List::create(Rcpp::_["a"] = a, Rcpp::_["b"] = b) : Rcpp::List::create(Rcpp::_["a"] = a);
  }
};

// The cell of each row, kept outside R until the rows are sorted into lists.
using CellsOfRows = Rcpp::XPtr<std::vector<std::int32_t>>;

kernel::RowLists row_lists(const Rcpp::List& lists) {
  const Rcpp::IntegerVector size = lists["size"];
  return {REAL_RO(lists["offsets"]), static_cast<std::size_t>(size[0]), static_cast<std::size_t>(size[1])};
}

Rcpp::NumericMatrix unknown(std::size_t groups, R_xlen_t intervals) {
  Rcpp::NumericMatrix m(groups, intervals);
  std::fill(m.begin(), m.end(), NA_REAL);
  return m;
}

}  // namespace

// [[Rcpp::export]]
Rcpp::List kernel_fold(SEXP days, int first_day, Rcpp::IntegerVector span_of, int n_spans, Rcpp::List codes,
                       Rcpp::IntegerVector levels, SEXP keep, Rcpp::List amounts, Rcpp::LogicalVector want_sum,
                       Rcpp::LogicalVector want_square, Rcpp::LogicalVector want_range, bool want_rows, int threads,
                       SEXP progress, double progress_after) {
  kernel::FoldOrders orders{static_cast<std::size_t>(Rf_xlength(days)), day_column(days), {}, nullptr};
  for (R_xlen_t d = 0; d < codes.size(); ++d) orders.dimensions.push_back({INTEGER_RO(codes[d]), levels[d]});
  if (!Rf_isNull(keep)) orders.keep = LOGICAL_RO(keep);

  std::vector<kernel::WantedColumn> wanted;
  for (R_xlen_t c = 0; c < amounts.size(); ++c) {
    wanted.push_back({amount_column(amounts[c]), want_sum[c] == 1, want_square[c] == 1, want_range[c] == 1});
  }
  const kernel::SpanTable spans{first_day, span_of.begin(), static_cast<std::int32_t>(span_of.size()), n_spans};
  kernel::Watch watch(teller(progress, progress_after));
  kernel::States states;
  try {
    states = kernel::Folder(orders, spans, wanted, want_rows, threads, watch).fold();
  } catch (const kernel::Stopped&) {
    throw Rcpp::internal::InterruptedException();
  }

  Rcpp::List columns(wanted.size());
  Rcpp::IntegerVector decimals(wanted.size());
  Rcpp::NumericVector per_unit(wanted.size());
  for (std::size_t c = 0; c < wanted.size(); ++c) {
    columns[c] = column_states(states.columns[c], states.n_groups, n_spans);
    per_unit[c] = states.columns[c].per_unit;
    decimals[c] = states.columns[c].decimals < 0 ? NA_INTEGER : states.columns[c].decimals;
  }
  return Rcpp::List::create(
      Rcpp::_["lines"] = Rcpp::List::create(Rcpp::_["a"] = counts(states.lines, states.n_groups, n_spans)),
      Rcpp::_["columns"] = columns, Rcpp::_["decimals"] = decimals, Rcpp::_["per_unit"] = per_unit,
      Rcpp::_["cells"] = want_rows ? Rcpp::wrap(CellsOfRows(new std::vector<std::int32_t>(std::move(states.cell_of_row))))
                                   : R_NilValue);
}

// to_group: the coarser group of each group, from 1; missing leaves the group out.
// [[Rcpp::export]]
Rcpp::List kernel_merge_groups(Rcpp::List state, std::string kind, Rcpp::IntegerVector to_group, int n_groups) {
  const RState from(state);
  std::vector<std::int32_t> to(to_group.size());
  std::transform(to_group.begin(), to_group.end(), to.begin(), [](int g) { return g == NA_INTEGER ? -1 : g - 1; });
  Rcpp::List merged;
  with_merge(kind, [&](auto merge) {
    RState into(n_groups, from.a.ncol(), merge.empty, from.two);
    kernel::merge_groups<decltype(merge)>(from.view(), to.data(), n_groups, into.target());
    merged = into.list();
  });
  return merged;
}

// first, end: spans from 0; an interval reaches from span `first` to before span `end`.
// [[Rcpp::export]]
Rcpp::List kernel_merge_spans(Rcpp::List state, std::string kind, Rcpp::IntegerVector first,
                              Rcpp::IntegerVector end) {
  const RState from(state);
  Rcpp::List merged;
  with_merge(kind, [&](auto merge) {
    RState into(from.a.nrow(), first.size(), merge.empty, from.two);
    kernel::merge_spans<decltype(merge)>(from.view(), first.begin(), end.begin(), first.size(), NA_REAL,
                                         into.target());
    merged = into.list();
  });
  return merged;
}

// A running merge over groups: `order` from 1, `restart` TRUE where a run begins anew.
// [[Rcpp::export]]
Rcpp::List kernel_merge_along(Rcpp::List state, std::string kind, Rcpp::IntegerVector order,
                              Rcpp::LogicalVector restart) {
  const RState from(state);
  std::vector<std::int32_t> places(order.size());
  std::transform(order.begin(), order.end(), places.begin(), [](int g) { return g - 1; });
  Rcpp::List merged;
  with_merge(kind, [&](auto merge) {
    RState into(from.a.nrow(), from.a.ncol(), merge.empty, from.two);
    std::copy(from.a.begin(), from.a.end(), into.a.begin());
    if (from.two) std::copy(from.b.begin(), from.b.end(), into.b.begin());
    kernel::merge_along<decltype(merge)>(into.target(), from.a.nrow(), from.a.ncol(), places.data(), restart.begin());
    merged = into.list();
  });
  return merged;
}

// What the rows of each cell hold, by group, then span: list(sorted, offsets, size). `x` are codes (integers), amounts, or NULL
// for the rows themselves, from 1. to_group from 1, missing to leave a group out.
// [[Rcpp::export]]
Rcpp::List kernel_sort_by_cell(SEXP cells, Rcpp::IntegerVector to_group, int n_groups, int n_spans, SEXP x, bool as_codes,
                               int threads) {
  const CellsOfRows cell_of_row(cells);
  std::vector<std::int32_t> to(to_group.size());
  std::transform(to_group.begin(), to_group.end(), to.begin(), [](int g) { return g == NA_INTEGER ? -1 : g - 1; });
  kernel::CellSorter sorter(*cell_of_row, to.size(), n_spans, to.data(), n_groups, threads);
  const auto total = static_cast<R_xlen_t>(sorter.offsets().back());
  auto result = [&](SEXP sorted) {
    return Rcpp::List::create(Rcpp::_["sorted"] = sorted, Rcpp::_["offsets"] = Rcpp::wrap(sorter.offsets()),
                              Rcpp::_["size"] = Rcpp::IntegerVector::create(n_groups, n_spans));
  };
  if (Rf_isNull(x) || as_codes) {
    Rcpp::IntegerVector sorted(Rcpp::no_init(total));
    const int* codes = as_codes ? INTEGER_RO(x) : nullptr;
    if (as_codes) sorter.sort([codes](std::size_t row) { return codes[row]; }, sorted.begin());
    else sorter.sort([](std::size_t row) { return static_cast<int>(row) + 1; }, sorted.begin());
    return result(sorted);
  }
  Rcpp::NumericVector sorted(Rcpp::no_init(total));
  const kernel::AmountColumn column = amount_column(x);
  if (column.type == kernel::AmountType::real) {
    const double* values = static_cast<const double*>(column.data);
    sorter.sort([values](std::size_t row) { return values[row]; }, sorted.begin());
  } else if (column.type == kernel::AmountType::integer) {
    const int* values = static_cast<const int*>(column.data);
    sorter.sort([values](std::size_t row) { return values[row] == NA_INTEGER ? NA_REAL : values[row]; }, sorted.begin());
  } else {
    const auto* values = static_cast<const std::int64_t*>(column.data);
    auto value_of = [values](std::size_t row) {
      return values[row] == kernel::missing_int64 ? NA_REAL : static_cast<double>(values[row]);
    };
    sorter.sort(value_of, sorted.begin());
  }
  return result(sorted);
}

// `lists`: codes sorted by cell.
// [[Rcpp::export]]
Rcpp::NumericMatrix kernel_count_distinct(Rcpp::List lists, Rcpp::IntegerVector first, Rcpp::IntegerVector end,
                                          int levels, int threads) {
  const kernel::RowLists view = row_lists(lists);
  Rcpp::NumericMatrix out = unknown(view.groups, first.size());
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  kernel::count_distinct(view, intervals, INTEGER_RO(lists["sorted"]), levels, threads, out.begin());
  return out;
}

// `lists`: codes sorted by cell; `place`: the order of the codes.
// [[Rcpp::export]]
Rcpp::NumericMatrix kernel_most_common(Rcpp::List lists, Rcpp::IntegerVector first, Rcpp::IntegerVector end,
                                       Rcpp::IntegerVector place, int threads) {
  const kernel::RowLists view = row_lists(lists);
  Rcpp::NumericMatrix out = unknown(view.groups, first.size());
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  kernel::most_common(view, intervals, INTEGER_RO(lists["sorted"]), place.begin(), place.size(), threads, out.begin());
  return out;
}

// `lists`: amounts sorted by cell.
// [[Rcpp::export]]
Rcpp::NumericMatrix kernel_quantile(Rcpp::List lists, Rcpp::IntegerVector first, Rcpp::IntegerVector end, double p,
                                    int threads) {
  const kernel::RowLists view = row_lists(lists);
  Rcpp::NumericMatrix out = unknown(view.groups, first.size());
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  kernel::quantiles(view, intervals, REAL_RO(lists["sorted"]), p, threads, out.begin());
  return out;
}

// The variance from sums and sums of squares, each in two parts, over n values.
// [[Rcpp::export]]
Rcpp::NumericVector kernel_variance(Rcpp::NumericVector sum_hi, Rcpp::NumericVector sum_lo, Rcpp::NumericVector square_hi,
                                    Rcpp::NumericVector square_lo, Rcpp::NumericVector n) {
  Rcpp::NumericVector out(Rcpp::clone(sum_hi));
  for (R_xlen_t i = 0; i < out.size(); ++i) {
    const bool known = !Rcpp::NumericVector::is_na(n[i]) && n[i] >= 2.0;
    out[i] = known ? kernel::variance({sum_hi[i], sum_lo[i]}, {square_hi[i], square_lo[i]}, n[i]) : NA_REAL;
  }
  return out;
}
