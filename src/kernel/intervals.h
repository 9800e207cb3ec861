// Intervals of spans: each from span first[i] to before span end[i]; a missing
// first where there is none.
#pragma once
#include <cstddef>
#include <cstdint>
#include "columns.h"

namespace kernel {

struct Intervals {
  const std::int32_t* first;
  const std::int32_t* end;
  std::size_t count;

  bool missing(std::size_t i) const { return first[i] == missing_int; }

  // Interval i goes on from where the one before it ended, and need not be worked out anew:
  // year-to-date and running figures cost one merge a span.
  bool prolongs(std::size_t i) const {
    return i > 0 && !missing(i - 1) && first[i - 1] == first[i] &&
      end[i - 1] <= end[i] && end[i - 1] >= first[i];
  }
};

}  // namespace kernel
