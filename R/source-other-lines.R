# Lines of an export that are no order lines, by their form alone: wholly empty ones, headers and
# titles repeated at page breaks, a line of units under the header, footers.

without_furniture <- function(raw, path, reading, told) {
  odd <- odd_kinds(raw, path, reading)
  empty <- empty_cells(raw)
  width <- length(raw$columns)
  lone <- if (width > 1L) which(empty == width - 1L) else integer()
  lone_kind <- if (length(lone) > 0L) lone_kinds(lone_texts(raw, lone), raw$titles) else character()
  found <- list(
    empty = which(empty == width), header = headers_again(raw), title = lone[lone_kind == "title"],
    units = units_lines(raw), rule = rule_lines(raw), footer = lone[lone_kind == "footer"],
    comment = lone[lone_kind == "comment"]
  )
  for (what in names(found)) {
    count <- length(found[[what]]) + sum(odd == what)
    if (count > 0L) told$add(paste(format_count(count), furniture_words[[what]][1L + (count != 1L)],
      "left out"))
  }
  left_out <- unlist(found)
  if (length(left_out) > 0L) rows_left(raw, !seq_len(raw$records) %in% left_out) else raw
}

furniture_words <- list(
  empty = c("empty line", "empty lines"), header = c("repeated header", "repeated headers"),
  title = c("repeated title line", "repeated title lines"),
  units = c("line of units", "lines of units"),
  rule = c("ruled line", "ruled lines"), footer = c("footer", "footers"),
  comment = c("comment", "comments"),
  odd = c("line of another number of cells", "lines of another number of cells")
)

# The line of units under the header, wherever it stands again.
units_lines <- function(raw) {
  if (raw$records < 2L || !is_units_line(raw)) {
    return(integer())
  }
  same <- lapply(raw$columns, function(column) {
    if (is.na(column$codes[1L])) is.na(column$codes) else column$codes %in% column$codes[1L]
  })
  which(Reduce(`&`, same))
}

# Lines drawn with signs.
rule_lines <- function(raw) {
  drawn <- lapply(raw$columns, function(column) {
    grepl("^[-=_*+]{2,}$", kernel_trimmed(column$texts))[column$codes] | is.na(column$codes)
  })
  drawn <- Reduce(`&`, drawn)
  drawn[is.na(drawn)] <- FALSE
  which(drawn & empty_cells(raw) < length(raw$columns))
}

# The one text of each record that has only one.
lone_texts <- function(raw, rows) {
  texts <- character(length(rows))
  for (column in raw$columns) {
    here <- column$codes[rows]
    texts[!is.na(here)] <- column$texts[here[!is.na(here)]]
  }
  kernel_trimmed(texts)
}

lone_kinds <- function(texts, titles) {
  ifelse(texts %in% titles, "title", ifelse(is_footer(texts), "footer",
    ifelse(startsWith(texts, "#") | startsWith(texts, "//"), "comment", "")))
}

footers <- c(
  "page [0-9]+( ?(of|/) ?[0-9]+)?", "seite [0-9]+( ?(von|/) ?[0-9]+)?",
  paste0(
    "\\(?[0-9][0-9., ]* (rows?|records?|lines?|orders?|entries|items|results)",
    "( (selected|exported|in total|found))?\\)?"
  ),
  "(number of )?(rows?|records?|lines?|entries)( exported| in total)?: *[0-9][0-9., ]*",
  "(end|\\*+ *end) of (the )?(report|file|list|data|export).*", "[-=*_. ]{3,}",
  "(report |list )?(generated|printed|exported|created|run|produced)( on| at| by|:).*"
)

is_footer <- function(texts) {
  grepl(paste0("^(", paste(footers, collapse = "|"), ")[.]?$"), texts,
    ignore.case = TRUE, perl = TRUE)
}

# Records of another width are furniture or faults of the file.
odd_kinds <- function(raw, path, reading) {
  kinds <- vapply(raw$odd, function(record) {
    known <- kernel_trimmed(record$texts)
    known <- known[nzchar(known)]
    if (length(known) == 0L) "empty"
    else if (length(known) == 1L) lone_kinds(known, raw$titles)
    else if (paste(known, collapse = " ") %in% raw$titles) "title"
    else if (startsWith(known[1L], "#")) "comment"
    else ""
  }, "")
  if (identical(reading$uneven, "drop")) kinds[kinds == ""] <- "odd"
  if (any(kinds == "")) {
    odd <- raw$odd[kinds == ""]
    short <- vapply(odd, function(record) length(record$texts) < length(raw$header), NA)
    raise_odd(odd, list(names = raw$header), path, ways_with_odd(path, reading, all(short)))
  }
  kinds
}

# How a file with such records can be read all the same.
ways_with_odd <- function(path, reading, short) {
  paste0(if (short) paste0("If cells are only lacking at their end: ",
    reading_command(path, reading, uneven = "fill"), ". "), "To leave such lines out: ",
    reading_command(path, reading, uneven = "drop"), ".")
}

# The records that are the header once more.
headers_again <- function(raw) {
  here <- NULL
  for (i in seq_along(raw$columns)) {
    column <- raw$columns[[i]]
    at <- if (raw$header[i] == "") NA else which(kernel_trimmed(column$texts) == raw$header[i])
    if (length(at) == 0L) {
      return(integer())
    }
    here <- if (is.null(here)) which(column$codes %in% at) else here[column$codes[here] %in% at]
  }
  here
}

unit_texts <- c(
  "\u00a3", "\u20ac", "$", "%", "gbp", "eur", "usd", "kg", "g", "t", "tonnes?", "m", "m2",
  "m\u00b2", "m3",
  "m\u00b3", "pcs", "pieces", "each", "ea", "units?", "no", "qty", "dd/mm/yyyy",
  "mm/dd/yyyy", "yyyy-mm-dd", "date", "text", "days?", "hours?"
)

# Under the header, where the columns with units hold numbers or dates below.
is_units_line <- function(raw) {
  texts <- vapply(raw$columns, function(column) column$texts[column$codes[1L]], "")
  known <- which(!is.na(texts) & !is_unknown_word(texts))
  bare <- gsub("^[[(]|[])]$", "", kernel_trimmed(texts[known]))
  escaped <- gsub("$", "\\$", unit_texts, fixed = TRUE)
  unit <- grepl(paste0("^(", paste(escaped, collapse = "|"), ")$"), bare, ignore.case = TRUE)
  if (length(known) == 0L || !all(unit)) {
    return(FALSE)
  }
  any(vapply(raw$columns[known], function(column) {
    below <- setdiff(unique(utils::head(column$codes[-1L], 200L)), column$codes[1L])
    below <- column$texts[below[!is.na(below)]]
    length(below) > 0L && mean(grepl("[0-9]", below)) > 0.9
  }, NA))
}
