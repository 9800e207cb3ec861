# The explorer as a program: what the browser says comes by a socket (explore-socket.R), and goes
# into one queue; each window has a state of its own, which outlives its socket for a while.
#
# An app is an environment: opened (see explore-source.R), guard, folder, files (of the
# page), queue, drawings (under way), windows, reports, bases, made, unknown (sockets without a key)

explore_app <- function(opened, guard, folder) {
  app <- new.env(parent = emptyenv())
  app$opened <- opened
  app$guard <- guard
  app$folder <- folder
  app$files <- library_files()
  app$queue <- list()
  app$drawings <- list()
  app$windows <- new.env(parent = emptyenv())
  app$reports <- new.env(parent = emptyenv())
  app$bases <- new.env(parent = emptyenv())
  app$served <- 0
  app$unknown <- 0L
  app
}

# A browser's window: its state, what is seen of it, and the session that it speaks by.
new_window <- function(app, id) {
  window <- new.env(parent = emptyenv())
  window$id <- id
  window$state <- app$opened$state
  window$session <- NULL
  window$rows <- most_rows_drawn
  window
}

# What a window says, as it comes: {window, n, do, ...}.
take_in <- function(app, session, text) {
  said <- rlang::try_fetch(jsonlite::fromJSON(text, simplifyVector = FALSE),
    error = function(e) NULL)
  if (!is.list(said) || !is_window_id(said$window) || !is_one_text(said$do)) {
    return(invisible())
  }
  window <- remembered_in(app$windows, said$window, function() new_window(app, said$window))
  window$session <- session
  window$left <- NULL
  if (said$do == "stop") window$stopped <- TRUE else app$queue <- c(app$queue,
    list(list(window = window, said = said)))
  if (said$do %in% c("act", "hello")) window$newest <- said$n
  wake(app)
}

# A window that was left is forgotten after a while; what it still wanted is not worked out.
left <- function(app, session) {
  for (id in ls(app$windows)) {
    window <- app$windows[[id]]
    if (identical(window$session, session)) {
      window$session <- NULL
      window$left <- Sys.time()
      end_drawing(app, window)
    }
  }
  forget_windows(app)
}

window_kept <- 900

forget_windows <- function(app) {
  for (id in ls(app$windows)) {
    gone <- app$windows[[id]]$left
    if (!is.null(gone) && difftime(Sys.time(), gone, units = "secs") > window_kept) rm(list = id,
      envir = app$windows)
  }
}

wake <- function(app) {
  if (isTRUE(app$awake)) {
    return(invisible())
  }
  app$awake <- TRUE
  later::later(function() serve_next(app), 0)
}

serve_next <- function(app) {
  app$awake <- FALSE
  if (length(app$queue) == 0L) {
    return(invisible())
  }
  one <- app$queue[[1L]]
  app$queue <- app$queue[-1L]
  app$served <- app$served + 1
  if (!is.null(one$window$session) && !is_outdated(one)) serve(app, one$window, one$said)
  wake(app)
}

# A drawing that a newer act will draw over.
is_outdated <- function(one) one$said$do == "figure" && !identical(one$said$n, one$window$newest)

serve <- function(app, window, said) {
  window$stopped <- FALSE
  answer <- said_words()[[said$do]]
  rlang::local_options(drystack.progress = watcher(app, window, said),
    drystack.progress_after = 0.3)
  rlang::try_fetch(
    if (is.null(answer)) raise("act", paste0("Nothing is known to do by ", quoted(said$do), "."))
    else answer(app, window, said),
    drystack_stopped = function(e) {
      if (isTRUE(window$stopped)) tell_window(window, "stopped", list())
    },
    drystack_error = function(e) refuse(app, window, said, e),
    error = function(e) {
      refuse(app, window, said, rlang::error_cnd(
        message = paste0("This should not have happened: ", conditionMessage(e))
      ))
    }
  )
}

# While long work is done the browser is heard: a newer act, a stop or a closed window ends it.
watcher <- function(app, window, said) {
  told <- 0
  function(part) {
    later::run_now(0, all = TRUE)
    newer <- said$do == "act" && !identical(window$newest, said$n)
    if (newer || isTRUE(window$stopped) || is.null(window$session)) {
      rlang::abort("stopped", class = "drystack_stopped")
    }
    now <- proc.time()[["elapsed"]]
    if (now - told > 0.2) {
      told <<- now
      tell_window(window, "progress", list(part = part))
    }
  }
}
