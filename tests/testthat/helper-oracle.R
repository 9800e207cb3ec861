# What a figure must be, worked out apart from the package: the days of a cell from base R's dates,
# the figure by SQL over integer cents in SQLite.

# The first day of the year, half, quarter, month or week that holds `day`, for a year that
# begins in month `starts`.
base_start <- function(day, unit, starts) {
  if (is.data.frame(starts)) {
    return(week_year_edge(day, unit, starts, "start"))
  }
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

# Years of 4-4-5 weeks that end on the last Saturday of January, month by month: start and end
# of month, quarter and year.
week_years <- function() {
  januaries <- as.Date(sprintf("%d-01-31", 2020:2029))
  ends <- januaries - (as.POSIXlt(januaries)$wday + 1L) %% 7L
  years <- lapply(seq_along(ends)[-1L], function(i) {
    weeks <- rep(c(4L, 4L, 5L), 4L)
    weeks[12L] <- weeks[12L] + as.integer(ends[i] - ends[i - 1L]) / 7L - 52L
    month_end <- ends[i - 1L] + cumsum(7L * weeks)
    month_start <- c(ends[i - 1L], month_end[-12L]) + 1L
    quarter <- rep(1:4, each = 3L)
    half <- rep(1:2, each = 6L)
    data.frame(
      month_start, month_end,
      quarter_start = month_start[match(quarter, quarter)], quarter_end = month_end[3L * quarter],
      half_start = month_start[match(half, half)], half_end = month_end[6L * half],
      year_start = month_start[1L], year_end = month_end[12L]
    )
  })
  do.call(rbind, years)
}

week_year_edge <- function(day, unit, table, edge) {
  if (is.na(day)) as.Date(NA) else table[[paste(unit, edge, sep = "_")]][findInterval(
    as.integer(day), as.integer(table$month_start)
  )]
}

base_add_months <- function(day, n) {
  lt <- as.POSIXlt(day)
  lt$mon <- lt$mon + n
  as.Date(lt)
}

base_end <- function(day, unit, starts) {
  if (is.data.frame(starts)) {
    return(week_year_edge(day, unit, starts, "end"))
  }
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
  if (!is.null(orders$sent)) orders$sent <- as.integer(orders$sent)
  orders$cents <- as.integer(round(orders$amount * 100))
  orders$channel <- as.character(orders$channel)
  orders$paid <- as.integer(orders$paid)
  DBI::dbWriteTable(db, "orders", orders)
  db
}

oracle_figure <- function(db, sql, interval, where) {
  conditions <- c(sprintf("\"on\" BETWEEN %d AND %d", as.integer(interval[1L]),
    as.integer(interval[2L])), where)
  DBI::dbGetQuery(db, paste("SELECT", sql, "AS figure FROM orders WHERE",
    paste(conditions, collapse = " AND ")))$figure
}

# SQL of a member of a dimension.
oracle_member <- function(column, member) {
  if (is.na(member)) character() else if (member == "(none)") paste(column, "IS NULL") else sprintf(
    "%s = '%s'", column, member
  )
}

pick <- function(x) x[[sample.int(length(x), 1L)]]

# With `all`, calendars of weeks and limits on the dates shown too.
random_ask <- function(all = TRUE) {
  starts <- if (all) pick(list(1L, 4L, 7L, 10L, week_years())) else pick(c(1L, 4L, 7L, 10L))
  list(
    show_from = if (all && stats::runif(1L) < 0.3) as.Date("2023-06-10") + sample.int(200L, 1L),
    starts = starts, unit = pick(c("month", "quarter", "half", "year")), dims = pick(
      list("depot", "channel", c("depot", "channel"), character())
    ),
    as_of = as.Date("2024-01-15") + sample.int(700L, 1L), scope = pick(list(NULL, "paid", "amount > 20")),
    period_first = pick(c(TRUE, FALSE)), totals = pick(c("none", "grand", "all"))
  )
}

row_interval <- function(row, ask, record) {
  if (is.na(row[[ask$unit]])) {
    return(c(max(record, ask$show_from), ask$as_of))
  }
  start <- start_of(row[[ask$unit]])
  c(max(start, ask$show_from), min(base_end(start, ask$unit, ask$starts), ask$as_of))
}

ask_calendar <- function(ask) {
  if (is.data.frame(ask$starts)) week_calendar("4-4-5", "last Saturday of January")
  else fiscal_calendar(ask$starts)
}
