# Conditions that name members of one column: as they are written, and read from their text.
#
# column; members: constants as they are written; none: TRUE where lines without a value
# are meant too;
# except: TRUE where all others are meant

# The condition of a limit; nothing where it says nothing.
limit_text <- function(limit) {
  column <- name_text(limit$column)
  parts <- c(
    if (length(limit$members) == 1L && !limit$except) paste(column, "==", limit$members)
    else if (length(limit$members) > 0L) paste0(column, " %in% c(",
      paste(limit$members, collapse = ", "), ")"),
    if (limit$none) paste0("is.na(", column, ")")
  )
  if (limit$except) {
    if (length(parts) > 0L) parts[1L] <- if (startsWith(parts[1L],
      "is.na")) parts[1L] else paste0("(", parts[1L], ")")
    return(if (length(parts) > 0L) paste(paste0("!", parts), collapse = " & "))
  }
  if (length(parts) > 0L) paste(parts, collapse = " | ")
}

# The limit that a text says, or NULL where it says something else.
limit_said <- function(text) {
  expr <- rlang::try_fetch(read_expression(text, "only")$expr, drystack_error = function(e) NULL)
  limit <- if (!is.null(expr)) limit_of(expr)
  if (!is.null(limit)) c(limit[c("column", "members", "none")], list(except = limit$not))
}

limit_of <- function(expr) {
  if (rlang::is_call(expr, "(")) {
    return(limit_of(expr[[2L]]))
  }
  if (rlang::is_call(expr, "!", n = 1L)) {
    inner <- limit_of(expr[[2L]])
    return(if (!is.null(inner) && !inner$not) replaced_field(inner, "not", TRUE))
  }
  if (rlang::is_call(expr, "|", n = 2L)) {
    return(joined_limits(limit_of(expr[[2L]]), limit_of(expr[[3L]]), not = FALSE))
  }
  if (rlang::is_call(expr, "&", n = 2L)) {
    return(joined_limits(limit_of(expr[[2L]]), limit_of(expr[[3L]]), not = TRUE))
  }
  plain_limit(expr)
}

replaced_field <- function(x, field, value) {
  x[[field]] <- value
  x
}

# `a | b` of two limits of one column names both; `!a & !b` leaves out both.
joined_limits <- function(a, b, not) {
  if (is.null(a) || is.null(b) || a$column != b$column || a$not != not || b$not != not) {
    return(NULL)
  }
  list(column = a$column, members = c(a$members, b$members), none = a$none || b$none, not = not)
}

plain_limit <- function(expr) {
  if (rlang::is_call(expr, "is.na", n = 1L) && is.symbol(expr[[2L]])) {
    return(list(column = as.character(expr[[2L]]), members = character(), none = TRUE, not = FALSE))
  }
  if (!rlang::is_call(expr, c("==", "%in%"), n = 2L) || !is.symbol(expr[[2L]])) {
    return(NULL)
  }
  given <- expr[[3L]]
  parts <- if (rlang::is_call(given, "c")) as.list(given)[-1L] else list(given)
  constant <- vapply(parts, function(part) is.atomic(part) || is_date_text(part), NA)
  if (!all(constant)) {
    return(NULL)
  }
  members <- vapply(parts, function(part) {
    if (is.call(part)) deparse1(part) else value_text(part)
  }, "")
  list(column = as.character(expr[[2L]]), members = members, none = FALSE, not = FALSE)
}
