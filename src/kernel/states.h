// The states that amounts are folded into. A new state is a class in a header of its own
// and its place in this list.
//
// A state has a `name`; `bytes`, what a cell of it takes; `figures()`, the names of what it
// is finished to; add_run() of an amount's values; merge_facts(), merge() and copy() of cells;
// known() and finish() of a cell.
#pragma once
#include <array>
#include <cstddef>
#include <string>
#include <tuple>
#include <utility>
#include <vector>
#include "amount_sum.h"
#include "extremes.h"
#include "moments.h"

namespace kernel {

using AmountStates = std::tuple<AmountSum, Moments, Extremes>;

constexpr std::size_t n_states = std::tuple_size<AmountStates>::value;

// Which of them are wanted, in the order of the list.
using WantedStates = std::array<bool, n_states>;

template <std::size_t I>
using StateAt = typename std::tuple_element<I, AmountStates>::type;

template <class Use, std::size_t... I>
void each_place(Use use, std::index_sequence<I...>) {
  (use(std::integral_constant<std::size_t, I>()), ...);
}

// Calls use(place) for each state of the list, the place as a constant:
// std::get<place>(states) is the state.
template <class Use>
void each_state(Use use) {
  each_place(use, std::make_index_sequence<n_states>());
}

template <class Use>
void each_wanted(const WantedStates& wanted, Use use) {
  each_state([&](auto place) {
    if (wanted[place]) use(place);
  });
}

// The place of a figure among those of a state, -1 where it has none of that name.
template <class State>
int figure_place(const std::string& name) {
  const std::vector<std::string> figures = State::figures();
  for (std::size_t i = 0; i < figures.size(); ++i) {
    if (figures[i] == name) return static_cast<int>(i);
  }
  return -1;
}

}  // namespace kernel
