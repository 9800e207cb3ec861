// What stands under a path, and the bytes of files and pipes. Opening a pipe waits for somebody who
// writes; reading does not wait for one for ever.
#pragma once
#include <cstddef>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <memory>
#include <stdexcept>
#include <string>
#include <vector>
#if !defined(_WIN32)
#include <fcntl.h>
#include <poll.h>
#include <sys/stat.h>
#include <unistd.h>
#endif

namespace kernel {

struct FileTrouble : std::runtime_error {
  using std::runtime_error::runtime_error;
};

// The first bytes of a file, up to `most`: how many there were.
inline std::size_t read_file(const std::string& path, unsigned char* out, std::size_t most) {
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) throw FileTrouble("it cannot be opened");
  const std::size_t count = std::fread(out, 1, most, file.get());
  if (std::ferror(file.get())) throw FileTrouble("it cannot be read to its end");
  return count;
}

inline void write_file(const std::string& path, const unsigned char* bytes, std::size_t size) {
  std::FILE* file = std::fopen(path.c_str(), "wb");
  if (!file) throw FileTrouble("it cannot be opened: " + std::string(std::strerror(errno)));
  bool whole = std::fwrite(bytes, 1, size, file) == size;
  whole = std::fflush(file) == 0 && whole;
  const int why = errno;
  whole = std::fclose(file) == 0 && whole;
  if (!whole) throw FileTrouble(std::strerror(why));
}

#if defined(_WIN32)

inline void sync_file(const std::string&) {}
inline const char* file_kind(const std::string&) { return "unknown"; }
inline std::vector<unsigned char> read_pipe(const std::string&, int, std::size_t) {
  throw FileTrouble("pipes are not read on this system");
}

#else

// What the system still holds of a file is on the disk afterwards.
inline void sync_file(const std::string& path) {
  const int file = open(path.c_str(), O_RDONLY);
  if (file < 0) throw FileTrouble("it is not there");
  const bool done = fsync(file) == 0;
  const int why = errno;
  close(file);
  if (!done) throw FileTrouble(std::strerror(why));
}

inline const char* file_kind(const std::string& path) {
  struct stat found{};
  if (stat(path.c_str(), &found) != 0) return "none";
  if (S_ISREG(found.st_mode)) return "file";
  if (S_ISDIR(found.st_mode)) return "folder";
  return S_ISFIFO(found.st_mode) ? "pipe" : "other";
}

// All that comes through a pipe, up to `most` bytes; waits `seconds` for the first of it.
inline std::vector<unsigned char> read_pipe(const std::string& path, int seconds, std::size_t most) {
  struct Opened {
    int number;
    ~Opened() { close(number); }
  } const pipe{open(path.c_str(), O_RDONLY | O_NONBLOCK)};
  if (pipe.number < 0) throw FileTrouble("it cannot be opened");
  constexpr std::size_t step = std::size_t{1} << 20;
  std::vector<unsigned char> out;
  std::size_t read_so_far = 0;
  while (true) {
    struct pollfd watched{pipe.number, POLLIN, 0};
    const int ready = poll(&watched, 1, read_so_far == 0 ? seconds * 1000 : -1);
    if (ready < 0 && errno == EINTR) throw FileTrouble("the reading was interrupted");
    if (ready == 0)
      throw FileTrouble("nothing came through it within " + std::to_string(seconds) + " seconds");
    out.resize(read_so_far + step);
    const ssize_t n = ::read(pipe.number, out.data() + read_so_far, step);
    if (n < 0 && (errno == EAGAIN || errno == EINTR)) continue;
    if (n < 0) throw FileTrouble("it cannot be read");
    if (n == 0) break;
    read_so_far += static_cast<std::size_t>(n);
    if (read_so_far > most) throw FileTrouble("more comes through it than can be held");
  }
  out.resize(read_so_far);
  return out;
}

#endif

}  // namespace kernel
