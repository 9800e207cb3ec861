# Output is written aside, in the same folder, and moved into place: a reader never sees half a file, and a failure leaves
# what stood there before.
write_whole <- function(lines, path) {
  folder <- dirname(path)
  if (!dir.exists(folder)) {
    raise("output", c(
      paste0("There is no folder ", quoted(folder), "."),
      ">" = "Make it first, or write somewhere else."
    ))
  }
  if (dir.exists(path)) raise("output", paste0(quoted(path), " is a folder, not a file."))
  aside <- tempfile(".drystack-", tmpdir = folder)
  on.exit(unlink(aside))
  fail <- function(e) {
    raise("output", c(paste0("Cannot write ", quoted(path), "."), "x" = braces_kept(conditionMessage(e))))
  }
  rlang::try_fetch(
    {
      connection <- file(aside, open = "wb")
      then_closed(connection, writeLines(enc2utf8(lines), connection, useBytes = TRUE))
      if (!file.rename(aside, path)) stop("the finished file could not be moved into place")
    },
    error = fail,
    warning = fail
  )
  invisible(path)
}

then_closed <- function(connection, code) {
  on.exit(close(connection))
  force(code)
}
