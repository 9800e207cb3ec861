# The installed command line, as a shell runs it.

# Where the package counts its lines (make coverage) it would take minutes to start: there a
# plain one is launched.
launcher <- function(folder = withr::local_tempdir(.local_envir = env), env = parent.frame()) {
  path <- suppressMessages(install_command_line(folder))
  plain <- Sys.getenv("DRYSTACK_PLAIN")
  if (nzchar(plain)) file.copy(plain, path, overwrite = TRUE)
  path
}

# What a command answers: its status, standard output and standard error. In this process, which is
# the same code without the time to start R, or as the installed program, which a few tests launch.
drystack <- function(..., program = NULL) {
  withr::local_envvar(c(NO_COLOR = "1", COLUMNS = "100"))
  if (is.null(program)) {
    out <- utils::capture.output(err <- utils::capture.output(status <- run_command(c(...)),
      type = "message"))
    return(list(status = status, out = out, err = paste(err, collapse = " ")))
  }
  out <- withr::local_tempfile()
  err <- withr::local_tempfile()
  status <- suppressWarnings(system2(program, shQuote(c(...)), stdout = out, stderr = err))
  list(status = status, out = readLines(out, encoding = "UTF-8"), err = paste(readLines(err), collapse = " "))
}
