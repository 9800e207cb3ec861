// R's door to the fold and to the merging of states. Inputs were checked in R.
#if defined(__GNUC__) && !defined(__clang__)
// The loops over a chunk are written to be worked off several rows at a time.
#pragma GCC optimize("O3")
#endif
#include <Rcpp.h>
#include <memory>
#include "bind_watch.h"
#include "fold.h"
#include "gaps.h"
#include "row_lists.h"
#include "state_matrix.h"

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

// States as R holds them: a matrix of one type, which R only hands on.
struct HeldStates {
  virtual ~HeldStates() = default;
  virtual std::unique_ptr<HeldStates> merged_groups(const std::int32_t* to_group, std::size_t n) const = 0;
  virtual std::unique_ptr<HeldStates> merged_along(const std::int32_t* order,
    const std::int32_t* restart) const = 0;
  virtual std::unique_ptr<HeldStates> merged_spans(const kernel::Intervals& intervals) const = 0;
  virtual void take(const HeldStates& from, const std::int32_t* to_group) = 0;
  virtual std::unique_ptr<HeldStates> none(std::size_t groups, std::size_t columns) const = 0;
  virtual void finish(const std::string& figure, double* out) const = 0;
  virtual std::size_t groups() const = 0;
  virtual std::size_t columns() const = 0;
  virtual const char* name() const = 0;
  virtual void pack(kernel::Packer& packing) = 0;
};

template <class State>
class Held : public HeldStates {
 public:
  using Matrix = kernel::StateMatrix<State>;
  explicit Held(Matrix states) : states_(std::move(states)) {}

  std::unique_ptr<HeldStates> merged_groups(const std::int32_t* to_group, std::size_t n) const override {
    return std::make_unique<Held>(states_.merged_groups(to_group, n));
  }
  std::unique_ptr<HeldStates> merged_along(const std::int32_t* order,
    const std::int32_t* restart) const override {
    return std::make_unique<Held>(states_.merged_along(order, restart));
  }
  std::unique_ptr<HeldStates> merged_spans(const kernel::Intervals& intervals) const override {
    return std::make_unique<Held>(states_.merged_spans(intervals));
  }
  void take(const HeldStates& from, const std::int32_t* to_group) override {
    const Held* same = dynamic_cast<const Held*>(&from);
    if (!same) Rcpp::stop("states of different kinds");
    states_.take(same->states_, to_group);
  }
  std::unique_ptr<HeldStates> none(std::size_t groups, std::size_t columns) const override {
    return std::make_unique<Held>(Matrix(groups, columns));
  }
  void finish(const std::string& figure, double* out) const override {
    const int place = kernel::figure_place<State>(figure);
    if (place < 0) Rcpp::stop("states without such a figure");
    auto finished = [place](const State& s, std::size_t k) {
      return s.known(k) ? s.finish(k, place) : NA_REAL;
    };
    states_.finish(finished, NA_REAL, out);
  }
  std::size_t groups() const override { return states_.groups(); }
  std::size_t columns() const override { return states_.columns(); }
  const char* name() const override { return State::name; }
  void pack(kernel::Packer& packing) override { states_.pack(packing); }

 private:
  Matrix states_;
};

using StatesOfR = Rcpp::XPtr<HeldStates>;

template <class State>
StatesOfR held(std::size_t groups, std::size_t spans, State state) {
  return StatesOfR(new Held<State>(kernel::StateMatrix<State>(groups, spans, std::move(state))));
}

kernel::WantedStates wanted_states(const std::vector<std::string>& names) {
  kernel::WantedStates wanted{};
  kernel::each_state([&](auto place) {
    wanted[place] = std::find(names.begin(), names.end(), kernel::StateAt<place>::name) != names.end();
  });
  return wanted;
}

StatesOfR handed(std::unique_ptr<HeldStates> states) { return StatesOfR(states.release()); }

template <class State>
StatesOfR unpacked(const Rcpp::RawVector& bytes) {
  kernel::StateMatrix<State> states(0, 0);
  kernel::Unpacker(RAW_RO(bytes), static_cast<std::size_t>(bytes.size())).take(states);
  return StatesOfR(new Held<State>(std::move(states)));
}

// Places from 1, missing for none, as places from 0, -1 for none.
std::vector<std::int32_t> from_zero(const Rcpp::IntegerVector& places) {
  std::vector<std::int32_t> out(places.size());
  std::transform(places.begin(), places.end(), out.begin(),
    [](int p) { return p == NA_INTEGER ? -1 : p - 1; });
  return out;
}

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

// The groups that have a line in any span, from 1.
Rcpp::IntegerVector occurring(const kernel::Counts& lines, std::size_t groups, std::size_t spans) {
  std::vector<int> found;
  for (std::size_t g = 0; g < groups; ++g) {
    bool any = false;
    for (std::size_t s = 0; s < spans && !any; ++s) any = lines.finish(s * groups + g) > 0.0;
    if (any) found.push_back(static_cast<int>(g) + 1);
  }
  return Rcpp::IntegerVector(found.begin(), found.end());
}

}  // namespace

// The states that an amount can be folded into, by name: list(bytes: of a cell,
// figures: what it is finished to).
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_states() {
  Rcpp::List states;
  kernel::each_state([&](auto place) {
    using State = kernel::StateAt<place>;
    states[State::name] = Rcpp::List::create(Rcpp::_["bytes"] = static_cast<double>(State::bytes),
                                             Rcpp::_["figures"] = Rcpp::wrap(State::figures()));
  });
  return states;
}

// How many bytes sums may take whose amounts lie too far apart for two doubles.
// [[Rcpp::export(rng = false)]]
void kernel_allow_wide(double bytes) { kernel::allow_wide_sums(bytes); }

// The states of one pass: lines, for each amount those wanted of it by name,
// and the groups that occur.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_fold(SEXP days, int first_day, Rcpp::IntegerVector span_of, int n_spans, Rcpp::List codes,
                       Rcpp::IntegerVector levels, SEXP keep, Rcpp::List amounts,
                       Rcpp::List wants, bool want_rows, int threads,
                       SEXP progress, double progress_after) {
  kernel::FoldOrders orders{static_cast<std::size_t>(Rf_xlength(days)), day_column(days), {}, nullptr};
  for (R_xlen_t d = 0; d < codes.size(); ++d) orders.dimensions.push_back({INTEGER_RO(codes[d]), levels[d]});
  if (!Rf_isNull(keep)) orders.keep = LOGICAL_RO(keep);

  std::vector<kernel::WantedColumn> wanted;
  for (int c = 0; c < amounts.size(); ++c) {
    wanted.push_back({amount_column(amounts[c]),
      wanted_states(Rcpp::as<std::vector<std::string>>(wants[c]))});
  }
  const kernel::SpanTable spans{first_day, span_of.begin(),
    static_cast<std::int32_t>(span_of.size()), n_spans};
  kernel::Watch watch(teller(progress, progress_after));
  kernel::States states;
  try {
    states = kernel::Folder(orders, spans, wanted, want_rows, threads, watch).fold();
  } catch (const kernel::Stopped&) {
    throw Rcpp::internal::InterruptedException();
  }

  const std::size_t groups = states.n_groups;
  const auto n = static_cast<std::size_t>(n_spans);
  Rcpp::IntegerVector occurs = occurring(states.lines, groups, n);
  Rcpp::List columns(wanted.size());
  for (std::size_t c = 0; c < wanted.size(); ++c) {
    kernel::ColumnStates& column = states.columns[c];
    Rcpp::List of_column = Rcpp::List::create(
      Rcpp::_["missing"] = held(groups, n, std::move(column.missing)));
    kernel::each_wanted(wanted[c].states, [&](auto place) {
      of_column[kernel::StateAt<place>::name] = held(groups, n, std::move(std::get<place>(column.states)));
    });
    columns[c] = of_column;
  }
  return Rcpp::List::create(
      Rcpp::_["groups"] = static_cast<double>(groups), Rcpp::_["occurs"] = occurs,
      Rcpp::_["lines"] = held(groups, n, std::move(states.lines)), Rcpp::_["columns"] = columns,
      Rcpp::_["cells"] = want_rows ?
        Rcpp::wrap(CellsOfRows(new std::vector<std::int32_t>(std::move(states.cell_of_row))))
                                   : R_NilValue);
}

// States of what was worked out elsewhere (by a database): some numbers for each of some cells,
// which are counted from 1, the groups of a span side by side. By the name of the state: "count", of
// lines; "sum", in ten-thousandths (missing: not), and as amounts (missing: not); "moments", count,
// mean and squares about it; "extremes", least and greatest.
// [[Rcpp::export(rng = false)]]
SEXP kernel_given_states(std::string state, int groups, int spans, Rcpp::IntegerVector cells,
                         Rcpp::List numbers) {
  const auto g = static_cast<std::size_t>(groups), n = static_cast<std::size_t>(spans);
  std::vector<const double*> given;
  for (R_xlen_t i = 0; i < numbers.size(); ++i) given.push_back(REAL_RO(numbers[i]));
  auto each = [&](auto use) {
    for (R_xlen_t i = 0; i < cells.size(); ++i) use(static_cast<std::size_t>(cells[i] - 1), i);
  };
  if (state == kernel::Counts::name) {
    kernel::Counts counts(g * n);
    each([&](std::size_t cell, R_xlen_t i) { counts.give(cell, given[0][i]); });
    return held(g, n, std::move(counts));
  }
  if (state == kernel::AmountSum::name) {
    kernel::AmountSum sums(g * n);
    each([&](std::size_t cell, R_xlen_t i) {
      if (!ISNAN(given[0][i])) sums.give_units(cell, given[0][i]);
      if (!ISNAN(given[1][i])) sums.give_other(cell, given[1][i]);
    });
    return held(g, n, std::move(sums));
  }
  if (state == kernel::Moments::name) {
    kernel::Moments moments(g * n);
    each([&](std::size_t cell, R_xlen_t i) {
      if (given[0][i] > 0.0) moments.give(cell, given[0][i], given[1][i], given[2][i]);
    });
    return held(g, n, std::move(moments));
  }
  kernel::Extremes extremes(g * n);
  each([&](std::size_t cell, R_xlen_t i) {
    if (ISNAN(given[0][i])) return;
    extremes.add(cell, given[0][i]);
    extremes.add(cell, given[1][i]);
  });
  return held(g, n, std::move(extremes));
}

// The squares about their mean of values whose count, sum and squares are known.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericVector kernel_spread(Rcpp::NumericVector count, Rcpp::NumericVector sum,
                                  Rcpp::NumericVector squares) {
  Rcpp::NumericVector out(count.size());
  for (R_xlen_t i = 0; i < count.size(); ++i) {
    out[i] = count[i] > 0.0
      ? kernel::Moments::spread_about_mean(count[i], {sum[i], 0.0}, {squares[i], 0.0}) : 0.0;
  }
  return out;
}

// The cells of some rows, from 1, as kernel_sort_by_cell() takes them.
// [[Rcpp::export(rng = false)]]
SEXP kernel_cells_of_rows(Rcpp::IntegerVector cells) {
  return CellsOfRows(new std::vector<std::int32_t>(from_zero(cells)));
}

// to_group: the coarser group of each group, from 1; missing leaves the group out.
// [[Rcpp::export(rng = false)]]
SEXP kernel_merge_groups(SEXP states, Rcpp::IntegerVector to_group, int n_groups) {
  return handed(StatesOfR(states)->merged_groups(from_zero(to_group).data(),
    static_cast<std::size_t>(n_groups)));
}

// The states of several parts of the orders as those of the whole: to_group says for each part
// which group of the whole each of its groups is.
// [[Rcpp::export(rng = false)]]
SEXP kernel_merge_parts(Rcpp::List parts, Rcpp::List to_group, int n_groups) {
  const StatesOfR first(static_cast<SEXP>(parts[0]));
  std::unique_ptr<HeldStates> whole = first->none(static_cast<std::size_t>(n_groups), first->columns());
  for (R_xlen_t p = 0; p < parts.size(); ++p) {
    const StatesOfR part(static_cast<SEXP>(parts[p]));
    whole->take(*part, from_zero(Rcpp::IntegerVector(static_cast<SEXP>(to_group[p]))).data());
  }
  return handed(std::move(whole));
}

// States as bytes, to be handed to another process of this program, and back: list(name, bytes).
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_pack_states(SEXP states) {
  const StatesOfR held_states(states);
  kernel::Packer packing;
  held_states->pack(packing);
  return Rcpp::List::create(Rcpp::_["name"] = held_states->name(),
    Rcpp::_["bytes"] = Rcpp::RawVector(packing.bytes().begin(), packing.bytes().end()));
}

// [[Rcpp::export(rng = false)]]
SEXP kernel_unpack_states(std::string name, Rcpp::RawVector bytes) {
  if (name == kernel::Counts::name) return unpacked<kernel::Counts>(bytes);
  SEXP states = R_NilValue;
  kernel::each_state([&](auto place) {
    if (name == kernel::StateAt<place>::name) states = unpacked<kernel::StateAt<place>>(bytes);
  });
  if (states == R_NilValue) Rcpp::stop("states of an unknown kind");
  return states;
}

// first, end: spans from 0; an interval reaches from span `first` to before span `end`.
// [[Rcpp::export(rng = false)]]
SEXP kernel_merge_spans(SEXP states, Rcpp::IntegerVector first, Rcpp::IntegerVector end) {
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  return handed(StatesOfR(states)->merged_spans(intervals));
}

// A running merge over groups: `order` from 1, `restart` TRUE where a run begins anew.
// [[Rcpp::export(rng = false)]]
SEXP kernel_merge_along(SEXP states, Rcpp::IntegerVector order, Rcpp::LogicalVector restart) {
  return handed(StatesOfR(states)->merged_along(from_zero(order).data(), restart.begin()));
}

// A figure of states by its name, groups by spans or intervals.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix kernel_finish(SEXP states, std::string figure) {
  const StatesOfR from(states);
  Rcpp::NumericMatrix out(Rcpp::no_init(from->groups(), from->columns()));
  from->finish(figure, out.begin());
  return out;
}

// What the rows of each cell hold, by group, then span: list(sorted, offsets, size). `x`
// are codes (integers), amounts, or NULL for the rows themselves, from 1. to_group from 1,
// missing to leave a group out.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_sort_by_cell(SEXP cells, Rcpp::IntegerVector to_group,
  int n_groups, int n_spans, SEXP x, bool as_codes,
                               int threads) {
  const CellsOfRows cell_of_row(cells);
  std::vector<std::int32_t> to(to_group.size());
  std::transform(to_group.begin(), to_group.end(), to.begin(),
    [](int g) { return g == NA_INTEGER ? -1 : g - 1; });
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
    sorter.sort([values](std::size_t row) { return values[row] == NA_INTEGER ? NA_REAL : values[row]; },
      sorted.begin());
  } else {
    const auto* values = static_cast<const std::int64_t*>(column.data);
    auto value_of = [values](std::size_t row) {
      return values[row] == kernel::missing_int64 ? NA_REAL : static_cast<double>(values[row]);
    };
    sorter.sort(value_of, sorted.begin());
  }
  return result(sorted);
}

// The lists of several parts of the orders as those of the whole. to_group as in
// kernel_merge_parts(); `codes` says for each part which code of the whole each of its codes is, or
// is empty where lists hold amounts.
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_merge_lists(Rcpp::List parts, Rcpp::List to_group, int n_groups, Rcpp::List codes) {
  std::vector<kernel::ListsOfPart> views;
  std::vector<std::vector<std::int32_t>> groups;
  double total = 0.0;
  std::size_t spans = 0;
  for (R_xlen_t p = 0; p < parts.size(); ++p)
    groups.push_back(from_zero(Rcpp::IntegerVector(static_cast<SEXP>(to_group[p]))));
  for (R_xlen_t p = 0; p < parts.size(); ++p) {
    views.push_back({row_lists(parts[p]), groups[static_cast<std::size_t>(p)].data()});
    spans = views.back().lists.spans;
    total += static_cast<double>(Rf_xlength(Rcpp::List(static_cast<SEXP>(parts[p]))["sorted"]));
  }
  const bool coded = codes.size() > 0;
  Rcpp::IntegerVector whole_codes(coded ? static_cast<R_xlen_t>(total) : 0);
  Rcpp::NumericVector whole_amounts(coded ? 0 : static_cast<R_xlen_t>(total));
  auto place = [&](std::size_t part, std::size_t from, std::size_t to, std::size_t count) {
    const SEXP sorted = Rcpp::List(static_cast<SEXP>(parts[part]))["sorted"];
    if (!coded) {
      std::copy_n(REAL_RO(sorted) + from, count, whole_amounts.begin() + to);
      return;
    }
    const int* map = INTEGER_RO(codes[part]);
    std::transform(INTEGER_RO(sorted) + from, INTEGER_RO(sorted) + from + count, whole_codes.begin() + to,
                   [map](int code) { return code == NA_INTEGER ? NA_INTEGER : map[code - 1]; });
  };
  const std::vector<double> offsets = kernel::merge_lists(views,
    static_cast<std::size_t>(n_groups), spans, place);
  const auto used = static_cast<R_xlen_t>(offsets.back());
  SEXP sorted = coded ? Rcpp::wrap(Rcpp::IntegerVector(whole_codes.begin(), whole_codes.begin() + used))
                      : Rcpp::wrap(Rcpp::NumericVector(whole_amounts.begin(), whole_amounts.begin() + used));
  return Rcpp::List::create(Rcpp::_["sorted"] = sorted, Rcpp::_["offsets"] = Rcpp::wrap(offsets),
                            Rcpp::_["size"] = Rcpp::IntegerVector::create(n_groups, static_cast<int>(spans)));
}

// `lists`: codes sorted by cell.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix kernel_count_distinct(Rcpp::List lists, Rcpp::IntegerVector first,
  Rcpp::IntegerVector end,
                                          int levels, int threads) {
  const kernel::RowLists view = row_lists(lists);
  Rcpp::NumericMatrix out = unknown(view.groups, first.size());
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  kernel::count_distinct(view, intervals, INTEGER_RO(lists["sorted"]), levels, threads, out.begin());
  return out;
}

// `lists`: codes sorted by cell; `place`: the order of the codes.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix kernel_most_common(Rcpp::List lists, Rcpp::IntegerVector first, Rcpp::IntegerVector end,
                                       Rcpp::IntegerVector place, int threads) {
  const kernel::RowLists view = row_lists(lists);
  Rcpp::NumericMatrix out = unknown(view.groups, first.size());
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  kernel::most_common(view, intervals, INTEGER_RO(lists["sorted"]),
    place.begin(), place.size(), threads, out.begin());
  return out;
}

kernel::GapFigure gap_figure(const std::string& name) {
  if (name == "count") return kernel::GapFigure::count;
  if (name == "mean") return kernel::GapFigure::mean;
  return name == "sd" ? kernel::GapFigure::sd : kernel::GapFigure::quantile;
}

// `lists`: amounts sorted by cell; `p`: of a quantile.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix kernel_gaps(Rcpp::List lists, Rcpp::IntegerVector first, Rcpp::IntegerVector end,
                                std::string figure, double p, int threads) {
  const kernel::RowLists view = row_lists(lists);
  Rcpp::NumericMatrix out = unknown(view.groups, first.size());
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  kernel::figures_of_gaps(view, intervals, REAL_RO(lists["sorted"]), gap_figure(figure), p, threads, out.begin());
  return out;
}

// `lists`: amounts sorted by cell.
// [[Rcpp::export(rng = false)]]
Rcpp::NumericMatrix kernel_quantile(Rcpp::List lists, Rcpp::IntegerVector first,
  Rcpp::IntegerVector end, double p,
                                    int threads) {
  const kernel::RowLists view = row_lists(lists);
  Rcpp::NumericMatrix out = unknown(view.groups, first.size());
  const kernel::Intervals intervals{first.begin(), end.begin(), static_cast<std::size_t>(first.size())};
  kernel::quantiles(view, intervals, REAL_RO(lists["sorted"]), p, threads, out.begin());
  return out;
}
