// Work over rows in contiguous blocks, one thread a block. The cut is fixed by (rows, threads), and callers
// merge what the blocks leave in block order, so that a result never depends on timing.
#pragma once
#include <cstddef>
#include <exception>
#include <thread>
#include <vector>

namespace kernel {

inline int block_count(std::size_t rows, int threads) {
  const std::size_t least_rows = 16384;  // below this a thread costs more than it saves
  const std::size_t useful = rows / least_rows + 1;
  return static_cast<int>(useful < static_cast<std::size_t>(threads) ? useful : static_cast<std::size_t>(threads));
}

// Calls work(block, first_row, last_row) for each block; an exception in a block is thrown again here.
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
  std::vector<std::thread> others;
  for (int block = 1; block < blocks; ++block) others.emplace_back(run, block);
  run(0);
  for (auto& other : others) other.join();
  for (auto& failure : failed) {
    if (failure) std::rethrow_exception(failure);
  }
}

}  // namespace kernel
