# What the explorer writes: standing reports and pages, in its folder only and by plain names.

# Names of files: no folders, no leading dots.
file_in_folder <- function(folder, name, endings) {
  check_text(name, "file")
  ending <- tolower(tools::file_ext(name))
  if (!grepl("^[[:alnum:] _-][[:alnum:] ._-]*$", name) || !ending %in% endings) {
    raise("output", c(paste0(quoted(name), " is no name of a file here."),
      ">" = "Letters, digits, blanks, dots and hyphens, and at the end {.or {paste0('.', endings)}}."))
  }
  file.path(folder, name)
}

said_save <- function(app, window, said) {
  seen <- seen_of(window)
  page <- window$state$now$page
  path <- file_in_folder(app$folder, act_text(said, "file"), report_endings)
  part <- if (length(page$blocks) > 0L) explored_report(page, seen$base, seen$made)
    else table_of_window(window)
  lines <- standing_lines(part, app$folder, ask = act_texts(said, "parameters"), braced = page$braced)
  write_whole(path, function(aside) write_text_lines(lines, aside))
  tell_written(app, window, path)
}

said_write <- function(app, window, said) {
  seen <- seen_of(window)
  page <- window$state$now$page
  path <- file_in_folder(app$folder, act_text(said, "file"), names(document_writers()))
  part <- if (length(page$blocks) > 0L) explored_report(page, seen$base, seen$made)
    else table_of_window(window)
  write_report(part, path)
  tell_written(app, window, path)
}

tell_written <- function(app, window, path) {
  tell_window(window, "written", list(files = list(path), reports = as.list(reports_in(app$folder))))
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
