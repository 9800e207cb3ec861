# Plain delimited text read at the speed of the fold, column by column as they are needed
# (kernel/scan.h). What is unusual about a file is left to the general reader: NULL then.

# wanted: a function that gives those of the names that are read at once (all where it is NULL);
# spare: whether others may be read with them where it costs little
scanned_orders <- function(path, reading, wanted = NULL, spare = FALSE) {
  file <- scannable_file(path, reading)
  if (is.null(file)) {
    return(NULL)
  }
  check_size(path, file$state$size)
  told <- new_telling(path)
  tell_of_form(file, told)
  names <- scanned_names(file, reading, told)
  kept <- if (is.null(reading$keep)) seq_along(names) else which(names %in%
    kept_names(names, reading$keep))
  first <- if (is.null(wanted)) kept else kept[names[kept] %in% wanted(names[kept])]
  scanned <- scan_columns(file, first, if (spare) setdiff(kept, first), names, reading, told)
  if (is.null(scanned)) {
    return(NULL)
  }
  tell_of_records(file, told)
  by_place <- function(scanned) stats::setNames(scanned$columns, match(scanned$places, kept))
  read <- function(places, spare) {
    told <- new_telling(path)
    again <- scan_columns(file, kept[places], kept[spare], names, reading, told)
    if (is.null(again)) again <- read_whole(path, reading, names, kept[places])
    if (again$records != scanned$records) raise_changed(path)
    structure(by_place(again), told = again$told %||% told$all(reading)$told)
  }
  new_late_columns(names[kept], scanned$records, path, told_of(told, reading), read,
    by_place(scanned))
}

# Columns that the general reader must take, further down than the first records tell.
read_whole <- function(path, reading, names, places) {
  orders <- delimited_orders(read_bytes(path), path, reading)
  list(columns = unname(as.list(orders)[names[places]]), places = places, records = nrow(orders),
    told = attr(orders, "reading")$told)
}

tell_of_form <- function(file, told) {
  told$add(other_form_words(file$path, "text"))
  if (file_ends_within_line(file$path, file$state$size)) told$add(open_end_words)
}

tell_of_records <- function(file, told) {
  tell_repeats(repeats_of_file(file), told)
  tell_headers_above(file$header$lines_below, told)
}

# What a file must be: a regular file of UTF-8 text with its header on the first line, read without
# any rule for its amounts. list(path, state, from: the byte after the header, header)
scannable_file <- function(path, reading) {
  if (!is_plainly_read(path, reading)) {
    return(NULL)
  }
  state <- file_state(path)
  head <- without_order_mark(head_of_file(path, state$size))
  flaws <- kernel_text_flaws(head)
  if (length(head) == 0L || begins_with(head, c(0x1f, 0x8b)) || any(flaws > 0L)) {
    return(NULL)
  }
  header <- rlang::try_fetch(found_header(head, path, reading), drystack_error = function(e) NULL)
  # Lines of one field may have fields of fixed width.
  if (is.null(header) || length(header$names) == 1L) {
    return(NULL)
  }
  cells <- cells_at_head(head, header)
  if (is_unusual_header(header, cells, reading)) {
    return(NULL)
  }
  marked <- begins_with(head_of_file(path, 3), c(0xef, 0xbb, 0xbf))
  list(path = path, state = state, from = header$next_byte + 3 * marked, header = header,
    keeps_totals = identical(reading$totals_lines, "keep"),
    first_record = kernel_line_at(head, header$next_byte),
    padded = padded_columns(cells, header$spaced),
    points_are_decimal = identical(reading$decimal, "."))
}

# Whether it is a file, of which nothing is said that only the general reader minds.
is_plainly_read <- function(path, reading) {
  path != "-" && all(lengths(reading[ruled_texts]) == 0L) && !identical(reading$decimal, ",") &&
    kernel_file_kind(path.expand(path)) == "file"
}

ruled_texts <- c("encoding", "skip", "thousands", "missing", "types", "zone", "header",
  "drop_lines", "uneven", "widths", "inside", "sheet")

repeats_of_file <- function(file) {
  if (file$state$size > most_compared) {
    return(NULL)
  }
  bytes <- read_or_told(kernel_read_file(path.expand(file$path), file$state$size), file$path)
  repeated_lines(without_order_mark(bytes), file$header)
}

scanned_head <- 2^18

# The first bytes of a file, to the end of a line where there are more.
head_of_file <- function(path, size) {
  bytes <- read_or_told(kernel_read_file(path.expand(path), min(size, scanned_head)), path)
  whole <- if (size > scanned_head) kernel_whole_lines(bytes) else 0
  if (whole > 0) bytes[seq_len(whole)] else bytes
}

# Whether the header, or the first records, have what the general reader minds.
is_unusual_header <- function(header, cells, reading) {
  if (length(header$titles) > 0L || any(header$names == "") || length(header$names) > 64L) {
    return(TRUE)
  }
  raw <- list(columns = lapply(cells, function(texts) {
    texts <- kernel_trimmed(texts)
    list(texts = texts, codes = replace(match(texts, texts), !nzchar(texts), NA))
  }))
  length(cells[[1L]]) > 1L && (is_units_line(raw) || length(rule_lines(raw)) > 0L ||
    has_open_amounts(raw, reading))
}

# The texts of the first records below a header, by column.
cells_at_head <- function(head, header) {
  below <- first_records(head, header$next_byte, header$separator, header$quote)
  lapply(seq_along(header$names), function(i) {
    vapply(below, function(record) record$texts[i], "")
  })
}

# Three digits behind a mark, or a sign or code of a currency.
open_marks <- "[.,][0-9]{3}($|[^0-9])|[\u00a3\u20ac$\u00a5]|(^|[0-9] ?)[A-Z]{3}( ?[0-9]|$)"

# Amounts with marks of which another column must tell what they are, or of several currencies.
has_open_amounts <- function(raw, reading) {
  columns <- lapply(raw$columns, function(column) {
    list(texts = unique(column$texts[!is.na(column$codes)]), codes = integer())
  })
  if (!any(vapply(columns, function(column) any(grepl(open_marks, column$texts)), NA))) {
    return(FALSE)
  }
  reading <- settled_by_others(columns, reading)
  any(vapply(columns, function(column) {
    amounts <- column_amounts(column$texts, reading)
    !is.null(amounts$unsettled) || !is.null(amounts$currency)
  }, NA))
}

# The names of the columns of plain text, of which only what is told differs from other files.
scanned_names <- function(file, reading, told) {
  apart_from_periods(numbered(renamed(file$header$names, reading$rename), told), told)
}

# The records between two bytes of a file that is as it was; types as kernel_scan() takes them.
scanned_part <- function(file, from, to, types) {
  check_file(file$path)
  check_unchanged(file$path, file$state)
  header <- file$header
  read_or_told(kernel_scan(
    path.expand(file$path), from, to - from, header$separator, header$quote, header$names[1L],
    file$first_record, types, isTRUE(file$keeps_totals), thread_count(),
    getOption("drystack.progress"), getOption("drystack.progress_after", 2)
  ), file$path)
}

# list(columns, places, records) of some places, and of spare ones that cost little; NULL where the
# general reader must take the file.
scan_columns <- function(file, places, spare, names, reading, told) {
  types <- integer(length(names))
  types[places] <- -1L
  types[spare] <- -2L
  scanned <- scanned_part(file, file$from, file$state$size, types)
  if (scanned$trouble != "" || scanned$records == 0 || !points_settled(scanned, file, types)) {
    return(NULL)
  }
  if (scanned$repeats > 0 && file$state$size > most_compared)
    told$add(repeat_words(scanned$repeats))
  read <- which(types != 0L & scanned$types != 0L)
  padded <- read[file$padded[read] & scanned$types[read] == 1L]
  tell_padded(scanned$columns[padded], names[padded], told)
  columns <- Map(scanned_column, scanned$columns[read], scanned$types[read], names[read],
    file$padded[read], MoreArgs = list(reading = reading, told = told))
  left <- vapply(columns, is.null, NA)
  if (any(left & read %in% places)) {
    return(NULL)
  }
  list(columns = columns[!left], places = read[!left], records = scanned$records)
}

# Whether the points of numbers mark decimals: where some could mark thousands (1.500), another
# column of the file may tell.
points_settled <- function(scanned, file, types) {
  points <- scanned$decimals
  if (file$points_are_decimal || !anyNA(points) || any(points, na.rm = TRUE)) {
    return(TRUE)
  }
  others <- ifelse(types == 0L, -1L, 0L)
  any(others != 0L) && any(scanned_part(file, file$from, file$state$size,
    others)$decimals %in% TRUE)
}

# Numbers and days as they are; texts by the rules of the general reader, where they need no other
# column to settle them.
scanned_column <- function(column, type, name, padded, reading, told) {
  if (type == 3L) {
    return(structure(column, class = "Date"))
  }
  if (type == 2L) {
    return(if (all(is.na(column))) rep(NA, length(column)) else column)
  }
  column <- plain_cells(column, padded)
  open <- column_amounts(utils::head(column$texts, 1000L), reading)$unsettled
  own <- list(texts = column$texts, codes = seq_along(column$texts))
  values <- if (length(column$texts) == 0L) NA_character_ else typed_texts(own, name, reading, told)
  if (!is.null(open) || !is.null(attr(values, "currency"))) {
    return(NULL)
  }
  if (length(column$texts) == 0L) {
    return(rep(NA, length(column$codes)))
  }
  if (is.character(values)) new_coded(values, column$codes) else values[column$codes]
}

read_delimited <- function(path, reading) {
  check_file(path)
  scanned <- scanned_orders(path, reading)
  if (is.null(scanned)) delimited_orders(read_bytes(path), path,
    reading) else as.data.frame(scanned)
}
