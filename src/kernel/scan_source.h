// A file in blocks that end with a record: read piece by piece, so that no more of it is in memory
// than is worked on.
#pragma once
#include <algorithm>
#include <atomic>
#include <cstddef>
#include <cstdio>
#include <memory>
#include <string>
#include <string_view>
#include <vector>
#include "files.h"

namespace kernel {

// Lines, of which the last may have no end.
inline std::size_t lines_of(const std::vector<char>& bytes) {
  const auto ends = static_cast<std::size_t>(std::count(bytes.begin(), bytes.end(), '\n'));
  return ends + (bytes.empty() || bytes.back() == '\n' ? 0 : 1);
}

// The byte after the first line end from a byte on, or after the last byte.
inline std::size_t line_end_after(const std::string& path, std::size_t from) {
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) throw FileTrouble("it cannot be opened");
  if (std::fseek(file.get(), static_cast<long>(from), SEEK_SET) != 0)
    throw FileTrouble("it cannot be read from the middle");
  for (int c = std::fgetc(file.get()); c != EOF; c = std::fgetc(file.get())) {
    ++from;
    if (c == '\n') break;
  }
  return from;
}

class ScanSource {
 public:
  // The part of a file from a byte on, `bytes` long, which begins and ends with a record.
  ScanSource(const std::string& path, std::size_t from, std::size_t bytes, char quote)
      : path_(path), file_(std::fopen(path.c_str(), "rb"), std::fclose), from_(from), at_(from),
        to_(from + bytes), read_(from), quote_(quote) {
    if (!file_) throw FileTrouble("it cannot be opened");
    if (std::fseek(file_.get(), static_cast<long>(from), SEEK_SET) != 0)
      throw FileTrouble("it cannot be read from the middle");
  }

  // The same part from its beginning.
  ScanSource(const ScanSource& other)
      : ScanSource(other.path_, other.from_, other.to_ - other.from_, other.quote_) {}

  // The next block; false at the end.
  bool next(std::vector<char>& block) {
    if (at_ >= to_ || trouble_) return false;
    block.swap(rest_);
    rest_.clear();
    std::size_t cut = 0;
    for (std::size_t wanted = block_bytes; cut == 0; wanted *= 2) {
      if (wanted > most_block_bytes) {
        trouble_ = true;
        return false;
      }
      fill(block, wanted);
      cut = ended_ ? block.size() : last_record_end(block);
      if (ended_) break;
    }
    if (block.empty()) return false;
    rest_.assign(block.begin() + static_cast<std::ptrdiff_t>(cut), block.end());
    block.resize(cut);
    at_ += cut;
    return true;
  }

  // The first records, without moving on.
  std::string_view head() {
    fill(rest_, head_bytes);
    const std::size_t cut = ended_ ? rest_.size() : last_record_end(rest_);
    return std::string_view(rest_.data(), cut);
  }

  std::size_t at() const { return at_; }
  bool trouble() const { return trouble_; }

  // The part of it that was given out, from 0 to 1.
  double done() const { return static_cast<double>(at_ - from_) / static_cast<double>(to_ - from_); }

 private:
  static constexpr std::size_t block_bytes = std::size_t{1} << 20;
  static constexpr std::size_t head_bytes = std::size_t{1} << 18;
  static constexpr std::size_t most_block_bytes = std::size_t{1} << 26;
  std::string path_;
  std::unique_ptr<std::FILE, int (*)(std::FILE*)> file_;
  std::vector<char> rest_;
  std::size_t from_;
  std::atomic<std::size_t> at_;
  std::size_t to_;
  std::size_t read_;
  char quote_;
  bool ended_ = false;
  bool trouble_ = false;

  void fill(std::vector<char>& block, std::size_t wanted) {
    const std::size_t held = block.size();
    if (held >= wanted || ended_) return;
    const std::size_t more = std::min(wanted - held, to_ - read_);
    block.resize(held + more);
    const std::size_t count = std::fread(block.data() + held, 1, more, file_.get());
    if (std::ferror(file_.get())) throw FileTrouble("it cannot be read to its end");
    block.resize(held + count);
    read_ += count;
    ended_ = count < wanted - held;
  }

  // After the last line end that stands outside quotes; 0 where there is none.
  std::size_t last_record_end(const std::vector<char>& block) const {
    const auto quotes = std::count(block.begin(), block.end(), quote_);
    bool outside = quotes % 2 == 0;
    for (std::size_t i = block.size(); i > 0; --i) {
      if (block[i - 1] == quote_) outside = !outside;
      if (outside && block[i - 1] == '\n') return i;
    }
    return 0;
  }
};

}  // namespace kernel
