# Who may speak to an explorer: the browser that was opened with its first address, and no
# page of others.
#
# The first address has a token. It is changed for a cookie and a key, and goes from the address.
# The gate (kernel/gate.h) holds every request against the cookie, its host against where the
# explorer listens (a name of others that leads here is refused), and a socket's origin against it
# too, before R hears of it. Browsers send a cookie to every server of this machine, whatever its
# port. So it alone opens nothing: what is worth having comes by the socket, whose first message
# must be the key, and that is known to the page alone.

new_guard <- function(host, port, secrets = list(token = new_secret(), value = new_secret(),
  key = new_secret())) {
  shown <- if (host %in% c("0.0.0.0", "::")) unname(Sys.info()[["nodename"]]) else host
  c(secrets, list(cookie = paste0("drystack_", port), host = host, port = port,
    address = paste0("http://", shown, ":", port, "/?token=", secrets$token)))
}

new_secret <- function() {
  paste(format(as.hexmode(as.integer(random_bytes(24L))), width = 2L), collapse = "")
}

# The names by which browsers reach it on loopback; elsewhere only its users know them.
own_hosts <- function(guard) {
  if (!is_loopback(guard$host)) {
    return(character())
  }
  paste0(unique(c("127.0.0.1", "localhost", "[::1]", guard$host)), ":", guard$port)
}

cookie_said <- function(guard) paste0(guard$cookie, "=", guard$value)

# Where the socket is opened.
talk_path <- "/talk"

# Limits: bytes of a message, and of the first; seconds for a head and for the key; sockets without
# a key.
most_said <- 2^20
most_first <- 1024L
patience_for_key <- 5
most_unknown <- 8L

begin_gate <- function(guard, inner) {
  rlang::try_fetch(
    kernel_gate(guard$host, guard$port, inner, own_hosts(guard), cookie_said(guard),
      guard$token, talk_path, most_said, patience_for_key),
    error = function(e) raise_no_port(paste("port", guard$port), guard$host, e)
  )
}

# Of the system: R's own numbers can be guessed.
random_bytes <- function(n) {
  if (!file.exists("/dev/urandom")) {
    raise("explore", c(paste0("The system has no source of random numbers: {.path /dev/urandom} ",
      "is missing."),
      "i" = "An explorer without a token would answer to anyone."))
  }
  source <- file("/dev/urandom", "rb", raw = TRUE)
  on.exit(close(source))
  readBin(source, "raw", n)
}

is_loopback <- function(host) host %in% c("localhost", "::1") || startsWith(host, "127.")

# Whether a request brings the token; the gate has let in none that brings neither it nor
# the cookie.
brings_token <- function(request, guard) {
  said <- sub("^.*[?&]token=([^&]*).*$", "\\1",
    paste0("?", sub("^[?]", "", request$QUERY_STRING %||% "")))
  same_text(said, guard$token)
}

# In a time that does not depend on where they differ.
same_text <- function(a, b) {
  a <- charToRaw(a)
  b <- charToRaw(b)
  length(a) == length(b) && sum(as.integer(xor(a, b))) == 0L
}

raise_no_port <- function(port, host, e) {
  raise("explore", c("The explorer cannot listen on port {port} of {.val {host}}.",
    "x" = braces_kept(sentence_case(conditionMessage(e))),
    ">" = "Name another port, or none to use any free one."))
}
