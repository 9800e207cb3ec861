// The state of least and greatest, one for each cell.
#pragma once
#include <cstddef>
#include <cstdint>
#include <limits>
#include <string>
#include <vector>
#include "columns.h"
#include "packing.h"

namespace kernel {

class Extremes {
 public:
  static constexpr const char* name = "extremes";
  static constexpr std::size_t bytes = 16;
  static std::vector<std::string> figures() { return {"least", "greatest"}; }

  explicit Extremes(std::size_t cells = 0) : ends_(cells) {}

  std::size_t cells() const { return ends_.size(); }

  void add(std::size_t cell, double x) {
    Ends& ends = ends_[cell];
    ends.least = x < ends.least ? x : ends.least;
    ends.greatest = x > ends.greatest ? x : ends.greatest;
  }
  void add(std::size_t cell, std::int64_t x) { add(cell, static_cast<double>(x)); }

  template <class Amount, class Skip>
  void add_run(const std::int32_t* cell, const Amount* x, std::size_t n, Skip skip) {
    each_amount(cell, x, n, [this](std::size_t k, auto value) { add(k, value); }, skip);
  }

  void merge_facts(const Extremes&) {}

  void merge(std::size_t cell, const Extremes& from, std::size_t from_cell) {
    if (!from.known(from_cell)) return;
    add(cell, from.ends_[from_cell].least);
    add(cell, from.ends_[from_cell].greatest);
  }

  void copy(std::size_t cell, const Extremes& from, std::size_t from_cell) {
    ends_[cell] = from.ends_[from_cell];
  }

  bool known(std::size_t cell) const { return ends_[cell].least <= ends_[cell].greatest; }
  double finish(std::size_t cell, int figure) const {
    return figure == 0 ? ends_[cell].least : ends_[cell].greatest;
  }

  template <class Packing>
  void pack(Packing& packing) {
    kernel::pack(packing, ends_);
  }

 private:
  struct Ends {
    double least = std::numeric_limits<double>::infinity();
    double greatest = -std::numeric_limits<double>::infinity();
  };
  std::vector<Ends> ends_;
};

}  // namespace kernel
