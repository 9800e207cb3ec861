// R's door to the fold and to the merging of states. Inputs were checked in R.
#include <Rcpp.h>
#include "fold.h"
#include "merge.h"

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

Rcpp::NumericMatrix counts(const std::vector<std::int64_t>& from, std::size_t groups, std::size_t spans) {
  Rcpp::NumericMatrix m(Rcpp::no_init(groups, spans));
  std::copy_n(from.begin(), groups * spans, m.begin());
  return m;
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
  if (kind == "sum") call(kernel::MergeSum());
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

}  // namespace

// [[Rcpp::export]]
Rcpp::List kernel_fold(SEXP days, int first_day, Rcpp::IntegerVector span_of, int n_spans, Rcpp::List codes,
                       Rcpp::IntegerVector levels, SEXP keep, Rcpp::List amounts, Rcpp::LogicalVector want_sum,
                       Rcpp::LogicalVector want_range, int threads) {
  kernel::FoldOrders orders{static_cast<std::size_t>(Rf_xlength(days)), day_column(days), {}, nullptr};
  for (R_xlen_t d = 0; d < codes.size(); ++d) orders.dimensions.push_back({INTEGER_RO(codes[d]), levels[d]});
  if (!Rf_isNull(keep)) orders.keep = LOGICAL_RO(keep);

  std::vector<kernel::WantedColumn> wanted;
  for (R_xlen_t c = 0; c < amounts.size(); ++c) {
    wanted.push_back({amount_column(amounts[c]), want_sum[c] == 1, want_range[c] == 1});
  }
  const kernel::SpanTable spans{first_day, span_of.begin(), static_cast<std::int32_t>(span_of.size()), n_spans};
  kernel::Folder folder(orders, spans, wanted, threads);
  const kernel::States states = folder.fold();

  Rcpp::List columns(wanted.size());
  Rcpp::IntegerVector decimals(wanted.size());
  for (std::size_t c = 0; c < wanted.size(); ++c) {
    columns[c] = column_states(states.columns[c], states.n_groups, n_spans);
    decimals[c] = states.columns[c].decimals < 0 ? NA_INTEGER : states.columns[c].decimals;
  }
  return Rcpp::List::create(
      Rcpp::_["lines"] = Rcpp::List::create(Rcpp::_["a"] = counts(states.lines, states.n_groups, n_spans)),
      Rcpp::_["columns"] = columns, Rcpp::_["decimals"] = decimals);
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
