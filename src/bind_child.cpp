// Another program run beside R, which ends when R does, however that comes about.
#include <Rcpp.h>
#if !defined(_WIN32)
#include <fcntl.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>
#include <chrono>
#include <thread>
#endif
#if defined(__linux__)
#include <sys/prctl.h>
#endif

// The number of the new process. `words`: the program and what it is
// given; its output goes nowhere.
// [[Rcpp::export]]
int kernel_start_program(std::vector<std::string> words) {
#if defined(_WIN32)
  Rcpp::stop("programs are not run beside R on this system");
#else
  std::vector<char*> given;
  for (auto& word : words) given.push_back(&word[0]);
  given.push_back(nullptr);
  const pid_t parent = getpid();
  const pid_t child = fork();
  if (child < 0) Rcpp::stop("no process can be started");
  if (child > 0) return child;
#if defined(__linux__)
  prctl(PR_SET_PDEATHSIG, SIGKILL);
#endif
  setpgid(0, 0);  // so that what it starts ends with it
  for (const int one : {SIGTERM, SIGINT, SIGHUP, SIGPIPE}) signal(one, SIG_DFL);
  const int nowhere = open("/dev/null", O_RDWR);
  for (int output = 0; output < 3; ++output) dup2(nowhere, output);
  if (getppid() == parent) execv(given[0], given.data());
  raise(SIGKILL);
  return 0;
#endif
}

// Whether the process ended within some seconds.
// [[Rcpp::export]]
bool kernel_await_program(int process, double seconds) {
#if !defined(_WIN32)
  const auto until = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
  while (waitpid(process, nullptr, WNOHANG) == 0) {
    if (std::chrono::steady_clock::now() > until) return false;
    std::this_thread::sleep_for(std::chrono::milliseconds(5));
    Rcpp::checkUserInterrupt();
  }
#endif
  return true;
}

// Ends it, and what it started.
// [[Rcpp::export]]
void kernel_end_program(int process) {
#if !defined(_WIN32)
  if (waitpid(process, nullptr, WNOHANG) != 0) return;  // it has ended, and its number may be another's
  kill(-process, SIGKILL);
  waitpid(process, nullptr, 0);
#endif
}
