orders <- few_orders()
book <- daybook(orders, on)

test_that("bands hold every known amount once, from their lower limit up to the next", {
  x <- plain(rollup(work_out(book, size = banded(amount, c(0, 20, 40))), size, n = count()))
  expect_identical(as.character(x$size), c("under 0", "0 to under 20", "20 to under 40", "40 and over"))
  expect_identical(x$n, c(1, 1, 2, 2))
  named <- plain(rollup(work_out(book, size = banded(amount, 20, c("small", "large"))), size, n = count()))
  expect_identical(as.character(named$size), c("small", "large"))
  expect_identical(sum(named$n), 6)
})

test_that("limits that do not increase and labels that do not fit are errors", {
  expect_raised(work_out(book, s = banded(amount, c(10, 5))), "expression", "increase")
  expect_raised(work_out(book, s = banded(amount, c(10, NA))), "expression", "increase")
  expect_raised(work_out(book, s = banded(amount, c(1, 5), c("a", "b"))), "expression", "3 bands")
  expect_raised(work_out(book, s = banded(depot, 5)), "expression", "takes amounts")
})

test_that("groups put members together and leave the others as they are", {
  x <- plain(rollup(work_out(book, area = regroup(depot, Hills = c("Skelby", "Thornmoor"))),
    area, n = count()))
  expect_identical(x$area, c("Hills", "(none)"))
  one <- plain(rollup(work_out(book, area = regroup(depot, Hill = "Skelby")), area, n = count()))
  expect_identical(one$area, c("Hill", "Thornmoor", "(none)"))
  expect_raised(
    work_out(book, a = regroup(depot, A = "Skelby", B = c("Skelby", "Thornmoor"))),
    "expression", "two groups", "Skelby"
  )
  expect_raised(work_out(book, a = regroup(depot, A = "Skelbi")),
    "expression", "not members", "Did you mean \"Skelby\"")
  expect_raised(work_out(book, a = regroup(depot)), "expression", "groups with names")
})

test_that(
  "labels that differ in case and blanks only become the one with most lines, and nothing else changes", {
  spelt <- orders
  spelt$depot <- c("Skelby", "SKELBY", "Skelby", " skel  by", NA, "Skel by")
  x <- plain(rollup(work_out(daybook(spelt, on), depot = one_spelling(depot)), depot, n = count()))
  expect_identical(x$depot, c(" skel  by", "Skelby", "(none)"))
  expect_identical(x$n, c(2, 3, 1))
  expect_raised(work_out(book, a = one_spelling(depot, 1)), "expression", "takes 1 argument")
  yard <- daybook(harrowgill()$orders, ordered_on)
  mended <- work_out(yard, depot = one_spelling(depot))
  expect_identical(sort(unique(values_of(mended, "depot"))), c("Eskholme", "Garrick", "Skelby", "Thornmoor"))
  expect_true("label variants" %in% check(yard)$check)
  expect_false("label variants" %in% check(mended)$check)
})

test_that("parts of any date are dimensions in the order of the trade", {
  x <- plain(rollup(work_out(daybook(orders, on, calendars = fiscal_calendar("July")),
    m = month_of_year(on)), m, n = count()))
  expect_identical(as.character(x$m), c("Jul", "Jan", "Feb", "Mar"))
})

test_that("a lookup never changes the number of lines; keys without a row are counted and named", {
  lookup <- data.frame(depot = c("Skelby", "Garrick"), manager = c("A. Hale", "B. Thwaite"))
  rich <- enrich(book, lookup, by = "depot")
  expect_identical(rich$rows, book$rows)
  expect_identical(values_of(rich, "manager"), c("A. Hale", NA, "A. Hale", "A. Hale", NA, NA))
  x <- rollup(rich, manager, n = count())
  expect_identical(plain(x)$manager, c("A. Hale", "(none)"))
  expect_match(paste(format(x), collapse = " "),
    "Lookup by depot: 1 key has no match \\(\"Thornmoor\"\\), on 2 lines")
  expect_false(any(grepl("no match", format(rollup(rich, month, n = count())))))
})

test_that("one lookup is used twice under two names, and keys may be numbers in one and text in the other", {
  sales <- data.frame(on = as.Date("2024-01-01"), bill = c(1, 2), ship = c("2", "1"), amount = 1)
  people <- data.frame(id = c("1", "2"), who = c("one", "two"))
  rich <- daybook(sales, on) |>
    enrich(people, by = c(bill = "id"), prefix = "bill_") |>
    enrich(people, by = c(ship = "id"), prefix = "ship_")
  expect_identical(values_of(rich, "bill_who"), c("one", "two"))
  expect_identical(values_of(rich, "ship_who"), c("two", "one"))
})

test_that("lookups that would double or clash are errors that name the keys", {
  twice <- data.frame(depot = c("Skelby", "Skelby"), manager = 1:2)
  expect_raised(enrich(book, twice, "depot"), "lookup", "\"Skelby\"", "rows 1, 2")
  expect_raised(enrich(book, data.frame(depot = c("a", NA), m = 1), "depot"), "lookup", "row 2")
  expect_raised(enrich(book, data.frame(depot = "a", amount = 1), "depot"), "lookup", "\"amount\"", "prefix")
  expect_raised(enrich(book, data.frame(depot = "a", m = 1), "depo"), "column", "depo")
  expect_raised(enrich(book, list(1), "depot"), "lookup", "data frame")
  expect_raised(enrich(book, data.frame(depot = "a", month = 1), "depot"), "column", "month")
})
