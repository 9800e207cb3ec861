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
  aside <- file_aside(folder, paste0(".", file_ending(path)))
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
    raise("output", c(paste0("Cannot write ", quoted(path), "."),
      "x" = braces_kept(unwritten_reason(e))))
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
  plain <- grepl("No space left|denied|[Rr]ead-only", told) ||
    !grepl(of_library, told, ignore.case = TRUE)
  if (plain) told else "the file could not be written to its end: is the disk full?"
}

check_written <- function(path) {
  kernel_sync_file(path.expand(path))
  bytes <- file.size(path)
  if (is.na(bytes) || bytes == 0) stop("nothing was written: is the disk full?")
  whole <- ends_of_formats()[[tolower(file_ending(path))]]
  if (!is.null(whole) && !isTRUE(tryCatch(whole(path, bytes), error = function(e) FALSE))) {
    stop("the file does not end as it should: is the disk full?")
  }
}

# For each ending a function of a path and its size; files of text are written by the kernel,
# which sees what is lacking.
ends_of_formats <- function() {
  list(
    png = function(path, bytes) identical(last_bytes(path, bytes, 12L)[5:8], charToRaw("IEND")),
    svg = function(path, bytes) grepl("</svg>\\s*$", rawToChar(last_bytes(path, bytes, 40L))),
    pdf = function(path, bytes) grepl("%%EOF\\s*$", rawToChar(last_bytes(path, bytes, 40L))),
    parquet = function(path, bytes) {
      identical(last_bytes(path, bytes, 4L), charToRaw("PAR1")) &&
        is.list(nanoparquet::read_parquet_metadata(path))
    },
    xlsx = function(path, bytes) {
      archive <- kernel_read_file(path.expand(path), bytes)
      for (place in seq_along(kernel_zip_parts(archive)$name)) kernel_zip_part(archive, place)
      TRUE
    }
  )
}

last_bytes <- function(path, bytes, count) {
  connection <- file(path, open = "rb")
  on.exit(close(connection))
  seek(connection, max(bytes - count, 0))
  readBin(connection, "raw", count)
}
