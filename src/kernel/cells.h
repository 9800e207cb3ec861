// A number for some cells only: most have none, and cost nothing.
#pragma once
#include <cstddef>
#include <unordered_map>

namespace kernel {

template <class Value>
class SomeCells {
 public:
  bool none() const { return values_.empty(); }
  bool has(std::size_t cell) const { return !values_.empty() && values_.count(cell) > 0; }
  Value& at(std::size_t cell) { return values_[cell]; }
  const Value* find(std::size_t cell) const {
    if (values_.empty()) return nullptr;
    const auto found = values_.find(cell);
    return found == values_.end() ? nullptr : &found->second;
  }
  std::size_t size() const { return values_.size(); }
  template <class Use>
  void each(Use use) {
    for (auto& [cell, value] : values_) use(cell, value);
  }
  void drop(std::size_t cell) {
    if (!values_.empty()) values_.erase(cell);
  }

 private:
  std::unordered_map<std::size_t, Value> values_;
};

}  // namespace kernel
