# How far the orders go, and what that means for figures after them.

ended <- function() {
  daybook(data.frame(on = as.Date("2025-01-01") + 0:600, k = rep_len(c("web", "shop", "post"), 601L),
    v = 1), on, fiscal_calendar("July"))
}

test_that("periods that the orders do not reach are marked, and growth to them is unknown", {
  book <- as_of(ended(), "2026-10-31")
  x <- rollup(book, month, s = sum(v), g = growth(s, year), totals = "grand")
  rows <- plain(x)
  reached <- end_of(rows$month) <= as.Date("2026-08-24")
  late <- rows$.role == "line" & !reached
  expect_identical(format(rows$month[late], "key"), c("FY2027-P02", "FY2027-P03", "FY2027-P04"))
  expect_identical(x$part_way[late], rep(TRUE, 3L))
  expect_true(all(is.na(rows$g[late])))
  expect_false(anyNA(rows$g[rows$month %in% as_period(c("2026-05", "2026-07"),
    month, fiscal_calendar("July"))]))
  expect_true(is.na(rows$g[rows$.role == "total"]))
  text <- paste(format(x, width = 200), collapse = "\n")
  expect_match(text, "As of 31 October 2026 \u00b7 orders end on 24 August 2026", fixed = TRUE)
  expect_match(text, "2026-08 Aug is covered in part, 24 of 31 days: orders end on 24 August 2026.",
    fixed = TRUE)
  expect_match(text, "2026-10 Oct is not covered: orders end on 24 August 2026.", fixed = TRUE)
})

test_that("covered_to() says that the orders are whole to a later day, on every surface", {
  book <- as_of(covered_to(ended(), "2026-10-31"), "2026-10-31")
  x <- plain(rollup(book, month, s = sum(v), g = growth(s, year)))
  expect_identical(utils::tail(x$g, 2L), c(-1, -1))
  expect_no_match(paste(format(rollup(book, month, s = sum(v))), collapse = " "), "covered|orders end")
  expect_raised(covered_to(ended(), "2026-08-01"), "date", "24 August 2026")
  orders <- as.data.frame(ended())
  path <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(orders, path, row.names = FALSE)
  run <- drystack("rollup", "--orders", path, "--date", "on", "--as-of", "2026-09-30", "--covered-to",
    "2026-09-30", "--by", "month", "--show", "s = sum(v)")
  expect_no_match(paste(run$out, collapse = " "), "covered")
})

test_that("the last closed period is one that the orders reach", {
  book <- closing(as_of(ended(), "2026-12-01"), after = 14)
  expect_message(period <- closed_period(book, month), "October 2026.*orders end on 24 August 2026",
    class = "drystack_message_closing")
  expect_identical(format(period, "key"), "FY2027-P01")
  expect_raised(closed_period(book, month, "2026-09"), "closing", "lies after the last order")
  expect_raised(closed_period(book, month, "2026-08"), "closing", "is not covered", "24 August 2026")
  whole <- covered_to(book, "2026-11-30")
  expect_identical(format(closed_period(whole, month), "key"), "FY2027-P04")
})

test_that("one date mistyped far into the future does not become the as-of date", {
  orders <- data.frame(on = c(as.Date("2026-01-01") + 0:199, as.Date("2062-06-04")), v = 1)
  book <- daybook(orders, on)
  expect_identical(as_day_date(book$as_of), as.Date("2026-07-19"))
  x <- rollup(book, s = sum(v))
  expect_identical(plain(x)$s, 200)
  expect_match(all_notes(x), "1 order line dated far after the others, to 4 June 2062", all = FALSE)
  expect_identical(plain(rollup(as_of(book, "2062-12-31"), s = sum(v)))$s, 201)
})

test_that("each comparison says which days stand beside which", {
  book <- within_dates(as_of(ended(), "2026-07-31"), "2026-06-01", "2026-07-31")
  x <- rollup(book, month, s = sum(v), ly = prior(s, year), g = growth(s, year), m = prior(s, month))
  notes <- all_notes(x)
  expect_in_set(c(
    paste("S a year before and growth on a year before compare 1 June 2026 to 31 July 2026 with 1 June 2025",
      "to 31 July 2025."),
    "S a month before compares 1 June 2026 to 31 July 2026 with 1 May 2026 to 30 June 2026."
  ), notes)
})

test_that("parts that occurred more often than others are told", {
  notes <- all_notes(rollup(ended(), month_of_year, s = sum(v)))
  expect_match(notes, "Sep, Oct, Nov, Dec occurred once, the others 2 times", all = FALSE)
  expect_match(notes, "mean(each(month, ...))", fixed = TRUE, all = FALSE)
  even <- within_dates(as_of(ended(), "2026-06-30"), "2025-07-01", "2026-06-30")
  expect_no_match(paste(all_notes(rollup(even, month_of_year, s = sum(v))), collapse = " "), "occurred")
})

test_that("members that no order has are told wherever they are named", {
  notes <- function(...) all_notes(rollup(ended(), ...))
  expect_match(notes(s = only(sum(v), k == "Web")), "No order line has k \"Web\": did you mean \"web\"?",
    fixed = TRUE, all = FALSE)
  expect_match(notes(s = sum(ifelse(k %in% c("shop", "pots"), v, 0))), "k \"pots\": did you mean \"post\"?",
    fixed = TRUE, all = FALSE)
  book <- only(ended(), k %in% c("shop", "webb"))
  expect_match(all_notes(rollup(book, s = sum(v))), "\"webb\": did you mean \"web\"?",
    fixed = TRUE, all = FALSE)
  expect_identical(notes(s = only(sum(v), k != "web")), "From 601 of 601 order lines.")
})

test_that("start_of() cuts dates to the start of a period, in any calendar of the daybook", {
  book <- work_out(ended(), q = start_of(on, quarter), y = start_of(on, year))
  x <- plain(rollup(book, y, n = count()))
  expect_identical(as.character(x$y), c("FY2025", "FY2026", "FY2027"))
  expect_identical(x$n, c(181, 365, 55))
  listed <- as.data.frame(listing(within_dates(book, "2026-08-24", "2026-08-24"), lines = q))
  expect_identical(as.character(listed$q[1L]), "2026-07-01")
  expect_raised(work_out(ended(), q = start_of(on, quartr)), "expression", "quarter")
})
