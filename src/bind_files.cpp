// R's door to files that are looked at before they are read, and to the limits of a
// process that reads for another.
#include <Rcpp.h>
#include <cerrno>
#include <fstream>
#include "files.h"
#include "zip.h"
#if !defined(_WIN32)
#include <fcntl.h>
#include <signal.h>
#include <sys/file.h>
#include <sys/resource.h>
#include <unistd.h>
#endif
#if defined(__linux__)
#include <sys/prctl.h>
#endif

// "file", "folder", "pipe", "other" (devices and the like), "none" or "unknown".
// [[Rcpp::export(rng = false)]]
std::string kernel_file_kind(std::string path) { return kernel::file_kind(path); }

// A file of so many bytes, read where R holds it; one that has fewer by now gives those.
// [[Rcpp::export(rng = false)]]
Rcpp::RawVector kernel_read_file(std::string path, double bytes) {
  Rcpp::RawVector read(Rcpp::no_init(static_cast<R_xlen_t>(bytes)));
  const std::size_t count = kernel::read_file(path, RAW(read), static_cast<std::size_t>(bytes));
  if (count == static_cast<std::size_t>(bytes)) return read;
  return Rcpp::RawVector(read.begin(), read.begin() + static_cast<R_xlen_t>(count));
}

// [[Rcpp::export(rng = false)]]
Rcpp::RawVector kernel_read_pipe(std::string path, int seconds, double most) {
  const std::vector<unsigned char> read = kernel::read_pipe(path, seconds, static_cast<std::size_t>(most));
  return Rcpp::RawVector(read.begin(), read.end());
}

// Writes all bytes to a file and down to the disk, or tells why not.
// [[Rcpp::export(rng = false)]]
void kernel_write_file(std::string path, Rcpp::RawVector bytes) {
  kernel::write_file(path, RAW_RO(bytes), static_cast<std::size_t>(bytes.size()));
}

// [[Rcpp::export(rng = false)]]
void kernel_sync_file(std::string path) { kernel::sync_file(path); }

// The parts of an archive: list(name, size).
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_zip_parts(Rcpp::RawVector bytes) {
  const kernel::ZipArchive archive(RAW_RO(bytes), static_cast<std::size_t>(bytes.size()));
  Rcpp::CharacterVector name;
  Rcpp::NumericVector size;
  for (const auto& part : archive.parts()) {
    name.push_back(Rcpp::String(part.name, CE_BYTES));
    size.push_back(static_cast<double>(part.size));
  }
  return Rcpp::List::create(Rcpp::_["name"] = name, Rcpp::_["size"] = size);
}

// A part by its place (from 1), whole and as its check sum says.
// [[Rcpp::export(rng = false)]]
Rcpp::RawVector kernel_zip_part(Rcpp::RawVector bytes, int place) {
  const kernel::ZipArchive archive(RAW_RO(bytes), static_cast<std::size_t>(bytes.size()));
  const std::vector<unsigned char> part =
    archive.read(archive.parts().at(static_cast<std::size_t>(place) - 1));
  return Rcpp::RawVector(part.begin(), part.end());
}

#if !defined(_WIN32)
namespace {

void limit_process(decltype(RLIMIT_AS) what, rlim_t most) {
  rlimit now{};
  if (getrlimit(what, &now) != 0) return;
  now.rlim_cur = now.rlim_max == RLIM_INFINITY || most < now.rlim_max ? most : now.rlim_max;
  setrlimit(what, &now);
}

rlim_t seconds_worked() {
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  return static_cast<rlim_t>(used.ru_utime.tv_sec + used.ru_stime.tv_sec + 1);
}

}  // namespace
#endif

// Limits for this process until they are lifted: bytes of memory beyond what it has, seconds of work
// from now on, small files, no image of its memory left behind. A fault in it ends it at once and
// without a word: R's own way would clear away the files of the session.
// [[Rcpp::export(rng = false)]]
void kernel_limit_process(double bytes, int seconds) {
#if !defined(_WIN32)
  double held = 0.0;  // in pages, as Linux tells it
  std::ifstream("/proc/self/statm") >> held;
  limit_process(RLIMIT_AS, static_cast<rlim_t>(held * static_cast<double>(sysconf(_SC_PAGESIZE)) + bytes));
  limit_process(RLIMIT_CPU, seconds_worked() + static_cast<rlim_t>(seconds));
  limit_process(RLIMIT_FSIZE, static_cast<rlim_t>(bytes));
  limit_process(RLIMIT_CORE, 0);
  for (const int fault : {SIGSEGV, SIGBUS, SIGILL, SIGFPE, SIGABRT}) signal(fault, SIG_DFL);
  const int nowhere = open("/dev/null", O_WRONLY);
  if (nowhere >= 0) dup2(nowhere, STDERR_FILENO);
#endif
}

// [[Rcpp::export(rng = false)]]
void kernel_lift_limits() {
#if !defined(_WIN32)
  for (const auto what : {RLIMIT_AS, RLIMIT_CPU, RLIMIT_FSIZE}) limit_process(what, RLIM_INFINITY);
#endif
}

// Lets R's heap grow by so many bytes before garbage is collected again: a vector that is asked for and
// never touched takes none. A collection in a process forked from this one would copy all of its memory.
// [[Rcpp::export(rng = false)]]
void kernel_make_room(double bytes) { Rcpp::RawVector(Rcpp::no_init(static_cast<R_xlen_t>(bytes))); }

// Whether a process runs.
// [[Rcpp::export(rng = false)]]
bool kernel_process_runs(int number) {
#if !defined(_WIN32)
  return number > 0 && (kill(number, 0) == 0 || errno == EPERM);
#else
  return false;
#endif
}

// Ends another process at once.
// [[Rcpp::export(rng = false)]]
void kernel_end_process(int number) {
#if !defined(_WIN32)
  if (number > 0) kill(number, SIGKILL);
#endif
}

// This process ends when the one that began it does, whose number is `parent`.
// [[Rcpp::export(rng = false)]]
void kernel_end_with(int parent) {
#if defined(__linux__)
  prctl(PR_SET_PDEATHSIG, SIGKILL);
  if (getppid() != parent) raise(SIGKILL);
#endif
}

#if !defined(_WIN32)
namespace {
// A lock on a file, which the system takes off when its process ends, however it does.
struct FileLock {
  int fd;
  explicit FileLock(int held) : fd(held) {}
  ~FileLock() { close(fd); }
};
}  // namespace
#endif

// The lock on a file, which is made where it is missing: held until it is given back; NULL where another
// process holds it.
// [[Rcpp::export(rng = false)]]
SEXP kernel_lock_file(std::string path) {
#if !defined(_WIN32)
  const int fd = open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0666);
  if (fd < 0) Rcpp::stop("the lock cannot be made");
  if (flock(fd, LOCK_EX | LOCK_NB) != 0) {
    close(fd);
    return R_NilValue;
  }
  return Rcpp::XPtr<FileLock>(new FileLock(fd), true);
#else
  return Rcpp::LogicalVector::create(true);
#endif
}

// [[Rcpp::export(rng = false)]]
void kernel_give_back_lock(SEXP lock) {
#if !defined(_WIN32)
  if (TYPEOF(lock) == EXTPTRSXP) Rcpp::XPtr<FileLock>(lock).release();
#endif
}
