// What only a program of its own needs, as against a session of R: signals that end it, and
// whether its output came through.
#include <Rcpp.h>
#include <csignal>
#include <cstdio>
#if !defined(_WIN32)
#include <dlfcn.h>
#include <poll.h>
#include <unistd.h>
#endif

namespace {

volatile std::sig_atomic_t told_to_end = 0;

// As Ctrl-C does: what is under way is stopped and cleared up.
extern "C" void end_by_interrupt(int) {
  told_to_end = 1;
  std::raise(SIGINT);
}

}  // namespace

// [[Rcpp::export(rng = false)]]
void kernel_program_signals() {
#if !defined(_WIN32)
  std::signal(SIGPIPE, SIG_IGN);
  std::signal(SIGTERM, end_by_interrupt);
  std::signal(SIGHUP, end_by_interrupt);
#endif
}

// Whether the program was told to end by another.
// [[Rcpp::export(rng = false)]]
bool kernel_told_to_end() { return told_to_end != 0; }

// "written", "closed" where nobody reads what is written any more, or "failed".
// [[Rcpp::export(rng = false)]]
std::string kernel_output_state() {
#if !defined(_WIN32)
  // Only asked for its state, never written to: R writes.
  auto* const output_stream = static_cast<std::FILE**>(dlsym(RTLD_DEFAULT, "stdout"));
  if (!output_stream || (std::fflush(*output_stream) == 0 && std::ferror(*output_stream) == 0))
    return "written";
  pollfd output{STDOUT_FILENO, POLLOUT, 0};
  if (poll(&output, 1, 0) == 1 && (output.revents & POLLERR) != 0) return "closed";
  return "failed";
#else
  return "written";
#endif
}
