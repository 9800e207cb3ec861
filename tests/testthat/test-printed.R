# What readers see, held as text: tables with their notes, explanations, findings, errors and help.
# Figures are held by the oracles of the other tests.
yard_book <- function() {
  yard <- harrowgill()
  daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
    enrich(yard$customers, by = "customer_id") |>
    work_out(net = amount - discount) |>
    only(status != "cancelled") |>
    within_dates(latest(4, quarter))
}

test_that("tables are printed with their title, facts, figures and notes", {
  withr::local_options(cli.num_colors = 1L, width = 110L)
  book <- yard_book()
  expect_snapshot({
    rollup(book, c(depot, quarter), sales = sum(net), ly = prior(sales, year),
      growth = growth(sales, year), part = share(sales, within = quarter), totals = "all")
    rollup(book, month_of_year, days = mean(each(day, sum(net))), sort = largest_first(days))
    crosstab(book, depot, quarter, sales = measure(sum(net), format = compact()), totals = "all")
    listing(within_dates(book, "2026-08-28", "2026-08-31"), depot, c(order_id, net), n = count())
    headlines(book, sales = mtd(sum(net)), unpaid = only(sum(net), !paid))
  })
})

test_that("explanations, plans, proofs and findings are printed", {
  withr::local_options(cli.num_colors = 1L, width = 110L)
  book <- yard_book()
  x <- rollup(book, c(depot, quarter), sales = sum(net), ytd_ly = prior(ytd(sales), year), totals = "grand")
  expect_snapshot({
    explain(x, 1, "ytd_ly")
    tie_out(x)
    explain_plan(book, sales = sum(net), ytd_ly = prior(ytd(sales), year))
    book
    check(book)
    look_at(harrowgill()$orders)
    fiscal_calendar("July")
    measures(sales = measure(sum(net), label = "Net sales", format = money("\u00a3", digits = 0)))
  })
})

test_that("errors say what is wrong, where, and how to mend it", {
  withr::local_options(cli.num_colors = 1L, width = 110L)
  book <- yard_book()
  expect_snapshot(error = TRUE, rollup(book, depo, sales = sum(net)))
  expect_snapshot(error = TRUE, rollup(book, depot, sales = summ(net)))
  expect_snapshot(error = TRUE, rollup(book, depot, sales = sum(depot)))
  expect_snapshot(error = TRUE, rollup(book, depot, sales = prior(sum(net), fortnight)))
  expect_snapshot(error = TRUE, rollup(book, depot))
  expect_snapshot(error = TRUE, only(book, statu == "sent"))
  expect_snapshot(error = TRUE, rollup(within_dates(book, from = "2027-01-01"), month, s = sum(net)))
  expect_snapshot(error = TRUE, as_of(book, "31/08/2026"))
  expect_snapshot(error = TRUE, week_calendar("4-4"))
  expect_snapshot(error = TRUE, daybook(data.frame(d = "12/11/2026", x = 1), d))
})

test_that("the help of every command is as it was read", {
  for (command in names(commands())) expect_snapshot(run_command(c(command, "--help")))
})

# The constant texts of some code that read as words of a sentence.
sentences_of <- function(said) {
  if (is.character(said)) {
    words <- grepl("[A-Za-z]+[ ,:]+[a-z]+[ ,:]+[a-z]+[ ,:]+[a-z]+", said)
    return(said[words & !grepl("SELECT|FROM |CASE |<[a-z/]|[;{]\\s*$", said)])
  }
  parts <- if (is.call(said) || is.pairlist(said)) as.list(said)
  unlist(lapply(parts, function(part) if (!missing(part)) sentences_of(part)))
}

test_that("what messages, notes and help say in the code is as it was read", {
  space <- asNamespace("drystack")
  names <- sort(ls(space, all.names = TRUE), method = "radix")
  sentences <- unlist(lapply(names, function(name) {
    one <- space[[name]]
    said <- if (is.function(one)) unique(sentences_of(body(one)))
    if (length(said) > 0L) paste0(name, ": ", said)
  }))
  expect_gt(length(sentences), 1000L)
  expect_snapshot(writeLines(sentences))
})
