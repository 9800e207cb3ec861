# Lines of an export that are no order lines, by their form alone: wholly empty ones, headers and
# titles repeated at page breaks, a line of units under the header, footers.

without_furniture <- function(raw, path, told) {
  odd <- odd_kinds(raw, path)
  known <- known_cells(raw)
  kind <- rep("", raw$records)
  kind[known == 0L] <- "empty"
  lone <- which(known == 1L & length(raw$columns) > 1L)
  if (length(lone) > 0L) kind[lone] <- lone_kinds(lone_texts(raw, lone), raw$titles)
  kind[is_header_again(raw)] <- "header"
  if (raw$records > 1L && is_units_line(raw)) kind[1L] <- "units"
  counts <- table(factor(c(kind[nzchar(kind)], odd), names(furniture_words)))
  for (what in names(counts)[counts > 0L]) {
    told$add(count_words(counts[[what]], furniture_words[[what]], "left out"))
  }
  if (any(nzchar(kind))) rows_left(raw, kind == "") else raw
}

furniture_words <- list(
  empty = "empty line", header = "repeated header", title = "repeated title line", units = "line of units",
  footer = "footer"
)

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
  ifelse(texts %in% titles, "title", ifelse(is_footer(texts), "footer", ""))
}

footers <- c(
  "page [0-9]+( ?(of|/) ?[0-9]+)?", "seite [0-9]+( ?(von|/) ?[0-9]+)?",
  "\\(?[0-9][0-9., ]* (rows?|records?|lines?|orders?|entries|items|results)( (selected|exported|in total|found))?\\)?",
  "(number of )?(rows?|records?|lines?|entries)( exported| in total)?: *[0-9][0-9., ]*",
  "(end|\\*+ *end) of (the )?(report|file|list|data|export).*", "[-=*_. ]{3,}",
  "(report |list )?(generated|printed|exported|created|run|produced)( on| at| by|:).*"
)

is_footer <- function(texts) {
  grepl(paste0("^(", paste(footers, collapse = "|"), ")[.]?$"), texts, ignore.case = TRUE, perl = TRUE)
}

# Records of another width are furniture or faults of the file.
odd_kinds <- function(raw, path) {
  kinds <- vapply(raw$odd, function(record) {
    known <- kernel_trimmed(record$texts)
    known <- known[nzchar(known)]
    if (length(known) == 0L) "empty"
    else if (length(known) == 1L) lone_kinds(known, raw$titles)
    else if (paste(known, collapse = " ") %in% raw$titles) "title"
    else ""
  }, "")
  if (any(kinds == "")) raise_odd(raw$odd[kinds == ""], list(names = raw$header), path)
  kinds
}

is_header_again <- function(raw) {
  here <- rep(TRUE, raw$records)
  for (i in seq_along(raw$columns)) {
    at <- which(kernel_trimmed(raw$columns[[i]]$texts) == raw$header[i])
    if (raw$header[i] != "" && length(at) == 0L) {
      return(rep(FALSE, raw$records))
    }
    here <- here & (if (raw$header[i] == "") is.na(raw$columns[[i]]$codes) else raw$columns[[i]]$codes %in% at)
  }
  here
}

unit_texts <- c(
  "\u00a3", "\u20ac", "$", "%", "gbp", "eur", "usd", "kg", "g", "t", "tonnes?", "m", "m2", "m\u00b2", "m3",
  "m\u00b3", "pcs", "pieces", "each", "ea", "units?", "no", "qty", "dd/mm/yyyy", "mm/dd/yyyy", "yyyy-mm-dd",
  "date", "text", "days?", "hours?"
)

# Under the header, where the columns with units hold numbers or dates below.
is_units_line <- function(raw) {
  texts <- vapply(raw$columns, function(column) column$texts[column$codes[1L]], "")
  known <- which(!is.na(texts))
  bare <- gsub("^[[(]|[])]$", "", kernel_trimmed(texts[known]))
  escaped <- gsub("$", "\\$", unit_texts, fixed = TRUE)
  unit <- grepl(paste0("^(", paste(escaped, collapse = "|"), ")$"), bare, ignore.case = TRUE)
  if (length(known) == 0L || !all(unit)) {
    return(FALSE)
  }
  any(vapply(raw$columns[known], function(column) {
    below <- unique(utils::head(column$codes[-1L], 200L))
    below <- column$texts[below[!is.na(below)]]
    length(below) > 0L && mean(grepl("[0-9]", below)) > 0.9
  }, NA))
}
