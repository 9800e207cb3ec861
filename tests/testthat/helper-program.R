# The installed command line, as a shell runs it.

launcher <- function(env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  suppressMessages(install_command_line(folder))
}

# Runs the program: status, standard output and standard error apart.
drystack <- function(..., program = launcher()) {
  out <- withr::local_tempfile()
  err <- withr::local_tempfile()
  status <- withr::with_envvar(c(NO_COLOR = "1", COLUMNS = "100"), {
    suppressWarnings(system2(program, shQuote(c(...)), stdout = out, stderr = err))
  })
  list(status = status, out = readLines(out, encoding = "UTF-8"), err = paste(readLines(err), collapse = " "))
}
