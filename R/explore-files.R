# What the explorer writes: standing reports and pages, in its folder only and by plain names.

# Where a file is written to; NULL where one stands there that nobody said to replace: then it
# is asked.
place_to_write <- function(app, window, said, endings) {
  path <- file_in_folder(app$folder, act_text(said, "file"), endings)
  if (file.exists(path) && !dir.exists(path) && !isTRUE(said$replace)) {
    tell_window(window, "exists", list(file = said$file, what = said$do, free = free_name(path)))
    return(NULL)
  }
  path
}

said_save <- function(app, window, said) {
  seen <- seen_of(window)
  page <- window$state$now$page
  path <- place_to_write(app, window, said, report_endings)
  if (is.null(path)) {
    return(invisible())
  }
  part <- if (length(page$blocks) > 0L) explored_report(page, seen$base, seen$made)
    else table_of_window(window)
  lines <- standing_lines(part, app$folder, ask = act_texts(said, "parameters"),
    braced = page$braced)
  write_whole(path, function(aside) write_text_lines(lines, aside))
  tell_written(app, window, path)
}

said_write <- function(app, window, said) {
  seen <- seen_of(window)
  page <- window$state$now$page
  path <- place_to_write(app, window, said, names(bundle_writers()))
  if (is.null(path)) {
    return(invisible())
  }
  part <- if (length(page$blocks) > 0L) explored_report(page, seen$base, seen$made)
    else table_of_window(window)
  write <- function(...) {
    write_report(part, path)
    NULL
  }
  if (forks_safely()) return(await_written(app, window, said, path, begin_piece(write, 1L)))
  write()
  tell_written(app, window, path)
}

# Printing takes long: it is done in a process of its own, and other windows are answered meanwhile.
await_written <- function(app, window, said, path, process) {
  later::later(function() {
    outcome <- outcome_apart(process, 0)
    if (is.null(outcome)) {
      return(await_written(app, window, said, path, process))
    }
    gave <- if (outcome$done) taken_over(process$handed) else list(
      error = ended_while_writing(path))
    end_apart(process)
    if (is.null(gave$error)) tell_written(app, window, path) else refuse(app, window,
      said, gave$error)
  }, 0.05)
}

ended_while_writing <- function(path) {
  rlang::catch_cnd(raise("output", c(paste0("What wrote ", quoted(path),
    " has ended without a word."),
    "i" = "Nothing was written.", ">" = "Write it again; there may be too little memory.")))
}

tell_written <- function(app, window, path) {
  tell_window(window, "written", list(files = list(path),
    reports = as.list(reports_in(app$folder))))
}

# Which parts of what is shown could be parameters of a report: list(name, says).
possible_parameters <- function(ask) {
  columns <- unlist(lapply(ask$only, function(text) limit_said(text)$column))
  c(
    list(list(name = "as_of", says = "the as-of date")),
    if (nzchar(ask$from)) list(list(name = "from", says = "the first day shown")),
    if (nzchar(ask$to)) list(list(name = "to", says = "the last day shown")),
    lapply(unique(columns), function(column) list(name = column, says = plain_words(column)))
  )
}
