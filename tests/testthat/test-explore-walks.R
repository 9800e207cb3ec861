# Random walks: acts drawn from what the sentence itself offers. Every state is an ask that runs or a
# typed error, undo gives the one before, and what it becomes elsewhere gives the same table.

same_table <- function(a, b) expect_identical(as.data.frame(a), as.data.frame(b))

by_r <- function(text, book) {
  env <- new.env(parent = asNamespace("drystack"))
  env$book <- book
  eval(parse(text = text, keep.source = FALSE), env)
}

table_by_command <- function(text) {
  out <- withr::local_tempfile(fileext = ".csv")
  status <- suppressMessages(run_command(c(shell_words(text), "--out", out)))
  expect_identical(status, 0L)
  readLines(out)
}

table_by_report <- function(text) {
  folder <- withr::local_tempdir()
  writeLines(text, file.path(folder, "r.yml"))
  build_report(file.path(folder, "r.yml"), out = folder, formats = "csv", outside = TRUE)
  readLines(file.path(folder, "r.csv"))
}

as_csv <- function(table) {
  out <- withr::local_tempfile(fileext = ".csv")
  write_report(table, out)
  readLines(out)
}

expect_same_elsewhere <- function(seen, where) {
  texts <- explored_texts(seen)
  # A calendar that the daybook does not have is said where the daybook is made; no command makes braces.
  if (!startsWith(texts$r, "#")) {
    there <- rlang::try_fetch(by_r(texts$r, seen$base$book), drystack_error_figure = function(e) e)
    # Without rows there is nothing to draw, there as here.
    if (inherits(there, "error")) {
      expect_identical(nrow(seen$table), 0L, label = where)
    } else if (!inherits(there, "ggplot")) {
      expect_identical(as.data.frame(there), as.data.frame(seen$table), label = where)
    }
  }
  here <- as_csv(seen$table)
  expect_identical(table_by_command(texts$command), here, label = where)
  if (!startsWith(texts$report, "#")) expect_identical(table_by_report(texts$report), here, label = where)
}

test_that("walks keep the laws of the state", {
  base <- explored_orders()
  made <- new.env()
  kinds <- character()
  elsewhere <- 0L
  for (walk in seq_len(trials(200L))) {
    withr::local_seed(7000L + walk)
    state <- new_state(base$ask)
    seen <- explored_seen(state$now$ask, base, made)
    for (step in 1:10) {
      act <- random_act(seen)
      after <- rlang::try_fetch(after_act(state, act), drystack_error = function(e) NULL)
      if (is.null(after)) next
      if (!act$do %in% c("undo", "redo") && !identical(after$now, state$now)) {
        expect_identical(after_act(after, list(do = "undo"))$now, state$now)
      }
      expect_identical(ask_from(jsonlite::fromJSON(jsonlite::toJSON(after$now$ask, auto_unbox = TRUE),
        simplifyVector = FALSE)), after$now$ask)
      now <- explored_seen(after$now$ask, base, made)
      expect_true(!is.null(now$table) || inherits(now$error, "drystack_error"))
      expect_true(all(nzchar(unlist(drawn_ask(now)[c("sentence", "title", "address")]))))
      if (is.null(now$table) && stats::runif(1L) < 0.7) next
      state <- after
      seen <- now
    }
    kinds <- c(kinds, seen$ask$kind)
    # Tables of many cells take long to write and say no more.
    if (is.null(seen$table) || length(seen$table$role) * length(seen$table$figures) > 3000L) next
    expect_same_elsewhere(seen, paste("walk", walk, address_of(seen$ask)))
    elsewhere <- elsewhere + 1L
  }
  expect_gt(elsewhere, trials(200L) * 0.3)
})

test_that("listings, headlines and figures that are only spoken of are the same elsewhere", {
  base <- explored_orders()
  asks <- list(
    list(list(do = "set", key = "kind", value = "listing"), list(do = "set_axis", side = "rows", at = 1L,
      axis = "depot"),
      list(do = "add_axis", side = "lines", axis = "order_id"), list(do = "add_axis", side = "lines",
        axis = "channel"),
      list(do = "limit", column = "customer_id", members = list("\"C1707\""))),
    list(list(do = "set", key = "kind", value = "headlines"), list(do = "set_measure", at = 1L,
      text = "mtd(sum(amount))"),
      list(do = "clear", part = "rows")),
    list(list(do = "add_measure", text = "growth(amount, year)", name = "growth"), list(do = "drop_measure",
      at = 1L)),
    list(list(do = "set_measure", at = 1L, label = "Net \"sales\"", format = "money(\"\u00a3\", digits = 0)"),
      list(do = "add_axis", side = "rows", axis = "region", at = 1L), list(do = "set", key = "totals",
        value = "all"),
      list(do = "set_rule", rule = "keep", axis = "region",
        text = "keep_top(2, amount, others = \"the rest\")")),
    list(list(do = "other_side", side = "rows", at = 1L), list(do = "add_axis", side = "rows",
      axis = "civil$quarter"),
      list(do = "set", key = "totals", value = "rows=grand,cols=none"), list(do = "set", key = "calendar",
        value = "civil"))
  )
  for (acts in asks) {
    seen <- explored_seen(Reduce(after_act, acts, new_state(base$ask))$now$ask, base, new.env())
    expect_null(seen$error)
    expect_same_elsewhere(seen, address_of(seen$ask))
  }
})
