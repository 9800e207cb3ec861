# A helper: a process of its own that works while this one goes on, where the system can be forked
# safely. Elsewhere, or when `aside` is FALSE, each piece of its work is done here, when its
# value is first asked for.
#
# ready: what it does before its input is there, such as loading packages
# makes: functions of the input by name, done in their order
#
# Gives give(input); pieces, a function by name for each: the value, waited for until it is there,
# or its error; and stop().
begun_helper <- function(makes, ready = function() NULL, aside = TRUE) {
  if (aside && may_fork()) forked_helper(makes, ready) else helper_here(makes)
}

helper_here <- function(makes) {
  given <- NULL
  list(
    give = function(input) given <<- input,
    pieces = lapply(makes, function(make) made_once(function() make(given))),
    stop = function() NULL
  )
}

forked_helper <- function(makes, ready) {
  folder <- tempfile("drystack-helper-")
  dir.create(folder)
  files <- file.path(folder, names(makes))
  given <- file.path(folder, "input")
  caller <- Sys.getpid()
  job <- parallel::mcparallel(help_along(makes, files, given, ready, caller),
    mc.set.seed = FALSE, silent = TRUE)
  ended <- FALSE
  # Whether the process has ended, listening to it for so long.
  listen <- function(seconds) {
    if (!ended) ended <<- !is.null(suppressWarnings(parallel::mccollect(job,
      wait = FALSE, timeout = seconds)))
    ended
  }
  list(
    give = function(input) left_whole(input, given),
    pieces = Map(function(make, file) {
      # A process that was ended from outside leaves nothing: its work is done here.
      made_once(function() if (awaited(file, listen)) helped_value(file) else make(readRDS(given)))
    }, makes, files),
    stop = function() {
      if (!listen(0)) tools::pskill(job$pid, tools::SIGKILL)
      listen(1)
      unlink(folder, recursive = TRUE)
    }
  )
}

# In the helper itself, which ends when its caller does.
help_along <- function(makes, files, given, ready, caller) {
  kernel_end_with(caller)
  ready()
  while (!file.exists(given)) Sys.sleep(0.003)
  input <- readRDS(given)
  for (i in seq_along(makes)) {
    left_whole(tryCatch(list(value = makes[[i]](input)), error = function(e) list(error = e)), files[i])
  }
}

awaited <- function(file, listen) {
  while (!file.exists(file) && !listen(0.005)) NULL
  file.exists(file)
}

helped_value <- function(file) {
  outcome <- readRDS(file)
  if (is.null(outcome$error)) outcome$value else rlang::cnd_signal(outcome$error)
}

# What crosses between processes is there whole or not at all. It must hold no functions, which
# take along all that they see.
left_whole <- function(value, file) {
  aside <- paste0(file, ".part")
  saveRDS(value, aside, compress = FALSE)
  file.rename(aside, file)
}

# One thread is one process, too.
may_fork <- function() forks_safely() && thread_count() > 1L
