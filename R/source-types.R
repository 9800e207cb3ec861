# What the cells of a text column are. Only what is plain is converted: ISO dates, numbers, TRUE and
# FALSE. Digits that begin with a zero are codes and stay text, and so do whole numbers too large
# for a double to hold to the last digit.

typed_column <- function(x) {
  if (all(is.na(x))) {
    return(rep(NA, length(x)))
  }
  coded <- kernel_encode(x)
  distinct <- x[coded$first]
  if (!all(validUTF8(distinct))) {
    raise("file", c(
      "A column holds text that is not UTF-8.",
      "x" = "See {rows_of(which(!validUTF8(x)))}.",
      ">" = "Save the file as UTF-8."
    ))
  }
  typed_values(distinct)[coded$codes]
}

typed_values <- function(distinct) {
  if (length(distinct) == 0L) {
    return(NA)
  }
  if (all(grepl("^[0-9]{4}-[0-9]{2}-[0-9]{2}$", distinct))) {
    days <- iso_days(distinct)
    return(if (anyNA(days)) distinct else as_day_date(days))
  }
  numbers <- utils::type.convert(distinct, as.is = TRUE, na.strings = character(),
    dec = ".", numerals = "allow.loss")
  if (is.logical(numbers) && !all(distinct %in% c("TRUE", "FALSE", "true", "false"))) {
    return(distinct)
  }
  if (is.numeric(numbers) && (any(grepl("^[+-]?0[0-9xX]", distinct)) || any_beyond_double(distinct)))
    distinct else numbers
}

# From 2^53 on not every whole number is a double.
any_beyond_double <- function(texts) {
  whole <- grepl("^\\s*[+-]?[0-9]{16,}\\s*$", texts)
  any(whole) && any(abs(as.numeric(texts[whole])) >= 2^53)
}
