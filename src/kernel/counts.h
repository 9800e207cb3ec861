// The state of a count, one for each cell.
#pragma once
#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>
#include "packing.h"

namespace kernel {

class Counts {
 public:
  static constexpr const char* name = "count";
  static std::vector<std::string> figures() { return {"count"}; }

  explicit Counts(std::size_t cells = 0) : counts_(cells, 0.0) {}
  explicit Counts(const std::vector<std::uint32_t>& counts) : counts_(counts.begin(), counts.end()) {}

  std::size_t cells() const { return counts_.size(); }

  void merge_facts(const Counts&) {}
  void merge(std::size_t cell, const Counts& from, std::size_t from_cell) {
    counts_[cell] += from.counts_[from_cell];
  }
  void copy(std::size_t cell, const Counts& from, std::size_t from_cell) {
    counts_[cell] = from.counts_[from_cell];
  }
  void give(std::size_t cell, double count) { counts_[cell] += count; }
  bool known(std::size_t) const { return true; }
  double finish(std::size_t cell, int = 0) const { return counts_[cell]; }

  template <class Packing>
  void pack(Packing& packing) {
    kernel::pack(packing, counts_);
  }

 private:
  std::vector<double> counts_;
};

}  // namespace kernel
