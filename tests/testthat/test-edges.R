# Where one case ends and the next begins: each was a small change of the code that no test noticed.

edge_book <- function(...) daybook(few_orders(), on, ...)
notes_of <- function(table) paste(all_notes(table), collapse = "\n")

test_that("a label of an axis is a heading, a form of its periods, or one of each", {
  for (label in list(c("{month} a", "{month} b"), c("Month", "b", "c"), c("Month", "Months"))) {
    expect_raised(rollup(edge_book(), axis(month, label = !!rlang::call2("c", !!!label)), s = sum(amount)), "argument",
      "heading of the axis")
  }
})

test_that("a period that ends on the as-of date, or where the orders end, is whole", {
  book <- as_of(edge_book(), "2025-02-28")
  expect_no_match(notes_of(rollup(book, month, s = sum(amount))), "part-way")
  expect_match(notes_of(rollup(as_of(book, "2025-02-27"), month, s = sum(amount))), "27 of 28 days")
  whole <- daybook(few_orders()[1:5, ], on)
  expect_no_match(notes_of(rollup(whole, month, s = sum(amount))), "part-way")
})

test_that("a base of an index that lies before the orders, or after them, is told", {
  for (base in c("2020-01", "2031-01")) {
    expect_match(notes_of(rollup(edge_book(), month, i = index(sum(amount), !!base))), "lies outside the record")
  }
  expect_no_match(notes_of(rollup(edge_book(), month, i = index(sum(amount), "2024-02"))), "lies outside")
})

test_that("only a text that nobody has is asked about", {
  book <- only(edge_book(), amount == 31)
  expect_match(notes_of(rollup(book, depot, n = count())), "No order line meets \"amount is 31\".", fixed = TRUE)
  book <- only(edge_book(), depot == "Skelbyy")
  expect_match(notes_of(rollup(book, depot, n = count())), "did you mean \"Skelby\"?", fixed = TRUE)
})

test_that("how many figures have more digits than numbers hold is said right", {
  orders <- data.frame(on = as.Date("2026-01-01"), a = 2^60, b = 2^61)
  one <- notes_of(rollup(daybook(orders, on), month, a = sum(a)))
  two <- notes_of(rollup(daybook(orders, on), month, a = sum(a), other = sum(b)))
  expect_match(one, "A has more digits")
  expect_match(two, "A and other have more digits")
})

test_that("a rule without an axis is of the rows of a cross-tab, also where there is one alone", {
  table <- crosstab(edge_book(), depot, year, s = sum(amount), keep = keep_where(s > 60))
  expect_identical(unique(as.character(table$axes$depot)), "Skelby")
  expect_identical(nlevels(factor(format(table$axes$year))), 2L)
})

test_that("every figure of a cross-tab with measures one under the other is explained as it stands", {
  table <- crosstab(edge_book(), depot, year, s = sum(amount), n = count(), measures_at = "rows")
  shown <- as.data.frame(table)
  years <- grep("^20", names(shown), value = TRUE)
  for (row in seq_len(nrow(shown))) for (column in years) {
    found <- explain(table, row, column)
    expect_identical(as.numeric(found$value %||% found$steps$figure[1L]), as.numeric(shown[[column]][row]))
  }
})

test_that("a week of years ends on any day, and says between which", {
  ends <- c("last Sunday of January" = "Monday to Sunday", "last Saturday of January" = "Sunday to Saturday",
    "last Monday of January" = "Tuesday to Monday")
  for (rule in names(ends)) {
    expect_match(paste(format(week_calendar("4-4-5", ends = rule)), collapse = " "), ends[[rule]], fixed = TRUE)
  }
})

test_that("parts of a year have as many members as it can have", {
  days <- as.Date("2026-01-01") + 0:364
  sizes <- c(month_of_year = 12L, quarter_of_year = 4L, week_of_year = 53L, day_of_week = 7L, day_of_month = 31L)
  for (part in names(sizes)) {
    levels <- levels(rlang::inject(cyclic_part(days, !!as.name(part))))
    expect_length(levels, sizes[[part]])
  }
})

test_that("a date and its time are named as two columns or as one text", {
  orders <- data.frame(at = "2026-01-05", time = c("09:10", "17:45"), x = 1:2)
  for (book in list(daybook(orders, c(at, time)), daybook(orders, "at + time"), daybook(orders, at + time))) {
    expect_identical(rollup(book, hour_of_day, s = sum(x))$figures$s, c(1, 2))
  }
})

test_that("days of members stay days, also of what is worked out of them", {
  book <- edge_book() |> work_out(due = of_each(depot, max(on) + 30), age = of_each(depot, as_of - max(on)))
  lines <- plain(listing(book, lines = c(on, due, age), n = count(), totals = "none"))
  expect_s3_class(lines$due, "Date")
  expect_identical(lines$due[1L], as.Date("2025-03-02"))
  expect_identical(as.numeric(lines$age[1L]), 38)
  first <- edge_book() |> work_out(first_on = of_each(depot, min(on)), last_on = of_each(depot, max(on)))
  expect_match(notes_of(rollup(first, first_on, n = count())), "record begins|begins on")
  expect_no_match(notes_of(rollup(first, last_on, n = count())), "record begins|begins on")
})

test_that("years in two digits are told by dates that nobody has yet, and by how close they lie", {
  read <- function(texts) {
    file <- written(c("on,x", paste0(texts, ",1")))
    range(line_days(engine_of(daybook(file, on))))
  }
  expect_identical(read(c("20-02-10", "28-02-24")), as.integer(as.Date(c("2010-02-20", "2024-02-28"))))
  expect_identical(read(c("21-03-05", "21-04-25", "21-05-14")), as.integer(as.Date(c("2021-03-05", "2021-05-14"))))
})

test_that("a mark within amounts that is named is no question", {
  file <- written(c("on,net", "2026-01-01,1.500", "2026-01-02,2.250"))
  expect_identical(read_orders(file, decimal = ".")$net, c(1.5, 2.25))
  expect_identical(read_orders(file, thousands = ".", decimal = ",")$net, c(1500, 2250))
})

test_that("marks of UTF-8 between joined files are left out, and no letter with them", {
  file <- written(c("name,x", "one,1", "\ufefftwo,2", "three,3"))
  expect_identical(read_orders(file)$name, c("one", "two", "three"))
})

test_that("one line that is no order is told as several are", {
  told <- function(lines) paste(attr(read_orders(written(lines)), "reading")$told, collapse = "\n")
  expect_match(told(c("a,b", "x,1", ",", "y,2", "z,3")), "1 empty line left out")
  expect_match(told(c("a,b", "x,1", ",", "y,2", ",", "z,3")), "2 empty lines left out")
})

test_that("of several worksheets with tables the first is read, and the next is named", {
  book <- openxlsx::createWorkbook()
  for (name in c("notes", "august", "july")) openxlsx::addWorksheet(book, name)
  openxlsx::writeData(book, "august", data.frame(on = as.Date("2026-08-01") + 0:3, x = 1:4))
  openxlsx::writeData(book, "july", data.frame(on = as.Date("2026-07-01") + 0:3, x = 5:8))
  file <- withr::local_tempfile(fileext = ".xlsx")
  openxlsx::saveWorkbook(book, file)
  expect_identical(as.numeric(read_orders(file)$x), c(1, 2, 3, 4))
  expect_identical(as.numeric(read_orders(file, sheet = "july")$x), c(5, 6, 7, 8))
})

test_that("order lines behind the largest, the others and those without a member are found in a database", {
  orders <- untidy_orders(300L, 7)
  orders$customer <- as.character(replace(orders$customer, 1:9, NA))
  ask <- function(book) rollup(book, customer, n = count(), keep = keep_top(4, n), totals = "grand")
  here <- ask(daybook(orders, on))
  there <- ask(daybook(sqlite_orders(orders), on))
  for (row in seq_along(here$role)) {
    expect_identical(nrow(behind(there, row, "n")), nrow(behind(here, row, "n")))
    expect_identical(as.numeric(nrow(behind(there, row, "n"))), there$figures$n[row])
  }
})

test_that("a lookup or a condition that came or went is told as such", {
  base <- edge_book()
  depots <- written(c("depot,town", "Skelby,North", "Thornmoor,South"))
  with_lookup <- enrich(base, depots, by = "depot", name = "towns")
  ask <- function(book) rollup(book, month, s = sum(amount), totals = "grand")
  reasons <- function(before, after) paste(format(changes(ask(before), ask(after))), collapse = "\n")
  went <- reasons(only(base, status == "sent"), base)
  came <- reasons(base, only(base, status == "sent"))
  expect_match(went, "no longer", fixed = TRUE)
  expect_no_match(went, "now also")
  expect_match(came, "now also", fixed = TRUE)
  expect_no_match(came, "no longer")
  # A lookup moves no figure by itself: it is told beside what does.
  managers <- written(c("depot,manager", "Skelby,Ann"))
  more <- rbind(few_orders(), few_orders()[1L, ])
  came <- reasons(base, enrich(daybook(more, on), read_orders(managers), by = "depot", name = "managers"))
  expect_match(came, "Another lookup: managers now", fixed = TRUE)
  named <- rlang::inject(enrich(daybook(more, on), read_orders(!!managers), by = "depot"))
  stem <- sub("[.]csv$", "", basename(managers))
  squeezed <- gsub("[[:space:]]+", " ", reasons(with_lookup, named))
  expect_match(squeezed, paste0("towns no longer; ", stem, " now"), fixed = TRUE)
})

test_that("lines that no figure sees before or now are not among those that moved it", {
  orders <- cbind(few_orders(), id = 1:6)
  later <- rbind(orders, data.frame(on = as.Date("2025-03-01"), depot = "Skelby", amount = 7,
    status = c("cancelled", "sent"), id = 7:8))
  ask <- function(orders) {
    rollup(only(daybook(orders, on), status != "cancelled"), month, s = sum(amount), totals = "grand")
  }
  lines <- changed_lines(changes(ask(orders), ask(later), key = "id"))
  expect_identical(as.integer(lines$id), 8L)
  expect_identical(lines$.what, "entered since")
})
