# Statements of others: a query that somebody gives stands inside ours as one parenthesis, so it
# must be one that reads, and end where it seems to.

check_query <- function(query) {
  wrong <- query_problem(query)
  if (!is.null(wrong)) {
    raise("database", c(paste0("The query is not one statement that reads: ", wrong, "."),
      "x" = paste0("It is ", quoted(substr(query, 1L, 200L)), "."),
      ">" = "Write one query without a semicolon: SELECT ... or WITH ... SELECT ..."))
  }
  sub(";[[:space:]]*$", "", query)
}

# What is wrong with a query, NULL where nothing is.
query_problem <- function(query) {
  if (!validUTF8(query)) {
    return("it is not text in UTF-8")
  }
  plain <- plain_statement(query)
  if (is.null(plain)) {
    return("a text, a name or a comment in it does not end")
  }
  words <- trimws(plain)
  marks <- strsplit(gsub("[^();]", "", sub(";[[:space:]]*$", "", words)), "")[[1L]]
  depth <- cumsum((marks == "(") - (marks == ")"))
  if (";" %in% marks) return("a semicolon parts it in two")
  if (length(depth) > 0L && (any(depth < 0L) || depth[length(depth)] != 0L)) {
    return("its brackets do not match")
  }
  if (!grepl("^[(]*[[:space:]]*(select|with|values|table|from)\\b", words, ignore.case = TRUE)) {
    return("it does not begin with SELECT or WITH")
  }
}

# A statement with blanks for what texts, quoted names and comments hold; NULL where one does
# not end.
plain_statement <- function(query) {
  opened <- "'|\"|`|--|/[*]|[$]([[:alpha:]_][[:alnum:]_]*)?[$]"
  plain <- character()
  rest <- query
  repeat {
    at <- regexpr(opened, rest)
    if (at < 0L) {
      return(paste(c(plain, rest), collapse = ""))
    }
    mark <- regmatches(rest, at)
    plain <- c(plain, substr(rest, 1L, at - 1L), " x ")
    rest <- substring(rest, at + nchar(mark))
    end <- switch(mark, "--" = "\n|$", "/*" = "*/", mark)
    to <- if (mark == "--") regexpr("\n|$", rest) else regexpr(end, rest, fixed = TRUE)
    if (to < 0L) {
      return(NULL)
    }
    if (mark %in% c("--", "/*")) plain[length(plain)] <- " "
    rest <- substring(rest, to + if (mark == "--") 1L else nchar(end))
  }
}
