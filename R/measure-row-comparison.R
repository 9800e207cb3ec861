# Comparisons of the row language: text with text, amounts with amounts, days with days. A
# comparison with a missing value is unknown: neither it nor its contrary is met.

row_comparisons <- c("==", "!=", "<", "<=", ">", ">=", "%in%")

# What a list names for the missing member.
none_label <- "(none)"

compare <- function(operator) {
  by_place <- !identical(operator, `==`) && !identical(operator, `!=`)
  function(x, y) {
    if (by_place && is.character(x) && is.character(y)) {
      pair <- in_order_of_points(x, y)
      return(operator(pair[[1L]], pair[[2L]]))
    }
    operator(x, y)
  }
}

# A list may name the missing member; it meets nothing else that is missing.
is_one_of <- function(x, y) {
  is_none <- is.na(y) | y %in% none_label
  met <- x %in% y[!is_none]
  met[is.na(x)] <- if (any(is_none)) TRUE else NA
  met
}

# An order of texts that is the same in every language: by code point.
in_order_of_points <- function(x, y) {
  texts <- sort_values(setdiff(enc2utf8(c(x, y)), NA))
  list(match(enc2utf8(x), texts), match(enc2utf8(y), texts))
}

# The two sides of a comparison as values of one kind.
compared_values <- function(values, tree) {
  values <- unname(lapply(values, as_plain))
  if (any(vapply(values, inherits, NA, "integer64"))) values <- compared_whole_numbers(values, tree)
  kinds <- vapply(values, kind_compared, "")
  if ("day" %in% kinds && "text" %in% kinds) {
    text <- which(kinds == "text")
    values[[text]] <- days_compared(values[[text]], tree$args[[text]])
    kinds[text] <- "day"
  }
  if (all(kinds == "day")) {
    return(days_alike(values))
  }
  if (all(kinds == "text")) {
    return(texts_compared(values, tree))
  }
  if (!kinds_fit(kinds)) raise_kinds(kinds, values, tree)
  values
}

kinds_fit <- function(kinds) {
  known <- setdiff(kinds, "unknown")
  length(unique(known)) < 2L || all(known %in% c("amount", "condition"))
}

kind_compared <- function(x) {
  if (is.character(x)) "text"
  else if (inherits(x, c("Date", "POSIXct"))) "day"
  else if (all(is.na(x))) "unknown"
  else if (is.logical(x)) "condition"
  else "amount"
}

# Whole numbers of 64 bits may be longer than a number can be written: digits in text stand
# for them.
compared_whole_numbers <- function(values, tree) {
  digits <- function(x) {
    is.character(x) && all(is.na(x) | x == none_label | grepl("^[+-]?[0-9]+$", x))
  }
  as_text <- any(vapply(values, digits, NA))
  lapply(values, function(x) {
    if (!inherits(x, "integer64")) x else if (as_text) kernel_int64_texts(
      x) else kernel_int64_doubles(x)
  })
}

# Date-times beside days count by their local day; among themselves by the second.
days_alike <- function(values) {
  timed <- vapply(values, inherits, NA, "POSIXct")
  if (all(timed)) values else lapply(values, function(x) {
    if (inherits(x, "POSIXct")) as_day_date(local_days(x)) else x
  })
}

# Text beside days is read as days. A list may name the missing member, which is no day.
days_compared <- function(texts, tree) {
  days <- iso_days(texts)
  wrong <- unique(texts[is.na(days) & !is.na(texts) & texts != none_label])
  if (length(wrong) > 0L) {
    constant <- tree$kind == "value"
    raise("expression", c(
      "A date is compared with text that is not a date.",
      "x" = paste0(if (constant) "This is " else paste0(quoted(tree_text(tree)), " holds "),
        "{examples_of(wrong)}."),
      ">" = if (constant) "Write dates as year-month-day: \"2026-08-31\"." else types_advice(tree)
    ))
  }
  as_day_date(days)
}

# Texts are compared as texts, but where they stand for dates: ISO dates as days, others not at all.
texts_compared <- function(values, tree) {
  constant <- vapply(tree$args, function(arg) arg$kind == "value", NA)
  ordered <- !tree$fn %in% c("==", "!=", "%in%")
  says_days <- if (any(constant)) are_days_said(values[[which(constant)[1L]]], ordered) else ordered
  if (all(constant) || !says_days || !all(vapply(values[!constant], mostly_dates, NA))) {
    return(values)
  }
  days_alike(Map(days_compared, values, tree$args))
}

# Whether the texts of a condition say days: all in ISO form, or in any where order matters.
are_days_said <- function(texts, ordered) {
  texts <- texts[!is.na(texts) & texts != none_label]
  length(texts) > 0L && (!anyNA(iso_days(texts)) || (ordered && mostly_dates(texts)))
}

# Most of some texts are dates, in whichever form: the first few tell.
mostly_dates <- function(texts) {
  texts <- kernel_trimmed(unique(texts[!is.na(texts)]))
  texts <- utils::head(texts[texts != ""], 200L)
  if (length(texts) == 0L) {
    return(FALSE)
  }
  read <- lapply(c("dmy", "mdy", "ymd"), function(order) days_in_form(texts, order))
  max(vapply(read, function(days) mean(!is.na(days)), 0)) > 0.5
}

types_advice <- function(tree) {
  name <- if (tree$kind == "column") tree$name else columns_of(tree)[1L]
  if (is.na(name)) "Turn it into dates first." else paste0(
    "Read the column as dates: ", braces_kept(pair_said("types", name, "date")),
    "; in a data frame make it one of dates."
  )
}

raise_kinds <- function(kinds, values, tree) {
  words <- c(text = "text", day = "a date", amount = "a number", condition = "yes or no",
    unknown = "unknown")
  told <- vapply(1:2, function(i) {
    paste0(quoted(tree_text(tree$args[[i]])), " is ", words[[kinds[i]]])
  }, "")
  raise("expression", c(
    paste0(quoted(tree_text(tree)), " compares ", words[[kinds[1L]]], " with ",
      words[[kinds[2L]]], "."),
    "x" = paste0(paste(told, collapse = ", "), "."),
    ">" = kinds_advice(kinds, values, tree)
  ))
}

# How a constant of the other kind would be written, where one stands there.
kinds_advice <- function(kinds, values, tree) {
  at <- which(vapply(tree$args, function(arg) arg$kind == "value", NA))[1L]
  if (is.na(at)) {
    return("Text compares with text, numbers with numbers, dates with dates.")
  }
  value <- tree$args[[at]]$value
  number <- suppressWarnings(as.numeric(value))
  if (kinds[-at] == "text" && is.numeric(value)) paste0("Write it as text: ",
    braces_kept(value_text(as.character(value))), ".")
  else if (kinds[-at] == "amount" && is.character(value) && !anyNA(number))
    paste0("Write it as a number: ", braces_kept(value_text(number)), ".")
  else if (kinds[-at] == "amount" && is.character(value) && !anyNA(iso_days(value)))
    types_advice(tree$args[[3L - at]])
  else if (kinds[-at] == "day") "Write dates as year-month-day: \"2026-08-31\"."
  else if (kinds[-at] == "condition") paste0("Say ",
    quoted(tree_text(tree$args[[3L - at]])), " or ",
    quoted(paste0("!", tree_text(tree$args[[3L - at]]))), ".")
  else "Text compares with text, numbers with numbers, dates with dates."
}
