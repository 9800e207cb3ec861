# The units a sales year is cut into, from the finest to the coarsest, and the parts
# that come round every year.

period_units <- c("day", "week", "month", "quarter", "half", "year")

cyclic_parts <- c(
  "month_of_year", "quarter_of_year", "week_of_year", "day_of_week", "day_of_month", "hour_of_day"
)

unit_plural <- function(unit) if (unit == "half") "halves" else paste0(unit, "s")

# A weekday or a month by its English name (or a start of it of three letters
# or more) or by its number.
match_name <- function(x, names, name) {
  if (is.numeric(x)) {
    return(check_whole(x, name, 1L, length(names)))
  }
  check_text(x, name)
  found <- which(startsWith(tolower(names), tolower(x)) & nchar(x) >= 3L)
  if (length(found) != 1L) {
    raise("calendar", c(
      paste0(argument_said(name), " must be one of {.val {names}}, or a number from 1 to ",
        "{length(names)}."),
      "x" = paste0("It is ", quoted(x), "."),
      advise_word(x, names, "names")
    ))
  }
  found
}
