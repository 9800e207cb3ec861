# What the columns of texts are. What is plain is converted: ISO dates, numbers, TRUE and FALSE;
# then amounts as people write them, and columns in which a word stands for what is not known.
# Digits that begin with a zero are codes and stay text, and so do whole numbers too large for a
# double to hold to the last digit.

typed_orders <- function(raw, reading, told) {
  columns <- lapply(raw$columns, used_texts)
  reading <- settled_by_others(columns, reading)
  rows <- raw$rows %||% seq_len(raw$records)
  typed <- Map(function(column, name, place) {
    own <- if (!is.null(raw$typed) && !name %in% names(reading$types)) raw$typed(place, rows)
    own %||% typed_texts(column, name, reading, told)
  }, columns, raw$names, raw$places)
  names(typed) <- raw$names
  with_currencies(typed, told)
}

# The decimal mark of a file, where one of its columns settles it for those that do not.
settled_by_others <- function(columns, reading) {
  if (!is.null(reading$decimal)) {
    return(reading)
  }
  open <- vapply(columns, function(column) {
    !is.null(column_amounts(utils::head(column$texts, 1000L), reading)$unsettled)
  }, NA)
  if (!any(open)) {
    return(reading)
  }
  marks <- unlist(lapply(columns[!open], function(column) {
    texts <- utils::head(column$texts, 1000L)
    Filter(function(mark) {
      other <- setdiff(c(".", ","), mark)
      any(grepl(paste0("[", mark, "]"), texts)) &&
        is.null(column_amounts(texts, list(decimal = other))) &&
        !is.null(column_amounts(texts, list(decimal = mark))$values)
    }, c(".", ","))
  }))
  if (length(unique(marks)) == 1L) utils::modifyList(reading,
    list(decimal = marks[[1L]])) else reading
}

column_amounts <- function(texts, reading) {
  if (length(texts) == 0L) NULL else amounts_of(texts, reading)
}

typed_texts <- function(column, name, reading, told) {
  type <- reading$types[name]
  if (!is.null(type) && !is.na(type)) {
    return(said_type(column, name, type, reading, told))
  }
  plain <- typed_values(column$texts)
  if (!is.character(plain) && !is_open_number(plain, column$texts, reading)) {
    return(decimals_said(plain, column$texts, name, reading, told)[column$codes])
  }
  unknown <- is_unknown_word(column$texts)
  if (any(unknown) && !all(unknown)) {
    values <- as_written(column$texts[!unknown], name, reading, told)
    if (!is.character(values) || is_whole_date_form(values)) {
      tell_unknown(column$texts[unknown], name, told)
      return(values_at(values, cumsum(!unknown)[ifelse(unknown, NA,
        seq_along(unknown))][column$codes]))
    }
  }
  values_at(as_written(column$texts, name, reading, told), column$codes)
}

tell_unknown <- function(texts, name, told) {
  told$add(paste0(examples_of(texts), " in ", quoted(name), " taken as not known"))
}

is_whole_date_form <- function(texts) {
  form <- date_form(texts)
  length(form$orders) > 0L && length(form$misfits) == 0L
}

# Values of records by the codes of their texts, with the currency of each.
values_at <- function(values, codes) {
  currency <- attr(values, "currency")
  if (is.null(currency)) values[codes] else structure(as.vector(values)[codes],
    currency = currency[codes])
}

is_open_number <- function(values, texts, reading) {
  is.numeric(values) && is.null(reading$decimal) && are_points_open(texts)
}

# Plain texts, amounts as people write them, date-times of a zone that was said; else texts.
as_written <- function(texts, name, reading, told) {
  plain <- typed_values(texts)
  if (!is.character(plain) && !is_open_number(plain, texts, reading)) {
    return(decimals_said(plain, texts, name, reading, told))
  }
  amounts <- column_amounts(texts, reading)
  if (!is.null(amounts$values)) {
    tell_amounts(name, amounts, told)
    return(structure(amounts$values, currency = amounts$currency))
  }
  if (!is.null(amounts$unsettled)) told$find(list(
    kind = "unsettled amounts", rows = integer(), name = name, examples = amounts$unsettled
  ))
  if (!is.null(reading$zone)) zoned_times(texts, reading$zone) %||% texts else texts
}

# Marks that were said hold for plain numbers too: 1.234 with a decimal comma is 1234, and 1.5
# is none.
decimals_said <- function(values, texts, name, reading, told) {
  said <- !is.null(reading$decimal) || !is.null(reading$thousands)
  if (!is.numeric(values) || !said || !any(grepl(".", texts, fixed = TRUE))) {
    return(values)
  }
  amounts <- column_amounts(texts, reading)$values
  if (is.null(amounts)) told$add(paste0(quoted(name), " stays text: ",
    examples_of(texts[grepl(".", texts, fixed = TRUE)], 2L), " do not use the given marks"))
  amounts %||% texts
}

said_type <- function(column, name, type, reading, told) {
  check_choice(type, column_types, "types")
  if (type == "text") {
    return(column$texts[column$codes])
  }
  unknown <- is_unknown_word(column$texts)
  if (any(unknown)) tell_unknown(column$texts[unknown], name, told)
  column$texts[unknown] <- NA
  if (type == "date") said_dates(column, name, reading, told)
  else said_amounts(column, name, reading, told)
}

# What is wrong with dates is said by the rows of the orders, so each row is looked at.
said_dates <- function(column, name, reading, told) {
  dates <- read_dates(column$texts[column$codes], name, said_order(name, reading), undated = NULL)
  for (line in dates$told) told$add(line)
  as_day_date(dates$days)
}

said_order <- function(name, reading) {
  reading$date_order %||% if (name %in% names(reading$settled)) reading$settled[[name]]
}

# What is said to be an amount is one with zeros before it, too.
said_amounts <- function(column, name, reading, told) {
  known <- !is.na(column$texts)
  if (!any(known)) {
    return(rep(NA_real_, length(column$codes)))
  }
  texts <- sub("^([-+]?)0+(?=[0-9])", "\\1", column$texts, perl = TRUE)
  values <- known_amounts(texts, known, name, reading, told) %||%
    raise_no_amounts(column, name, reading)
  values_at(values, column$codes)
}

# The amounts of texts of which some are known, with their currencies; NULL where they are none.
known_amounts <- function(texts, known, name, reading, told) {
  amounts <- column_amounts(texts[known], reading)
  if (is.null(amounts$values)) {
    return(NULL)
  }
  if (is.character(typed_values(texts[known]))) tell_amounts(name, amounts, told)
  places <- ifelse(known, cumsum(known), NA)
  values_at(structure(amounts$values, currency = amounts$currency), places)
}

tell_amounts <- function(name, amounts, told) {
  told$add(paste0(quoted(name), " read as amounts", such_as, amounts$as))
}

raise_no_amounts <- function(column, name, reading) {
  texts <- column$texts[!is.na(column$texts)]
  alone <- texts[vapply(texts, function(text) is.null(column_amounts(text, reading)), NA)]
  raise("amount", c(
    paste0("Column ", quoted(name), " was said to hold amounts but does not."),
    "x" = if (length(alone) > 0L) paste("{examples_of(alone)} at",
      "{rows_of(which(column$texts[column$codes] %in% alone))}.") else
      "Its values do not all read one way: {examples_of(texts)}.",
    ">" = if (length(alone) > 0L) paste0("Say ", braces_kept(option_said("missing", alone[1L])),
      " for what means nothing, ", braces_kept(option_said("decimal", ",")), " for the mark.")
      else paste0("Say ", braces_kept(option_said("decimal", ",")), " or ",
        braces_kept(option_said("decimal", ".")), ".")
  ))
}

# Several currencies in a column become a column beside it.
with_currencies <- function(typed, told) {
  for (name in names(typed)) {
    currency <- attr(typed[[name]], "currency")
    if (is.null(currency)) next
    attr(typed[[name]], "currency") <- NULL
    beside <- utils::tail(make.unique(c(names(typed), paste0(name, "_currency")), sep = "_"), 1L)
    typed[[beside]] <- currency
    told$add(paste0(quoted(name), " holds several currencies: they stand in ", quoted(beside)))
  }
  typed
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
  if (is.numeric(numbers) && (any(grepl("^[+-]?0[0-9xX]", distinct)) ||
    any_beyond_double(distinct)))
      distinct else numbers
}

# Date-times of text in their own offset, or in the zone that was said.
zoned_times <- function(texts, zone) {
  pattern <-
    paste0("^[0-9]{4}-[0-9]{2}-[0-9]{2}[T ",
      "][0-9]{2}:[0-9]{2}(:[0-9]{2}([.][0-9]+)?)?(Z|[+-][0-9]{2}:?[0-9]{2})?$")
  if (!all(grepl(pattern, texts))) {
    return(NULL)
  }
  offset <- grepl("(Z|[+-][0-9]{2}:?[0-9]{2})$", sub("^.{10}", "", texts))
  plain <- sub("(Z|[+-][0-9]{2}:?[0-9]{2})$", "", sub("T", " ", texts, fixed = TRUE))
  plain <- ifelse(nchar(plain) == 16L, paste0(plain, ":00"), plain)
  times <- as.POSIXct(plain, tz = zone, format = "%Y-%m-%d %H:%M:%OS")
  if (any(offset)) {
    seconds <- offset_seconds(sub("^.*?(Z|[+-][0-9]{2}:?[0-9]{2})$", "\\1", texts[offset]))
    times[offset] <- as.POSIXct(plain[offset], tz = "UTC", format = "%Y-%m-%d %H:%M:%OS") - seconds
  }
  if (anyNA(times)) NULL else times
}

offset_seconds <- function(offsets) {
  digits <- gsub("[^0-9]", "", offsets)
  seconds <- as.numeric(substr(digits, 1L, 2L)) * 3600 + as.numeric(substr(digits, 3L, 4L)) * 60
  ifelse(offsets == "Z", 0, ifelse(startsWith(offsets, "-"), -1, 1) * seconds)
}
