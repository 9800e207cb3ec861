// An exact sum of any finite doubles: a fixed-point number as wide as the double range
// (after Kulisch's long accumulator). Used only where amounts lie too far apart for a
// DoubleDouble to be exact.
#pragma once
#include <array>
#include <atomic>
#include <cmath>
#include <cstdint>
#include <limits>
#include <new>
#include "double_double.h"
#include "packing.h"

namespace kernel {

// Wide sums are large and come up cell by cell in the midst of the work, so that they are counted
// while they are held, in all threads together, and refused beyond what is allowed.
inline std::atomic<std::int64_t> wide_sums_held{0};
inline std::atomic<std::int64_t> wide_sums_allowed{std::numeric_limits<std::int64_t>::max()};

class WideSumCount {
 public:
  WideSumCount() { ++wide_sums_held; }
  WideSumCount(const WideSumCount&) { ++wide_sums_held; }
  WideSumCount& operator=(const WideSumCount&) = default;
  ~WideSumCount() { --wide_sums_held; }
};

class WideSum {
 public:
  void add(double x) {
    if (x == 0.0) return;
    if (!std::isfinite(x)) {
      beyond_ = true;
      return;
    }
    int exponent = 0;
    const double fraction = std::frexp(std::fabs(x), &exponent);          // x = fraction * 2^exponent
    auto mantissa = static_cast<std::uint64_t>(std::ldexp(fraction, 53));  // an integer of 53 bits
    const int shift = exponent - 53 + offset;  // position of its last bit, never below 1
    const int limb = shift / 32;
    const int bit = shift % 32;
    const unsigned __int128 wide = static_cast<unsigned __int128>(mantissa) << bit;
    const std::int64_t sign = x < 0 ? -1 : 1;
    for (int i = 0; i < 3; ++i) {
      limbs_[limb + i] += sign * static_cast<std::int64_t>(static_cast<std::uint32_t>(wide >> (32 * i)));
    }
    if (++pending_ == (1 << 30)) carry();
  }

  void add(const WideSum& other) {
    beyond_ = beyond_ || other.beyond_;
    WideSum settled = other;
    settled.carry();
    carry();
    for (int i = 0; i < n_limbs; ++i) limbs_[i] += settled.limbs_[i];
    pending_ = 1;
  }

  // The sum as a DoubleDouble whose hi is the correctly rounded double; NaN
  // where no double is so large.
  DoubleDouble value() const {
    if (beyond_) return {std::numeric_limits<double>::quiet_NaN(), 0.0};
    WideSum settled = *this;
    settled.carry();
    const bool negative = settled.limbs_[n_limbs - 1] < 0;
    if (negative) {
      for (auto& limb : settled.limbs_) limb = -limb;
      settled.carry();
    }
    DoubleDouble sum = settled.leading();
    if (negative) {
      sum.hi = -sum.hi;
      sum.lo = -sum.lo;
    }
    return sum;
  }

  template <class Packing>
  void pack(Packing& packing) {
    kernel::pack(packing, limbs_);
    kernel::pack(packing, pending_);
    kernel::pack(packing, beyond_);
  }

 private:
  static constexpr int offset = 1074 + 53;
  static constexpr int n_limbs = 72;
  std::array<std::int64_t, n_limbs> limbs_{};
  int pending_ = 0;
  WideSumCount counted_;
  bool beyond_ = false;  // something was added that is no finite double

  // Brings every limb but the last into [0, 2^32).
  void carry() {
    std::int64_t over = 0;
    for (int i = 0; i < n_limbs - 1; ++i) {
      const std::int64_t v = limbs_[i] + over;
      over = v >> 32;
      limbs_[i] = v & 0xffffffffLL;
    }
    limbs_[n_limbs - 1] += over;
    pending_ = 0;
  }

  // The top of a settled, non-negative number: three limbs (at most 96 bits) fit a DoubleDouble
  // exactly, and what lies below them only breaks ties.
  DoubleDouble leading() const {
    int top = n_limbs - 1;
    while (top > 0 && limbs_[top] == 0) --top;
    DoubleDouble sum;
    const int last = top >= 2 ? top - 2 : 0;
    for (int i = top; i >= last; --i) sum.add(std::ldexp(static_cast<double>(limbs_[i]), 32 * i - offset));
    for (int i = last - 1; i >= 0; --i) {
      if (limbs_[i] == 0) continue;
      sum.lo = std::nextafter(sum.lo, std::numeric_limits<double>::infinity());
      break;
    }
    const double hi = sum.hi + sum.lo;
    sum.lo = sum.lo - (hi - sum.hi);
    sum.hi = hi;
    return sum;
  }
};

struct TooManyWideSums : std::bad_alloc {
  const char* what() const noexcept override {
    return "amounts too far apart for the memory allowed (bad_alloc)";
  }
};

inline void allow_wide_sums(double bytes) {
  wide_sums_allowed = wide_sums_held + static_cast<std::int64_t>(bytes / sizeof(WideSum));
}

inline void check_wide_sums() {
  if (wide_sums_held >= wide_sums_allowed) throw TooManyWideSums();
}

}  // namespace kernel
