# Output is written aside, in the same folder, and moved into place: a reader never sees half a file, and a failure
# leaves what stood there before. `write` is a function of the path aside.
write_whole <- function(path, write) {
  folder <- dirname(path)
  if (!dir.exists(folder)) {
    raise("output", c(
      paste0("There is no folder ", quoted(folder), "."),
      ">" = "Make it first, or write somewhere else."
    ))
  }
  if (dir.exists(path)) raise("output", paste0(quoted(path), " is a folder, not a file."))
  aside <- tempfile(".drystack-", tmpdir = folder, fileext = paste0(".", tools::file_ext(path)))
  on.exit(unlink(aside))
  or_cannot_write(path, {
    write(aside)
    if (!file.rename(aside, path)) stop("the finished file could not be moved into place")
  })
  invisible(path)
}

# What goes wrong while a file is written is told with its path.
or_cannot_write <- function(path, writing) {
  fail <- function(e) {
    raise("output", c(paste0("Cannot write ", quoted(path), "."), "x" = braces_kept(conditionMessage(e))))
  }
  rlang::try_fetch(writing, error = unless_ours(fail), warning = fail)
}

write_text_lines <- function(lines, path) {
  connection <- file(path, open = "wb")
  on.exit(close(connection))
  writeLines(enc2utf8(lines), connection, useBytes = TRUE)
}
