# of_each(): a figure of each member as a column, against base R, on every engine.

# What each line's own member has, by base R: figure is a function of the lines of a member.
of_members <- function(orders, by, figure, as_of = as.Date("2026-12-31"), among = rep(TRUE, nrow(orders))) {
  seen <- among & !is.na(orders$on) & orders$on <= as_of & !is.na(orders[[by]])
  found <- vapply(split(orders[seen, ], orders[[by]][seen]), function(lines) as.numeric(figure(lines)), 0)
  unname(found[orders[[by]]])
}

sums_by <- function(orders, group) {
  group <- ifelse(is.na(group), "(none)", as.character(group))
  sums <- tapply(orders$v, group, sum)
  stats::setNames(as.numeric(sums), names(sums))
}

test_that("first orders, sizes and last orders are those of base R, as of the date, under conditions", {
  orders <- each_orders(400L, 1L)
  as_of <- as.Date("2026-03-31")
  sent <- orders$status == "sent"
  first <- as_day_date(of_members(orders, "who", function(l) min(l$on), as_of, sent))
  size <- of_members(orders, "who", function(l) sum(l$v), as_of, sent)
  here <- sent & !is.na(orders$on) & orders$on <= as_of
  for (book in each_books(orders)) {
    # Conditions and the as-of date said afterwards count as well.
    book <- book |> work_out(first_on = of_each(who, min(on)), size = of_each(who, sum(v)),
      band = banded(of_each(who, count()), c(8, 14)), cohort = start_of(first_on, quarter)) |>
      only(status == "sent") |> as_of(as_of)
    x <- as.data.frame(rollup(book, by = band, s = sum(v)))
    n <- of_members(orders, "who", nrow, as_of, sent)
    band <- ifelse(is.na(n), NA, c("under 8", "8 to under 14", "14 and over")[findInterval(n, c(8, 14)) + 1L])
    expect_equal(stats::setNames(x$s, as.character(x$band)), sums_by(orders[here, ],
      band[here])[as.character(x$band)])
    x <- as.data.frame(rollup(book, by = cohort, s = sum(v)))
    months <- as.integer(format(first, "%m"))
    cohort <- as.Date(sprintf("%s-%02d-01", format(first, "%Y"), (months - 1L) %/% 3L * 3L + 1L))
    cohort[is.na(first)] <- NA
    expect_equal(stats::setNames(x$s, substr(format(x$cohort), 1L, 7L))[order(x$s)], {
      sums <- sums_by(orders[here, ], cohort[here])
      stats::setNames(sums, substr(paste0(names(sums), " "), 1L, 7L))[order(sums)]
    })
    x <- as.data.frame(rollup(book, by = month, new = only(distinct(who), start_of(on,
      month) == start_of(first_on, month)),
      large = only(sum(v), size > 400), mean = mean(size)))
    month <- format(orders$on, "%Y-%m")
    is_new <- here & !is.na(orders$who) & format(first, "%Y-%m") == month
    found <- tapply(orders$who[is_new], factor(month[is_new], unique(format(start_of(x$month), "%Y-%m"))),
      function(who) length(unique(who)), default = 0)
    expect_equal(x$new, as.numeric(found))
    large <- here & (size > 400) %in% TRUE
    expect_equal(x$large, as.numeric(tapply(orders$v[large], factor(month[large], format(start_of(x$month),
      "%Y-%m")), sum,
      default = 0)))
    expect_equal(x$mean, as.numeric(tapply(size[here], factor(month[here], format(start_of(x$month),
      "%Y-%m")), mean,
      na.rm = TRUE)))
    expect_true(all(tie_out(rollup(book, by = band, s = sum(v), totals = "grand"))$ties))
    table <- rollup(book, by = band, s = sum(v))
    expect_identical(nrow(behind(table, row = 1L)),
      sum(here & band %in% as.character(as.data.frame(table)$band[1L])))
  }
})

test_that("a condition on such a column is not one of its own scope, and other daybooks keep theirs", {
  orders <- each_orders(300L, 2L)
  for (book in each_books(orders)) {
    book <- work_out(book, total = of_each(who, sum(v)))
    all <- of_members(orders, "who", function(l) sum(l$v))
    big <- only(book, total > 350)
    here <- !is.na(orders$on) & (all > 350) %in% TRUE
    expect_equal(as.data.frame(rollup(big, s = sum(v), t = max(total)))[1:2],
      data.frame(s = sum(orders$v[here]),
      t = max(all[here])), ignore_attr = TRUE)
    early <- as_of(big, "2025-06-30")
    then <- of_members(orders, "who", function(l) sum(l$v), as.Date("2025-06-30"))
    before <- !is.na(orders$on) & orders$on <= as.Date("2025-06-30") & (then > 350) %in% TRUE
    expect_equal(as.data.frame(rollup(early, s = sum(v)))$s, sum(orders$v[before]))
    expect_equal(as.data.frame(rollup(big, s = sum(v)))$s, sum(orders$v[here]))
    shown <- within_dates(work_out(book, t2 = of_each(who, sum(v), dates = shown)), "2025-03-01",
      "2025-04-30")
    in_shown <- !is.na(orders$on) & orders$on >= as.Date("2025-03-01") & orders$on <= as.Date("2025-04-30")
    expect_equal(as.data.frame(rollup(shown, t = max(t2)))$t, max(of_members(orders, "who",
      function(l) sum(l$v),
      among = in_shown)[in_shown], na.rm = TRUE))
  }
})

test_that("classes by running shares, figures of figures, dates and texts", {
  orders <- each_orders(300L, 3L)
  orders$v <- abs(orders$v)
  for (book in each_books(orders)) {
    book <- work_out(book, class = banded(of_each(who, running(share(sum(v)), along = who),
      sort = largest_first(sum(v))),
      c(0.5, 0.8), labels = c("A", "B", "C")), usual = of_each(who, most_common(shop)),
        last_on = of_each(who, max(on)))
    x <- as.data.frame(rollup(book, by = class, s = sum(v)))
    dated <- orders[!is.na(orders$on), ]
    sums <- sort(tapply(dated$v, dated$who, sum), decreasing = TRUE)
    share <- cumsum(sums) / sum(dated$v)
    class <- c("A", "B", "C")[findInterval(share, c(0.5, 0.8)) + 1L]
    own <- class[match(dated$who, names(sums))]
    expect_equal(stats::setNames(x$s, as.character(x$class)), sums_by(dated, own)[as.character(x$class)])
    y <- as.data.frame(rollup(book, by = usual, n = count(), last = max(last_on)))
    expect_identical(sum(y$n), as.numeric(nrow(dated)))
    expect_s3_class(y$last, "Date")
  }
})

test_that("what of_each() cannot take is refused by kind, and notes say how its figures came about", {
  book <- daybook(each_orders(60L, 4L), on)
  expect_raised(work_out(book, x = of_each(who)), "expression", "column and a measure")
  expect_raised(work_out(book, x = of_each(paste(who, shop), sum(v))), "expression", "one column")
  expect_raised(work_out(book, x = of_each(who, v)), "expression", "is a column")
  expect_raised(work_out(book, x = of_each(whom, sum(v))), "column", "who")
  text <- paste(format(rollup(only(work_out(book, first_on = of_each(who, min(on))), shop != "r"), by = year,
    n = only(distinct(who), first_on > "2025-06-01"))), collapse = " ")
  expect_match(text, "First on is worked out for each +who")
  expect_identical(book$made$worked_out, NULL)
  said <- work_out(book, first_on = of_each(who, min(on), dates = shown))
  expect_identical(unname(said$made$worked_out), "of_each(who, min(on), dates = \"shown\")")
})

test_that("ages that the as-of date has not reached are unknown, on every engine", {
  orders <- each_orders(300L, 6L)
  as_of <- as.Date("2026-02-10")
  first <- as_day_date(of_members(orders, "who", function(l) min(l$on), as_of))
  month_number <- function(day) as.integer(format(day, "%Y")) * 12L + as.integer(format(day, "%m"))
  cohort <- format(first, "%Y-%m")
  age <- month_number(orders$on) - month_number(first)
  here <- !is.na(orders$on) & orders$on <= as_of & !is.na(first)
  for (book in each_books(orders)) {
    book <- as_of(book, as_of) |> only(!is.na(who)) |> work_out(first = of_each(who, min(on)),
      cohort = start_of(first, month), age = periods_between(first, on, month))
    x <- as.data.frame(crosstab(book, rows = cohort, cols = age, n = distinct(who), totals = "grand"),
      shape = "long")
    expected <- vapply(seq_len(nrow(x)), function(i) {
      own <- here
      if (!is.na(x$cohort[i])) own <- own & cohort == format(as.Date(x$cohort[i]), "%Y-%m")
      if (!is.na(x$age[i])) own <- own & age == as.integer(x$age[i])
      since <- if (!is.na(x$cohort[i])) as.Date(x$cohort[i]) else min(first[here])
      reached <- is.na(x$age[i]) || month_number(since) + as.integer(x$age[i]) <= month_number(as_of)
      if (reached) length(unique(orders$who[own])) else NA_real_
    }, 0)
    expect_equal(x$n, as.numeric(expected))
    expect_true(anyNA(x$n) && 0 %in% x$n)
  }
  # Bands of an age are unreached where they begin after the as-of date.
  banded <- work_out(book, band = banded(age, c(1, 6, 12), c("new", "1", "6", "12")))
  x <- as.data.frame(crosstab(banded, rows = cohort, cols = band, n = distinct(who)), shape = "long")
  lowest <- c(new = -Inf, "1" = 1, "6" = 6, "12" = 12)
  own <- lapply(seq_len(nrow(x)), function(i) {
    bands <- names(lowest)[findInterval(age, lowest[-1L]) + 1L]
    here & cohort == format(as.Date(x$cohort[i]), "%Y-%m") & bands == as.character(x$band[i])
  })
  begun <- month_number(as.Date(x$cohort)) + lowest[as.character(x$band)] <= month_number(as_of)
  counts <- vapply(own, function(lines) length(unique(orders$who[lines])), 1L)
  expect_equal(x$n, unname(ifelse(begun, as.numeric(counts), NA)))
  expect_true(anyNA(x$n))
  # Of several ages on a table each counts from the same first day; a figure tells why it is unknown.
  book <- work_out(book, older = periods_between(first, on, quarter))
  x <- rollup(book, by = c(cohort, age, older), n = count())
  y <- crosstab(book, rows = cohort, cols = c(older, age), n = count())
  d <- as.data.frame(y, shape = "long")
  reached <- month_number(as.Date(d$cohort)) + as.integer(d$age) <= month_number(as_of)
  expect_true(all(is.na(d$n[!reached])))
  expect_false(anyNA(as.data.frame(x)$n))
  z <- crosstab(book, rows = cohort, cols = age, n = count())
  unknown <- explain(z, row = length(unique(d$cohort)), measure = as.character(max(as.integer(d$age))))
  expect_match(format(unknown), "age was not reached by 10 February 2026", all = FALSE)
  # Ages at another date than that of the orders are figures like others.
  late <- work_out(as_of(daybook(orders, on), as_of), ended = on + 400, age = periods_between(on, ended,
    month))
  expect_false(anyNA(as.data.frame(crosstab(late, rows = shop, cols = age, n = count()))))
  expect_raised(work_out(daybook(orders, on), age = periods_between(on, month)), "expression", "two dates")
  expect_raised(rollup(work_out(daybook(orders, on), a = periods_between(v, on, month)), by = a, s = sum(v)),
    "expression", "takes dates")
})

test_that("the as-of date in a column is that of the daybook that asks, whichever was asked before", {
  orders <- data.frame(d = as.Date(c("2026-01-01", "2026-03-01")), who = c("a", "b"), v = 1)
  root <- daybook(orders, d)
  aged <- function(book) work_out(book, days = as_of - d, since = as_of - of_each(who, max(d)))
  ask <- function(book) plain(rollup(book, who, days = max(days), since = max(since)))
  late <- ask(as_of(aged(root), "2026-05-01"))
  expect_identical(c(late$days, late$since), c(120, 61, 120, 61))
  early <- ask(as_of(aged(root), "2026-03-11"))
  expect_identical(c(early$days, early$since), c(69, 10, 69, 10))
})
