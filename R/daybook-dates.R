# The date column as whole days. Date columns are used as they are; date-times are read once, and
# text and spreadsheet day numbers as their whole column says.

date_orders <- c("dmy", "mdy", "ymd", "serial", "serial1904", "epoch", "period_start", "period_end")

# list(days, told: how they were read, for people; NULL where there was nothing to settle; order: of
#   texts, see date_form())
read_dates <- function(x, column, date_order = NULL, undated = character()) {
  if (!is.null(date_order)) check_choice(date_order, date_orders, "date_order")
  if (is.factor(x)) x <- as.character(x)
  if (inherits(x, "Date")) {
    list(days = x)
  } else if (inherits(x, "POSIXct")) {
    list(days = local_days(x))
  } else if (is.character(x)) {
    text_dates(x, column, date_order, undated)
  } else if (all(is.na(x))) {
    list(days = rep(NA_integer_, length(x)))
  } else if (is.numeric(x) && !is.object(x)) {
    number_dates(x, column, date_order)
  } else {
    raise_no_dates(x, column)
  }
}

# Whether a date column is the days it was read as: dates and date-times stay what they are.
is_settled <- function(x) !inherits(x, c("Date", "POSIXct"))

read_days <- function(x, column, date_order = NULL, undated = character()) {
  read_dates(x, column, date_order, undated)$days
}

raise_no_dates <- function(x, column) {
  raise("date", c(
    paste0("Column ", quoted(column), " holds no dates."),
    "x" = "It is {type_words(x)}: {examples_of(unique(x))}.",
    ">" = "Name another column, or turn it into dates first."
  ))
}

# Numbers are days: eight digits of year, month and day, six of a month, seconds or milliseconds
# since 1970, or what spreadsheets count from 30 December 1899 (or from 1 January 1904, where that
# is said).
number_dates <- function(x, column, date_order) {
  known <- x[!is.na(x)]
  if (is.null(date_order) && are_digit_dates(known)) {
    return(list(days = checked_days(x %/% 10000, x %/% 100 %% 100, x %% 100)))
  }
  seconds <- if (is.null(date_order) || date_order == "epoch") epoch_seconds(known)
  if (!is.null(seconds)) {
    return(list(days = as.integer(floor(x * seconds / 86400)),
      told = paste0(quoted(column), " read as ",
      if (seconds == 1) "seconds" else "milliseconds", " since 1970, in UTC")))
  }
  if (are_month_digits(known) && (date_order %||% "period_end") %in%
    c("period_start", "period_end")) {
    texts <- ifelse(is.na(x), NA, format(x, scientific = FALSE, trim = TRUE))
    end <- !identical(date_order, "period_start")
    return(list(days = period_days(texts, end), told = period_words(column, texts, date_order)))
  }
  serial <- date_order %||% "serial"
  if (!serial %in% c("serial", "serial1904")) raise_no_dates(x, column)
  # 1 January 1970 is day 25569.
  safe <- if (is.null(date_order)) are_sheet_days(known) else all(known > 0 & known < 110000)
  if (!safe) raise_no_dates(x, column)
  first <- if (serial == "serial") 25569 else 24107
  list(
    days = as.integer(floor(x) - first),
    told = if (is.null(date_order)) paste0(quoted(column),
      " read as the day numbers of spreadsheets")
  )
}

# The day numbers of spreadsheets, from 1990 to 2050.
are_sheet_days <- function(x) all(x >= 32874 & x < 54789)

# How many seconds each number is, where all are seconds or milliseconds of the years 2000 to 2049.
epoch_seconds <- function(x) {
  if (length(x) == 0L || !all(x == floor(x))) NULL
  else if (all(x >= 946684800 & x < 2524608000)) 1
  else if (all(x >= 946684800000 & x < 2524608000000)) 0.001
}

# 202608 and the like.
are_month_digits <- function(x) {
  length(x) > 0L && !is.object(x) && all(x >= 190001 & x <= 220012 & x == floor(x)) &&
    all(x %% 100 %in% 1:12)
}

period_words <- function(column, texts, date_order) {
  if (is.null(date_order)) paste0(quoted(column), " holds periods such as ",
    quoted(texts[!is.na(texts)][1L]),
    ", not days: each counts on its last day, or on its first by ",
    option_said("date_order", "period_start"))
}

# 20260831 and the like, all of them days that exist.
are_digit_dates <- function(x) {
  if (length(x) == 0L || is.object(x) || !all(x >= 19000101 & x <= 22001231 & x == floor(x))) {
    return(FALSE)
  }
  x <- unique(x)
  !anyNA(checked_days(x %/% 10000, x %/% 100 %% 100, x %% 100))
}

# Each distinct text is read once. What a column of one form holds of another is no date, and
# is told.
text_dates <- function(x, column, date_order, undated) {
  coded <- kernel_encode(x, thread_count())
  distinct <- kernel_trimmed(x[coded$first])
  no_day <- grepl(no_day_form, distinct)
  blank <- distinct == "" | distinct %in% undated | no_day
  form <- date_form(distinct[!blank], date_order)
  days <- rep(NA_integer_, length(distinct))
  if (length(form$orders) == 0L) {
    days[!blank] <- days_in_form(distinct[!blank], date_order)
    bad <- which(is.na(days) & !blank)
    raise_bad_dates(column, coded, distinct, bad, date_order, undated, none = all(is.na(days)))
  }
  if (length(form$orders) > 1L) raise_unsettled_dates(column, distinct[!blank], form$orders)
  days[!blank] <- form$days
  check_misfits(form, column, coded, distinct, which(!blank), date_order, undated)
  list(
    days = days[coded$codes], order = form$orders,
    told = c(
      if (is.null(date_order) && form$settled)
        paste0(quoted(column), " read as ", order_words[[form$orders]], ", as ",
          quoted(form$by), " says"),
      if (is.null(date_order) && isTRUE(form$together))
        paste0(quoted(column), " read as ", order_words[[form$orders]],
          ": so its years lie together"),
      if (form$orders == "period") period_words(column, distinct[!blank], date_order),
      if (any(no_day)) paste0(examples_of(distinct[no_day]), " in ", quoted(column),
        " taken as no date"),
      misfit_words(distinct[!blank][form$misfits], column, form$orders)
    )
  )
}

# What texts are dates by. A column has one form: list(days; orders: the form, or both where day and
# month cannot be told; settled: whether one of them had to be chosen, by: a text that decides;
# misfits: the places of what is no date of that form). No orders: no form reads most of them.
date_form <- function(texts, date_order = NULL) {
  if (length(texts) == 0L) {
    return(list(days = integer(), orders = "ymd", settled = FALSE, misfits = integer()))
  }
  read <- if (is.null(date_order)) days_by_form(texts)
    else stats::setNames(list(days_in_form(texts, date_order)), date_order)
  fits <- vapply(read, function(days) sum(!is.na(days)), 0)
  best <- names(read)[fits == max(fits)]
  if (max(fits) <= length(texts) / 2) {
    return(list(orders = character()))
  }
  together <- if (is.null(date_order)) form_of_years(texts, read, best)
  best <- together %||% best
  days <- read[[best[1L]]]
  differ <- Reduce(`|`, lapply(read[best[-1L]], function(other) (other != days) %in% TRUE), FALSE)
  list(
    days = days, orders = if (any(differ)) best else best[1L],
    settled = best[1L] %in% c("dmy", "mdy") && is.null(together),
    by = decisive(texts, read, best[1L]),
    misfits = which(is.na(days)), together = !is.null(together)
  )
}

# Years of two digits may stand in front or behind: NULL where the texts do not have them, else
# the forms by which the dates lie together and not in the years to come; all that fit where
# neither tells.
form_of_years <- function(texts, read, best) {
  behind <- intersect(best, c("dmy", "mdy"))
  if (!"ymd" %in% best || length(behind) == 0L) {
    return(NULL)
  }
  latest <- as.integer(Sys.Date()) + 366L
  late <- vapply(read[best], function(days) any(days > latest, na.rm = TRUE), NA)
  if (any(late) && !all(late)) best <- best[!late]
  if (!"ymd" %in% best || length(intersect(best, behind)) == 0L) {
    return(best)
  }
  years <- vapply(read[best], function(days) diff(range(days, na.rm = TRUE)), 0L)
  close <- best[years * 3 <= max(years) & years <= min(years) * 3]
  if (length(close) > 0L && length(close) < length(best)) {
    return(close)
  }
  # With slashes and points the year is hardly ever first.
  if (any(grepl("^[0-9]{2}-", texts))) best else intersect(best, behind)
}

# The days of texts in each form that a column may have.
days_by_form <- function(texts) {
  texts <- without_weekday(texts)
  year_first <- iso_days(texts)
  year_first <- ifelse(is.na(year_first), digit_days(texts), year_first)
  open <- is.na(year_first)
  year_first[open] <- ordered_days(texts[open], "ymd")
  list(ymd = year_first, named = named_days(texts), dmy = ordered_days(texts, "dmy"),
    mdy = ordered_days(texts, "mdy"), period = period_days(texts))
}

# A text that only this form can read, where there is one.
decisive <- function(texts, read, form) {
  other <- setdiff(c("dmy", "mdy"), form)[1L]
  alone <- !is.na(read[[form]]) & is.na(read[[other]] %||% read[[form]][NA])
  c(texts[alone], texts[!is.na(read[[form]])], "")[1L]
}

# What is written as a date of some other form is no date of this one. What has the form and is no
# day, or is no date at all, is an error; so are two forms side by side.
check_misfits <- function(form, column, coded, distinct, at, date_order, undated) {
  misfits <- at[form$misfits]
  if (length(misfits) == 0L) {
    return(invisible())
  }
  bad <- misfits[!of_other_form(distinct[misfits]) | has_form(distinct[misfits], form$orders)]
  if (!is.null(date_order) || length(bad) > 0L) {
    raise_bad_dates(column, coded, distinct, if (length(bad) > 0L) bad else misfits,
      date_order, undated, none = FALSE)
  }
  if (length(misfits) > 1L && length(misfits) > 0.2 * length(at)) {
    raise("date", c(
      paste0("Column ", quoted(column), " holds dates of several forms."),
      "x" = paste0("Most are ", order_words[[form$orders]], "; these are not: ",
        "{examples_of(distinct[misfits])} at {rows_of(which(coded$codes %in% misfits))}."),
      ">" = paste0("Say how the others are written: ",
        braces_kept(option_said("date_order", "dmy")), " or ",
        braces_kept(option_said("date_order", "mdy")), ".")
    ))
  }
}

misfit_words <- function(texts, column, form) {
  if (length(texts) == 0L) {
    return(NULL)
  }
  paste0(examples_of(texts), " in ", quoted(column), if (length(texts) == 1L) " is" else " are",
    " written otherwise than the other dates (", order_words[[form]], ") and taken as no date")
}

# Digits with something between them, or what some form reads.
of_other_form <- function(texts) {
  read <- vapply(days_by_form(texts), function(days) !is.na(days), logical(length(texts)))
  grepl("^[0-9]+([/. -]+[0-9]+)+([T ,].*)?$", texts) | rowSums(matrix(read, length(texts))) > 0
}

# Whether texts are written in a form, whatever day they say.
has_form <- function(texts, form) {
  grepl(switch(form,
    ymd = "^([0-9]{4}|[0-9]{2})[/.-][0-9]{1,2}[/.-][0-9]{1,2}($|[^0-9])", named = "[[:alpha:]]{3}",
    period = "^$", period_start = "^$", period_end = "^$",
    "^[0-9]{1,2}[/.-][0-9]{1,2}[/.-]([0-9]{4}|[0-9]{2})($|[^0-9])"
  ), texts)
}

raise_unsettled_dates <- function(column, texts, orders) {
  choice <- vapply(orders, function(order) option_said("date_order", order), "")
  raise("date", c(
    paste0("The order of day and month in column ", quoted(column), " is not guessed."),
    "x" = "{examples_of(unique(texts))} can be read both ways.",
    ">" = paste0("Say ", braces_kept(paste(choice, collapse = " or ")), ".")
  ), unsettled = texts[1L])
}

# The others of the column are dates.
raise_some_no_dates <- function(column, coded, distinct, bad, undated) {
  raise("date", c(
    paste0("Column ", quoted(column), " holds text that is not a date."),
    "x" = "{examples_of(distinct[bad])} at {rows_of(which(coded$codes %in% bad))}.",
    ">" = paste0("Mend these, or say that they mean no date: ",
      braces_kept(option_said(if (surface$name == "R" &&
        !is.null(undated)) "undated" else "missing", distinct[bad][1L])), ".")
  ), no_dates = distinct[bad])
}

raise_bad_dates <- function(column, coded, distinct, bad, date_order, undated, none) {
  rows <- which(coded$codes %in% bad)
  where <- "{examples_of(distinct[bad])} at {rows_of(rows)}."
  # A year of four digits in front leaves no order to say.
  slashed <- grepl(ordered_form, distinct[bad]) & !grepl("^[0-9]{4}", distinct[bad])
  if (is.null(date_order) && any(slashed)) {
    fits <- vapply(c("dmy", "mdy", "ymd"), function(order) {
      !anyNA(ordered_days(distinct[bad][slashed], order))
    }, logical(1L))
    if (any(fits) && !all(slashed)) raise_some_no_dates(column, coded, distinct, bad[!slashed],
      undated)
    orders <- if (any(fits)) names(fits)[fits] else names(fits)
    choice <- paste(vapply(orders, function(order) option_said("date_order", order), ""),
      collapse = " or ")
    raise("date", c(
      paste0("The order of day and month in column ", quoted(column), " is not guessed."),
      "x" = where,
      ">" = if (sum(fits) > 1L) paste0("Both ways can be read: say ", braces_kept(choice), ".")
        else paste0("Say ", braces_kept(choice), ", and mend what is not a date.")
    ))
  }
  if (!none) raise_some_no_dates(column, coded, distinct, bad, undated)
  raise("date", c(
    paste0("Column ", quoted(column), " holds no dates."), "x" = where,
    ">" = "Write dates as year-month-day (\"2026-08-31\"), or name another column."
  ))
}
