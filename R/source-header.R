# Where the header of delimited text is: the first line as wide as most whose cells look like names.
# Lines above it are titles.

sampled_records <- 60L

found_header <- function(bytes, path, reading) {
  quote <- reading$quote %||% "\""
  sampled <- sampled_text(bytes, reading, quote)
  records <- sampled$records
  check_width(path, max(lengths(lapply(records, `[[`, "texts"))))
  at <- if (!is.null(reading$skip)) 1L else header_place(records, sampled$width)
  header <- records[[at]]
  names <- kernel_trimmed(header$texts)
  check_header(names, header$fault, path)
  new_header(names, sampled$separator, quote, header[["next"]], header$line,
    line = header$line - 1, titles = titles_of(records[seq_len(at - 1L)]))
}

titles_of <- function(records) {
  titles <- vapply(records, function(record) paste(record$texts[nzchar(record$texts)], collapse = " "), "")
  Filter(nzchar, titles)
}

# The first records, cut by the separator that cuts most of them alike.
sampled_text <- function(bytes, reading, quote) {
  from <- past_lines(bytes, reading$skip %||% 0L)
  tried <- reading$separator %||% ordered_separators(bytes)
  cut <- lapply(tried, function(separator) first_records(bytes, from, separator, quote))
  fit <- vapply(cut, function(records) {
    widths <- lengths(lapply(records, `[[`, "texts"))
    width <- common_width(widths)
    if (width < 2L) 0 else mean(widths == width)
  }, 0)
  best <- which.max(fit)
  widths <- lengths(lapply(cut[[best]], `[[`, "texts"))
  list(separator = tried[best], records = cut[[best]], width = common_width(widths))
}

# The one of the first line first: of equal fits it counts.
ordered_separators <- function(bytes) unique(c(likely_separator(bytes), delimited_separators))

common_width <- function(widths) {
  counts <- table(widths)
  max(as.integer(names(counts)[counts == max(counts)]))
}

first_records <- function(bytes, from, separator, quote) {
  records <- list()
  at <- from
  while (at < length(bytes) && length(records) < sampled_records) {
    record <- kernel_first_record(bytes, at, separator, quote)
    records[[length(records) + 1L]] <- record
    # More columns than are read: what follows costs time and changes nothing.
    if (record$fault != "" || length(record$texts) > most_read_columns) break
    at <- record[["next"]]
  }
  if (length(records) > 0L) records else list(kernel_first_record(bytes, 0, separator, quote))
}

# The byte at which the text goes on after some lines.
past_lines <- function(bytes, lines) {
  if (lines == 0L) {
    return(0)
  }
  ends <- which(bytes == as.raw(10L))
  if (length(ends) < lines) {
    raise("file", c("There are fewer lines than {.arg skip} passes over.",
      "x" = "It is {lines}; the file has {length(ends)}."))
  }
  ends[lines]
}

header_place <- function(records, width) {
  texts <- lapply(records, function(record) kernel_trimmed(record$texts))
  fits <- vapply(texts, function(cells) {
    known <- cells[nzchar(cells)]
    length(cells) == width && length(known) >= max(1, 0.6 * width) && all(like_names(known))
  }, NA)
  place <- which(fits)[1L]
  if (is.na(place)) {
    return(1L)
  }
  above <- seq_len(place - 1L)
  # Titles have few cells. A line of many would be lost: then the first is the header, as it stands.
  known <- vapply(texts[above], function(cells) sum(nzchar(cells)), 1L)
  if (any(known > max(1, 0.5 * width))) 1L else place
}

# No number, no date, no sentence.
like_names <- function(cells) {
  number <- grepl("^[-+(]?[[:punct:]\u00a3\u20ac$ ]*[0-9][0-9.,/: -]*[%)]?$", cells)
  nchar(cells) <= 60L & !number & grepl("[^[:punct:][:space:]]", cells)
}
