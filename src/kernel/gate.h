// A gate before a server that listens on a socket of the file system: who may speak is settled here, before
// anything is handed on. Strangers get a refusal and cost nothing further.
//
// A connection sends one request. Its head is read within a time and a size; it is let through where its
// method, host, cookie (or first token) and, for a socket, its origin are right. Then bytes go to and fro;
// messages of a socket that are longer than allowed end it.
#ifndef DRYSTACK_KERNEL_GATE_H
#define DRYSTACK_KERNEL_GATE_H

#include <fcntl.h>
#include <arpa/inet.h>
#include <netdb.h>
#include <netinet/in.h>
#include <poll.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <chrono>
#include <cstdint>
#include <cstring>
#include <list>
#include <stdexcept>
#include <string>
#include <thread>
#include <vector>

namespace kernel {

struct GateRules {
  std::vector<std::string> hosts;  // as browsers write them; empty: any
  std::string cookie;              // name=value
  std::string token;               // of the first address
  std::string socket_path;         // where a socket may be opened
  std::size_t most_head = 16384;
  std::size_t most_message = 1 << 20;
  std::size_t most_waiting = 64;
  std::size_t most_open = 256;
  double patience = 5;  // seconds for a head
};

// Whether two texts are equal, in a time that does not depend on where they differ.
inline bool same_secret(const std::string& a, const std::string& b) {
  if (a.size() != b.size()) return false;
  unsigned char differs = 0;
  for (std::size_t i = 0; i < a.size(); ++i) differs |= static_cast<unsigned char>(a[i] ^ b[i]);
  return differs == 0;
}

// The head of a request, its field names in small letters.
struct RequestHead {
  std::string method, target;
  std::vector<std::pair<std::string, std::string>> fields;

  // How often a field stands there, and its value.
  std::size_t count(const std::string& name) const {
    std::size_t n = 0;
    for (const auto& field : fields) n += field.first == name;
    return n;
  }
  std::string value(const std::string& name) const {
    for (const auto& field : fields) {
      if (field.first == name) return field.second;
    }
    return "";
  }
};

inline std::string trimmed(const std::string& text) {
  const std::size_t from = text.find_first_not_of(" \t");
  if (from == std::string::npos) return "";
  return text.substr(from, text.find_last_not_of(" \t") - from + 1);
}

inline std::string small_letters(std::string text) {
  for (char& c : text) {
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  }
  return text;
}

// False where it is no request.
inline bool read_head(const std::string& text, RequestHead& head) {
  std::size_t at = text.find("\r\n");
  if (at == std::string::npos) return false;
  const std::string line = text.substr(0, at);
  const std::size_t first = line.find(' '), last = line.rfind(' ');
  if (first == std::string::npos || last <= first || line.compare(last + 1, 5, "HTTP/") != 0) return false;
  head.method = line.substr(0, first);
  head.target = line.substr(first + 1, last - first - 1);
  for (at += 2; at < text.size();) {
    const std::size_t end = text.find("\r\n", at);
    if (end == std::string::npos || end == at) break;
    const std::size_t colon = text.find(':', at);
    if (colon == std::string::npos || colon >= end || text[at] == ' ' || text[at] == '\t') return false;
    head.fields.emplace_back(small_letters(text.substr(at, colon - at)),
                             trimmed(text.substr(colon + 1, end - colon - 1)));
    at = end + 2;
  }
  return true;
}

inline bool has_cookie(const std::string& cookies, const std::string& wanted) {
  bool found = false;
  for (std::size_t at = 0; at <= cookies.size();) {
    std::size_t end = cookies.find(';', at);
    if (end == std::string::npos) end = cookies.size();
    found |= same_secret(trimmed(cookies.substr(at, end - at)), wanted);
    at = end + 1;
  }
  return found;
}

inline bool has_token(const std::string& target, const std::string& token) {
  const std::size_t query = target.find('?');
  if (query == std::string::npos) return false;
  for (std::size_t at = query + 1; at <= target.size();) {
    std::size_t end = target.find('&', at);
    if (end == std::string::npos) end = target.size();
    const std::string part = target.substr(at, end - at);
    if (part.compare(0, 6, "token=") == 0 && same_secret(part.substr(6), token)) return true;
    at = end + 1;
  }
  return false;
}

inline bool is_upgrade(const RequestHead& head) { return head.count("upgrade") > 0; }

// The status of a refusal, 0 where the request is let through.
inline int refusal_of(const RequestHead& head, const GateRules& rules) {
  const std::string host = head.value("host");
  bool known = rules.hosts.empty() && !host.empty();
  for (const auto& own : rules.hosts) known |= host == own;
  if (!known || head.count("host") != 1 || head.count("cookie") > 1) return 403;
  const bool trusted = has_cookie(head.value("cookie"), rules.cookie);
  if (is_upgrade(head)) {
    const std::string target = head.target.substr(0, head.target.find('?'));
    const bool own = head.count("origin") == 1 && head.value("origin") == "http://" + host;
    return trusted && own && target == rules.socket_path && head.method == "GET" ? 0 : 403;
  }
  if (!trusted && !has_token(head.target, rules.token)) return 403;
  if (head.method != "GET" && head.method != "HEAD") return 405;
  if (head.count("transfer-encoding") > 0 || head.count("expect") > 0) return 413;
  if (head.count("content-length") > 0 && head.value("content-length") != "0") return 413;
  return 0;
}

// As it is handed on: a connection is one request.
inline std::string handed_head(const RequestHead& head) {
  std::string text = head.method + " " + head.target + " HTTP/1.1\r\n";
  for (const auto& field : head.fields) {
    if (!is_upgrade(head) && (field.first == "connection" || field.first == "keep-alive")) continue;
    text += field.first + ": " + field.second + "\r\n";
  }
  if (!is_upgrade(head)) text += "connection: close\r\n";
  return text + "\r\n";
}

// Counts the bytes of the messages of a socket as they go by.
class MessageMeter {
 public:
  explicit MessageMeter(std::size_t most) : most_(most) {}

  // False where a message is too long.
  bool passes(const char* bytes, std::size_t n) {
    for (std::size_t i = 0; i < n;) {
      if (left_ > 0) {
        const std::size_t step = static_cast<std::size_t>(std::min<std::uint64_t>(left_, n - i));
        left_ -= step;
        i += step;
        continue;
      }
      head_.push_back(static_cast<unsigned char>(bytes[i++]));
      if (!take_head()) return false;
    }
    return true;
  }

 private:
  // The head of a frame has 2 to 14 bytes.
  bool take_head() {
    if (head_.size() < 2) return true;
    const unsigned size = head_[1] & 0x7f;
    const std::size_t wide = size == 126 ? 2 : size == 127 ? 8 : 0;
    const std::size_t whole = 2 + wide + (head_[1] & 0x80 ? 4 : 0);
    if (head_.size() < whole) return true;
    std::uint64_t length = size;
    if (wide > 0) {
      length = 0;
      for (std::size_t i = 0; i < wide; ++i) length = length << 8 | head_[2 + i];
    }
    const unsigned kind = head_[0] & 0x0f;
    if (length > most_) return false;
    if (kind == 1 || kind == 2) message_ = 0;
    if (kind < 8) message_ += length;
    if (message_ > most_) return false;
    left_ = length;
    head_.clear();
    return true;
  }

  std::size_t most_;
  std::vector<unsigned char> head_;
  std::uint64_t left_ = 0, message_ = 0;
};

// A socket that listens at a port (0: one that is free) of an address.
inline int listening_socket(const std::string& host, int port) {
  addrinfo wanted{}, *found = nullptr;
  wanted.ai_socktype = SOCK_STREAM;
  wanted.ai_flags = AI_PASSIVE;
  if (getaddrinfo(host.c_str(), std::to_string(port).c_str(), &wanted, &found) != 0) {
    throw std::runtime_error("the address is none of this machine");
  }
  int listener = -1;
  for (addrinfo* one = found; one != nullptr && listener < 0; one = one->ai_next) {
    listener = socket(one->ai_family, one->ai_socktype, one->ai_protocol);
    const int yes = 1;
    if (listener >= 0) setsockopt(listener, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
    if (listener >= 0 && (bind(listener, one->ai_addr, one->ai_addrlen) != 0 || listen(listener, 512) != 0)) {
      close(listener);
      listener = -1;
    }
  }
  freeaddrinfo(found);
  if (listener < 0) throw std::runtime_error("another program listens there, or the address is none of this machine");
  return listener;
}

// A port of an address at which nothing listens.
inline int free_port(const std::string& host) {
  const int listener = listening_socket(host, 0);
  sockaddr_storage address{};
  socklen_t size = sizeof address;
  const int wrong = getsockname(listener, reinterpret_cast<sockaddr*>(&address), &size);
  close(listener);
  if (wrong != 0) throw std::runtime_error("no port is free");
  const auto port = address.ss_family == AF_INET6 ? reinterpret_cast<sockaddr_in6*>(&address)->sin6_port
                                                  : reinterpret_cast<sockaddr_in*>(&address)->sin_port;
  return ntohs(port);
}

class Gate {
 public:
  Gate(const std::string& host, int port, std::string inner, GateRules rules)
      : inner_(std::move(inner)), rules_(std::move(rules)) {
    listener_ = listening_socket(host, port);
    no_waiting(listener_);
    if (pipe(wake_) != 0) throw std::runtime_error("no pipe");
    thread_ = std::thread([this] { run(); });
  }
  ~Gate() {
    ended_ = true;
    if (write(wake_[1], "x", 1) < 0) errno = 0;
    thread_.join();
    for (auto& line : lines_) line.close_both();
    close(listener_);
    close(wake_[0]);
    close(wake_[1]);
  }
  Gate(const Gate&) = delete;
  Gate& operator=(const Gate&) = delete;

 private:
  using Clock = std::chrono::steady_clock;

  struct Line {
    int outer = -1, inner = -1;
    bool ending = false;  // only what is still to be sent to the browser
    bool socket = false;
    Clock::time_point since = Clock::now();
    std::string head, to_outer, to_inner;
    MessageMeter meter;
    explicit Line(int fd, std::size_t most) : outer(fd), meter(most) {}
    bool waiting() const { return inner < 0 && !ending; }
    void close_both() {
      if (outer >= 0) close(outer);
      if (inner >= 0) close(inner);
      outer = inner = -1;
    }
  };

  static void no_waiting(int fd) {
    fcntl(fd, F_SETFL, fcntl(fd, F_GETFL, 0) | O_NONBLOCK);
    fcntl(fd, F_SETFD, FD_CLOEXEC);
  }

  void run() {
    while (!ended_) {
      std::vector<pollfd> polled{{listener_, POLLIN, 0}, {wake_[0], POLLIN, 0}};
      for (const auto& line : lines_) {
        polled.push_back({line.outer, wanted_of(line.waiting() || line.inner >= 0, line.to_inner, line.to_outer), 0});
        polled.push_back({line.inner, wanted_of(line.inner >= 0, line.to_outer, line.to_inner), 0});
      }
      poll(polled.data(), polled.size(), 250);
      std::size_t at = 2;
      for (auto line = lines_.begin(); line != lines_.end(); at += 2) {
        const bool stands = served(*line, polled[at].revents, polled[at + 1].revents);
        if (!stands) line->close_both();
        line = stands ? std::next(line) : lines_.erase(line);
      }
      if (polled[0].revents & POLLIN) take_in();
    }
  }

  // Reading stops while the other side is behind.
  static short wanted_of(bool reads, const std::string& behind, const std::string& unsent) {
    return static_cast<short>((reads && behind.size() < most_behind ? POLLIN : 0) | (unsent.empty() ? 0 : POLLOUT));
  }

  void take_in() {
    for (int i = 0; i < 64; ++i) {
      const int fd = accept(listener_, nullptr, nullptr);
      if (fd < 0) return;
      no_waiting(fd);
      std::size_t waiting = 0;
      auto oldest = lines_.end();
      for (auto line = lines_.begin(); line != lines_.end(); ++line) {
        if (!line->waiting()) continue;
        ++waiting;
        if (oldest == lines_.end()) oldest = line;
      }
      if (waiting >= rules_.most_waiting) {
        oldest->close_both();
        lines_.erase(oldest);
      }
      if (lines_.size() >= rules_.most_open + rules_.most_waiting) {
        close(fd);
      } else {
        lines_.emplace_back(fd, rules_.most_message);
      }
    }
  }

  // False where the line has ended.
  bool served(Line& line, short outer, short inner) {
    const double age = std::chrono::duration<double>(Clock::now() - line.since).count();
    if ((line.waiting() || line.ending) && age > rules_.patience) return false;
    if (outer & (POLLIN | POLLHUP | POLLERR)) {
      char bytes[16384];
      const ssize_t n = recv(line.outer, bytes, sizeof bytes, 0);
      if (n == 0 || (n < 0 && errno != EAGAIN && errno != EWOULDBLOCK && errno != EINTR)) return false;
      if (n > 0 && !said(line, bytes, static_cast<std::size_t>(n))) return false;
    }
    if (line.inner >= 0 && (inner & (POLLIN | POLLHUP | POLLERR)) && line.to_outer.size() < most_behind) {
      char bytes[65536];
      const ssize_t n = recv(line.inner, bytes, sizeof bytes, 0);
      if (n > 0) line.to_outer.append(bytes, static_cast<std::size_t>(n));
      if (n == 0 || (n < 0 && errno != EAGAIN && errno != EWOULDBLOCK && errno != EINTR)) {
        close(line.inner);
        line.inner = -1;
        line.ending = true;
        line.since = Clock::now();
      }
    }
    if (!sent(line.outer, line.to_outer)) return false;
    if (line.inner >= 0 && !sent(line.inner, line.to_inner)) return false;
    if (!line.ending || !line.to_outer.empty()) return true;
    shutdown(line.outer, SHUT_WR);
    return false;
  }

  bool said(Line& line, const char* bytes, std::size_t n) {
    if (line.ending) return true;
    if (line.inner >= 0) {
      // A plain connection has said all that it may.
      if (!line.socket) return true;
      if (!line.meter.passes(bytes, n)) return false;
      line.to_inner.append(bytes, n);
      return true;
    }
    line.head.append(bytes, n);
    const std::size_t end = line.head.find("\r\n\r\n");
    if (end == std::string::npos) {
      if (line.head.size() <= rules_.most_head) return true;
      refuse(line, 431);
      return true;
    }
    RequestHead head;
    const int refusal = read_head(line.head.substr(0, end + 2), head) ? refusal_of(head, rules_) : 400;
    if (refusal != 0) {
      refuse(line, refusal);
      return true;
    }
    line.socket = is_upgrade(head);
    const std::string rest = line.head.substr(end + 4);
    if (!open_inner(line)) {
      refuse(line, 503);
      return true;
    }
    line.to_inner = handed_head(head);
    line.head.clear();
    if (line.socket && !rest.empty()) {
      if (!line.meter.passes(rest.data(), rest.size())) return false;
      line.to_inner += rest;
    }
    return true;
  }

  bool open_inner(Line& line) {
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    if (inner_.size() >= sizeof address.sun_path) return false;
    std::memcpy(address.sun_path, inner_.c_str(), inner_.size() + 1);
    line.inner = socket(AF_UNIX, SOCK_STREAM, 0);
    if (line.inner < 0) return false;
    if (connect(line.inner, reinterpret_cast<sockaddr*>(&address), sizeof address) != 0) {
      close(line.inner);
      line.inner = -1;
      return false;
    }
    no_waiting(line.inner);
    return true;
  }

  static void refuse(Line& line, int status) {
    const char* words = status == 400 ? "Bad Request" : status == 403 ? "Forbidden" : status == 405
      ? "Method Not Allowed" : status == 413 ? "Content Too Large" : status == 431
      ? "Request Header Fields Too Large" : "Service Unavailable";
    const std::string text = "This explorer answers only to the browser it was opened in: use the address that was "
      "told when it began.";
    line.to_outer = "HTTP/1.1 " + std::to_string(status) + " " + words + "\r\n"
      "Content-Type: text/plain; charset=utf-8\r\nContent-Length: " + std::to_string(text.size()) + "\r\n"
      "X-Content-Type-Options: nosniff\r\nCache-Control: no-store\r\n"
      "Content-Security-Policy: default-src 'none'\r\nConnection: close\r\n\r\n" + text;
    line.head.clear();
    line.ending = true;
    line.since = Clock::now();
  }

  static bool sent(int fd, std::string& bytes) {
#ifdef MSG_NOSIGNAL
    const int flags = MSG_NOSIGNAL;
#else
    const int flags = 0;
#endif
    while (!bytes.empty()) {
      const ssize_t n = send(fd, bytes.data(), bytes.size(), flags);
      if (n < 0) return errno == EAGAIN || errno == EWOULDBLOCK || errno == EINTR;
      bytes.erase(0, static_cast<std::size_t>(n));
    }
    return true;
  }

  static constexpr std::size_t most_behind = 1 << 18;

  std::string inner_;
  GateRules rules_;
  int listener_ = -1;
  int wake_[2] = {-1, -1};
  std::atomic<bool> ended_{false};
  std::list<Line> lines_;
  std::thread thread_;
};

}  // namespace kernel

#endif
