# The first worksheet of a workbook. A workbook is an archive of parts: they are listed and held
# against their check sums before any is used, and nothing is unpacked to disk.

read_xlsx_file <- function(path, reading) {
  size <- check_archive(path)
  read <- function() {
    suppressWarnings(readxl::read_xlsx(path, sheet = 1L, col_names = FALSE, col_types = "list",
      .name_repair = "minimal", progress = FALSE, skip = reading$skip %||% 0L))
  }
  grid <- unname(as.list(read_apart(read, path, size)))
  check_width(path, length(grid))
  if (length(grid) == 0L || length(grid[[1L]]) == 0L) {
    raise("file", c(paste0("The first worksheet of ", quoted(path), " is empty."),
      ">" = "It should begin with a line of column names."))
  }
  refined_orders(sheet_texts(grid), path, reading)
}

# The cells of a worksheet as the texts of a file, and with the types they have.
sheet_texts <- function(grid) {
  kinds <- lapply(grid, function(column) vapply(column, cell_kind, ""))
  texts <- Map(cell_texts, grid, kinds)
  first <- seq_len(min(sampled_records, length(grid[[1L]])))
  records <- lapply(first, function(i) {
    list(texts = vapply(texts, function(column) if (is.na(column[i])) "" else column[i], ""))
  })
  at <- header_place(records, length(grid))
  body <- seq_along(grid[[1L]]) > at
  list(
    names = kernel_trimmed(records[[at]]$texts), records = sum(body), odd = list(),
    titles = titles_of(records[seq_len(at - 1L)]),
    columns = lapply(texts, function(column) {
      coded <- kernel_encode(column[body])
      list(texts = column[body][coded$first], codes = coded$codes)
    }),
    typed = function(place, rows) {
      one_kind(grid[[place]][body][rows], kinds[[place]][body][rows])
    }
  )
}

cell_kind <- function(cell) {
  if (length(cell) == 0L || is.na(cell)) "" else class(cell)[1L]
}

cell_texts <- function(column, kinds) {
  texts <- rep(NA_character_, length(column))
  here <- nzchar(kinds)
  texts[here] <- vapply(column[here], function(cell) {
    if (inherits(cell, "POSIXct")) sub(" 00:00:00$", "", format(cell, "%Y-%m-%d %H:%M:%S", tz = "UTC"))
    else if (is.numeric(cell)) format(cell, digits = 15L, scientific = FALSE, trim = TRUE)
    else as.character(cell)
  }, "")
  texts
}

# Cells of one kind keep it; text is read as text of a file is.
one_kind <- function(cells, kinds) {
  kind <- setdiff(unique(kinds), "")
  if (length(kind) != 1L || kind == "character") {
    return(NULL)
  }
  known <- nzchar(kinds)
  values <- do.call(c, cells[known])[NA_integer_][rep(1L, length(cells))]
  values[known] <- do.call(c, cells[known])
  plain_sheet_column(values)
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
  if (!inherits(x, "POSIXct")) {
    return(x)
  }
  attr(x, "tzone") <- "UTC"
  if (all(as.numeric(x) %% 86400 == 0, na.rm = TRUE)) as.Date(x) else x
}
