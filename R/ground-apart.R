# Work in processes of its own, forked from this one: what a fault would end, what takes long, and
# what may be done at the same time. What a process gives comes through a file: the pipe between
# the processes is slow for much of it.

apart <- list2env(list(within = FALSE), parent = emptyenv())

# Whether this is such a process.
is_apart <- function() apart$within

# begin_apart() begins one; outcome_apart() waits for it some seconds: NULL where it is still at
# work, else list(done: FALSE where it died or raised an error, of what kind ever).
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
  tools::pskill(process$job$pid, tools::SIGKILL)
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

# Pieces of work, as many at once as is said; `take` gets what each gave, in their order. Where one
# dies, `died` is called with its number, which raises an error. All end when this ends.
in_processes <- function(pieces, at_once, work, take, died) {
  kernel_make_room(min(4e8, allowed_memory() / 8))
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
    take(gave, next_one)
  }
}

begin_piece <- function(work, piece) {
  force(piece)
  begin_apart(function() work(piece))
}
