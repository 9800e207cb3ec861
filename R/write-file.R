# Output is written aside, in the same folder, and moved into place: a reader never sees half a
# file, and a failure leaves what stood there before. `write` is a function of the path aside.
write_whole <- function(path, write) {
  path <- target_of(path)
  folder <- dirname(path)
  if (!dir.exists(folder)) {
    raise("output", c(
      paste0("There is no folder ", quoted(folder), "."),
      ">" = "Make it first, or write somewhere else."
    ))
  }
  if (dir.exists(path)) raise("output", paste0(quoted(path), " is a folder, not a file."))
  clear_aside(folder)
  aside <- file_aside(folder, paste0(".", tools::file_ext(path)))
  on.exit(unlink(aside))
  or_cannot_write(path, {
    write(aside)
    check_written(aside)
    move_into_place(aside, path)
  })
  invisible(path)
}

# Where a link leads.
target_of <- function(path) {
  if (nzchar(Sys.readlink(path.expand(path)))) normalizePath(path, mustWork = FALSE) else path
}

# A name beside what is written, with the number of this process in it.
file_aside <- function(folder, ending = "") {
  tempfile(paste0(".drystack-", Sys.getpid(), "-"), tmpdir = folder, fileext = ending)
}

# What processes left that were ended in the midst of their work.
clear_aside <- function(folder) {
  left <- list.files(folder, "^[.]drystack-[0-9]+-", all.files = TRUE)
  process <- as.integer(sub("^[.]drystack-([0-9]+)-.*$", "\\1", left))
  gone <- left[!vapply(process, function(id) kernel_process_runs(id), NA)]
  unlink(file.path(folder, gone), recursive = TRUE)
}

# The new file has the mode of the one it replaces.
move_into_place <- function(aside, path) {
  if (file.exists(path)) Sys.chmod(aside, file.mode(path), use_umask = FALSE)
  if (!file.rename(aside, path)) stop("the finished file could not be moved into place")
}

# What goes wrong while a file is written is told with its path.
or_cannot_write <- function(path, writing) {
  fail <- function(e) {
    raise("output", c(paste0("Cannot write ", quoted(path), "."), "x" = braces_kept(unwritten_reason(e))))
  }
  rlang::try_fetch(writing, error = unless_ours(fail), warning = fail)
}

write_text_lines <- function(lines, path) {
  text <- paste0(enc2utf8(lines), "\n", collapse = "")
  kernel_write_file(path.expand(path), charToRaw(text))
}

# Libraries that write files have words of their own for a disk that is full.
unwritten_reason <- function(e) {
  told <- conditionMessage(e)
  of_library <- "write error|(could|can) ?not write|error writing|failed to write"
  plain <- grepl("No space left|denied|[Rr]ead-only", told) || !grepl(of_library, told, ignore.case = TRUE)
  if (plain) told else "the file could not be written to its end: is the disk full?"
}
