# What a figure must be, worked out apart from the package: the days of a cell from base R's dates, the figure by SQL
# over integer cents in SQLite.

# The first day of the year, half, quarter, month or week that holds `day`, for a year that begins in month `starts`.
base_start <- function(day, unit, starts) {
  lt <- as.POSIXlt(day)
  if (unit == "day") {
    return(day)
  }
  if (unit == "week") {
    return(day - (lt$wday + 6L) %% 7L)
  }
  size <- c(month = 1L, quarter = 3L, half = 6L, year = 12L)[[unit]]
  since <- (lt$mon - (starts - 1L)) %% 12L
  back <- since %% size
  as.Date(ISOdate(lt$year + 1900L, lt$mon + 1L, 1L)) |> base_add_months(-back)
}

base_add_months <- function(day, n) {
  lt <- as.POSIXlt(day)
  lt$mon <- lt$mon + n
  as.Date(lt)
}

base_end <- function(day, unit, starts) {
  start <- base_start(day, unit, starts)
  switch(unit,
    day = start,
    week = start + 6L,
    base_add_months(start, c(month = 1L, quarter = 3L, half = 6L, year = 12L)[[unit]]) - 1L
  )
}

# The matching day some months earlier: same day of the month, the last day to the last day.
base_match <- function(day, months) {
  first <- as.Date(format(day, "%Y-%m-01"))
  target <- base_add_months(first, -months)
  target_end <- base_add_months(target, 1L) - 1L
  if (day == base_add_months(first, 1L) - 1L) {
    return(target_end)
  }
  min(target + (day - first), target_end)
}

base_prior <- function(interval, unit) {
  if (unit == "week") {
    return(interval - 7L)
  }
  months <- c(month = 1L, quarter = 3L, half = 6L, year = 12L)[[unit]]
  as.Date(c(base_match(interval[1L], months), base_match(interval[2L], months)))
}

# The orders as a table of SQLite: days as whole numbers, amounts as integer cents.
oracle_open <- function(orders) {
  db <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  orders$on <- as.integer(orders$on)
  orders$cents <- as.integer(round(orders$amount * 100))
  orders$channel <- as.character(orders$channel)
  orders$paid <- as.integer(orders$paid)
  DBI::dbWriteTable(db, "orders", orders)
  db
}

oracle_figure <- function(db, sql, interval, where) {
  conditions <- c(sprintf("\"on\" BETWEEN %d AND %d", as.integer(interval[1L]), as.integer(interval[2L])), where)
  DBI::dbGetQuery(db, paste("SELECT", sql, "AS figure FROM orders WHERE", paste(conditions, collapse = " AND ")))$figure
}

# SQL of a member of a dimension.
oracle_member <- function(column, member) {
  if (is.na(member)) character() else if (member == "(none)") paste(column, "IS NULL") else sprintf(
    "%s = '%s'", column, member
  )
}

pick <- function(x) x[[sample.int(length(x), 1L)]]

random_ask <- function() {
  starts <- pick(c(1L, 4L, 7L, 10L))
  list(
    starts = starts, unit = pick(c("month", "quarter", "half", "year")), dims = pick(
      list("depot", "channel", c("depot", "channel"), character())
    ),
    as_of = as.Date("2024-01-15") + sample.int(700L, 1L), scope = pick(list(NULL, "paid", "amount > 20")),
    period_first = pick(c(TRUE, FALSE)), totals = pick(c("none", "grand", "all"))
  )
}

row_interval <- function(row, ask, record) {
  if (is.na(row[[ask$unit]])) {
    return(c(record, ask$as_of))
  }
  start <- start_of(row[[ask$unit]])
  c(start, min(base_end(start, ask$unit, ask$starts), ask$as_of))
}
