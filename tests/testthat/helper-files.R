# A file with these lines, gone when the calling test ends.
written <- function(..., ending = ".csv", env = parent.frame()) {
  path <- withr::local_tempfile(fileext = ending, .local_envir = env)
  writeLines(c(...), path, useBytes = TRUE)
  path
}

# The cells of delimited text, read character by character: a list of records.
cells_of_text <- function(text) {
  state <- list(rows = list(), row = character(), cell = "", quoted = FALSE)
  chars <- c(strsplit(text, "")[[1L]], "\n")
  i <- 1L
  while (i <= length(chars)) {
    doubled <- state$quoted && chars[i] == "\"" && identical(chars[i + 1L], "\"")
    state <- if (doubled) within_cell(state, "\"") else if (state$quoted)
      quoted_character(state, chars[i]) else plain_character(
        state, chars[i]
      )
    i <- i + 1L + doubled
  }
  state$rows
}

within_cell <- function(state, char) {
  state$cell <- paste0(state$cell, char)
  state
}

quoted_character <- function(state, char) {
  if (char != "\"") {
    return(within_cell(state, char))
  }
  state$quoted <- FALSE
  state
}

plain_character <- function(state, char) {
  if (state$cell == "" && char == "\"") {
    state$quoted <- TRUE
    return(state)
  }
  if (!char %in% c(",", "\n")) {
    return(within_cell(state, char))
  }
  state$row <- c(state$row, state$cell)
  state$cell <- ""
  if (char == "\n") {
    if (!identical(state$row, "")) state$rows[[length(state$rows) + 1L]] <- state$row
    state$row <- character()
  }
  state
}

# The yard's orders, lookups and reports in a folder that is gone when the calling test ends.
yard_folder <- function(reports = "monthly", env = parent.frame()) {
  harrowgill_folder(withr::local_tempdir(.local_envir = env), reports)
}
