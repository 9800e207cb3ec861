// Work over rows in contiguous blocks, one thread a block. The cut is fixed by (rows, threads), and
// callers merge what the blocks leave in block order, so that a result never depends on timing.
#pragma once
#include <algorithm>
#include <cstddef>
#include <exception>
#include <system_error>
#include <thread>
#include <vector>

namespace kernel {

inline int block_count(std::size_t rows, int threads) {
  const std::size_t least_rows = 16384;  // below this a thread costs more than it saves
  const std::size_t useful = rows / least_rows + 1;
  return static_cast<int>(std::min(useful, static_cast<std::size_t>(threads)));
}

// Threads that are waited for, whatever happens.
class Crew {
 public:
  ~Crew() {
    for (auto& thread : threads_) thread.join();
  }

  // False where the machine gives no further thread.
  template <class Work>
  bool start(Work work) {
    try {
      threads_.emplace_back(work);
      return true;
    } catch (const std::system_error&) {
      return false;
    }
  }

 private:
  std::vector<std::thread> threads_;
};

// Calls work(block, first_row, last_row) for each block; an exception in a block is thrown again
// here. Blocks for which no thread could be started are worked off by the calling one.
template <class Work>
void for_blocks(std::size_t rows, int blocks, Work work) {
  std::vector<std::exception_ptr> failed(blocks);
  auto run = [&](int block) {
    try {
      work(block, rows * block / blocks, rows * (block + 1) / blocks);
    } catch (...) {
      failed[block] = std::current_exception();
    }
  };
  {
    Crew crew;
    int begun = 1;
    while (begun < blocks && crew.start([&run, begun] { run(begun); })) ++begun;
    run(0);
    for (int block = begun; block < blocks; ++block) run(block);
  }
  for (auto& failure : failed) {
    if (failure) std::rethrow_exception(failure);
  }
}

}  // namespace kernel
