# What is worked out of one column of a database: here, for each of its different values, and put
# beside them there, as cases of the column or as a table that is joined. So a word means in a
# database what it means everywhere.

# Each is there as a value, as what it is worked out to and on its way into the table.
most_values_of_column <- function() floor(allowed_memory() / 500)
most_cases <- 60L

sql_by_value <- function(query, tree) {
  there <- sql_looked_up_there(query, tree)
  if (!is.null(there)) {
    return(there)
  }
  engine <- query$engine
  check_no_functions(tree)
  names <- source_names(engine, ids_of(tree))
  if (length(names) != 1L) {
    raise_not_said(query$db, tree_text(tree), paste(
      "Say it with arithmetic, comparisons and ifelse(), work it out of one column, or in a query",
      "of your own: orders_in(con, query = )."
    ))
  }
  beside <- values_beside(engine, tree, names)
  source <- sql_of_source(engine, names)
  result <- new_sql(NULL, beside$kind, beside$levels)
  result$sql <- sql_beside(query$db, query, source, beside)
  result
}

# What stands beside the values of a column (see values_beside()), as SQL.
sql_beside <- function(db, query, source, beside) UseMethod("sql_beside")

#' @export
sql_beside.drystack_database <- function(db, query, source, beside) {
  if (beside$large) sql_joined(query, source, beside) else sql_cases(db, source, beside)
}

# list(keys: of the different values, values, none: the value where the column has
# none, kind, levels,
# large: whether it is joined as a table).
values_beside <- function(engine, tree, name) {
  kept(engine, "beside", tree_key(tree), function() {
    keys <- values_of_column(engine, name)
    frame <- frame_of_values(engine, stats::setNames(list(c(keys, NA)), name))
    values <- line_values(frame, spelt_tree(tree, engine))
    levels <- levels(values)
    kind <- kind_of_values(values, tree, engine$db)
    values <- if (is.factor(values)) as.character(values) else if (inherits(values, "Date"))
      as.numeric(values) else plain_values(values)
    n <- length(keys)
    exact <- !kind_of_column(engine, name) %in% "number"
    list(
      id = tree_key(tree), keys = keys, values = values[seq_len(n)],
      none = values[n + 1L], kind = kind,
      levels = levels, large = !(exact && n <= most_cases)
    )
  })
}

# All values are there: groups are held against them.
spelt_tree <- function(tree, engine) {
  if (identical(tree$fn, "regroup")) {
    tree$args <- lapply(tree$args, spelt_tree, engine = engine)
    return(tree)
  }
  settled_tree(tree, engine)
}

kind_of_values <- function(values, tree, db) {
  if (is.factor(values) || is.character(values) || inherits(values, "integer64")) "text"
  else if (is.logical(values)) "condition"
  else if (inherits(values, "Date")) "days"
  else if (is.numeric(values) && !is.object(values)) "number"
  else raise_not_said(db, tree_text(tree), "Work the day out: start_of(x, day).")
}

# The different values of a column of the database, without the missing one.
values_of_column <- function(engine, name) {
  kept(engine, "values", name, function() {
    x <- sql_of_source(engine, name)
    out <- sql_out(engine$db, x)
    most <- most_values_of_column()
    found <- database_rows(engine$db, paste0("SELECT DISTINCT ", out, " AS v FROM ",
      engine$db$relation,
      " o WHERE ", x$sql, " IS NOT NULL LIMIT ", format(most + 1, scientific = FALSE)))
    if (length(found$v) > most) {
      raise_not_said(engine$db, paste(name, "has more than", format_count(most),
        "different values"),
        paste("Allow more than", format_bytes(allowed_memory()),
          "with options(drystack.memory = ), or work",
          "it out in a query of your own: orders_in(con, query = )."))
    }
    sort_values(values_out(found$v, x, engine$db))
  })
}

# A frame whose rows are values of columns of the database.
frame_of_values <- function(engine, columns) {
  rows <- length(columns[[1L]])
  days <- if (engine$date$name %in% names(columns)) days_of_values(engine,
    columns[[engine$date$name]])
    else rep(NA_integer_, rows)
  with_meanings(frame_engine(rows, days), engine, function(meaning) {
    if (meaning$name %in% names(columns)) list(kind = "source", values = columns[[meaning$name]])
  })
}

# An expression as it is selected, and the values that come of it.
sql_out <- function(db, x) {
  if (is_day_kind(x$kind)) sql_day(db, x)
  else switch(x$kind,
    whole = , decimal = , number = sql_double(db, x),
    condition = paste0("CASE WHEN ", x$sql, " THEN 1 WHEN NOT ", x$sql, " THEN 0 END"),
    time = , zoned = sql_seconds(db, x),
    large = paste0("CAST(", x$sql, " AS ", sql_text_type(db), ")"),
    x$sql
  )
}

values_out <- function(values, x, db) {
  if (!is.null(x$levels)) {
    return(factor(as.character(values), levels = x$levels))
  }
  if (is_day_kind(x$kind)) {
    return(as_day_date(as.numeric(values)))
  }
  switch(x$kind,
    whole = , decimal = , number = as.numeric(values),
    condition = as.logical(as.numeric(values)),
    hour = structure(as.integer(values) + 1L, levels = sprintf("%02d", 0:23), class = "factor"),
    time = .POSIXct(as.numeric(values), tz = "UTC"),
    zoned = .POSIXct(as.numeric(values), tz = db$zone),
    proper_texts(enc2utf8(as.character(values)), x, db)
  )
}

# Bytes that are no text are refused by name; where order lines are only shown they are shown
# as bytes.
proper_texts <- function(texts, x, db) {
  wrong <- !is.na(texts) & !validUTF8(texts)
  if (any(wrong) && !isTRUE(x$shown)) {
    raise("column", c(
      paste0(if (is.null(x$name)) "A column" else paste("Column", quoted(x$name)), " of ",
        braces_kept(db$words),
        " holds text that is not UTF-8."),
      "x" = "It is {examples_of(iconv(unique(texts[wrong]), 'UTF-8', 'UTF-8', sub = 'byte'))}.",
      ">" = "Mend it in the database, or turn it into text in a query of your own."
    ))
  }
  if (any(wrong)) texts[wrong] <- iconv(texts[wrong], "UTF-8", "UTF-8", sub = "byte")
  texts
}

# Each result with the values of the column that give it. A column of days may have times
# beside them.
sql_cases <- function(db, source, beside) {
  known <- !is.na(beside$values)
  days <- is_day_kind(source$kind)
  column <- if (days) sql_day(db, source) else source$sql
  keys <- if (days) format(as.integer(beside$keys)) else sql_values(db, beside$keys)
  results <- unique(beside$values[known])
  groups <- split(keys[known], factor(beside$values[known], results))
  results <- sql_values(db, results)
  cases <- mapply(function(group, result) {
    paste0("WHEN ", column, " IN (", paste(group, collapse = ", "), ") THEN ", result)
  }, groups, results)
  if (!is.na(beside$none)) {
    cases <- c(paste0("WHEN ", column, " IS NULL THEN ", sql_values(db, beside$none)), cases)
  }
  if (length(cases) == 0L) {
    return(sql_no_value(db, beside$kind))
  }
  paste0("CASE ", paste(cases, collapse = " "), " END")
}

# Nothing known, of some kind.
sql_no_value <- function(db, kind) {
  x <- sql_values(db, switch(kind, text = "", condition = TRUE, 0))
  paste0("CASE WHEN 1 = 0 THEN ", x, " END")
}

sql_joined <- function(query, source, beside) {
  engine <- query$engine
  table <- temporary_table(engine, beside)
  key <- sql_out_key(query$db, source)
  query$joins[[table$name]] <- paste0("LEFT JOIN ", table$from, " ON ", table$name, ".k = ", key)
  value <- paste0(table$name, ".v")
  if (is.na(beside$none)) value else paste0("CASE WHEN ", source$sql, " IS NULL THEN ",
    sql_values(query$db, beside$none), " ELSE ", value, " END")
}

# On a connection of the user such tables stand for one ask only: nothing of ours stays there, and
# nothing is missed where a transaction is taken back.
temporary_table <- function(engine, beside) {
  make <- function() {
    keys <- beside$keys
    if (inherits(keys, c("Date", "POSIXct"))) keys <- as.numeric(keys)
    database_table(engine$db, keys, beside$values)
  }
  if (!is_of_user(engine$db)) {
    return(kept(engine, "joined", beside$id, make))
  }
  key <- paste("joined", rlang::obj_address(engine), beside$id)
  if (is.null(session$tables[[key]])) {
    table <- c(make(), list(db = engine$db))
    session$tables[[key]] <- table
    at_session_end(function() {
      rlang::try_fetch(database_run(table$db, paste0("DROP TABLE IF EXISTS ", table$name)),
        error = function(e) NULL)
      session$tables[[key]] <- NULL
    })
  }
  session$tables[[key]]
}

is_of_user <- function(db) inherits(db, "drystack_dbi") && !isTRUE(db$own)

sql_out_key <- function(db, x) if (x$kind %in% c("text", "condition")) x$sql else sql_out(db, x)

# An expression whose values are looked at as numbers where they are amounts.
as_amount_values <- function(db, x, reads) {
  if (x$kind == "large" && any(c("amount", "ordered") %in% reads)) new_sql(sql_double(db, x),
    "number") else x
}
