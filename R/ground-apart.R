# Work in processes of its own, forked from this one: what a fault would end, what takes long, and
# what may be done at the same time. What a process gives comes through a file: the pipe between
# the processes is slow for much of it.

apart <- list2env(list(within = FALSE), parent = emptyenv())

# Whether this is such a process.
is_apart <- function() apart$within

# begin_apart() begins one; outcome_apart() waits for it some seconds: NULL where it is still at
# work, else list(done: FALSE where it died or raised an error of any kind).
begin_apart <- function(work) {
  handed <- tempfile("apart")
  caller <- Sys.getpid()
  job <- parallel::mcparallel(
    {
      kernel_end_with(caller)
      apart$within <- TRUE
      rlang::try_fetch(suppressWarnings(hand_over(work(), handed)), error = function(e) FALSE)
    },
    mc.set.seed = FALSE, silent = TRUE
  )
  list(job = job, handed = handed)
}

outcome_apart <- function(process, seconds) {
  outcome <- suppressWarnings(parallel::mccollect(process$job, wait = FALSE, timeout = seconds))
  if (!is.null(outcome)) list(done = isTRUE(outcome[[1L]]))
}

end_apart <- function(process) {
  kernel_end_process(process$job$pid)
  suppressWarnings(parallel::mccollect(process$job, wait = FALSE, timeout = 1))
  unlink(process$handed)
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

# How many at once are worth while for work on files of such sizes: as many as there are threads,
# and as memory allows. Text and codes take several times the bytes of a file that is packed.
processes_at_once <- function(bytes) {
  if (!forks_safely() || is_apart()) {
    return(1L)
  }
  max(1L, min(thread_count(), length(bytes), floor(allowed_memory() / (10 * max(bytes)))))
}

# Pieces of work, as many at once as is said; `take` gets what each gave, in their order. An error
# that one raises is raised here; where one dies, `died` is called with its number, which raises
# another. All end when this ends.
in_processes <- function(pieces, at_once, work, take, died) {
  # Where so much is not to be had, garbage is collected more often.
  rlang::try_fetch(kernel_make_room(min(4e8, allowed_memory() / 8)), error = function(e) NULL)
  running <- list()
  on.exit(for (process in running) end_apart(process))
  begun <- 0L
  for (next_one in seq_len(pieces)) {
    while (begun < pieces && length(running) < at_once) {
      begun <- begun + 1L
      running[[as.character(begun)]] <- begin_piece(work, begun)
    }
    process <- running[[as.character(next_one)]]
    repeat {
      outcome <- outcome_apart(process, 60)
      if (!is.null(outcome)) break
    }
    if (!outcome$done) died(next_one)
    gave <- taken_over(process$handed)
    end_apart(process)
    running[[as.character(next_one)]] <- NULL
    if (!is.null(gave$error)) rlang::cnd_signal(gave$error)
    take(gave$value, next_one)
  }
}

begin_piece <- function(work, piece) {
  force(piece)
  begin_apart(function() {
    rlang::try_fetch(list(value = work(piece)), error = function(e) list(error = without_calls(e)))
  })
}

# An error without the calls that led to it, which hold what they were called with.
without_calls <- function(e) {
  e[c("trace", "call")] <- NULL
  e
}
