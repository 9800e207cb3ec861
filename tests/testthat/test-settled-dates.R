# The date column is the days it was read as, in whatever place it stands, however it was written and
# wherever the orders are.

dated_orders <- function() {
  days <- as.Date("2024-11-28") + c(0, 3, 3, 34, 65, 399, 400, 401)
  data.frame(when = days, region = c("North", NA, "South", "North", NA, "South", "North", "South"),
    amount = 2^(0:7) + 0.5)
}

# The same dates as exports write them.
date_forms <- list(
  iso = format, dmy = function(x) format(x, "%d/%m/%Y"), mdy = function(x) format(x, "%m/%d/%Y"),
  named = function(x) toupper(format(x, "%d-%b-%y")), digits = function(x) format(x, "%Y%m%d"),
  serial = function(x) as.integer(x) + 25569L, timed = function(x) paste0(format(x), "T09:30:00"),
  factor = function(x) factor(format(x, "%d.%m.%Y"))
)

dated_asks <- list(
  only = function(b) rollup(only(b, when >= "2025-01-01"), year, s = sum(amount)),
  listed = function(b) rollup(only(b, when %in% c("2024-12-01", "2025-02-01")), s = sum(amount)),
  lens = function(b) rollup(b, region, s = only(sum(amount), when < "2025-01-01")),
  made = function(b) {
    made <- work_out(b, late = when - as.Date("2024-10-04") > 100, m = start_of(when, month))
    rollup(made, c(late, region), s = sum(amount))
  },
  axis = function(b) rollup(b, when, s = sum(amount), y = prior(s, year), r = running(s)),
  start = function(b) rollup(work_out(b, m = start_of(when, month)), m, s = sum(amount), y = prior(s, year)),
  part = function(b) rollup(work_out(b, d = day_of_week(when)), d, s = sum(amount)),
  ends = function(b) rollup(b, region, first = min(when), last = max(when), days = distinct(when)),
  listing = function(b) listing(b, region, c(when, amount), s = sum(amount)),
  lines = function(b) behind(rollup(b, year, s = sum(amount)), 2)[c("when", "amount")],
  frame = function(b) as.data.frame(b)[c("when", "amount")]
)

expect_same_asks <- function(book, reference, info) {
  for (ask in names(dated_asks)) {
    expect_identical(plain(dated_asks[[ask]](book)), plain(dated_asks[[ask]](reference)),
      info = paste(info, ask))
  }
}

test_that("a date column is its days everywhere, whatever it was written as", {
  orders <- dated_orders()
  reference <- daybook(orders, when)
  for (form in names(date_forms)) {
    other <- transform(orders, when = date_forms[[form]](when))
    expect_same_asks(daybook(other, when, date_order = if (form == "mdy") "mdy"), reference, form)
  }
})

test_that("so it is in a file, in several files and in kept states", {
  orders <- dated_orders()
  reference <- daybook(orders, when)
  for (form in c("dmy", "named", "serial", "timed")) {
    folder <- withr::local_tempdir()
    other <- transform(orders, when = date_forms[[form]](when))
    utils::write.csv(other, file.path(folder, "all.csv"), row.names = FALSE, na = "")
    book <- daybook(file.path(folder, "all.csv"), when)
    expect_same_asks(book, reference, paste("file", form))
    parts <- file.path(folder, "parts")
    dir.create(parts)
    for (i in 1:2) utils::write.csv(other[1:4 + 4L * (i - 1L), ], file.path(parts, paste0(i, ".csv")),
      row.names = FALSE, na = "")
    expect_same_asks(daybook(parts, when), reference, paste("files", form))
    states <- keep_states(book, file.path(folder, "states"), by = region, amount)
    expect_same_asks(daybook(states, when), reference, paste("states", form))
  }
})

test_that("lenses on time go by the daybook's date; an axis of another one refuses them by name", {
  orders <- transform(dated_orders(), shipped = when + 3)
  book <- daybook(orders, when)
  expect_s3_class(plain(rollup(book, when, s = sum(amount)))$when, "drystack_period")
  expect_raised(rollup(book, c(when, day), s = sum(amount)), "argument", "same periods")
  for (ask in list(
    function() rollup(book, shipped, p = prior(sum(amount), year)),
    function() rollup(work_out(book, m = start_of(shipped, month)), m, p = running(sum(amount))),
    function() crosstab(book, shipped, region, g = growth(sum(amount), year)),
    function() rollup(book, shipped, s = sum(amount), sort = largest_first(ytd(s))))) {
    expect_raised(ask(), "expression", "is a date of its own", "when")
  }
  expect_identical(sum(plain(rollup(book, shipped, s = sum(amount)))$s), 259)
})

test_that("what is no date of the form of the others has none, and is told", {
  orders <- data.frame(on = c("2022-02-10", "2-02-10", "2023-01-05", "202-03-01"), amount = c(1, 2, 4, 8))
  expect_raised(daybook(orders[c(1, 2, 4), ], on), "date", "2-02-10")
  book <- daybook(orders[1:3, ], on)
  expect_identical(plain(rollup(book, year, s = sum(amount)))$s, c(1, 4))
  expect_match(book$made$told, "\"2-02-10\" in \"on\" is written otherwise", fixed = TRUE)
  # A day that does not exist is asked, not dropped; so are two forms side by side.
  for (texts in list(c("2022-02-10", "2022-02-30", "2022-03-01"), c("31/01/2022", "31/02/2022", "05/06/2022"),
    c("31/01/2022", "02/13/2022", "05/06/2022"), c("2022-02-10", "tbc", "2022-03-01"),
    c("2022-01-10", "2022-01-11", "31/01/2022", "30/01/2022"))) {
    expect_raised(daybook(data.frame(on = texts, amount = 1), on), "date")
  }
  # The form that is told is the one that was used.
  timed <- data.frame(on = c("2026-02-03T10:00", "2026-02-04T11:00"), amount = 1)
  expect_null(daybook(timed, on)$made$told)
})
