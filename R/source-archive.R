# A file of orders in an archive.

read_archive <- function(path, reading) {
  bytes <- read_bytes(path)
  parts <- kernel_zip_parts(bytes)
  check_unpacked(path, sum(parts$size), length(bytes))
  files <- which(!grepl("/$|^__MACOSX/|(^|/)[.]", parts$name, useBytes = TRUE))
  name <- inner_file(parts$name[files], path, reading)
  place <- files[match(name, parts$name[files])]
  aside <- tempfile("drystack-", fileext = paste0(".", file_ending(name)))
  on.exit(unlink(aside))
  kernel_write_file(aside, kernel_zip_part(bytes, place))
  reading$inside <- NULL
  orders <- rlang::try_fetch(
    {
      check_said_of_files(aside, reading)
      reader_for(aside)(aside, reading)
    },
    drystack_error = function(e) raise_inside(e, aside, name, path))
  told <- attr(orders, "reading")
  told$said["inside"] <- list(if (length(files) > 1L) name)
  told$told <- c(paste0(quoted(name), " of the archive"), told$told)
  attr(orders, "reading") <- told
  orders
}

# The one that was said, or the only one that may hold orders.
inner_file <- function(names, path, reading) {
  if (!is.null(reading$inside)) {
    if (!reading$inside %in% names) {
      raise("argument", c(paste0("The archive ", quoted(path), " has no file ",
        quoted(reading$inside), "."),
        ">" = advise_word(reading$inside, names, "files")))
    }
    return(reading$inside)
  }
  if (length(names) == 1L) {
    return(names)
  }
  if (length(names) == 0L) raise("file", paste0("The archive ", quoted(path), " is empty."))
  raise("file", c(paste0("The archive ", quoted(path), " holds several files."),
    "x" = "They are {examples_of(names)}.",
    ">" = paste0("Say which: ", braces_kept(reading_command(path, reading,
      inside = names[1L])), ".")),
    inside = names)
}

# An error of the file inside names it as the person knows it.
raise_inside <- function(e, aside, name, path) {
  e$message <- gsub(aside, paste0(path, ": ", name), e$message, fixed = TRUE)
  e$body <- gsub(aside, paste0(path, ": ", name), e$body, fixed = TRUE)
  rlang::cnd_signal(e)
}
