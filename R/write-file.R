# Output is written aside, in the same folder, and moved into place: a reader never sees half a file, and a failure
# leaves
# what stood there before. `write` is a function of the path aside.
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
  fail <- function(e) {
    raise("output", c(paste0("Cannot write ", quoted(path), "."), "x" = braces_kept(conditionMessage(e))))
  }
  rlang::try_fetch(
    {
      write(aside)
      if (!file.rename(aside, path)) stop("the finished file could not be moved into place")
    },
    error = unless_ours(fail),
    warning = fail
  )
  invisible(path)
}

write_text_lines <- function(lines, path) {
  connection <- file(path, open = "wb")
  on.exit(close(connection))
  writeLines(enc2utf8(lines), connection, useBytes = TRUE)
}
