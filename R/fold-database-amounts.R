# The amounts of a job over orders in a database: what is selected of each, and the states that are
# made of it.

# An amount as SQL: list(... of the planned amount, x: the expression, facts).
sql_amount <- function(amount, query) {
  x <- sql_of(query, amount$tree)
  if (!amount$position) check_amount_sql(query$engine, amount, x)
  looked_at <- "moments" %in% amount$needs || ("sum" %in% amount$needs && !is_exact_kind(x$kind))
  c(amount, list(x = x, facts = if (looked_at) amount_facts(query$engine, amount$tree)))
}

check_amount_sql <- function(engine, amount, x) {
  number <- is_number_kind(x$kind) || x$kind == "condition"
  ordered <- number || is_day_kind(x$kind) || x$kind %in% c("time", "zoned")
  fits <- (number || !"amount" %in% amount$reads) && (ordered || !"ordered" %in% amount$reads)
  if (!fits) raise_no_amount(engine, amount$tree, x)
  if (amount$code_refused && amount$tree$kind == "column") {
    check_not_code(first_amounts(engine, amount$tree), amount$tree$name)
  }
}

raise_no_amount <- function(engine, tree, x) {
  query <- new_query(engine)
  x <- sql_of(query, tree)
  found <- database_rows(engine$db, paste0("SELECT DISTINCT ", sql_out(engine$db, x), " AS v ",
    sql_from(query), " LIMIT 1000"))
  values <- values_out(found$v, x, engine$db)
  values <- values[!is.na(values)]
  odd <- if (is.character(values)) values[is.na(
    suppressWarnings(plain_numbers(values)))] else values
  raise("amount", c(
    paste0(quoted(tree_text(tree)), if (is.character(values)) " is text, not an amount."
      else " holds no amounts."),
    "x" = "Its values: {examples_of(utils::head(unique(c(odd, values)), 5))}.",
    ">" = "Name a column of numbers, or mend these values in the database."
  ))
}

first_amounts <- function(engine, tree) {
  kept(engine, "first amounts", tree_key(tree), function() {
    query <- new_query(engine)
    x <- sql_of(query, tree)
    plain_numbers(database_rows(engine$db, paste0("SELECT ", sql_double(engine$db, x), " AS v ",
      sql_from(query),
      " LIMIT 10000"))$v)
  })
}

# How an amount lies over all orders: list(per_unit: the grid on which all its doubles lie, where
# sums of whole units are exact; or NULL; centre: what is subtracted before squares are added).
amount_facts <- function(engine, tree) {
  kept(engine, "amount", tree_key(tree), function() {
    on <- on_grid(engine, tree, 100)
    if (on$off > 0 && on$n * on$largest * 10000 < 2^53) on <- on_grid(engine, tree, 10000)
    per_unit <- if (on$off == 0 && on$n * on$largest * on$per_unit < 2^53) on$per_unit
    list(per_unit = per_unit, centre = if (is.null(per_unit)) on$mean
      else round(on$mean * per_unit) / per_unit)
  })
}

# How many values of an amount lie off a grid, by more than their own last digit; how many there
# are, the largest and their mean.
on_grid <- function(engine, tree, per_unit) {
  query <- new_query(engine)
  units <- paste0("(ds_v * ", format(per_unit), ".0)")
  found <- database_rows(engine$db, sql_query(engine$db,
    c(ds_v = sql_double(engine$db, sql_of(query, tree))), sql_from(query), c(
    n = "count(ds_v)", largest = "max(abs(ds_v))", mean = "avg(ds_v)",
    off = paste0("sum(CASE WHEN abs(", units, " - round(", units, ")) > abs(", units,
      ") * 2.220446049250313e-16 THEN 1 ELSE 0 END)")
  )))
  found <- lapply(found, function(v) if (is.na(v)) 0 else plain_numbers(v))
  c(found, list(per_unit = per_unit))
}

# list(inner: the columns of each order line; outer: what is selected of a group; columns: names of
# the outer ones, by what they are; none: no values of its kind). `figures`: those that the database
# gives of each cell as they are.
amount_selected <- function(amount, number, db, figures) {
  name <- function(what) paste0("ds_a", number, what)
  x <- amount$x
  a <- name("v")
  exact <- is_exact_kind(x$kind)
  value <- if (is_day_kind(x$kind) || exact) sql_out_exact(db, x) else sql_out(db, x)
  outer <- c(known = sql_known(db, a, x))
  inner <- c(v = value)
  per_unit <- amount$facts$per_unit
  if (!amount$position) {
    if ("sum" %in% amount$needs) outer <- c(outer, sum = sum_selected(db, a, x, per_unit))
    if ("moments" %in% amount$needs) outer <- c(outer, moments_selected(db, a, x, amount$facts))
    ends <- c(least = paste0("min(", a, ")"), greatest = paste0("max(", a, ")"))
    if (any(c("extremes", "moments") %in% amount$needs)) outer <- c(outer, ends)
    outer <- c(outer, figures_selected(db, a, x, intersect(amount$figures, figures)))
  }
  rename <- function(x) stats::setNames(x, vapply(names(x), name, ""))
  c(amount, list(
    rounded = list2env(list(any = FALSE), parent = emptyenv()),
    inner = rename(inner), outer = rename(outer), columns = stats::setNames(nm = names(outer),
      vapply(names(outer), name, "")),
    none = values_out(NULL, x, db)
  ))
}

# The amounts whose doubles the database adds up, by their texts.
added_there <- function(amounts) {
  inexact <- vapply(amounts, function(amount) {
    "sum" %in% amount$needs && !amount$position && is.null(amount$facts$per_unit) &&
      !is_exact_kind(amount$x$kind)
  }, NA)
  vapply(unname(amounts[inexact]), `[[`, "", "text")
}

# As it is added up exactly; days as numbers.
sql_out_exact <- function(db, x) if (is_day_kind(x$kind)) sql_day(db, x) else x$sql

sum_selected <- function(db, a, x, per_unit) {
  if (is_exact_kind(x$kind)) sql_exact_sum(db, a, x)
  else if (is.null(per_unit)) paste0("sum(", a, ")")
  else paste0("sum(round(", a, " * ", format(per_unit), "))")
}

# Sum and squares of what an amount is above the mean of all: in whole units where these are exact.
moments_selected <- function(db, a, x, facts) {
  a <- sql_double(db, new_sql(a, if (is_exact_kind(x$kind)) x$kind else "number"))
  less <- if (is.null(facts$per_unit)) paste0("(", a, " - ", sql_values(db, facts$centre), ")")
    else paste0("(round(", a, " * ", format(facts$per_unit), ") - ", sql_values(db,
      round(facts$centre * facts$per_unit)), ")")
  c(first = paste0("sum(", less, ")"), second = paste0("sum(", less, " * ", less, ")"))
}

# list(mean, spread: the squares about it) of each group.
moments_of <- function(numbers, known, facts) {
  or_none <- function(x) ifelse(is.na(x), 0, plain_numbers(x))
  per_unit <- facts$per_unit %||% 1
  first <- or_none(numbers$first)
  spread <- kernel_spread(known, first, or_none(numbers$second)) / per_unit^2
  # Of values that are all alike it is none, whatever was rounded.
  spread[(plain_numbers(numbers$least) == plain_numbers(numbers$greatest)) %in% TRUE] <- 0
  list(mean = facts$centre + ifelse(known > 0, first / known, 0) / per_unit, spread = spread)
}

# The states of an amount by their names, from the columns that came back.
amount_states <- function(amount, numbers, lines, given, at, ends, groups) {
  known <- plain_numbers(numbers$known)
  states <- list(missing = given("count", at, list(lines - known)))
  if (amount$position) {
    states$extremes <- given("extremes", cell_numbers(ends, groups),
      list(ends$positions, ends$positions))
    return(states)
  }
  if ("sum" %in% amount$needs) states$sum <- given("sum", at,
    ten_thousandths_of(numbers$sum, amount))
  if ("moments" %in% amount$needs) {
    states$moments <- given("moments", at, c(list(known), moments_of(numbers, known, amount$facts)))
  }
  if ("extremes" %in% amount$needs) states$extremes <- given("extremes", at, list(numbers$least,
    numbers$greatest))
  states
}

# Sums as whole ten-thousandths where they are that exactly, or else as they are.
ten_thousandths_of <- function(sums, amount) {
  per_unit <- amount$facts$per_unit
  if (!is_exact_kind(amount$x$kind)) {
    sums <- plain_numbers(sums)
    if (is.null(per_unit)) {
      return(list(rep(NA_real_, length(sums)), sums))
    }
    # Beyond what whole units hold, as where a larger amount has come since, they are plain doubles.
    units <- sums * (10000 / per_unit)
    whole <- is.finite(units) & abs(units) < 2^53
    return(list(ifelse(whole, units, NA), ifelse(whole, NA, sums / per_unit)))
  }
  parts <- decimal_parts(sums)
  fits <- parts$fits
  amount$rounded$any <- amount$rounded$any || any(are_rounded(sums[!fits & !is.na(sums)]))
  list(ifelse(fits, parts$units, NA), ifelse(fits, NA, plain_numbers(sums)))
}

# Whether exact numbers have digits that a double does not hold.
are_rounded <- function(sums) {
  if (!is.character(sums)) {
    return(logical(length(sums)))
  }
  digits <- function(texts) {
    whole <- !grepl(".", texts, fixed = TRUE)
    sub("[.]$", "", sub("0+$", "", sub("^[-+]?0*", "", paste0(texts, ifelse(whole, ".", "")))))
  }
  held <- formatC(plain_numbers(sums), digits = 17L, format = "fg", width = 1L)
  short <- nchar(gsub(".", "", digits(sums), fixed = TRUE)) <= 15L
  !short & digits(sums) != digits(held)
}

# Texts of exact numbers: list(units: ten-thousandths, fits: where they are whole and a double
# holds them).
decimal_parts <- function(sums) {
  texts <- if (is.character(sums)) sums else number_texts(plain_numbers(sums))
  plain <- grepl("^-?[0-9]+([.][0-9]+)?$", texts)
  fraction <- ifelse(grepl(".", texts, fixed = TRUE), sub("^[^.]*[.]", "", texts), "")
  beyond <- grepl("[1-9]", substring(fraction, 5L))
  digits <- paste0(sub("[.].*$", "", texts), substr(paste0(fraction, "0000"), 1L, 4L))
  units <- suppressWarnings(plain_numbers(digits))
  fits <- !is.na(sums) & plain & !beyond & !is.na(units) & abs(units) < 2^53
  list(units = units, fits = fits)
}
