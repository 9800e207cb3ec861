# Reading with a package that a damaged file can end or hang: in a process of its own, with limits
# of time and memory. When that process dies, the file is at fault and this one goes on. Where the
# system cannot be forked safely it is read here.

# read: a function that gives orders; bytes: what is known of the size of what it reads.
read_apart <- function(read, path, bytes) {
  if (!forks_safely()) {
    return(read())
  }
  seconds <- ceiling(8 + bytes / 4e6)
  caller <- Sys.getpid()
  # What is read comes through a file: the pipe between the processes is slow for much of it.
  handed <- tempfile("read")
  on.exit(unlink(handed))
  job <- parallel::mcparallel(
    {
      kernel_end_with(caller)
      kernel_limit_process(min(3e8 + 40 * bytes, allowed_memory()), seconds)
      rlang::try_fetch(hand_over(read(), handed), error = function(e) FALSE)
    },
    mc.set.seed = FALSE, silent = TRUE
  )
  on.exit(end_reader(job), add = TRUE, after = FALSE)
  outcome <- suppressWarnings(parallel::mccollect(job, wait = FALSE, timeout = seconds))
  if (is.null(outcome)) {
    raise_unreadable(path, paste("reading it took more than", seconds,
      "seconds: it is damaged, or made to do harm"))
  }
  # What the package says of a file that it took for another, or that led it
  # astray, says nothing to people.
  if (!isTRUE(outcome[[1L]])) raise_unreadable(path, "it is damaged, or not what its ending says")
  taken_over(handed)
}

hand_over <- function(value, path) {
  connection <- file(path, "wb")
  on.exit(close(connection))
  serialize(value, connection, xdr = FALSE)
  TRUE
}

taken_over <- function(path) {
  connection <- file(path, "rb")
  on.exit(close(connection))
  unserialize(connection)
}

end_reader <- function(job) {
  tools::pskill(job$pid, tools::SIGKILL)
  suppressWarnings(parallel::mccollect(job, wait = FALSE, timeout = 1))
}
