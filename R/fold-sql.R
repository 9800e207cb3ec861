# Row trees as SQL. What is worked out of several columns is said in SQL where it means there what
# it means here; all else is worked out here for each different value of a column, and put beside
# it (fold-sql-values.R).

# A query under way: the tables that are joined to the orders, by name.
new_query <- function(engine) {
  query <- new.env(parent = emptyenv())
  query$engine <- engine
  query$db <- engine$db
  query$joins <- character()
  query
}

sql_from <- function(query) {
  paste(c(paste0("FROM ", query$db$relation, " o"), query$joins), collapse = " ")
}

new_sql <- function(sql, kind, levels = NULL) list(sql = sql, kind = kind, levels = levels)

# An expression of columns as SQL.
sql_of <- function(query, tree) {
  said <- sql_said(query, tree)
  if (is.null(said)) said <- sql_by_value(query, tree)
  said
}

# NULL for what the dialects are not asked to say.
sql_said <- function(query, tree) {
  switch(tree$kind,
    value = sql_constant(query, tree$value),
    column = sql_of_column(query, tree$id),
    call = sql_call(query, tree)
  )
}

sql_constant <- function(query, value) {
  if (length(value) != 1L || is.na(value)) {
    return(NULL)
  }
  kind <- if (inherits(value, "Date")) "days" else if (is.logical(value)) "condition"
    else if (is.numeric(value)) "number" else "text"
  new_sql(sql_values(query$db, value), kind)
}

sql_of_column <- function(query, id) {
  engine <- query$engine
  meaning <- engine$meanings[[id]]
  switch(meaning$kind,
    elsewhere = sql_of_source(engine, meaning$name),
    worked_out = sql_of(query, meaning$tree),
    looked_up = sql_by_value(query, column_node("", id))
  )
}

sql_of_source <- function(engine, name) {
  kind <- kind_of_column(engine, name)
  c(new_sql(sql_column(engine$db, name, kind), kind),
    list(small = isTRUE(engine$db$small[[name]]), name = name))
}

kind_of_column <- function(engine, name) {
  kept(engine, "kind", name, function() {
    kind <- column_kind_in(engine$db, name)
    if (name == engine$date$name) kind_of_date_texts(kind) else sub("^text_.*", "text", kind)
  })
}

# Texts of a day with a time are date-times where they date the orders, those with a
# zone their days.
kind_of_date_texts <- function(kind) switch(kind, text_time = "time", text_zone = "iso", kind)

sql_call <- function(query, tree) {
  said <- sql_functions()[[tree$fn]]
  if (is.null(said)) {
    return(NULL)
  }
  args <- lapply(tree$args, function(arg) if (arg$kind == "value") arg else sql_of(query, arg))
  constant <- vapply(tree$args, function(arg) arg$kind == "value", NA)
  if (all(constant)) {
    return(NULL)
  }
  said(query, args, constant, tree)
}

# Each takes the arguments (constants as they are, the others as SQL) and gives SQL, or NULL for
# arguments it does not take.
sql_functions <- function() {
  comparing <- c("==", "!=", "<", "<=", ">", ">=")
  c(
    stats::setNames(lapply(comparing, function(op) {
      function(query, args, constant, tree) sql_compared(query, op, args, constant, tree)
    }), comparing),
    stats::setNames(lapply(c("+", "-", "*", "/"), sql_arithmetic), c("+", "-", "*", "/")),
    list(
      "abs" = sql_numbers(function(x) paste0("abs(", x, ")")),
      "least" = sql_numbers(function(x, y) either_number(x, y, "<=")),
      "greatest" = sql_numbers(function(x, y) either_number(x, y, ">=")),
      "where_known" = sql_numbers(function(x, y) {
        paste0("CASE WHEN ", y, " IS NOT NULL THEN ", x, " END")
      }),
      "or_zero" = sql_numbers(function(x) paste0("coalesce(", x, ", 0e0)")),
      "if_known" = sql_alike(function(x, y) paste0("coalesce(", x, ", ", y, ")")),
      "as_amount" = function(query, args, constant, tree) {
        if (is_number_kind(args[[1L]]$kind)) args[[1L]]
      },
      "is.na" = function(query, args, constant, tree) {
        new_sql(paste0("(", args[[1L]]$sql, " IS NULL)"),
          "condition")
      },
      "&" = sql_conditions(function(x, y) paste0("(", x, " AND ", y, ")")),
      "|" = sql_conditions(function(x, y) paste0("(", x, " OR ", y, ")")),
      "!" = sql_conditions(function(x) paste0("(NOT ", x, ")")),
      "substr" = sql_substr, "startsWith" = sql_starts_with, "ifelse" = sql_ifelse, "%in%" = sql_in,
      "banded" = sql_banded
    )
  )
}

as_sql <- function(query, arg, constant) if (constant) sql_constant(query, arg$value) else arg

all_sql <- function(query, args, constant) {
  Map(function(arg, is) as_sql(query, arg, is), args, constant)
}

# Arithmetic is that of doubles, as everywhere in the row language.
sql_numbers <- function(say) {
  function(query, args, constant, tree) {
    args <- all_sql(query, args, constant)
    numbers <- vapply(args, function(arg) {
      is_number_kind(arg$kind %||% "") || is_day_kind(arg$kind %||% "")
    }, NA)
    if (!all(numbers) || length(args) != length(formals(say))) {
      return(NULL)
    }
    days <- vapply(args, function(arg) is_day_kind(arg$kind), NA)
    new_sql(do.call(say, lapply(args, sql_double, db = query$db)),
      if (are_days_of(tree$fn, days)) "days" else "number")
  }
}

either_number <- function(x, y, op) {
  paste0("CASE WHEN ", x, " ", op, " ", y, " THEN ", x, " WHEN ", y, " IS NOT NULL AND ", x,
    " IS NOT NULL THEN ", y, " END")
}

sql_arithmetic <- function(op) {
  two <- sql_numbers(function(x, y) {
    paste0("(", x, " ", op, " ", if (op == "/") paste0("nullif(", y, ", 0)")
      else y, ")")
  })
  one <- sql_numbers(function(x) if (op == "-") paste0("(- ", x, ")") else x)
  function(query, args, constant, tree) {
    (if (length(args) == 1L) one else two)(query, args, constant, tree)
  }
}

sql_conditions <- function(say) {
  function(query, args, constant, tree) {
    args <- all_sql(query, args, constant)
    if (!all(vapply(args, function(arg) identical(arg$kind, "condition"), NA))) {
      return(NULL)
    }
    new_sql(do.call(say, unname(lapply(args, `[[`, "sql"))), "condition")
  }
}

# Two values of one kind: numbers as doubles, texts, conditions.
alike <- function(query, args) {
  kinds <- vapply(args, function(arg) arg$kind %||% "", "")
  if (all(is_number_kind(kinds))) {
    return(list(sql = lapply(args, sql_double, db = query$db), kind = "number"))
  }
  levels <- unlist(lapply(args, `[[`, "levels"))
  if (length(unique(kinds)) == 1L && kinds[1L] %in% c("text", "condition") && is.null(levels))
    list(sql = lapply(args, `[[`, "sql"), kind = kinds[1L])
}

sql_alike <- function(say) {
  function(query, args, constant, tree) {
    two <- alike(query, all_sql(query, args, constant))
    if (!is.null(two)) new_sql(do.call(say, unname(two$sql)), two$kind)
  }
}

sql_ifelse <- function(query, args, constant, tree) {
  unknown <- constant & vapply(args, function(arg) length(arg$value) == 1L && is.na(arg$value), NA)
  if (all(unknown[2:3])) {
    return(NULL)
  }
  args <- all_sql(query, args, constant)
  two <- alike(query, args[2:3][!unknown[2:3]])
  # A side that is NA is nothing known of the kind of the other.
  if (!is.null(two) && sum(unknown[2:3]) == 1L) two$sql <- if (unknown[2L]) c("NULL",
    two$sql) else c(two$sql, "NULL")
  if (is.null(two) || !identical(args[[1L]]$kind, "condition")) {
    return(NULL)
  }
  new_sql(paste0("CASE WHEN ", args[[1L]]$sql, " THEN ", two$sql[[1L]], " ELSE ",
    two$sql[[2L]], " END"), two$kind)
}

sql_in <- function(query, args, constant, tree) {
  if (constant[1L] || !constant[2L]) {
    return(NULL)
  }
  x <- args[[1L]]
  values <- args[[2L]]$value
  is_none <- is.na(values) | values %in% none_label
  if (all(is_none)) {
    return(new_sql(paste0("(CASE WHEN ", x$sql, " IS NULL THEN ",
      sql_values(query$db, TRUE), " ELSE ", sql_values(query$db, FALSE), " END)"), "condition"))
  }
  values <- values[!is_none]
  if (is_dated_text(query, x, tree$args[[1L]], values)) {
    return(NULL)
  }
  fits <- if (is.character(values)) x$kind == "text"
    else is.numeric(values) && !is.object(values) && is_number_kind(x$kind)
  if (!fits) {
    return(NULL)
  }
  if (is.numeric(values)) x$sql <- sql_double(query$db, x)
  listed <- paste0(x$sql, " IN (", paste(sql_values(query$db, values), collapse = ", "), ")")
  new_sql(if (any(is_none)) paste0("(", x$sql, " IS NULL OR ", listed, ")")
    else sql_listed(query$db, x, listed), "condition")
}

# Letters of a text, of which a column may have too many to work each out here.
sql_substr <- function(query, args, constant, tree) {
  places <- lapply(args[-1L], function(arg) arg$value)
  are_places <- length(args) == 3L && identical(unname(constant), c(FALSE, TRUE, TRUE)) &&
    all(vapply(places, is_place_of_letter, NA))
  if (!are_places || !is_plain_text(args[[1L]]) || places[[2L]] < places[[1L]]) {
    return(NULL)
  }
  length <- places[[2L]] - places[[1L]] + 1
  new_sql(sql_letters(query$db, args[[1L]]$sql, places[[1L]], length), "text")
}

is_plain_text <- function(x) identical(x$kind, "text") && is.null(x$levels)

# Patterns count no further.
most_letters <- 1000

is_place_of_letter <- function(x) {
  is.numeric(x) && length(x) == 1L && !is.na(x) && x == round(x) && x >= 1 && x <= most_letters
}

sql_starts_with <- function(query, args, constant, tree) {
  start <- args[[length(args)]]$value
  if (!identical(unname(constant), c(FALSE, TRUE)) || !is_start_of_text(start) ||
    !is_plain_text(args[[1L]])) {
    return(NULL)
  }
  first <- sql_letters(query$db, args[[1L]]$sql, 1, nchar(start))
  new_sql(paste0("(", first, " = ", sql_values(query$db, start), ")"), "condition")
}

is_start_of_text <- function(x) {
  is.character(x) && length(x) == 1L && !x %in% c("", NA) && nchar(x) <= most_letters
}

# Each band from its lower limit up to the next.
sql_banded <- function(query, args, constant, tree) {
  if (!is_number_kind(args[[1L]]$kind)) {
    return(NULL)
  }
  x <- sql_double(query$db, args[[1L]])
  labels <- tree$constants$labels
  texts <- sql_values(query$db, labels)
  limits <- sql_values(query$db, tree$constants$limits)
  cases <- paste0("WHEN ", x, " < ", limits, " THEN ", texts[-length(texts)], collapse = " ")
  new_sql(paste0("CASE ", cases, " WHEN ", x, " IS NOT NULL THEN ", texts[length(texts)],
    " END"), "text", labels)
}

# Texts that stand for dates, beside a text that says a day: what they mean is worked out here, of
# the different values.
is_dated_text <- function(query, x, tree, said, ordered = FALSE) {
  meaning <- if (tree$kind == "column") query$engine$meanings[[tree$id]]
  is.character(said) && identical(x$kind, "text") && identical(meaning$kind, "elsewhere") &&
    are_days_said(said, ordered) && mostly_dates(
      as.character(some_values(query$engine, meaning$name)))
}

sql_compared <- function(query, op, args, constant, tree) {
  if (sum(constant) == 1L) {
    days <- compared_with_day(query, op, args, constant)
    if (!is.null(days)) {
      return(days)
    }
    at <- which(!constant)
    if (is_dated_text(query, args[[at]], tree$args[[at]], args[[3L - at]]$value,
      !op %in% c("==", "!="))) {
      return(NULL)
    }
  }
  args <- all_sql(query, args, constant)
  if (any(vapply(args, is.null, NA))) {
    return(NULL)
  }
  kinds <- vapply(args, `[[`, "", "kind")
  sql <- if (all(is_day_kind(kinds))) lapply(args, sql_day, db = query$db)
    else alike(query, args)$sql
  if (!is.null(sql)) new_sql(paste0("(", sql[[1L]], " ", sql_operator(op), " ", sql[[2L]],
    ")"), "condition")
}

sql_operator <- function(op) switch(op, "==" = "=", "!=" = "<>", op)

# A date column beside a day, so that the database can use what it knows of the column.
compared_with_day <- function(query, op, args, constant) {
  x <- args[[which(!constant)]]
  if (!(is_day_kind(x$kind) || x$kind %in% c("time", "zoned"))) {
    return(NULL)
  }
  value <- args[[which(constant)]]$value
  day <- if (length(value) != 1L) NA else if (inherits(value, "Date")) as.numeric(value)
    else if (is.character(value)) iso_days(value) else NA
  if (is.na(day)) {
    return(NULL)
  }
  if (constant[1L]) op <- c("<" = ">", "<=" = ">=", ">" = "<", ">=" = "<=", "==" = "==",
    "!=" = "!=")[[op]]
  from <- sql_at_day(query$db, as.integer(day), x$kind)
  to <- sql_at_day(query$db, as.integer(day) + 1L, x$kind)
  new_sql(switch(op,
    "==" = paste0("(", x$sql, " >= ", from, " AND ", x$sql, " < ", to, ")"),
    "!=" = paste0("(", x$sql, " < ", from, " OR ", x$sql, " >= ", to, ")"),
    "<" = paste0("(", x$sql, " < ", from, ")"), "<=" = paste0("(", x$sql, " < ", to, ")"),
    ">" = paste0("(", x$sql, " >= ", to, ")"), ">=" = paste0("(", x$sql, " >= ", from, ")")
  ), "condition")
}
