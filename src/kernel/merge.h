// Merging states: groups into the groups of a coarser level, and spans into the intervals of an ask. Nothing is
// ever subtracted, so a merged figure is as exact as one folded on its own.
#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>
#include "columns.h"
#include "double_double.h"

namespace kernel {

// How two values of a state merge, component by component; `empty` is the state of no orders.
struct MergeSum {
  static constexpr double empty = 0.0;
  static void into(double* hi, double* lo, double other_hi, double other_lo) {
    DoubleDouble sum{*hi, *lo};
    sum.add(DoubleDouble{other_hi, other_lo});
    *hi = sum.hi;
    *lo = sum.lo;
  }
};
struct MergeCount {
  static constexpr double empty = 0.0;
  static void into(double* a, double*, double b, double) { *a += b; }
};
struct MergeLeast {
  static constexpr double empty = std::numeric_limits<double>::infinity();
  static void into(double* a, double*, double b, double) { *a = b < *a ? b : *a; }
};
struct MergeGreatest {
  static constexpr double empty = -std::numeric_limits<double>::infinity();
  static void into(double* a, double*, double b, double) { *a = b > *a ? b : *a; }
};

// A state as a matrix of groups (side by side) by spans, in one part (a) or two (a and b).
struct StateMatrix {
  const double* a;
  const double* b;  // null for states of one part
  std::size_t groups;
  std::size_t spans;
};

struct MutableMatrix {
  double* a;
  double* b;
};

// to_group[g] is the coarser group of g (from 0), or -1 to leave g out.
template <class Merge>
void merge_groups(const StateMatrix& from, const std::int32_t* to_group, std::size_t new_groups, MutableMatrix into) {
  for (std::size_t s = 0; s < from.spans; ++s) {
    for (std::size_t g = 0; g < from.groups; ++g) {
      if (to_group[g] < 0) continue;
      const std::size_t at = s * from.groups + g;
      const std::size_t to = s * new_groups + static_cast<std::size_t>(to_group[g]);
      Merge::into(into.a + to, from.b ? into.b + to : nullptr, from.a[at], from.b ? from.b[at] : 0.0);
    }
  }
}

// A running merge: each group takes in what the one before it in `order` holds, but where `restart` says to begin anew.
template <class Merge>
void merge_along(MutableMatrix state, std::size_t groups, std::size_t spans, const std::int32_t* order,
                 const std::int32_t* restart) {
  for (std::size_t s = 0; s < spans; ++s) {
    for (std::size_t i = 1; i < groups; ++i) {
      if (restart[i]) continue;
      const std::size_t from = s * groups + static_cast<std::size_t>(order[i - 1]);
      const std::size_t to = s * groups + static_cast<std::size_t>(order[i]);
      Merge::into(state.a + to, state.b ? state.b + to : nullptr, state.a[from], state.b ? state.b[from] : 0.0);
    }
  }
}

// Interval i reaches from span first[i] to before span end[i]; a missing first gives a missing column.
// An interval that prolongs the one before it starts from that one's result: year-to-date and running
// figures cost one merge a span.
template <class Merge>
void merge_spans(const StateMatrix& from, const std::int32_t* first, const std::int32_t* end, std::size_t intervals,
                 double missing, MutableMatrix into) {
  const std::size_t groups = from.groups;
  for (std::size_t i = 0; i < intervals; ++i) {
    double* a = into.a + i * groups;
    double* b = into.b ? into.b + i * groups : nullptr;
    if (first[i] == missing_int) {
      for (std::size_t g = 0; g < groups; ++g) a[g] = missing;
      continue;
    }
    std::int32_t s = first[i];
    const bool prolongs = i > 0 && first[i - 1] == first[i] && end[i - 1] <= end[i] && end[i - 1] >= first[i];
    for (std::size_t g = 0; g < groups; ++g) {
      a[g] = prolongs ? a[g - groups] : Merge::empty;
      if (b) b[g] = prolongs ? b[g - groups] : 0.0;
    }
    if (prolongs) s = end[i - 1];
    for (; s < end[i]; ++s) {
      const std::size_t at = static_cast<std::size_t>(s) * groups;
      for (std::size_t g = 0; g < groups; ++g) {
        Merge::into(a + g, b ? b + g : nullptr, from.a[at + g], from.b ? from.b[at + g] : 0.0);
      }
    }
  }
}

}  // namespace kernel
