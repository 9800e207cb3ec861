values <- function(expr, orders = few_orders(), env = rlang::caller_env()) {
  book <- daybook(orders, on)
  row_values(parse_row(rlang::enexpr(expr), book_vocabulary(book, env)), frame_view(engine_of(book)))
}

test_that("arithmetic, text and conditions are worked out row by row", {
  orders <- few_orders()
  expect_identical(values(amount * 2 - 1), orders$amount * 2 - 1)
  expect_identical(values(-amount), -orders$amount)
  expect_identical(values(greatest(amount, 25)), pmax(orders$amount, 25))
  expect_identical(values(toupper(trimws(depot))), toupper(orders$depot))
  expect_identical(values(ifelse(amount > 25, "big", "small")), ifelse(orders$amount > 25, "big", "small"))
  expect_identical(values(depot %in% c("Skelby", "Garrick")) %in% TRUE, orders$depot %in%
    c("Skelby", "Garrick"))
  expect_identical(values(if_known(depot, "?")), ifelse(is.na(orders$depot), "?", orders$depot))
})

test_that("a comparison with a missing value is not met", {
  expect_identical(values(depot == "Skelby"), c(TRUE, FALSE, TRUE, TRUE, NA, FALSE))
  expect_identical(values(depot != "Skelby"), c(FALSE, TRUE, FALSE, FALSE, NA, TRUE))
  lines <- function(condition) plain(rollup(only(daybook(few_orders(), on), !!condition), n = count()))$n
  expect_identical(lines(quote(!(depot == "Skelby"))), lines(quote(depot != "Skelby")))
  expect_identical(lines(quote(!(depot == "Skelby" | amount > 1e6))), 2)
  expect_identical(values(is.na(depot)), c(FALSE, FALSE, FALSE, FALSE, TRUE, FALSE))
})

test_that("a division by zero is unknown", {
  expect_identical(values(amount / (amount - 10)), c(NA, 2, 1.5, 40 / 30, 50.5 / 40.5, 5 / 15))
  expect_identical(values(10 %% 0), NA_real_)
})

test_that("text beside a date is read as a date", {
  expect_identical(values(on >= "2025-01-01"), few_orders()$on >= as.Date("2025-01-01"))
  expect_identical(values(on %in% "2024-02-29"), c(FALSE, TRUE, FALSE, FALSE, FALSE, FALSE))
  expect_raised(values(on > "yesterday"), "expression", "\"yesterday\"", "year-month-day")
})

test_that("in R a name may be a variable, and custom() calls a function", {
  limit <- 25
  expect_identical(values(amount > limit), few_orders()$amount > 25)
  expect_identical(values(custom(rev, amount)), rev(few_orders()$amount))
  expect_raised(values(custom(range, amount)), "expression", "one value for each order line")
  expect_raised(values(custom(stop, amount)), "expression", "cannot be worked out")
  expect_raised(values(amount > limit, env = NULL), "column", "limit")
  expect_raised(values(custom(rev, amount), env = NULL), "expression", "for R only")
})

test_that("an amount that is text is an error that names the rows in the way", {
  orders <- few_orders()
  orders$amount <- c("10", "20", "n/a", "40", "50.5", "12 t")
  expect_raised(values(amount * 2, orders), "amount", "\"amount\" is text", "\"n/a\", \"12 t\"", "rows 3, 6")
})

test_that("nothing outside the closed list is read, let alone run", {
  marker <- withr::local_tempfile()
  expect_raised(values(system("x")), "expression", "\"system\" is not among the known words")
  expect_raised(values(file.create(marker)), "expression", "file.create")
  expect_false(file.exists(marker))
  expect_raised(values(base::sum(amount)), "expression", "cannot be used here")
  expect_raised(values((function(x) x)(amount)), "expression", "cannot be used here")
  expect_raised(values(x <- 1), "expression", "\"<-\" is not among")
  expect_raised(values(amount[1]), "expression", "\"[\" is not among")
  expect_raised(values(amount$x), "expression", "\"$\" is not among")
  expect_raised(values(abs()), "expression", "takes 1 argument")
  expect_raised(values(round(1, 2, 3)), "expression", "has 3")
  expect_raised(values(c(amount, 1)), "expression", "constants only")
})

test_that("nesting has a limit", {
  deep <- Reduce(function(inner, i) call("abs", inner), seq_len(150L), quote(amount))
  book <- daybook(few_orders(), on)
  expect_raised(parse_row(deep, book_vocabulary(book)), "expression", "nested too deeply")
})

test_that("expressions are written back in one canonical form that reads as itself", {
  book <- daybook(few_orders(), on)
  texts <- c(
    "(amount + 1) * 2", "!(amount > 1 & is.na(depot))", "-amount",
    "depot %in% c(\"a\", \"b\")", "round(amount, 1)"
  )
  for (text in texts) {
    tree <- parse_row(str2lang(text), book_vocabulary(book))
    again <- parse_row(str2lang(tree_text(tree)), book_vocabulary(book))
    view <- frame_view(engine_of(book))
    expect_identical(row_values(again, view), row_values(tree, view))
    expect_identical(tree_text(again), tree_text(tree))
  }
})

test_that("several values stand to the right of %in% only, written out, named or put in", {
  book <- daybook(harrowgill()$orders, date = ordered_on)
  some <- c("web", "phone")
  counted <- function(book) plain(rollup(book, year, n = count()))
  written <- counted(only(book, channel %in% c("web", "phone")))
  expect_identical(counted(only(book, channel %in% some)), written)
  expect_identical(counted(only(book, channel %in% !!some)), written)
  expect_raised(only(book, channel == some), "expression", "one value for each", "2 at once", "%in%")
  expect_raised(only(book, channel == c("web", "phone")), "expression", "%in%")
  expect_raised(only(book, !(channel != !!some)), "expression", "!(channel %in% c")
  expect_raised(only(book, c("web", "phone") %in% channel), "expression", "2 at once")
  expect_raised(work_out(book, x = ifelse(paid, c(1, 2), 3)), "expression", "2 at once")
  expect_raised(rollup(book, year, s = sum(amount * c(1, 2))), "expression", "2 at once")
  expect_raised(rollup(book, year, s = sum(amount) * c(1, 2)), "expression")
  expect_raised(rollup(book, year, s = sum(amount, amount == c(1, 2))), "expression")
  told <- drystack("rollup", "--orders", harrowgill_path("orders.csv"), "--date",
    "ordered_on", "--by", "year", "--show", "n = count()",
    "--only", "channel == c(\"web\", \"phone\")")
  expect_identical(told$status, 1L)
  expect_match(paste(told$err, collapse = " "), "2 at once")
})
