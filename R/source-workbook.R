# A worksheet of a workbook. A workbook of today is an archive of parts: they are listed and held
# against their check sums before any is used, and nothing is unpacked to disk.

read_workbook <- function(path, reading) {
  old <- file_form(path) == "old workbook"
  size <- if (old) file.size(path) else check_archive(path)
  read <- if (old) readxl::read_xls else readxl::read_xlsx
  names <- read_apart(function() readxl::excel_sheets(path), path, size)
  grid <- function(place) {
    force(place)
    unname(as.list(read_apart(function() {
      suppressWarnings(read(path, sheet = place, col_names = FALSE, col_types = "list",
        .name_repair = "minimal", progress = FALSE, skip = reading$skip %||% 0L))
    }, path, size)))
  }
  sheet_orders(names, grid, path, reading)
}

# The orders of the worksheet that was said, or of the first that holds a table; grid: a function of
# the place of a worksheet that gives its cells.
sheet_orders <- function(names, grid, path, reading) {
  told <- new_telling(path)
  if (!is.null(reading$sheet)) {
    cells <- grid(sheet_place(reading$sheet, names, path))
  } else {
    seen <- utils::head(seq_along(names), most_sheets)
    cells <- lapply(seen, grid)
    rows <- vapply(cells, function(grid) if (length(grid) > 1L) length(grid[[1L]]) else 0L, 1L)
    place <- c(which(rows > 1L), 1L)[1L]
    if (length(names) > 1L) told$add(paste0("worksheet ", quoted(names[place]),
      " read, of ", paste0(
      quoted(names[seen]), " (", vapply(cells, function(grid) {
        paste(if (length(grid) > 0L) length(grid[[1L]]) else 0L, "x", length(grid))
      }, ""), ")", collapse = ", "), ": another by ",
        option_said("sheet", names[seen[-place]][1L])))
    cells <- cells[[place]]
  }
  check_width(path, length(cells))
  if (length(cells) == 0L || length(cells[[1L]]) == 0L) {
    raise("file", c(paste0("No worksheet of ", quoted(path), " that was looked at holds a table."),
      "i" = paste0("Its worksheets: ", words_of(names), "."),
      ">" = "A table begins with a line of column names."))
  }
  refined_orders(sheet_texts(cells, reading, path), path, reading, told)
}

most_sheets <- 12L

# By name or number.
sheet_place <- function(sheet, names, path) {
  if (sheet %in% names) {
    return(match(sheet, names))
  }
  place <- suppressWarnings(as.integer(sheet))
  if (!is.na(place) && place >= 1L && place <= length(names)) {
    return(place)
  }
  raise("argument", c(paste0("The workbook ", quoted(path), " has no worksheet ",
    quoted(sheet), "."),
    ">" = advise_word(sheet, names, "worksheets")))
}

# The cells of a worksheet as the texts of a file, and with the types they have.
sheet_texts <- function(grid, reading, path) {
  kinds <- lapply(grid, function(column) vapply(column, cell_kind, ""))
  texts <- Map(cell_texts, grid, kinds)
  first <- seq_len(min(sampled_records, length(grid[[1L]])))
  records <- lapply(first, function(i) {
    list(texts = vapply(texts, function(column) if (is.na(column[i])) "" else column[i], ""))
  })
  reading$skip <- NULL
  settled <- settled_header(records, length(grid), reading, path)
  body <- seq_along(grid[[1L]]) > settled$at
  list(
    names = settled$names, records = sum(body), lines = which(body), in_sheet = TRUE, odd = list(),
      two_headers = settled$at > settled$first,
    lines_below = settled$lines_below,
    titles = titles_of(records[seq_len(settled$first - 1L)]),
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
    if (inherits(cell, "POSIXct")) sub(" 00:00:00$", "",
      format(cell, "%Y-%m-%d %H:%M:%S", tz = "UTC"))
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
  if (any(odd)) raise_unreadable(path,
    "a part of it has a name that leads out of it, which no workbook has")
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
