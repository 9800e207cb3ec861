# A file with these lines, gone when the calling test ends.
written <- function(..., ending = ".csv", env = parent.frame()) {
  path <- withr::local_tempfile(fileext = ending, .local_envir = env)
  writeLines(c(...), path, useBytes = TRUE)
  path
}
