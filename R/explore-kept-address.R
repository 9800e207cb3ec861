# The address of an explorer, kept for its user: begun again with the same orders and folder it
# stands where it stood, so that a bookmark lasts. Only on loopback, and only where nobody names
# a port.

# The file that keeps it, which only its user can read; NULL for orders that have no path.
address_file <- function(opened, folder) {
  if (is.null(opened$path)) {
    return(NULL)
  }
  name <- rlang::hash(list(normalizePath(opened$path, mustWork = FALSE), normalizePath(folder)))
  file.path(tools::R_user_dir("drystack", "data"), "explorer", paste0(name, ".json"))
}

# The guard of the time before, NULL where there is none or others could have read it.
kept_guard <- function(file, host) {
  if (is.null(file) || !is_loopback(host) || !file.exists(file)) {
    return(NULL)
  }
  said <- rlang::try_fetch(jsonlite::fromJSON(file), error = function(e) NULL)
  secrets <- said[c("token", "value", "key")]
  whole <- is.list(said) && all(vapply(secrets, function(one) {
    is_one_text(one) && grepl("^[0-9a-f]{48}$", one)
  }, NA)) &&
    is.numeric(said$port) && length(said$port) == 1L && said$port >= 1024 && said$port <= 65535
  shut <- bitwAnd(as.integer(file.mode(file)), strtoi("077", 8L)) == 0L
  if (whole && shut) new_guard(host, as.integer(said$port), secrets)
}

# What cannot be kept is new the next time.
keep_guard <- function(file, guard) {
  if (is.null(file) || !is_loopback(guard$host)) {
    return(invisible())
  }
  before <- Sys.umask("077")
  on.exit(Sys.umask(before))
  rlang::try_fetch({
    dir.create(dirname(file), showWarnings = FALSE, recursive = TRUE)
    write_whole(file, function(aside) {
      write_text_lines(jsonlite::toJSON(guard[c("port", "token", "value", "key")],
        auto_unbox = TRUE), aside)
    })
  }, error = function(e) NULL, warning = function(e) NULL)
  invisible()
}

# list(guard, gate): at the address before, else at a new one, which is kept where there was none.
opened_gate <- function(opened, port, host, folder, inner) {
  file <- if (is.null(port)) address_file(opened, folder)
  kept <- kept_guard(file, host)
  gate <- if (!is.null(kept)) rlang::try_fetch(begin_gate(kept, inner),
    drystack_error = function(e) NULL)
  if (!is.null(gate)) {
    return(list(guard = kept, gate = gate))
  }
  guard <- new_guard(host, port_to_listen(port, host))
  gate <- begin_gate(guard, inner)
  # Another explorer of these orders may stand at the address that is kept.
  if (is.null(kept)) keep_guard(file, guard)
  list(guard = guard, gate = gate)
}
