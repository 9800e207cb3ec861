# Who may speak to an explorer: the browser that was opened with its first address, and no page of others.
#
# The first address has a token; it is changed for a cookie at once and goes from the address. Every
# request and every socket is held against the cookie, its host against where the explorer listens (a
# name of others that leads here is refused), and a socket's origin against it too.

new_guard <- function(host, port) {
  token <- paste(format(as.hexmode(as.integer(random_bytes(24L))), width = 2L), collapse = "")
  shown <- if (host %in% c("0.0.0.0", "::")) unname(Sys.info()[["nodename"]]) else host
  list(token = token, cookie = paste0("drystack_", port), host = host, port = port,
    address = paste0("http://", shown, ":", port, "/?token=", token))
}

# Of the system: R's own numbers can be guessed.
random_bytes <- function(n) {
  if (!file.exists("/dev/urandom")) {
    raise("explore", c("The system has no random numbers to give: {.path /dev/urandom} is missing.",
      "i" = "An explorer without a token would answer to anyone."))
  }
  source <- file("/dev/urandom", "rb", raw = TRUE)
  on.exit(close(source))
  readBin(source, "raw", n)
}

# "cookie" where the request has it, "token" where it brings the token, else "no".
guarded <- function(request, guard) {
  if (!host_is_ours(request$HTTP_HOST, guard)) {
    return("no")
  }
  if (same_text(cookie_of(request, guard$cookie), guard$token)) {
    return("cookie")
  }
  said <- sub("^.*[?&]token=([^&]*).*$", "\\1", paste0("?", sub("^[?]", "", request$QUERY_STRING %||% "")))
  if (same_text(said, guard$token)) "token" else "no"
}

# On loopback only its own names; elsewhere any name, as only its users know by which it is reached.
host_is_ours <- function(host, guard) {
  if (!is_loopback(guard$host)) {
    return(TRUE)
  }
  !is.null(host) && host %in% paste0(c("127.0.0.1", "localhost", "[::1]", guard$host), ":", guard$port)
}

is_loopback <- function(host) host %in% c("localhost", "::1") || startsWith(host, "127.")

# A socket says which page opened it.
socket_is_ours <- function(request, guard) {
  origin <- request$HTTP_ORIGIN
  guarded(request, guard) == "cookie" && !is.null(origin) &&
    identical(sub("^https?://", "", origin), request$HTTP_HOST)
}

cookie_of <- function(request, name) {
  parts <- trimws(strsplit(request$HTTP_COOKIE %||% "", ";", fixed = TRUE)[[1L]])
  here <- parts[startsWith(parts, paste0(name, "="))]
  if (length(here) == 0L) "" else substring(here[1L], nchar(name) + 2L)
}

# In a time that does not depend on where they differ.
same_text <- function(a, b) {
  a <- charToRaw(a)
  b <- charToRaw(b)
  length(a) == length(b) && sum(as.integer(xor(a, b))) == 0L
}
