test_that("what is nested deeper than a hundred levels is refused, whatever wraps it", {
  wraps <- list(
    function(x) bquote(only(.(x), amount > 0)), function(x) bquote(prior(.(x), year)),
    function(x) bquote(mean(each(customer, .(x)))), function(x) bquote(or_zero(.(x))),
    function(x) bquote(.(x) + 1), function(x) bquote(overall(.(x)))
  )
  nested <- function(wrap, inner) Reduce(function(inner, i) wrap(inner), seq_len(300L), inner)
  book <- daybook(untidy_orders(20L, 1L), on)
  for (wrap in wraps) {
    expect_raised(eval(bquote(rollup(book, month, s = .(nested(wrap, quote(sum(amount))))))),
      "expression", "nested too deeply")
  }
  for (wrap in list(function(x) bquote(abs(.(x))),
    function(x) bquote(ifelse(amount > 1, .(x), 0)))) {
    for (say in list(quote(work_out), quote(only))) {
      expect_raised(eval(bquote(.(say)(book, s = .(nested(wrap, quote(amount)))))), "expression",
        "nested too deeply")
    }
  }
  # A long sum is as deep as it has parts: it is worked out, or refused where the stack
  # is too short.
  long <- Reduce(function(sum, i) bquote(.(sum) + amount), seq_len(98L), quote(amount))
  asked <- tryCatch(rollup(work_out(book, s = !!long), year, s = sum(s)),
    drystack_error_expression = identity)
  if (inherits(asked, "drystack_table")) {
    expect_equal(asked$figures$s, 99 * rollup(book, year, s = sum(amount))$figures$s)
  } else {
    expect_match(conditionMessage(asked), "nested too deeply")
  }
})

test_that("a few orders dated more than a month ahead, a year after all others, are left out", {
  ends <- function(ahead, many, rows = 200L) {
    days <- Sys.Date() - seq_len(rows)
    days[seq_len(many)] <- Sys.Date() + ahead
    as.integer(daybook(data.frame(on = days, v = 1), on)$as_of - as.integer(Sys.Date()))
  }
  expect_identical(ends(400L, 1L), -2L)
  expect_identical(ends(400L, 2L), -3L)
  # More than one in a hundred are meant, as are those soon after the others.
  expect_identical(ends(400L, 3L), 400L)
  expect_identical(ends(300L, 1L), 300L)
  expect_identical(ends(31L, 1L), 31L)
  expect_identical(ends(400L, 1L, 99L), 400L)
})

test_that("orders dated years apart from all others are told, where the record is short without them", {
  told <- function(first, rows = 60L, last = "2025-12-31") {
    days <- as.Date(last) - seq_len(rows)
    days[1L] <- as.Date(first)
    paste(all_notes(rollup(daybook(data.frame(on = days, v = 1), on), year, n = count())),
      collapse = " ")
  }
  expect_match(told("1900-01-01"),
    "1 order line dated years apart from the others (\"1900-01-01\")", fixed = TRUE)
  expect_match(told("2015-10-01"), "dated years apart")
  # Within ten years it may be an old order.
  expect_no_match(told("2016-06-01"), "dated years apart")
  expect_no_match(told("1900-01-01", rows = 19L), "dated years apart")
})

test_that("amounts of two currencies that a total adds up are told", {
  orders <- data.frame(on = as.Date("2025-01-05") + 0:5, ccy = c("GBP", "EUR"), amount = 1:6)
  book <- daybook(orders, on, currency = ccy)
  expect_match(all_notes(rollup(book, ccy, s = sum(amount), totals = "all")),
    "Amounts of 2 currencies are added together: EUR and GBP, in totals over \"ccy\"", all = FALSE)
})

test_that("periods are neither infinite nor no number, and missing ones are not finite", {
  periods <- as_period(c("2025-01", NA), "month")
  expect_identical(is.nan(periods), c(FALSE, FALSE))
  expect_identical(is.infinite(periods), c(FALSE, FALSE))
  expect_identical(is.finite(periods), c(TRUE, FALSE))
  expect_raised(exp(periods), "period", "cannot be used with periods")
})

test_that("weeks of a retail calendar run to the day its year ends on", {
  for (i in seq_len(7L)) {
    days <- c("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
    words <- format(week_calendar("4-4-5", ends = paste("last", days[i], "of January")))
    expect_match(paste(words, collapse = " "), paste(days[i %% 7L + 1L], "to",
      days[i]), fixed = TRUE)
  }
})

test_that("orders by another date in a database are those up to the as-of date of their own", {
  orders <- data.frame(id = 1:40, on = as.Date("2025-01-01") + 0:39,
    shipped = as.Date("2025-01-01") + 0:39 - rep(c(0L, 20L), 20L), v = 1:40)
  asked <- function(source) {
    book <- as_of(daybook(source, on), "2025-01-25")
    as.data.frame(rollup(book, month, s = sum(v), t = on(sum(v), shipped)))
  }
  here <- asked(orders)
  expect_equal(asked(sqlite_orders(orders)), here, ignore_attr = TRUE)
  known <- orders$on <= as.Date("2025-01-25") & orders$shipped >= as.Date("2025-01-01")
  expect_identical(sum(here$t), sum(orders$v[known]) + 0)
})

test_that("a month that ends on the day of the first order can be the last one closed", {
  orders <- data.frame(on = as.Date(c("2025-01-31", "2025-02-10")), v = 1)
  book <- as_of(closing(daybook(orders, on), after = 5L), "2025-02-10")
  expect_identical(format(closed_period(book, month)), "2025-01 Jan")
})

test_that("the age of a month is reached on its first day", {
  orders <- data.frame(on = as.Date(c("2025-01-15", "2025-02-10", "2025-02-20")),
    who = c("a", "a", "b"),
    v = 1:3)
  second_month_of_b <- function(day) {
    book <- work_out(as_of(daybook(orders, on), day), first_on = of_each(who, min(on)))
    book <- work_out(book, age = periods_between(first_on, on, month))
    crossed <- as.data.frame(crosstab(book, who, age, s = sum(v), totals = "none"))
    crossed[crossed$who == "b", ncol(crossed) - 1L]
  }
  expect_identical(second_month_of_b("2025-02-28"), NA_real_)
  expect_identical(second_month_of_b("2025-03-01"), 0)
})

test_that("a fifth of the dates may be of another form, and is told; more is an error", {
  mixed <- function(odd) {
    days <- as.Date("2025-01-01") + 0:19
    texts <- ifelse(seq_along(days) <= odd, format(days), format(days, "%d/%m/%Y"))
    daybook(data.frame(on = texts, v = 1), on)
  }
  expect_identical(rollup(mixed(4L), n = count())$figures$n, 16)
  expect_match(all_notes(rollup(mixed(4L), n = count())),
    "written otherwise than the other dates", all = FALSE)
  expect_raised(mixed(5L), "date", "several forms", "day, month, year")
})

test_that("records beside the orders may have their periods, and orders their members, as factors",
  {
  orders <- data.frame(on = as.Date(c("2025-01-15", "2025-02-10")), v = 1:2,
    who = factor(c("a", "b"), levels = c("b", "a")))
  plan <- data.frame(month = factor(c("2025-01", "2025-02")), who = c("z", "a"), target = c(5, 6))
  book <- alongside(as_of(daybook(orders, on), "2025-02-28"), plan = plan, date = month)
  x <- rollup(book, who, s = sum(v), t = of(plan, sum(target)))
  expect_identical(as.character(x$axes$who), c("b", "a", "z"))
  expect_identical(x$figures$t, c(0, 6, 5))
  expect_identical(rollup(book, month, t = of(plan, sum(target)))$figures$t, c(5, 6))
})

test_that("files that are no tables are told by what they are, whatever they are called", {
  begins <- list(
    "a PDF document" = list("%PDF-1.4"), "a text document (RTF" = list("{\\rtf1"),
    "a picture" = list(as.raw(c(0x89, 0x50, 0x4e, 0x47)),
      as.raw(c(0xff, 0xd8, 0xff, 0xe0)), "GIF89a"),
    "a database (SQLite" = list("SQLite format 3"),
    "not read (7z or RAR" = list(as.raw(c(0x37, 0x7a, 0xbc, 0xaf)), "Rar!"),
    "a workbook of XML" = list("<?xml version=\"1.0\"?>\n<?mso", "<?xml version=\"1.0\"?>\r\n<?mso")
  )
  for (words in names(begins)) {
    for (begin in begins[[words]]) {
      file <- withr::local_tempfile(fileext = ".csv")
      writeBin(c(if (is.raw(begin)) begin else charToRaw(begin),
        as.raw(rep(c(1, 44, 10), 20))), file)
      expect_raised(read_orders(file), "file", words)
    }
  }
})

test_that("a first line of a text and one whole number may be names; with two numbers or a date it is not", {
  names_of <- function(first, below) {
    file <- withr::local_tempfile(fileext = ".csv")
    writeLines(c(first, below), file)
    tryCatch(names(read_orders(file)), drystack_error = function(e) "none")
  }
  expect_identical(names_of("Skelby,5", c("Thornmoor,6", "Abbot,7")), c("Skelby", "5"))
  expect_identical(names_of("Skelby,5.20", c("Thornmoor,6.10", "Abbot,7.00")), "none")
  expect_identical(names_of("Skelby,5,12", c("Thornmoor,6,14", "Abbot,7,11")), "none")
  expect_identical(names_of("Skelby,2025-01-03",
    c("Thornmoor,2025-01-04", "Abbot,2025-01-05")), "none")
  expect_identical(names_of("Skelby,2024,2025", c("Thornmoor,6,14", "Abbot,7,11")),
    c("Skelby", "2024", "2025"))
})

test_that("whole numbers and cents are told to their last digit", {
  expect_identical(format_plain(c(1234567.89, 123456789012345, 0.5)),
    c("1234567.89", "123456789012345", "0.5"))
})

test_that("units by weekday are whole weeks of them", {
  book <- daybook(data.frame(on = as.Date("2023-01-02") + 0:1100, v = 1:1101), on)
  for (unit in c("day", "week", "month", "quarter", "half", "year")) {
    days <- c(day = 1L, week = 7L, month = 28L, quarter = 91L, half = 182L, year = 364L)[[unit]]
    x <- rlang::inject(rollup(within_dates(book, "2025-12-01", "2025-12-31"), day,
      s = sum(v), p = prior(s, !!as.name(unit), match = "weekday")))
    expect_identical(x$figures$p, x$figures$s - days)
  }
})

test_that("a measure of a record as fine as the rows ties out", {
  plan <- data.frame(month = c("2025-01", "2025-02"), target = c(5, 6))
  orders <- data.frame(on = as.Date(c("2025-01-15", "2025-02-10")), v = 1:2)
  book <- alongside(as_of(daybook(orders, on), "2025-02-28"), plan = plan, date = month)
  proof <- as.data.frame(tie_out(rollup(book, month, s = sum(v), t = of(plan, sum(target)),
    totals = "grand")))
  expect_true(all(proof$ok[proof$measure == "t"]))
  # Where a condition leaves some of the record's members out, it says so instead.
  expect_false(any(is.na(proof$ok)))
})

test_that("periods of a record may be numbers: years, and months in digits", {
  orders <- data.frame(on = as.Date(c("2024-03-01", "2025-01-15", "2025-02-10")), v = 1:3)
  ask <- function(plan, unit) {
    book <- alongside(as_of(daybook(orders, on), "2025-12-31"), plan = plan, date = p)
    rlang::inject(rollup(book, !!as.name(unit), t = of(plan, sum(target))))$figures$t
  }
  expect_identical(ask(data.frame(p = c(2024, 2025), target = c(7, 9)), "year"), c(7, 9))
  months <- data.frame(p = c(202501, 202502), target = c(5, 6))
  expect_identical(sum(ask(months, "month"), na.rm = TRUE), 11)
})

test_that("the head of a long file ends with a line, that of a short one with the file", {
  file <- withr::local_tempfile(fileext = ".csv")
  writeBin(charToRaw("a,b\n1,2\n3,4"), file)
  expect_identical(rawToChar(head_of_file(file, file.size(file))), "a,b\n1,2\n3,4")
  writeLines(c("a,b", rep("123456,7", 40000L)), file)
  head <- head_of_file(file, file.size(file))
  expect_lte(length(head), scanned_head)
  expect_gt(length(head), scanned_head - 9L)
  expect_identical(head[length(head)], charToRaw("\n"))
})

test_that("text is UTF-8 by any pair of bytes that no other encoding has", {
  for (letter in c("\u00c0", "\u00ff", "\u0416", "\u4e2d", "\U0001f600")) {
    expect_true(holds_utf8(charToRaw(enc2utf8(letter))), label = letter)
  }
  for (bytes in list(c(0x41, 0xe9), c(0xe9, 0x41), c(0xc3, 0x7f), c(0xc3, 0xc0), c(0xf5, 0x80))) {
    expect_false(holds_utf8(as.raw(bytes)))
  }
})

test_that("rows of an OpenDocument sheet stand where they are, however they are repeated", {
  cell <- function(text) {
    paste0("<table:table-cell office:value-type=\"string\"><text:p>", text,
      "</text:p></table:table-cell>")
  }
  repeated_row <- function(times, cells) {
    paste0("<table:table-row table:number-rows-repeated=\"", times, "\">", cells,
      "</table:table-row>")
  }
  row <- function(..., repeated = 1L) {
    repeated_row(repeated, paste0(vapply(c(...), cell, ""), collapse = ""))
  }
  blank <- function(times) {
    repeated_row(times, "<table:table-cell table:number-columns-repeated=\"9\"/>")
  }
  sheet <- xml2::read_xml(paste0(
    "<table:table xmlns:table=\"urn:t\" xmlns:office=\"urn:o\" xmlns:text=\"urn:x\">",
    row("a", "b"), blank(500L), row("1", "2", repeated = 3L), blank(1L), row("3", "4"),
    "</table:table>"))
  grid <- open_grid(sheet, "x.ods")
  expect_identical(lapply(grid, function(column) unlist(column)),
    list(c("a", NA, "1", "1", "1", NA, "3"), c("b", NA, "2", "2", "2", NA, "4")))
})

test_that("what a column could be is seen in one value, and in none", {
  could <- function(values) look_at(data.frame(x = values))$could_be
  expect_identical(could(as.Date("2025-01-01")), "date")
  expect_identical(could("Skelby"), "dimension")
  expect_identical(could(TRUE), "condition")
  expect_identical(could(NA_character_), "")
})

test_that("one date outside a calendar is said, as many are", {
  seasons <- data.frame(start = c("2025-01-01", "2025-07-01"), end = c("2025-06-30", "2025-12-31"),
    half = c("S1", "S2"), year = "Y")
  strict <- custom_calendar(seasons, strict = TRUE)
  loose <- custom_calendar(seasons, strict = FALSE)
  outside <- as.Date(c("2025-03-01", "2026-01-01", "2026-01-02"))
  expect_raised(as_period(outside[1:2], "half", strict), "calendar", "1 date lies outside")
  expect_raised(as_period(outside, "half", strict), "calendar", "2 dates lie outside")
  expect_warning(as_period(outside[1:2], "half", loose), "1 date lies outside .* has no period")
  expect_warning(as_period(outside, "half", loose), "2 dates lie outside .* have no period")
})

test_that("what is no expression of columns is refused, of whatever kind it is", {
  book <- daybook(data.frame(on = as.Date("2025-01-01"), v = 1), on)
  for (said in list(character(), list(1), NULL)) {
    expect_raised(rlang::inject(only(book, v == !!said)), "expression")
  }
})

test_that("conditions of an earlier report keep the names they have, and have no other", {
  said <- list(only = list("v > 1", list("without returns" = "v > 0")))
  document <- new_document(said)
  expect_identical(unlist(settled_said(document, list())$only),
    c("v > 1", "\"without returns\" = v > 0"))
})

test_that("an extra week may go to the first period, and weeks begin after their last day", {
  calendar <- week_calendar("4-4-5", "last Saturday of January", extra_week = 1L)
  grid <- calendar_grid(calendar)
  weeks <- (grid$month$ends - grid$month$starts + 1L) / 7L
  expect_identical(sort(unique(weeks)), c(4, 5))
  long <- which(grid$year$ends - grid$year$starts + 1L == 371L)[1L]
  first <- match(grid$year$starts[long], grid$month$starts)
  expect_identical(weeks[first + 0:11], c(5, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5))
  expect_match(calendar$words$long, "Sunday to Saturday", fixed = TRUE)
  expect_raised(week_calendar(extra_week = 0L), "argument", "extra_week")
  expect_raised(week_calendar(extra_week = 13L), "argument", "extra_week")
})

test_that("a drop in lines is told with the month before it", {
  months <- seq(as.Date("2024-01-01"), by = "month", length.out = 18L)
  many <- replace(rep(20L, 18L), 16L, 3L)
  many[15L] <- 19L
  many[17L] <- 21L
  found <- as.data.frame(check(daybook(data.frame(on = rep(months, many), v = 1), on)))
  expect_match(found$examples[found$check == "drop in lines"],
    "2025-04 Apr: 3 lines after 19", fixed = TRUE)
})

test_that("text in UTF-16 is told as that, whichever byte comes first", {
  for (mark in list(as.raw(c(0xff, 0xfe)), as.raw(c(0xfe, 0xff)))) {
    file <- withr::local_tempfile(fileext = ".jsonl")
    writeBin(c(mark, as.raw(c(0x7b, 0, 0x7d, 0))), file)
    expect_raised(read_orders(file), "file", "UTF-16")
  }
})

test_that("labels have keys in orders that are read in parts, as they have in one", {
  withr::local_options(drystack.memory = 6400, drystack.threads = 1L)
  folder <- withr::local_tempdir()
  orders <- data.frame(on = as.Date("2025-01-01") + 0:89, depot = c("a", "b", "c"),
    place = c(3L, 1L, 2L), v = 1)
  for (i in 1:3) utils::write.csv(orders[30L * i - 0:29, ], file.path(folder, paste0(i, ".csv")),
    row.names = FALSE)
  described <- orders_in_parts(folder, new_reading(), function(names) c("depot", "place", "v"))
  book <- sort_key(daybook(described, on), depot, place)
  expect_identical(as.character(rollup(book, depot, n = count())$axes$depot), c("b", "c", "a"))
})

test_that("a drop in the last month is told once the month is over", {
  months <- seq(as.Date("2024-01-01"), by = "month", length.out = 16L)
  days <- c(rep(months[1:15], each = 20L), as.Date("2025-04-02"))
  found <- function(days) check(daybook(data.frame(on = days, v = 1), on))$check
  expect_false("drop in lines" %in% found(days))
  expect_true("drop in lines" %in% found(c(days, as.Date("2025-04-30"))))
})

test_that("a share of the parent is that within all axes but the last of the rows", {
  book <- daybook(untidy_orders(60L, 2L), on)
  x <- rollup(book, c(depot, channel, month), s = sum(amount), p = share(s, of = "parent"),
    w = share(s, within = c(depot, channel)))
  expect_identical(x$figures$p, x$figures$w)
  y <- rollup(book, depot, s = sum(amount), p = share(s, of = "parent"), t = share(s))
  expect_identical(y$figures$p, y$figures$t)
})

test_that("text that is no day is not compared with one, nor with several", {
  orders <- data.frame(on = as.Date("2025-01-01") + 0:3, v = 1:4,
    due = c("31/01/2025", "01/03/2025", "15/02/2025", "02/01/2025"))
  book <- daybook(orders, on)
  ask <- function(book) rollup(book, s = sum(v))
  expect_raised(ask(only(book, due > "2025-02-01")), "expression", "text that is not a date")
  expect_raised(ask(only(book, due %in% c("2025-02-01", "2025-02-15"))), "expression",
    "text that is not a date")
})

test_that("what each member's figure is does not hang on how it is said", {
  orders <- data.frame(on = as.Date(c("2025-01-05", "2025-02-10", "2025-03-01")),
    who = c("a", "a", "b"), v = c(1, 5, 2))
  book <- daybook(orders, on)
  for (one in list(quote(only(min(on), v > 1)), quote(min(only(on, v > 1))),
    quote(max(on)), quote(only(max(on), v > 0)))) {
    made <- tryCatch(rlang::inject(work_out(book, since = of_each(who, !!one))),
      drystack_error = function(e) NULL)
    if (is.null(made)) next
    x <- rollup(only(made, since >= "2025-02-10"), s = sum(v))
    expect_identical(x$figures$s, 8)
  }
})

test_that("a workbook may have parts whose names are no UTF-8", {
  file <- withr::local_tempfile(fileext = ".xlsx")
  openxlsx::write.xlsx(data.frame(on = as.Date("2025-01-01"), v = 1), file)
  bytes <- readBin(file, "raw", file.size(file))
  name <- charToRaw("docProps/app.xml")
  at <- which(bytes == name[1L])
  at <- at[vapply(at, function(i) identical(bytes[i + seq_along(name) - 1L], name), NA)]
  expect_length(at, 2L)
  bytes[at + 9L] <- as.raw(0xe9)
  writeBin(bytes, file)
  expect_identical(read_orders(file)$v, 1)
})

test_that("the side of an account may be written in small letters", {
  expect_identical(amount_parts(c("12.50 cr", "3.00 Dr.", "7 CR"))[c("side", "sign")],
    list(side = c("CR", "DR", "CR"), sign = c(-1, 1, -1)))
})

test_that("words for what is not known leave the other amounts numbers, and are told", {
  file <- withr::local_tempfile(fileext = ".csv")
  writeLines(c("on;net", "2025-01-01;n/a", "2025-01-02;1.234,50", "2025-01-03;2,00"), file)
  expect_identical(read_orders(file)$net, c(NA, 1234.5, 2))
  expect_match(all_notes(rollup(daybook(file, on), year, s = sum(net))),
    "\"n/a\" in \"net\" taken as not known", all = FALSE, fixed = TRUE)
})

test_that("sums of kept states are those of the cents they were made of", {
  folder <- withr::local_tempdir()
  orders <- data.frame(on = as.Date(c("2025-01-01", "2025-01-02", "2025-01-03")),
    v = c(0.1, 0.2, 1e-9),
    w = c(0.1, 0.2, 0))
  file <- file.path(folder, "orders.csv")
  utils::write.csv(orders, file, row.names = FALSE)
  kept <- keep_states(daybook(file, on), file.path(folder, "kept"), w, v, by = NULL)
  x <- rollup(daybook(kept, on), month, w = sum(w), v = sum(v))
  expect_identical(x$figures$w, 0.3)
  expect_equal(x$figures$v, 0.300000001, tolerance = 1e-15)
})

test_that("a comma too many says nothing, and what is given nothing is told", {
  book <- daybook(untidy_orders(20L, 1L), on)
  expect_identical(as.data.frame(rollup(book, c(depot, month, ), n = count(), )),
    as.data.frame(rollup(book, c(depot, month), n = count())))
  for (said in c("rollup(book, depot, n = )", "work_out(book, n = )", "measures(n = )")) {
    expect_raised(eval(str2lang(said)), "expression", "Nothing is said for \"n\"")
  }
  for (said in c("rollup(book, n = distinct(c(depot, )))", "only(book, depot %in% c('Skelby', ))",
    "work_out(book, n = ifelse(amount > 1, , 2))", "rollup(book, n = only(sum(amount), ))",
    "rollup(book, n = sum(amount, ))", "rollup(book, n = round(, 2))")) {
    expect_raised(eval(str2lang(said)), "expression", "has a comma too many")
  }
  expect_raised(as_period(Sys.Date()), "argument", "unit")
  # States may be kept by day alone.
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(untidy_orders(20L, 1L), file, row.names = FALSE)
  kept <- keep_states(daybook(file, on), withr::local_tempdir(), , amount)
  expect_identical(rollup(daybook(kept, on), month, s = sum(amount))$figures$s,
    rollup(book, month, s = sum(amount))$figures$s)
})

test_that("texts are dates where more than half are, in one form", {
  expect_identical(date_form(c("2025-01-01", "2025-01-02", "a", "b"))$orders, character())
  found <- date_form(c("2025-01-01", "2025-01-02", "2025-01-03", "b"))
  expect_identical(found[c("orders", "misfits")], list(orders = "ymd", misfits = 4L))
  short <- date_form(c(sprintf("%02d.03.24", 1:20), "unknown"))
  expect_identical(short[c("orders", "misfits", "together")],
    list(orders = "dmy", misfits = 21L, together = TRUE))
})

test_that("a step of an explanation is a percentage only where it is a part of a whole", {
  book <- daybook(untidy_orders(60L, 3L), on)
  x <- rollup(book, s = sum(amount), up = s + 1, rest = s / sum(quantity),
    less = sum(quantity) / s - 1)
  parts <- function(name) explain(x, 1L, name)$steps$part[1L]
  expect_identical(vapply(c("up", "rest", "less"), function(name) isTRUE(parts(name)), NA),
    c(up = FALSE, rest = FALSE, less = TRUE))
})

test_that("what a run that was ended left behind is cleared by the next, with all it holds", {
  folder <- withr::local_tempdir()
  left <- file.path(folder, ".drystack-999999999-1")
  dir.create(file.path(left, "deep"), recursive = TRUE)
  writeLines("half", file.path(left, "deep", "page.html"))
  write_report(rollup(daybook(untidy_orders(20L, 1L), on), year, n = count()),
    file.path(folder, "out.csv"))
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "out.csv")
})

test_that("a row too many for a key and a day is told, for keys of one column and of two", {
  orders <- data.frame(on = as.Date("2025-03-01"), a = "x", b = "y", v = 1)
  rates <- data.frame(a = "x", since = as.Date(c("2025-01-01", "2025-01-01", "2025-02-01")),
    rate = 1:3)
  book <- daybook(orders, on)
  expect_raised(enrich(book, rates, by = "a", from = "since"), "lookup",
    "more than one row for a key of a and a day", "at rows 1, 2")
  both <- cbind(rates, b = c("y", "y", "z"))
  expect_raised(enrich(book, both, by = c("a", "b"), from = "since"), "lookup",
    "more than one row for a key of a, b and a day", "at rows 1, 2")
  rates$since[2L] <- as.Date("2025-01-02")
  book <- enrich(book, rates, by = "a", from = "since")
  expect_identical(rollup(book, s = sum(rate))$figures$s, 3)
})

test_that("measures of gaps and ages are said in words", {
  vocabulary <- book_vocabulary(daybook(untidy_orders(60L, 3L), on))
  words <- function(expr) aggregate_in_words(parse_measure(expr, vocabulary))
  expect_match(words(quote(median(gaps(on)))), "days between on")
  expect_identical(words(quote(sum(amount))), "total amount")
  expect_identical(words(quote(count())), "order lines")
})

test_that("what is known is told of values of every kind", {
  expect_identical(is_known(c("a", NA)), c(TRUE, FALSE))
  expect_identical(is_known(factor(c("a", NA))), c(TRUE, FALSE))
  expect_identical(is_known(c(TRUE, NA)), c(TRUE, FALSE))
  expect_identical(is_known(as.Date(c("2025-01-01", NA))), c(TRUE, FALSE))
  expect_identical(is_known(c(1, NA, NaN, Inf)), c(TRUE, FALSE, FALSE, FALSE))
  expect_identical(is_known(c(1L, NA)), c(TRUE, FALSE))
})

test_that("a figure without some conditions says which", {
  words <- function(columns, dates) drop_words(list(all = FALSE, columns = columns, dates = dates))
  expect_identical(words("depot", FALSE), "without the conditions on depot")
  expect_identical(words("depot", TRUE),
    "without the conditions on depot and without limits of dates")
  expect_identical(drop_words(list(all = TRUE, columns = character(), dates = TRUE)),
    "without any condition and without limits of dates")
})
