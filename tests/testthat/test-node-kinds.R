# One expression or more of every word that a measure may use: what holds of all of them, whatever kinds
# of nodes they are made of.

book <- daybook(harrowgill()$orders, ordered_on, calendars = list(
  fiscal = fiscal_calendar("July"), civil = civil_calendar()))
book <- as_of(alongside(book, targets = daybook(harrowgill()$targets, order_month)), "2026-05-20")

expressions <- c(
  "sum(amount)", "count()", "count(depot)", "distinct(order_id)", "mean(quantity)", "median(amount)",
  "quantile(amount, 0.9)", "min(ordered_on)", "max(amount)", "sd(amount)", "var(amount)", "first(channel)",
  "last(amount)", "most_common(depot)", "weighted_mean(amount, quantity)", "custom(mean, amount)",
  "mean(each(month, sum(amount)))", "max(each(order_id, count()))",
  "mean(each(day, sum(amount), days = \"all\"))",
  "longest(each(month, sum(amount) > 0))", "quantile(each(week, sum(amount)), 0.25)",
  "ytd(sum(amount))", "htd(count())", "qtd(sum(amount), civil)", "mtd(sum(amount))", "wtd(sum(amount))",
  "so_far(sum(amount), civil$quarter)", "current(sum(amount), quarter)", "whole(sum(amount), year)",
  "prior(ytd(sum(amount)), year, 2)", "prior(sum(amount), year, match = \"weekday\")",
  "running(sum(amount))", "running(sum(amount), year)",
  "running(sum(amount), along = depot)", "running(sum(amount), along = depot, from = \"end\")",
  "moving(sum(amount), 3, month)", "moving(sum(amount), 3, month, using = median)",
  "change(sum(amount), year)", "growth(sum(amount), year)", "index(sum(amount), \"FY2026\")",
  "of(targets, sum(target))", "ytd(of(targets, sum(target)))", "days_left(month)",
  "days_left(quarter, trading = TRUE)", "outlook(sum(amount), month)",
  "outlook(sum(amount), year, by = \"last year\")",
  "effect(sum(amount), over = depot, to = year, part = \"new\")",
  "effect(sum(amount), sum(quantity), over = product_id, to = year, part = \"mix\")",
  "only(sum(amount), channel == \"web\" & !is.na(depot))", "regardless(sum(amount), depot)",
  "regardless(sum(amount), all)", "on(sum(amount), shipped_on)",
  "overall(sum(amount))", "overall(sum(amount), within = depot)", "overall(mean(amount), using = mean)",
  "share(sum(amount))", "share(sum(amount), of = \"parent\")", "rank(sum(amount))",
  "rank(sum(amount), from = \"smallest\")", "occurrences()", "occurrences(month)",
  "open_at(count(), from = ordered_on, until = shipped_on, older = 7)", "alike(sum(amount), depot, year)",
  "median(gaps(ordered_on))", "as_of - as.Date(\"2026-01-01\")", "sum(amount) + count()", "-sum(amount)",
  "2 * sum(amount) / (count() - 1)", "sum(amount) ^ 2", "sum(amount) < 1", "sum(amount) <= 1 | count() >= 2",
  "count() == 3 & count() != 4", "!(sum(amount) > 0)", "abs(sum(amount))", "round(sum(amount), 2)",
  "or_zero(sum(amount))", "if_known(sum(amount), 0)", "least(sum(amount), 5)",
  "greatest(sum(amount), count())"
)

words_in <- function(expression) all.names(str2lang(expression))
tree_of <- function(expression) {
  parse_measure(str2lang(expression), book_vocabulary(book, globalenv(), axes = c("depot", "year")))
}
kinds_in <- function(tree) unique(tree_collect(tree, function(one) one$kind))

test_that("no word of measures is missing here", {
  expect_identical(setdiff(measure_words(), unlist(lapply(expressions, words_in))), character())
})

test_that("each kind of node has its record, is traced, and what it becomes is worked out", {
  trees <- lapply(expressions, tree_of)
  kinds <- unique(c("named", unlist(lapply(trees, kinds_in))))
  expect_setequal(names(node_kinds()), c(kinds, "column", "custom"))
  expect_setequal(names(tracers()), setdiff(names(node_kinds()), c("column", "custom")))
})

test_that("what is written of a measure is the same measure when it is read again", {
  for (expression in expressions) {
    tree <- tree_of(expression)
    expect_identical(tree_key(tree_of(tree_text(tree))), tree_key(tree), label = expression)
    words <- measure_in_words(tree)
    expect_true(rlang::is_string(words) && nzchar(words), label = expression)
  }
})

test_that("every measure is explained step by step in words, arithmetic by its parts", {
  measures <- stats::setNames(lapply(expressions, str2lang), paste0("x", seq_along(expressions)))
  table <- rlang::inject(rollup(book, by = c(year, depot), !!!measures))
  for (name in names(measures)) {
    steps <- explain(table, 2L, name)$steps
    expect_identical(steps$expression[1L], tree_text(tree_of(expressions[[match(name, names(measures))]])))
    unworded <- steps$expression[steps$words == ""]
    expect_in_set(vapply(unworded, function(e) tree_of(e)$kind, ""), "call")
  }
})
