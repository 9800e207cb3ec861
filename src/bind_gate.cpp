// The gate of the explorer (kernel/gate.h), held until it is closed.
#include <Rcpp.h>

#include "gate.h"

// [[Rcpp::export(rng = false)]]
SEXP kernel_gate(std::string host, int port, std::string inner, std::vector<std::string> hosts, std::string cookie,
                 std::string token, std::string socket_path, double most_message, double patience) {
  kernel::GateRules rules;
  rules.hosts = hosts;
  rules.cookie = cookie;
  rules.token = token;
  rules.socket_path = socket_path;
  rules.most_message = static_cast<std::size_t>(most_message);
  rules.patience = patience;
  return Rcpp::XPtr<kernel::Gate>(new kernel::Gate(host, port, inner, rules), true);
}

// [[Rcpp::export(rng = false)]]
void kernel_close_gate(SEXP gate) { Rcpp::XPtr<kernel::Gate>(gate).release(); }

// Whether a request would be let through, by its head: 0, or the status of the refusal.
// [[Rcpp::export(rng = false)]]
int kernel_gate_refusal(std::string head, std::vector<std::string> hosts, std::string cookie, std::string token,
                        std::string socket_path) {
  kernel::GateRules rules;
  rules.hosts = hosts;
  rules.cookie = cookie;
  rules.token = token;
  rules.socket_path = socket_path;
  kernel::RequestHead read;
  return kernel::read_head(head, read) ? kernel::refusal_of(read, rules) : 400;
}

// [[Rcpp::export(rng = false)]]
int kernel_free_port(std::string host) { return kernel::free_port(host); }
