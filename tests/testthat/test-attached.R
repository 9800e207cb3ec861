# Our names beside those of packages that analysts attach.

beside <- c("ggplot2", "scales", "stats", "graphics", "grDevices", "utils", "datasets", "methods", "base")

test_that("no exported name is one of the default packages', of ggplot2's or of scales'", {
  taken <- unlist(lapply(beside, getNamespaceExports))
  expect_identical(intersect(getNamespaceExports("drystack"), taken), character())
})

# A script that calls what is exported by its bare name; it says what it called.
calling_script <- function(attached) {
  c(
    paste0("suppressMessages(library(", attached, "))"),
    "ours <- getNamespaceExports('drystack')",
    "stopifnot(all(vapply(ours, function(n) identical(get(n), getExportedValue('drystack', n)), NA)))",
    "yard <- harrowgill()",
    "calendars <- list(fiscal = fiscal_calendar('July'), civil = civil_calendar())",
    "book <- daybook(yard$orders, date = ordered_on, calendars = calendars) |>",
    "  enrich(yard$customers, by = 'customer_id') |> work_out(net = amount - discount) |>",
    "  only(status != 'cancelled') |>",
    "  as_of('2026-09-18') |> within_dates(latest(4, quarter)) |> closing(14)",
    "base <- measures(sales = measure(sum(net), label = 'Net', format = money()))",
    "x <- rollup(book, by = c(depot, quarter), base, share = measure(share(sales), format = percentage()),",
    "  n = measure(count(), format = decimal(0)), totals = 'all',",
    "  sort = largest_first(sales), keep = keep_top(2, sales))",
    "y <- crosstab(book, depot, quarter, s = measure(sum(net), format = compact()),",
    "  sort = smallest_first(s))",
    "z <- listing(book, groups = depot, lines = c(ordered_on, net), s = measure(sum(net), format = plain()))",
    "h <- headlines(book, s = mtd(sum(net)))",
    "page <- report(title = 'T', x, y, figure(x), h)",
    "path <- tempfile(fileext = '.md')",
    "write_report(page, path)",
    "invisible(lapply(list(explain(x, 1, 'sales'), tie_out(x), check(book),",
    "  explain_plan(book, s = sum(net)), z), format))",
    "stopifnot(nrow(behind(x, 1, 'sales')) > 0, is_period(as_period(as.Date('2026-01-01'), 'month')),",
    "  file.exists(path))",
    # An error tells the calls that led to the package, and none within it.
    "asked <- function(book) rollup(book, by = yaer, s = sum(net))",
    "error <- tryCatch(asked(book), error = identity)",
    "heads <- vapply(error$trace$call, function(call) paste(deparse(call[[1L]]), collapse = ''), '')",
    "stopifnot(identical(tail(heads, 2L), c('asked', 'rollup')))",
    "cat('called')"
  )
}

test_that("every exported name is called as ours, whichever package is attached first", {
  for (attached in list(c(beside[1:8], "drystack"), c("drystack", beside[1:8]))) {
    script <- withr::local_tempfile(lines = calling_script(attached), fileext = ".R")
    told <- system2(file.path(R.home("bin"), "Rscript"), shQuote(script), stdout = TRUE, stderr = TRUE)
    expect_identical(utils::tail(told, 1L), "called")
  }
})
