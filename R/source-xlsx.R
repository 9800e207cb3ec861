# The first worksheet of a workbook. A workbook is an archive of parts: they are listed and held
# against their check sums before any is used, and nothing is unpacked to disk.

read_xlsx_file <- function(path) {
  size <- check_archive(path)
  read <- function() {
    suppressWarnings(readxl::read_xlsx(path, sheet = 1L, guess_max = Inf,
      .name_repair = "minimal", progress = FALSE))
  }
  orders <- as.data.frame(read_apart(read, path, size), optional = TRUE)
  orders[] <- lapply(orders, plain_sheet_column)
  with_types(orders)
}

most_parts <- 2000L

# How large its parts are together.
check_archive <- function(path) {
  bytes <- read_bytes(path)
  parts <- kernel_zip_parts(bytes)
  if (length(parts$name) > most_parts) raise_unreadable(path,
    paste("it has more than", format_count(most_parts), "parts"))
  odd <- grepl("^[/\\\\]|^[A-Za-z]:|(^|[/\\\\])\\.\\.([/\\\\]|$)", parts$name, useBytes = TRUE)
  if (any(odd)) raise_unreadable(path, "a part of it has a name that leads out of it, which no workbook has")
  check_unpacked(path, sum(parts$size), length(bytes))
  for (place in grep("^xl/.*[.]xml$", parts$name, useBytes = TRUE)) check_sheet(path,
    bytes, parts$name[place], place)
  sum(parts$size)
}

check_unpacked <- function(path, unpacked, packed) {
  if (unpacked > most_bytes() || (unpacked > 6.4e7 && unpacked / packed > 200)) {
    raise_unreadable(path, paste("its parts unpack to", format_bytes(unpacked),
      "- more than is read of a workbook of its size"))
  }
}

check_sheet <- function(path, bytes, name, place) {
  part <- kernel_zip_part(bytes, place)
  if (!startsWith(name, "xl/worksheets/")) {
    return()
  }
  end <- utils::tail(part, 200L)
  if (!grepl("</([A-Za-z0-9]+:)?worksheet>\\s*$", rawToChar(end[end != 0]), useBytes = TRUE)) {
    raise("file", c(
      paste0("The workbook ", quoted(path), " is cut off: its part ",
        quoted(name), " does not end as it should."),
      ">" = "Save the workbook again."
    ))
  }
}

# Date cells come as date-times at midnight.
plain_sheet_column <- function(x) {
  if (inherits(x, "POSIXct") && all(as.numeric(x) %% 86400 == 0, na.rm = TRUE)) as.Date(x) else x
}
