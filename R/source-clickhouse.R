# ClickHouse, one server or a cluster of them, over HTTP: what is grouped is asked of the table
# itself, so that each server of a distributed one aggregates its part and hands on states.

open_clickhouse <- function(text, user, password) {
  check_packages("curl", "ClickHouse", "clickhouse", "database")
  address <- database_address(text)
  host <- if (nzchar(address$host)) address$host else "localhost"
  port <- if (nzchar(address$port)) address$port else "8123"
  db <- new.env(parent = emptyenv())
  db$url <- paste0("http://", host, ":", port, "/")
  db$database <- if (nzchar(address$name)) address$name else "default"
  db$login <- list(user = user, password = password)
  class(db) <- c("drystack_clickhouse", "drystack_database")
  # How long an ask takes nobody can say, but a word of greeting takes no time.
  posted(db, "SELECT 1", database_patience())
  db
}

#' @export
sql_name.drystack_clickhouse <- function(db, name) {
  paste0("`", gsub("`", "\\`", gsub("\\", "\\\\", enc2utf8(name), fixed = TRUE), fixed = TRUE), "`")
}

# A backslash begins an escape in its literals; it has no words for true and false.
#' @export
sql_values.drystack_clickhouse <- function(db, values) {
  if (is.logical(values)) {
    return(ifelse(is.na(values), "NULL", ifelse(values, "1", "0")))
  }
  if (!is.character(values)) {
    return(NextMethod())
  }
  texts <- gsub("'", "\\'", gsub("\\", "\\\\", enc2utf8(values), fixed = TRUE), fixed = TRUE)
  ifelse(is.na(values), "NULL", paste0("'", texts, "'"))
}

#' @export
columns_in.drystack_clickhouse <- function(db) {
  if (is.null(db$table)) {
    lines <- strsplit(posted(db, paste("SELECT * FROM", db$relation,
      "o LIMIT 0 FORMAT TabSeparatedWithNamesAndTypes")), "\n",
      fixed = TRUE)[[1L]]
    parts <- strsplit(lines[1:2], "\t", fixed = TRUE)
    db$types <- stats::setNames(parts[[2L]], unescaped(parts[[1L]]))
  } else {
    described <- database_rows(db, paste("DESCRIBE TABLE", db$relation))
    db$types <- stats::setNames(described$type, described$name)
  }
  names(db$types)
}

#' @export
tables_in.drystack_clickhouse <- function(db) {
  database_rows(db, paste0("SELECT name FROM system.tables WHERE database = ", sql_values(db,
    db$database)))$name
}

#' @export
has_table.drystack_clickhouse <- function(db, table) table %in% tables_in(db)

# Its primary keys tell no lines apart.
#' @export
primary_key.drystack_clickhouse <- function(db) NULL

#' @export
column_kind_in.drystack_clickhouse <- function(db, name) {
  wrapped <- "^(LowCardinality|Nullable)\\((.*)\\)$"
  type <- sub(wrapped, "\\2", sub(wrapped, "\\2", db$types[[name]]))
  x <- paste0("o.", sql_name(db, name))
  if (type == "Bool" || (type == "UInt8" && is_yes_or_no(db, x))) "condition"
  else if (grepl("^U?Int(8|16|32)$", type)) "whole"
  else if (grepl("^U?Int", type)) whole_or_large(db, x)
  else if (startsWith(type, "Decimal")) "decimal"
  else if (startsWith(type, "Float")) "number"
  else if (type == "Date") "date"
  else if (startsWith(type, "DateTime")) "zoned"
  else if (grepl("^(String|FixedString|Enum|UUID)", type)) kind_of_strings(db, name)
  else raise("column", c(paste0("Column ", quoted(name), " of ", braces_kept(db$words),
    " cannot be read."),
    "x" = paste0("Its type is ", braces_kept(type), "."),
      ">" = "Turn it into a number, a date or text in a query."))
}

whole_or_large <- function(db, x) {
  largest <- database_rows(db, paste0("SELECT max(abs(toFloat64(", x, "))) AS v FROM ",
    db$relation, " o"))$v
  if (!is.na(largest) && largest >= 2^53) "large" else "whole"
}

# Small whole numbers that are 0 or 1 are how it says no and yes.
is_yes_or_no <- function(db, x) {
  largest <- database_rows(db, paste0("SELECT max(", x, ") AS v FROM ", db$relation, " o"))$v
  !is.na(largest) && largest <= 1
}

kind_of_strings <- function(db, name) {
  x <- sql_column(db, name, "iso")
  odd <- database_rows(db, paste0("SELECT 1 AS v FROM ", db$relation, " o WHERE NOT match(", x,
    ", '^[12][0-9]{3}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$') LIMIT 1"))$v
  if (length(odd) > 0L) {
    return("text")
  }
  all <- database_rows(db, paste0("SELECT DISTINCT ", x, " AS v FROM ", db$relation, " o WHERE ", x,
    " IS NOT NULL LIMIT 100000"))$v
  if (length(all) %in% c(0L, 1e5) || anyNA(iso_days(all))) "text" else "iso"
}

# Columns that cannot be NULL take no part in what NULL means here; what is no number is unknown.
#' @export
sql_column.drystack_clickhouse <- function(db, name, kind) {
  x <- paste0("o.", sql_name(db, name))
  blank <- if (identical(name, db$undated$name)) db$undated$words
  switch(kind,
    text = paste0("toNullable(", text_of_column(db, name), ")"),
    iso = paste0("(CASE WHEN replaceRegexpAll(assumeNotNull(", text_of_column(db, name),
      "), '^ +| +$', '') NOT IN (", paste(sql_values(db, c("", blank)), collapse = ", "), ") THEN ",
      text_of_column(db, name), " END)"),
    number = paste0("(CASE WHEN isFinite(assumeNotNull(", x, ")) THEN ", x, " END)"),
    paste0("toNullable(", x, ")")
  )
}

# Texts of a fixed length are filled with zeros.
text_of_column <- function(db, name) {
  fixed <- grepl("FixedString", db$types[[name]], fixed = TRUE)
  paste0(if (fixed) "toStringCutToZero(" else "toString(", "o.", sql_name(db, name), ")")
}

#' @export
sql_double.drystack_clickhouse <- function(db, x) {
  if (is_day_kind(x$kind) || x$kind == "zoned") paste0("toFloat64(", sql_day(db, x), ")")
    else paste0("toFloat64(", x$sql, ")")
}

#' @export
sql_day.drystack_clickhouse <- function(db, x) {
  switch(x$kind,
    date = paste0("toInt32(", x$sql, ")"),
    iso = paste0("toInt32(", day_of_fields(function(name) text_field(x$sql, name)), ")"),
    zoned = paste0("toInt32(toDate(", x$sql, ", ", sql_values(db, db$zone), "))"),
    days = paste0("toInt32(floor(", x$sql, "))"),
    serial = paste0("(toInt32(floor(", x$sql, ")) - 25569)")
  )
}

# Of a text that begins with a day, before 1970 too, which its dates do not know.
text_field <- function(x, name) {
  paste0("toInt32OrZero(substring(", x, ", ", switch(name, YEAR = "1, 4", MONTH = "6, 2",
    DAY = "9, 2"), "))")
}

# Its dates begin with 1970 and end in 2105.
#' @export
sql_at_day.drystack_clickhouse <- function(db, day, kind) {
  within <- min(max(day, 0L), 49709L)
  switch(kind,
    date = paste0("toDate('", format(as_day_date(within)), "')"),
    zoned = paste0("toDateTime('", format(as_day_date(min(within, 24855L))),
      " 00:00:00', ", sql_values(db, db$zone), ")"),
    NextMethod()
  )
}

# What can never be NULL is compared, and counted, sooner without looking for it.
#' @export
sql_within.drystack_clickhouse <- function(db, day, from, to) {
  day$sql <- bare(day$sql)
  NextMethod()
}

#' @export
sql_known.drystack_clickhouse <- function(db, name, x) {
  always <- x$kind %in% c("whole", "decimal") && is.character(x$name) &&
    !grepl("Nullable", db$types[[x$name]], fixed = TRUE)
  if (always) "count(*)" else NextMethod()
}

# What count(DISTINCT) means is a setting there, and of NULL alone it is NULL.
#' @export
sql_distinct.drystack_clickhouse <- function(db, x) paste0("ifNull(uniqExact(", x, "), 0)")

# It takes the value at a level times the number of values, rounded down: that is the upper one in
# the middle at a half, and the lower one just below it.
#' @export
sql_middle.drystack_clickhouse <- function(db, name, x) {
  if (x$kind == "number") {
    name <- paste0("(CASE WHEN isFinite(assumeNotNull(", name, ")) THEN ", name, " END)")
  }
  both <- paste0("quantilesExact(0.499999999999, 0.5)(", name, ")")
  c(low = paste0("toString(arrayElement(", both, ", 1))"),
    high = paste0("toString(arrayElement(", both, ", 2))"))
}

# Counted where spans are months, or as many of them each. Others are looked up by the day, which
# costs the same however many there are.
#' @export
sql_span.drystack_clickhouse <- function(db, day, spans) {
  months <- months_of_spans(spans)
  if (day$kind == "date" && !is.null(months)) {
    before <- paste0("toRelativeMonthNum(", sql_at_day(db, months$second, "date"),
      ") - ", months$each)
    return(paste0("toUInt16(intDiv(toRelativeMonthNum(", bare(day$sql), ") - (", before,
      "), ", months$each, "))"))
  }
  paste0("arrayElement([", paste(spans$of_day, collapse = ","), "], assumeNotNull(",
    sql_day(db, day), ") - ", spans$cuts[1L] - 1L, ")")
}

# How many months each span has, and the day on which the second begins: the first and the last may
# be cut short. NULL for other spans.
months_of_spans <- function(spans) {
  cuts <- spans$cuts
  inner <- cuts[-c(1L, length(cuts))]
  if (length(inner) < 2L || inner[1L] < 0L || length(spans$of_day) !=
    cuts[length(cuts)] - cuts[1L]) {
    return(NULL)
  }
  month <- month_numbers(c(cuts[1L], inner, cuts[length(cuts)] - 1L))
  each <- month[3L] - month[2L]
  regular <- all(civil_parts(inner)$day == 1L) && all(diff(month[-c(1L, length(month))]) == each) &&
    month[1L] >= month[2L] - each && month[length(month)] < month[length(month) - 1L] + each
  if (regular && all(diff(spans$of_day) >= 0L) && spans$of_day[1L] == 0L)
    list(second = inner[1L], each = each)
}

month_numbers <- function(days) {
  parts <- civil_parts(days)
  parts$year * 12L + parts$month
}

#' @export
sql_seconds.drystack_clickhouse <- function(db, x) paste0("toFloat64(toUInt32(", x$sql, "))")

# IN takes an unknown value for one that is not listed.
#' @export
sql_listed.drystack_clickhouse <- function(db, x, listed) {
  paste0("(CASE WHEN ", x$sql, " IS NOT NULL THEN ", listed, " END)")
}

#' @export
sql_hour.drystack_clickhouse <- function(db, x) {
  paste0("toHour(", x$sql, ", ", sql_values(db, db$zone), ")")
}

#' @export
sql_as_text.drystack_clickhouse <- function(db, name) {
  new_sql(paste0("toString(o.", sql_name(db, name), ")"),
    "text")
}

# Its function substringUTF8() takes some letters of four bytes for several: a pattern does not.
#' @export
sql_letters.drystack_clickhouse <- function(db, x, from, length) {
  pattern <- paste0("(?s)^.{", from - 1, "}(.{0,", length, "})")
  paste0("extract(", x, ", ", sql_values(db, pattern), ")")
}

#' @export
sql_text_type.drystack_clickhouse <- function(db) "String"

# Whole numbers are added up as wide decimals, which do not wrap around.
#' @export
sql_exact_sum.drystack_clickhouse <- function(db, name, x) {
  if (x$kind == "decimal") paste0("toString(sum(", name,
    "))") else paste0("toString(sum(toDecimal128(", name, ", 0)))")
}

# Names for what each line gives, in the query of the table itself.
#' @export
sql_query.drystack_clickhouse <- function(db, inner, from, selected, group = NULL, tail = "") {
  # Groups and their sums need no mark of what may be NULL, and are quicker without.
  if (!is.null(group)) inner <- bare(inner)
  # Another name for a column as it is would not be known to the other servers.
  plain <- grepl("^o[.]`([^`]|\\\\`)*`$", inner)
  inner[plain] <- paste0("identity(", inner[plain], ")")
  paste0(
    "WITH ", paste0("(", inner, ") AS ", names(inner), collapse = ", "), " SELECT ",
    named_sql(selected), " ", from,
    if (!is.null(group)) paste0(" GROUP BY ", paste(group, collapse = ", ")), tail
  )
}

# A column, or its text, as the table has it.
bare <- function(sql) {
  sub("^toNullable\\(((toString\\()?o[.]`([^`\\\\]|\\\\.)*`\\)?)\\)$", "\\1", sql)
}

#' @export
ends_in.drystack_clickhouse <- function(db, inner, from, group, sorts, value) {
  at <- paste0("tuple(", paste(sorts, collapse = ", "), ")")
  known <- paste0(from, if (grepl(" WHERE ", from, fixed = TRUE)) " AND " else " WHERE ", value,
    " IS NOT NULL")
  both <- lapply(c("min", "max"), function(end) {
    fields <- paste0("tupleElement(", end, "(", at, "), ", seq_along(sorts), ")")
    picked <- paste0("arg", if (end == "min") "Min" else "Max", "(", value, ", ", at, ")")
    database_rows(db, sql_query(db, inner, known, c(
      own_names(group), stats::setNames(fields, paste0("ds_of_", sorts)), ds_of_value = picked
    ), group))
  })
  rows <- Map(c, both[[1L]], both[[2L]])
  names(rows) <- sub("^ds_of_value$", value, sub("^ds_of_ds_", "ds_", names(rows)))
  order <- do.call(base::order, c(unname(rows[sorts]), method = "radix"))
  lapply(rows, `[`, order)
}

# Its function transform() gives each value a number, by which the result is found; the last one
# is none.
#' @export
sql_beside.drystack_clickhouse <- function(db, query, source, beside) {
  if (length(beside$keys) > most_transformed) {
    raise_not_said(db, paste("a column with more than", format_count(most_transformed),
      "different values"), "Work it out in a query of your own: orders_in(con, query = ).")
  }
  known <- !is.na(beside$values)
  results <- unique(beside$values[known])
  number_key <- is_number_kind(source$kind) && source$kind != "whole"
  column <- if (is_day_kind(source$kind)) sql_day(db, source)
    else if (number_key) paste0("toString(", sql_double(db, source), ")") else source$sql
  keys <- if (number_key) texts_of_doubles(db, beside$keys)
    else if (is_day_kind(source$kind) || source$kind ==
      "whole") number_texts(as.numeric(beside$keys))
    else sql_values(db, plain_values(beside$keys))
  array <- function(x) paste0("[", paste(x, collapse = ", "), "]")
  result <- sql_no_value(db, beside$kind)
  if (length(results) > 0L) {
    constants <- if (is.numeric(results)) float_texts(results) else sql_values(db, results)
    number <- paste0("transform(assumeNotNull(", column, "), ", array(keys[known]), ", ",
      array(match(beside$values[known], results)), ", ", length(results) + 1L, ")")
    result <- paste0("arrayElement(", array(c(constants, "NULL")), ", ", number, ")")
  }
  none <- if (is.na(beside$none)) sql_no_value(db, beside$kind)
    else if (is.numeric(beside$none)) float_texts(beside$none) else sql_values(db, beside$none)
  paste0("(CASE WHEN ", column, " IS NULL THEN ", none, " ELSE ", result, " END)")
}

most_transformed <- 1000000L

# Doubles as its own texts of them: transform() does not find doubles.
texts_of_doubles <- function(db, x) {
  if (length(x) == 0L) {
    return(character())
  }
  texts <- database_rows(db, paste0("SELECT toString(arrayJoin([",
    paste(float_texts(x), collapse = ", "), "])) AS v"))$v
  sql_values(db, texts)
}

# Constants that are doubles, whatever they look like.
float_texts <- function(x) {
  texts <- number_texts(as.numeric(x))
  ifelse(grepl("e", texts, fixed = TRUE), texts, paste0(texts, "e0"))
}
