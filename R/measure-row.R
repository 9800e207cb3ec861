#' The row language: expressions worked out for each order line
#'
#' Conditions in [only()], columns in [work_out()] and the arguments of aggregates such as
#' `sum(quantity * unit_price)` are written in a closed list of functions of columns. The command
#' line reads the same list. Nothing outside it is ever evaluated.
#'
#' | kind | words |
#' |---|---|
#' | arithmetic | `+ - * / ^ %% %/%`, `abs`, `round(x, digits)`, `least(x, y)`, `greatest(x, y)` |
#' | unknown values | `is.na(x)`, `or_zero(x)`, `if_known(x, else)`, `where_known(x, y)`: x where y is |
#' | amounts | `as_amount(x)`: a column that looks like a code is an amount all the same |
#' | conditions | `== != < <= > >=`, `%in%`, `& \| !`, `ifelse(condition, yes, no)` |
#' | text | `tolower`, `toupper`, `trimws`, `substr(x, from, to)`, `startsWith`, `endsWith`, `paste` |
#' | labels | `one_spelling(depot)`: labels that differ in case and blanks become the most frequent |
#' | bands | `banded(x, c(0, 100))`: `under 0`, `0 to under 100`, `100 and over`; `labels =` names them |
#' | currencies | `in_currency(net, "EUR")`: by the day's rate; `at = "month end"`: its month's end |
#' | groups | `regroup(region, Uplands = c("North", "Peak"))`: members under a new name |
#' | parts of dates | `month_of_year(x)`, `day_of_week(x)` and so on; `start_of(x, quarter)` |
#' | members | `of_each(customer_id, min(ordered_on))`: a figure of each member, worked out once |
#' | | `any_in(order_id, product_id == "P1")`: whether some line of the same order meets a condition |
#' | days | `ordered_on + 30`, `shipped_on - ordered_on` in days, `as_of`: the as-of date; `hour_of(time)` |
#' | | `periods_between(first_on, ordered_on, month)`: months from one to the other, 0 in the same |
#' | constants | numbers, `"text"`, `TRUE`, `FALSE`, `NA`, `as.Date("2026-07-01")`, `c(...)` of these |
#' | R only | `custom(fn, x, ...)` calls any R function with whole columns |
#'
#' A bare name is a column; in R (not on the command line) a name that is no column may be
#' a variable of yours. A comparison with a missing value is not met, nor is its contrary:
#' `!(x == "a")` leaves out what `x != "a"` does, and so does `!(x %in% "a")`; a list may name the
#' missing member: `x %in% c("a", "(none)")`. A note counts the lines that meet neither. A division
#' by zero is unknown (`NA`), never infinite. Text compares with text, numbers with numbers, dates
#' with dates; anything else is an error. The date column is its days, however they are written in
#' the orders; text beside a date is read as a date (`ordered_on >= "2026-01-01"`), and a column of
#' text that holds dates in another form is no date before it is read as such. Texts compare by code
#' point; a factor counts by its labels. Arguments may be said by their names.
#'
#' A table by `periods_between()` that ends at the date of the orders is one by age: cells of an age
#' that the as-of date has not reached are unknown, not 0.
#'
#' @name row_language
#' @seealso [measure_language] for figures over many order lines.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on) |>
#'   work_out(net = amount - discount, place = trimws(tolower(depot))) |>
#'   only(net > 0, !is.na(customer_id))
#' book
NULL

# Turns R syntax into a row tree. `vocabulary` is what may be named (see new_vocabulary()).
parse_row <- function(said, vocabulary, depth = 0L) {
  check_depth(depth)
  if (rlang::is_symbol(said)) {
    return(parse_row_name(rlang::as_string(said), vocabulary))
  }
  if (rlang::is_call(said)) {
    return(parse_row_call(said, vocabulary, depth))
  }
  if (is.atomic(said) && length(said) > 0L) {
    return(value_node(said))
  }
  raise_not_known(said, row_words())
}

row_words <- function() {
  c(names(row_functions()), names(row_dimension_parsers()), "c", "as.Date", "custom",
    "of_each", "any_in")
}

parse_row_name <- function(name, vocabulary) {
  if (name %in% names(vocabulary$columns)) {
    return(column_node(name, vocabulary$columns[[name]]))
  }
  if (name == "as_of" && !is.null(vocabulary$of_each)) {
    return(as_of_node(vocabulary))
  }
  value <- if (!is.null(vocabulary$env)) get0(name, envir = vocabulary$env)
  if (is.atomic(value) && length(value) > 0L) {
    return(value_node(value))
  }
  raise("column", c(paste0("There is no column ", quoted(name), "."),
    advise_word(name, names(vocabulary$columns), "columns"),
    if (isTRUE(vocabulary$of_orders) && is.null(nearest_word(name, names(vocabulary$columns)))) {
      by_figure <- code_said("keep", paste0("keep_where(", name_text(name), " > 0)"))
      c("i" = paste0("Conditions limit order lines by their columns; for the rows of a table, by ",
        "a figure: ",
        braces_kept(by_figure), "."))
    }))
}

parse_row_call <- function(said, vocabulary, depth) {
  check_no_gaps(said)
  fn <- call_word(said)
  if (fn == "(") {
    return(parse_row(said[[2L]], vocabulary, depth + 1L))
  }
  own <- row_parsers()[[fn]]
  if (!is.null(own)) {
    return(own(fn, said, vocabulary, depth))
  }
  if (!fn %in% names(row_functions())) raise_not_known(said, row_words())
  given <- placed_arguments(fn, said, names(formals(row_functions()[[fn]])))
  args <- lapply(given, parse_row, vocabulary = vocabulary, depth = depth + 1L)
  check_arity(fn, args, said)
  check_single(fn, args, said)
  if (fn == "-" && length(args) == 1L && args[[1L]]$kind == "value" &&
    is.numeric(args[[1L]]$value)) {
    return(value_node(-args[[1L]]$value))
  }
  call_node(fn, args)
}

# Words that are read in a way of their own.
row_parsers <- made_once(function() {
  c(
    list(
      c = function(fn, said, vocabulary, depth) parse_constants(said, vocabulary, depth),
      as.Date = function(fn, said, vocabulary, depth) parse_date(said, vocabulary, depth),
      custom = function(fn, said, vocabulary, depth) parse_custom(said, vocabulary, depth),
      of_each = function(fn, said, vocabulary, depth) parse_of_each(fn, said, vocabulary, depth),
      any_in = function(fn, said, vocabulary, depth) parse_any_in(fn, said, vocabulary, depth)
    ),
    row_dimension_parsers()
  )
})

# The function a call names, "" when it is not a plain name (`pkg::fn`, a function of a function).
call_word <- function(said) {
  if (rlang::is_symbol(said[[1L]])) rlang::as_string(said[[1L]]) else ""
}

check_arity <- function(fn, args, said) {
  takes <- formals(row_functions()[[fn]])
  required <- vapply(takes, function(x) rlang::is_missing(x), logical(1L)) & names(takes) != "..."
  if (fn %in% c("+", "-")) required["y"] <- FALSE
  most <- if ("..." %in% names(takes)) Inf else length(takes)
  if (length(args) < max(sum(required), 1L) || length(args) > most) {
    takes <- if (is.finite(most)) paste(unique(c(max(sum(required), 1L), most)), collapse = " or ")
      else "one or more"
    raise("expression", c(
      paste0(quoted(fn), " takes ", takes, if (takes == "1") " argument." else " arguments."),
      "x" = paste0(quoted(rlang::as_label(said)), " has ", length(args), ".")
    ))
  }
}

# Several values stand to the right of %in% only: elsewhere they would be taken line by line,
# in turn.
check_single <- function(fn, args, said) {
  several <- vapply(args, function(arg) arg$kind == "value" && length(arg$value) > 1L, NA)
  if (fn == "%in%") several[2L] <- FALSE
  if (any(several)) {
    raise("expression", c(
      paste0(quoted(fn), " takes one value for each order line."),
      "x" = paste0(quoted(rlang::as_label(said)), " gives it ",
        length(args[[which(several)[1L]]]$value), " at once."),
      ">" = switch(fn,
        "==" = paste0("One of several is said with {.code %in%}: {.code channel %in% c(\"web\", ",
          "\"phone\")}."),
        "!=" = "None of several is said with {.code !(channel %in% c(\"web\", \"phone\"))}.",
        "Give it one value, or a column."
      )
    ))
  }
}

parse_constants <- function(said, vocabulary, depth) {
  parts <- lapply(placed_arguments("c", said, "..."), parse_row, vocabulary = vocabulary,
    depth = depth + 1L)
  if (length(parts) == 0L || !all(vapply(parts, function(p) p$kind == "value", logical(1L)))) {
    raise(
      "expression", c("{.fn c} takes constants only.",
        "x" = paste0("This is ", quoted(rlang::as_label(said)), "."))
    )
  }
  values <- lapply(parts, `[[`, "value")
  # The missing member stands beside numbers and days as it does beside texts.
  none <- vapply(values, identical, NA, none_label)
  if (any(none) && !all(none) && !any(vapply(values[!none], is.character, NA))) {
    values[none] <- values[!none][[1L]][NA]
  }
  value_node(if (all(vapply(values, inherits, NA, what = "Date"))) do.call(c,
    values) else unlist(values))
}

# as.Date("2026-07-01"): a day as a constant.
parse_date <- function(said, vocabulary, depth) {
  text <- if (length(placed_arguments("as.Date", said, "x")) == 1L) {
    constant_said(said[[2L]], vocabulary, depth)
  }
  days <- if (is.character(text)) iso_days(text) else NA
  if (anyNA(days)) {
    raise("expression", c(
      "{.fn as.Date} takes one day as text.", "x" = paste0("This is ",
        quoted(rlang::as_label(said)), "."),
      ">" = "Write it as year-month-day: {.code as.Date(\"2026-08-31\")}."
    ))
  }
  value_node(as_day_date(days))
}

parse_custom <- function(said, vocabulary, depth) {
  if (is.null(vocabulary$env)) {
    raise(
      "expression", c("{.fn custom} calls R functions and is for R only.",
        ">" = "Use the words of the row language.")
    )
  }
  fn <- if (length(said) >= 2L) eval(said[[2L]], vocabulary$env)
  if (!is.function(fn) || length(said) < 3L) {
    raise("expression", c(
      "{.fn custom} takes an R function and at least one column.",
      ">" = "For example {.code custom(toupper, region)}."
    ))
  }
  args <- lapply(placed_arguments("custom", said, "...")[-1L], parse_row, vocabulary = vocabulary,
    depth = depth + 1L)
  node("custom", custom = fn, function_id = vocabulary$function_id(fn), args = args,
    text = paste(deparse(said, width.cutoff = 500L), collapse = " "))
}

raise_not_known <- function(said, known) {
  fn <- if (rlang::is_call(said)) call_word(said) else ""
  raise("expression", c(
    paste0(quoted(paste(deparse(said, width.cutoff = 200L, nlines = 1L), collapse = " ")),
      " cannot be used here."),
    "x" = if (fn == "") "It is not an expression of columns and known words." else paste0(
      quoted(fn), " is not among the known words."
    ),
    if (fn != "") advise_word(fn, known, "words")
  ))
}

# The values of a row tree: one for each row, or one constant. `view` is what it is worked out over:
# list(values: a function of a column's id, rows).
row_values <- function(tree, view) {
  switch(tree$kind,
    value = tree$value,
    column = view$values(tree$id),
    custom = custom_values(tree, view),
    call = row_call_values(tree, lapply(tree$args, row_values, view = view))
  )
}

row_call_values <- function(tree, args) {
  fn <- c(row_functions(), row_dimensions())[[tree$fn]]
  if (tree$fn %in% row_arithmetic) {
    args <- lapply(args, without_time)
    days <- are_days_of(tree$fn, vapply(args, inherits, NA, "Date"))
    found <- call_values(tree, fn, unname(Map(as_operand, args, tree$args)))
    return(if (days) as.Date(found, origin = "1970-01-01") else found)
  }
  if (tree$fn %in% row_comparisons) args <- compared_values(args, tree)
  else if (!tree$fn %in% keeps_whole_numbers) args <- lapply(args, without_int64)
  call_values(tree, fn, c(unname(args), tree$constants))
}

# A day moved by some days is a day, as is the earlier or the later of two; between two days
# lie so many.
are_days_of <- function(fn, days) {
  switch(fn, "+" = sum(days) == 1L, "-" = length(days) == 2L && days[1L] && !days[2L],
    least = , greatest = length(days) > 0L && all(days), FALSE)
}

without_time <- function(x) if (inherits(x, "POSIXct")) as_day_date(local_days(x)) else x

# The same with one value for each row.
whole_values <- function(tree, view) {
  values <- row_values(tree, view)
  if (length(values) == 1L) vctrs::vec_rep(values, view$rows) else values
}

call_values <- function(tree, fn, args) {
  rlang::try_fetch(
    do.call(fn, args),
    error = unless_ours(function(e) {
      raise("expression", c(
        paste0(quoted(tree_text(tree)), " cannot be worked out."),
        "x" = braces_kept(conditionMessage(e))
      ))
    })
  )
}

custom_values <- function(tree, view) {
  values <- call_values(tree, tree$custom, unname(lapply(tree$args, row_values, view = view)))
  if (!is.atomic(values) || !length(values) %in% c(1L, view$rows)) {
    raise("expression", c(
      paste0(quoted(tree$text), " must give one value for each order line."),
      "x" = paste(
        "It gives {type_words(values)} of length {length(values)}",
        "for {view$rows} order line{?s}."
      )
    ))
  }
  values
}

# An operand of arithmetic: a number, a logical or a date, as doubles. Text is an error that
# names the rows in the way.
as_operand <- function(x, tree) {
  x <- without_int64(x)
  if ((is.numeric(x) && !is.factor(x)) || is.logical(x) || inherits(x, "Date")) {
    return(as.numeric(x))
  }
  raise_not_amount(x, tree)
}

# What could be read as numbers and is not said to be: codes with zeros before
# them, dates and the like.
raise_other_kind <- function(x, tree) {
  raise("amount", c(
    paste0(quoted(tree_text(tree)), " holds ", if (is.character(x)) "text" else "{type_words(x)}",
      ", no amounts."),
    "x" = "Its values: {examples_of(utils::head(unique(as.character(x)), 5))}.",
    ">" = "Name a column of numbers."
  ))
}

raise_unsettled <- function(unsettled, tree) {
  raise("amount", c(
    paste0(quoted(tree_text(tree)), " is text: its amounts can be read both ways."),
    "x" = "They are {examples_of(unsettled)}.",
    ">" = paste0("Say how: ", braces_kept(unsettled_words(unsettled[1L])), ".")
  ))
}

raise_not_amount <- function(x, tree) {
  text <- as.character(x)
  spoiled <- which(!is.na(text) & is.na(suppressWarnings(as.numeric(text))))
  unsettled <- if (is.character(x)) amounts_of(unique(text[!is.na(text)]), list())$unsettled
  if (!is.null(unsettled)) raise_unsettled(unsettled, tree)
  if (length(spoiled) == 0L) raise_other_kind(x, tree)
  few <- length(spoiled) / max(sum(!is.na(text)), 1L) < 0.5
  raise("amount", c(
    paste0(quoted(tree_text(tree)), " is text, not an amount."),
    "x" = paste(
      "{length(spoiled)} value{?s} {?is not a number/are not numbers}:",
      "{examples_of(unique(text[spoiled]))} at {rows_of(spoiled)}."
    ),
    ">" = if (few) "Mend these rows in the orders, then read them again." else "Name a column of numbers."
  ))
}
