#' Put the command line where the shell finds it
#'
#' Writes a small launcher named `drystack` that runs this installed package, and its manual page
#' beside it (`../share/man/man1`).
#'
#' @param folder Where to put it; it should be on the `PATH`. Default: `~/.local/bin`.
#' @return The path of the launcher, invisibly.
#' @section Errors: `drystack_error_output` when the folder cannot be made or written.
#' @seealso `drystack --help` in a terminal says what it does.
#' @examples
#' install_command_line(file.path(tempdir(), "bin"))
#' @export
install_command_line <- function(folder = "~/.local/bin") {
  own_setting()
  check_text(folder, "folder")
  folder <- path.expand(folder)
  if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE, recursive = TRUE)) {
    raise("output", c(paste0("Cannot make the folder ", quoted(folder), "."),
      ">" = "Name another: {.arg folder}."))
  }
  launcher <- file.path(folder, "drystack")
  write_whole(launcher, function(aside) {
    write_text_lines(launcher_lines(), aside)
    Sys.chmod(aside, "0755")
  })
  man <- file.path(dirname(normalizePath(folder)), "share", "man", "man1")
  if (dir.exists(man) || dir.create(man, showWarnings = FALSE, recursive = TRUE)) {
    write_whole(file.path(man, "drystack.1"), function(aside) {
      write_text_lines(manual_lines(), aside)
    })
  }
  on_path <- normalizePath(folder) %in% normalizePath(
    strsplit(Sys.getenv("PATH"), .Platform$path.sep)[[1L]], mustWork = FALSE
  )
  if (!on_path) cli::cli_inform(
    c("i" = "{.path {folder}} is not on the PATH: add it there, or call {.path {launcher}}.")
  )
  invisible(launcher)
}

# R's default packages are not needed and would double the time to start; compiling what runs once
# takes longer than running it; and so does collecting garbage while packages are loaded, which a
# small first heap would do twenty times. Memory in large pages takes a tenth off a start (Linux).
launcher_lines <- function() {
  quoted <- function(path) shQuote(path, type = "sh")
  c(
    "#!/bin/sh",
    "export GLIBC_TUNABLES=\"${GLIBC_TUNABLES:-glibc.malloc.hugetlb=1}\"",
    paste(
      "R_DEFAULT_PACKAGES=NULL R_ENABLE_JIT=0 R_NSIZE=1000000 R_VSIZE=256M exec",
      quoted(file.path(R.home("bin"), "Rscript")),
      quoted(system.file("exec", "drystack", package = "drystack", mustWork = TRUE)), "\"$@\""
    )
  )
}
