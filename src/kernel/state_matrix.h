// States of one type as a matrix: groups side by side, for each span or interval. Groups merge
// into coarser groups, spans into intervals, parts of the orders into the whole. Nothing is ever
// subtracted, so a merged state is as exact as one folded on its own.
#pragma once
#include <cstddef>
#include <cstdint>
#include <stdexcept>
#include <utility>
#include <vector>
#include "intervals.h"
#include "packing.h"

namespace kernel {

template <class State>
class StateMatrix {
 public:
  StateMatrix(std::size_t groups, std::size_t columns)
      : groups_(groups), columns_(columns), state_(groups * columns), missing_(columns, false) {}
  // The state may have more cells than the matrix: what is left out lies beyond.
  StateMatrix(std::size_t groups, std::size_t columns, State state)
      : groups_(groups), columns_(columns), state_(std::move(state)), missing_(columns, false) {}

  std::size_t groups() const { return groups_; }
  std::size_t columns() const { return columns_; }

  // to_group[g] is the coarser group of g (from 0), or -1 to leave g out.
  StateMatrix merged_groups(const std::int32_t* to_group, std::size_t new_groups) const {
    StateMatrix into(new_groups, columns_);
    into.take(*this, to_group);
    return into;
  }

  // Takes in another matrix with the same columns, its groups where `to_group` says.
  void take(const StateMatrix& from, const std::int32_t* to_group) {
    if (from.columns_ != columns_) throw std::invalid_argument("states of different spans");
    state_.merge_facts(from.state_);
    for (std::size_t s = 0; s < columns_; ++s) {
      for (std::size_t g = 0; g < from.groups_; ++g) {
        if (to_group[g] < 0) continue;
        state_.merge(s * groups_ + static_cast<std::size_t>(to_group[g]), from.state_, s * from.groups_ + g);
      }
    }
  }

  // A running merge: each group takes in what the one before it in `order` holds, but where
  // `restart` says to begin anew.
  StateMatrix merged_along(const std::int32_t* order, const std::int32_t* restart) const {
    StateMatrix into(*this);
    for (std::size_t s = 0; s < columns_; ++s) {
      for (std::size_t i = 1; i < groups_; ++i) {
        if (restart[i]) continue;
        const std::size_t from = s * groups_ + static_cast<std::size_t>(order[i - 1]);
        into.state_.merge(s * groups_ + static_cast<std::size_t>(order[i]), into.state_, from);
      }
    }
    return into;
  }

  StateMatrix merged_spans(const Intervals& intervals) const {
    StateMatrix into(groups_, intervals.count);
    into.state_.merge_facts(state_);
    for (std::size_t i = 0; i < intervals.count; ++i) {
      into.missing_[i] = intervals.missing(i);
      if (into.missing_[i]) continue;
      const std::size_t to = i * groups_;
      const bool prolongs = intervals.prolongs(i);
      std::int32_t s = prolongs ? intervals.end[i - 1] : intervals.first[i];
      if (prolongs) {
        for (std::size_t g = 0; g < groups_; ++g) into.state_.copy(to + g, into.state_, to + g - groups_);
      }
      for (; s < intervals.end[i]; ++s) {
        const std::size_t at = static_cast<std::size_t>(s) * groups_;
        for (std::size_t g = 0; g < groups_; ++g) into.state_.merge(to + g, state_, at + g);
      }
    }
    return into;
  }

  // figure(state, cell) for each cell; `none` for missing intervals.
  template <class Figure>
  void finish(Figure figure, double none, double* out) const {
    for (std::size_t s = 0; s < columns_; ++s) {
      for (std::size_t g = 0; g < groups_; ++g) {
        const std::size_t cell = s * groups_ + g;
        out[cell] = missing_[s] ? none : figure(state_, cell);
      }
    }
  }

  template <class Packing>
  void pack(Packing& packing) {
    kernel::pack(packing, groups_);
    kernel::pack(packing, columns_);
    kernel::pack(packing, state_);
    kernel::pack(packing, missing_);
    if (state_.cells() < groups_ * columns_ || missing_.size() != columns_)
      throw std::invalid_argument("packed states of another size");
  }

 private:
  std::size_t groups_;
  std::size_t columns_;
  State state_;
  std::vector<bool> missing_;
};

}  // namespace kernel
