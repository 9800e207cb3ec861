// The state of least and greatest, one for each cell.
#pragma once
#include <cstddef>
#include <cstdint>
#include <limits>
#include <vector>

namespace kernel {

class Extremes {
 public:
  explicit Extremes(std::size_t cells = 0) : ends_(cells) {}

  std::size_t cells() const { return ends_.size(); }

  void add(std::size_t cell, double x) {
    Ends& ends = ends_[cell];
    ends.least = x < ends.least ? x : ends.least;
    ends.greatest = x > ends.greatest ? x : ends.greatest;
  }
  void add(std::size_t cell, std::int64_t x) { add(cell, static_cast<double>(x)); }

  void merge_facts(const Extremes&) {}

  void merge(std::size_t cell, const Extremes& from, std::size_t from_cell) {
    if (!from.known(from_cell)) return;
    add(cell, from.ends_[from_cell].least);
    add(cell, from.ends_[from_cell].greatest);
  }

  void copy(std::size_t cell, const Extremes& from, std::size_t from_cell) { ends_[cell] = from.ends_[from_cell]; }

  bool known(std::size_t cell) const { return ends_[cell].least <= ends_[cell].greatest; }
  double least(std::size_t cell) const { return ends_[cell].least; }
  double greatest(std::size_t cell) const { return ends_[cell].greatest; }

 private:
  struct Ends {
    double least = std::numeric_limits<double>::infinity();
    double greatest = -std::numeric_limits<double>::infinity();
  };
  std::vector<Ends> ends_;
};

}  // namespace kernel
