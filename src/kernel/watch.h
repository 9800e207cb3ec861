// A watch over long work: it is told how far the work is, and may stop it. Only the calling thread
// tells it; the others look whether to go on.
#pragma once
#include <atomic>
#include <functional>
#include <stdexcept>

namespace kernel {

struct Stopped : std::runtime_error {
  Stopped() : std::runtime_error("stopped") {}
};

class Watch {
 public:
  // `tell` takes the part done, from 0 to 1, and gives false to stop the work.
  explicit Watch(std::function<bool(double)> tell) : tell_(std::move(tell)) {}

  void at(double part) {
    if (!tell_(part)) stop_ = true;
    go_on();
  }
  void go_on() const {
    if (stop_) throw Stopped();
  }

 private:
  std::function<bool(double)> tell_;
  std::atomic<bool> stop_{false};
};

}  // namespace kernel
