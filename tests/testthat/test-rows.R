# Which rows a table has follows from the orders of the scope on the dates
# shown, never from its measures.

yard_book <- function() {
  daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
    as_of("2026-08-31") |> within_dates(latest(1, month))
}

test_that("a table has the same rows whatever its measures, and explains them as they are", {
  book <- yard_book()
  alone <- rollup(book, customer_id, s = sum(amount), sort = largest_first(s))
  both <- rollup(book, customer_id, s = sum(amount), ly = prior(s, year), y = ytd(s), sort = largest_first(s))
  expect_identical(plain(both)[names(plain(alone))], plain(alone))
  orders <- harrowgill()$orders
  here <- !is.na(orders$ordered_on) & format(orders$ordered_on, "%Y-%m") == "2026-08"
  expect_setequal(plain(alone)$customer_id, unique(orders$customer_id[here]))
  last_year <- !is.na(orders$ordered_on) & format(orders$ordered_on, "%Y-%m") == "2025-08"
  withr::local_seed(2)
  for (row in sample(nrow(plain(both)), 30L)) {
    customer <- plain(both)$customer_id[row]
    told <- explain(both, row, "ly")
    expect_match(told$title, customer, fixed = TRUE)
    own <- sum(orders$amount[last_year & orders$customer_id == customer], na.rm = TRUE)
    expect_equal(told$steps$value[1L], own)
    expect_equal(plain(both)$ly[row], own)
    expect_equal(sum(behind(both, row, "ly")$amount, na.rm = TRUE), own)
  }
  expect_identical(nrow(plain(rollup(book, customer_id, m = mtd(sum(amount))))), nrow(plain(alone)))
})

test_that("members that only a lens sees are told, counted in totals, and shown when they are asked for", {
  book <- yard_book()
  x <- rollup(book, customer_id, s = sum(amount), ly = prior(s, year), totals = "grand")
  seen <- rollup(book, customer_id, s = sum(amount), ly = prior(s, year), totals = "grand", members = "seen")
  more <- nrow(plain(seen)) - nrow(plain(x))
  expect_gt(more, 0L)
  expect_match(all_notes(x), paste(more, "more of customer id have orders only outside the dates shown"),
    all = FALSE)
  expect_length(grep("outside the dates shown", all_notes(seen)), 0L)
  total <- function(t) plain(t)$ly[plain(t)$.role == "total"]
  expect_identical(total(x), total(seen))
  expect_equal(sum(plain(seen)$ly[plain(seen)$.role == "line"]), total(seen))
  expect_true(all(tie_out(x)$ok %in% c(TRUE, NA)))
  expect_identical(plain(seen)$s[!plain(seen)$customer_id %in% plain(x)$customer_id], rep(0, more))
  cross <- crosstab(book, customer_id, month, ly = prior(sum(amount), year))
  expect_identical(nrow(plain(cross)), nrow(plain(x)) - 1L)
  expect_raised(rollup(book, customer_id, n = count(), members = "all"), "argument", "members")
})

test_that("ranks, shares and running figures go over the rows that are shown", {
  book <- yard_book()
  x <- plain(rollup(book, customer_id, s = sum(amount), r = rank(s),
    run = running(ytd(s), along = customer_id), y = ytd(s)))
  expect_identical(x$r, rank(-x$s, ties.method = "min") + 0)
  expect_equal(x$run, cumsum(x$y))
})

test_that("a table that was saved is small, keeps its figures, and says that the orders are elsewhere", {
  x <- rollup(yard_book(), c(customer_id, month), s = sum(amount), ly = prior(s, year))
  file <- withr::local_tempfile()
  saveRDS(x, file)
  expect_lt(file.size(file), 1e5)
  read <- readRDS(file)
  expect_identical(plain(read), plain(x))
  expect_identical(format(read), format(x))
  for (trace in list(behind, explain)) expect_raised(trace(read, 1L, "s"), "engine", "not in this session")
  expect_raised(tie_out(read), "engine", "not in this session")
})
