# Plain readers that owe nothing to the package: the sum of `a` and the number of lines with a date,
# or NULL where the file cannot be read by the letter of its format.

plain_csv <- function(bytes) {
  bytes <- plain_utf8(bytes)
  if (is.null(bytes) || any(bytes == 0) || !validUTF8(rawToChar(bytes))) {
    return(NULL)
  }
  first <- strsplit(rawToChar(bytes), "[\r\n]", useBytes = TRUE)[[1L]][1L]
  counts <- vapply(c(",", ";", "\t"), function(s) sum(strsplit(first, "", useBytes = TRUE)[[1L]] == s), 1L)
  records <- plain_records(as.integer(bytes), utf8ToInt(c(",", ";", "\t")[which.max(counts)]))
  if (length(records) < 2L || any(lengths(records) != length(records[[1L]]))) {
    return(NULL)
  }
  header <- trimws(records[[1L]])
  column <- function(name) vapply(records[-1L], `[`, "", match(name, header))
  if (all(c("d", "a") %in% header)) told(column("d"), column("a"))
}

# By the mark of the byte order; else bytes above 127 are UTF-8, or Windows-1252 where none of them
# begins a character of UTF-8.
plain_utf8 <- function(bytes) {
  mark <- function(...) length(bytes) >= ...length() && all(bytes[seq_len(...length())] == as.raw(c(...)))
  from <- if (mark(0xff, 0xfe)) "UTF-16LE" else if (mark(0xfe, 0xff)) "UTF-16BE"
  if (!is.null(from)) {
    return(iconv(list(bytes[-(1:2)]), from, "UTF-8", toRaw = TRUE)[[1L]])
  }
  if (mark(0xef, 0xbb, 0xbf)) {
    return(bytes[-(1:3)])
  }
  text <- rawToChar(bytes[bytes != 0])
  if (validUTF8(text) || grepl("[\xc3-\xf4][\x80-\xbf]", text, useBytes = TRUE, perl = TRUE)) {
    return(bytes)
  }
  iconv(list(bytes), "windows-1252", "UTF-8", toRaw = TRUE)[[1L]]
}

# RFC 4180 a byte at a time; NULL where a quoted cell does not end as it should.
plain_records <- function(codes, separator) {
  states <- c("end", states_of(codes, separator))
  if (any(states %in% "fault") || states[length(states)] == "quoted") {
    return(NULL)
  }
  if (states[length(states)] != "end") {
    states <- c(states, "end")
    codes <- c(codes, 10L)
  }
  state <- states[-1L]
  was <- states[-length(states)]
  kept <- state == "plain" | (state == "quoted" & was %in% c("quoted", "closed"))
  cuts <- which(state %in% c("begin", "end"))
  first <- c(1L, utils::head(cuts, -1L) + 1L)
  cells <- vapply(seq_along(cuts), function(i) {
    at <- first[i]:cuts[i]
    rawToChar(as.raw(codes[at[kept[at]]]))
  }, "")
  ends <- state[cuts] == "end"
  record <- cumsum(c(TRUE, utils::head(ends, -1L)))
  empty <- tapply(seq_along(cuts), record, function(i) {
    length(i) == 1L && cells[i] == "" && was[cuts[i]] != "closed"
  })
  unname(split(cells, record))[!empty]
}

# The state after each byte. A line feed that follows a carriage return belongs to it.
states_of <- function(codes, separator) {
  states <- character(length(codes))
  state <- "end"
  for (i in seq_along(codes)) {
    if (!(state == "end" && codes[i] == 10L && i > 1L && codes[i - 1L] == 13L))
      state <- next_state(state, codes[i], separator)
    states[i] <- state
    if (state == "fault") break
  }
  states
}

# "begin" of a cell, "end" of a record, in a "plain" or a "quoted" cell, behind a "closed" quote. A
# quote inside an unquoted cell is a character.
next_state <- function(state, code, separator) {
  if (state == "quoted") {
    return(if (code == 34L) "closed" else "quoted")
  }
  if (code == separator) {
    return("begin")
  }
  if (code %in% c(10L, 13L)) {
    return("end")
  }
  if (state == "closed") {
    return(if (code == 34L) "quoted" else "fault")
  }
  if (code == 34L && state != "plain") "quoted" else "plain"
}

# Of the lines with a date: how many, and the sum of their amounts.
told <- function(d, a) {
  number <- suppressWarnings(as.numeric(a))
  dated <- !is.na(d) & grepl("^[0-9]{4}-[0-9]{2}-[0-9]{2}$", d)
  list(n = sum(dated), s = sum(number[dated & is.finite(number)]))
}

plain_json <- function(bytes) {
  if (any(bytes == 0) || !validUTF8(rawToChar(bytes))) {
    return(NULL)
  }
  lines <- strsplit(rawToChar(bytes), "\r\n|\n|\r")[[1L]]
  lines <- lines[grepl("[^[:space:]]", lines)]
  value <- function(line, key) {
    found <- regmatches(line, regexec(sprintf("\"%s\"\\s*:\\s*(\"([^\"]*)\"|-?[0-9.eE+-]+|null|true|false)",
      key), line))[[1L]]
    if (length(found) == 0L || found[2L] == "null") NA_character_
    else if (startsWith(found[2L], "\"")) found[3L] else found[2L]
  }
  told(vapply(lines, value, "", "d", USE.NAMES = FALSE), vapply(lines, value, "", "a", USE.NAMES = FALSE))
}

plain_reader <- function(file) {
  bytes <- readBin(file$path, "raw", 1e8)
  switch(file$ending,
    csv = plain_csv(bytes),
    csv.gz = tryCatch({
      plain_csv(if (bytes[1L] == as.raw(0x1f)) memDecompress(bytes, "gzip") else bytes)
    }, error = function(e) NULL),
    jsonl = plain_json(bytes),
    # What these hold is known from what they were made of; of a damaged file that
    # is read nothing is known.
    if (file$damage == "none") told(file$orders$d, file$orders$a)
  )
}
