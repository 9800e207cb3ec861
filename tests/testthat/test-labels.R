# What people read: labels of measures and axes, titles, conditions in words.

book <- daybook(few_orders(), date = on)

labels_of_table <- function(x) vapply(x$ask$measures, `[[`, "", "label", USE.NAMES = FALSE)

heads_of <- function(x) vapply(as_sheet(x)$columns, `[[`, "", "label")

test_that("a measure without a label is called by what a lens makes of another, else by its name", {
  x <- rollup(book, by = month, net_sales = sum(amount), ytd = ytd(net_sales), ly = prior(net_sales, year),
    ytd_ly = prior(ytd, year), g = growth(net_sales, year), last2 = moving(net_sales, 2),
    web = only(net_sales, depot == "Skelby"), part = share(net_sales), run = running(net_sales))
  expect_identical(labels_of_table(x), c("net sales", "net sales, year to date", "net sales a year before",
    "net sales, year to date, a year before", "growth on a year before", "net sales over 2 periods", "web",
    "share of net sales", "running net sales"))
  expect_identical(heads_of(x)[1:3], c("Month", "Net sales", "Net sales, year to date"))
  # The title leaves out what goes without saying; columns of data keep the names.
  expect_identical(as_sheet(x)$title, "Net sales and web by month")
  expect_named(as.data.frame(x)[1:3], c("month", "net_sales", "ytd"))
})

test_that("labels that would be the same are told apart, and a label given stays as it is", {
  x <- rollup(book, s = sum(amount), a1 = prior(s, year), a2 = prior(s, year), c = measure(ytd(s),
    label = "so far"))
  expect_identical(labels_of_table(x), c("s", "a1", "a2", "so far"))
  expect_identical(heads_of(x), c("S", "A1", "A2", "so far"))
  expect_identical(labels_of_table(rollup(book, s = measure(sum(amount), label = "Net sales"),
    l = prior(s, year))),
    c("Net sales", "Net sales a year before"))
  expect_identical(labels_of_table(rollup(book, sum(amount), by = depot)), "total amount")
})

test_that("an axis has a label, an order and a word for all its members", {
  x <- rollup(book, by = c(axis(depot, label = "Yard", total = "All yards", sort = largest_first(s)), year),
    s = sum(amount), totals = "all")
  sheet <- as_sheet(x)
  expect_identical(sheet$columns[[1L]]$label, "Yard")
  expect_identical(sheet$columns[[1L]]$text[sheet$role == "total"], "All yards")
  plain <- rollup(book, by = c(depot, year), s = sum(amount), totals = "all",
    sort = list(depot = largest_first(s)))
  expect_identical(as.data.frame(x), as.data.frame(plain))
  expect_identical(sheet$title, "S by Yard and year")
  across <- as_sheet(crosstab(book, rows = depot, cols = axis(year, total = "All years"), s = sum(amount),
    totals = "grand"))
  expect_identical(utils::tail(across$columns, 1L)[[1L]]$label, "All years")
  expect_raised(rollup(book, by = axis(), s = sum(amount)), "argument", "needs a column")
  expect_raised(rollup(book, by = axis(depott), s = sum(amount)), "column", "depot")
  expect_raised(rollup(book, by = axis(depot, labl = "x"), s = sum(amount)), "expression", "labl")
  expect_raised(rollup(book, by = axis(depot, sort = biggest(s)), s = sum(amount)), "expression")
})

test_that("columns are labelled for a whole daybook, on the command line and in a report too", {
  labelled <- label_columns(book, depot = "Yard", amount = "Value")
  expect_identical(heads_of(rollup(labelled, by = depot, s = sum(amount)))[1L], "Yard")
  expect_identical(heads_of(listing(labelled, lines = c(depot, amount), s = sum(amount))), c("Yard", "Value",
    "S"))
  expect_raised(label_columns(book, depott = "x"), "column", "depot")
  expect_raised(label_columns(book, "x"), "argument", "names of columns")
  expect_raised(label_columns(book, depot = 1), "argument")
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(few_orders(), file, row.names = FALSE)
  got <- drystack("rollup", "--orders", file, "--date", "on", "--by",
    "axis(depot, label = \"Yard, old\"),year",
    "--label", "depot=Not this", "--show", "s = sum(amount)")
  expect_match(paste(got$out, collapse = "\n"), "Yard, old +Year +S")
  got <- drystack("rollup", "--orders", file, "--date", "on", "--by", "depot", "--label", "depot=Yard",
    "--show",
    "s = sum(amount)", "--only", "\"large ones\" = amount > 5")
  expect_match(paste(got$out, collapse = "\n"), "S by Yard\nAs of [^\n]*large ones\n\nYard")
})

test_that("conditions are told by their names, else in words; how they are written is told once at the end", {
  x <- rollup(only(book, "without small ones" = amount > 5, depot %in% c("Skelby", "Thornmoor")),
    s = sum(amount))
  text <- format(x, width = 400L)
  expect_match(text[2L], "without small ones \u00b7 depot is Skelby or Thornmoor")
  end <- text[length(text)]
  expect_match(end, "1 line that does not meet \"without small ones\"", fixed = TRUE)
  expect_match(end, "Conditions: amount > 5 and depot %in% c(\"Skelby\", \"Thornmoor\").", fixed = TRUE)
  expect_identical(sum(grepl("amount > 5", text)), 1L)
  expect_match(paste(format(explain(x, 1L), width = 200L), collapse = " "),
    "where without small ones and depot is Skelby")
  # A name is no part of what a condition means.
  expect_identical(as.data.frame(x), as.data.frame(rollup(only(book, amount > 5,
    depot %in% c("Skelby", "Thornmoor")), s = sum(amount))))
})

test_that("members of a rollup are said once, their totals by name, and data files hold them all", {
  x <- rollup(book, by = c(depot, year), s = sum(amount), totals = "all")
  first <- as_sheet(x)$columns[[1L]]
  data <- as.data.frame(x)
  line <- data$.role == "line"
  same <- c(FALSE, line[-1L] & line[-length(line)] & data$depot[-1L] == data$depot[-length(line)])
  expect_identical(first$again, same %in% TRUE)
  expect_identical(read_text(first)[line & !first$again], data$depot[line & !first$again])
  expect_identical(first$text[data$.role == "subtotal"], paste("Total", data$depot[data$.role == "subtotal"]))
  expect_false(anyNA(data$depot[line]))
  repeated <- rollup(book, by = c(axis(depot, repeated = TRUE), year), s = sum(amount), totals = "all")
  expect_identical(read_text(as_sheet(repeated)$columns[[1L]])[line], data$depot[line])
  expect_raised(rollup(book, by = axis(depot, repeated = "yes"), s = sum(amount)), "argument",
    "TRUE or FALSE")
})

test_that("parts of the year and the day are called as people say them", {
  title <- function(...) as_sheet(rollup(book, ..., s = sum(amount)))$title
  expect_identical(title(c(day_of_week, month_of_year)), "S by day of week and month of the year")
})

figure_labels <- function(x) {
  stats::na.omit(ggplot2::ggplot_build(figure(x, kind = "periods"))$layout$panel_params[[1L]]$x$get_labels())
}

test_that("periods are called by a template of the axis, in order of time and in the language of their calendar", {
  german <- daybook(few_orders(), date = on, calendars = fiscal_calendar("July", language = "de"))
  x <- rollup(german, by = axis(month, label = c("Monat", "{month_name} {civil_year}")), s = sum(amount))
  plain <- rollup(german, by = month, s = sum(amount))
  starts <- start_of(as.data.frame(plain)$month)
  expect_identical(format(as.data.frame(x)$month), paste(month_words$de$name[as.integer(format(starts,
    "%m"))],
    format(starts, "%Y")))
  expect_identical(as.data.frame(x)$s, as.data.frame(plain)$s)
  expect_identical(heads_of(x)[1L], "Monat")
  across <- crosstab(german, rows = depot, cols = axis(month, label = "{Mon} {year}"), s = sum(amount))
  expect_match(names(as.data.frame(across))[2L], "^[A-Z].* 20[0-9]{2}$")
  expect_match(figure_labels(x), month_words$de$name[as.integer(format(starts[1L], "%m"))], all = FALSE)
  expect_match(paste(format(rollup(german, by = axis(month, label = "{Mon}"), s = sum(amount))),
    collapse = " "), "Jan")
  expect_raised(rollup(german, by = axis(month, label = "{months}"), s = sum(amount)), "argument",
    "no part", "month")
  expect_raised(rollup(german, by = axis(month, label = c("a", "b")), s = sum(amount)), "argument",
    "heading of the axis")
})

test_that("what was said is written again in full, however long it is", {
  x <- rollup(book, by = month, a = only(sum(amount),
    amount > -1000 & amount < 1000000 & depot %in% c("Skelby", "Garrick",
    "Thornmoor") & !is.na(amount) & depot != "none of these"))
  text <- tree_text(x$ask$measures$a$tree)
  again <- rollup(book, by = month, a = !!str2lang(text))
  expect_identical(as.data.frame(again)$a, as.data.frame(x)$a)
  expect_no_match(text, "...", fixed = TRUE)
})
