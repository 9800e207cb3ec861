# The explorer's state: acts make states of states, and every state is an ask that runs or a typed error.

test_that("an ask begins with what seems to be the amount, and takes the daybook's own limits", {
  base <- explored_orders()
  expect_identical(base$ask$measures[[1L]]$text, "sum(amount)")
  expect_identical(base$ask$rows, "month")
  book <- base$book |> only(channel == "web", status != "cancelled") |> as_of("2026-08-31") |>
    within_dates(from = "2026-01-01") |> closing(after = 14)
  own <- explore_base(book)
  expect_identical(own$ask$only, c("channel == \"web\"", "status != \"cancelled\""))
  expect_identical(own$ask[c("as_of", "from", "latest", "closed_after")],
    list(as_of = "2026-08-31", from = "2026-01-01", latest = "", closed_after = "14"))
  expect_identical(length(own$book$scope), 0L)
  # A condition with an R function has no text that means the same: it stays with the daybook.
  long <- function(x) nchar(x) > 4
  kept <- explore_base(only(base$book, custom(long, channel), channel == "web"))
  expect_identical(kept$ask$only, "channel == \"web\"")
  expect_identical(length(kept$book$scope), 1L)
})

test_that("the asked-for table of everyday work comes of eight acts", {
  base <- explored_orders()
  seen <- seen_after(base,
    list(do = "work_out", text = "net = amount - discount"),
    list(do = "set_measure", at = 1L, text = "sum(net)", name = "net_sales"),
    list(do = "set_axis", side = "rows", at = 1L, axis = "region"),
    list(do = "add_axis", side = "cols", axis = "quarter"),
    list(do = "limit", column = "channel", members = list("\"web\"")),
    list(do = "set_rule", rule = "sort", axis = "region", text = "largest_first(net_sales)"),
    list(do = "add_measure", text = "share(net_sales, of = \"column\")", name = "share"),
    list(do = "set_dates", latest = "4 quarter"))
  expected <- base$book |> work_out(net = amount - discount) |> only(channel == "web") |>
    within_dates(latest(4, quarter)) |>
    crosstab(rows = region, cols = quarter, net_sales = sum(net), share = share(net_sales, of = "column"),
      sort = list(region = largest_first(net_sales)))
  expect_null(seen$error)
  expect_identical(as.data.frame(seen$table), as.data.frame(expected))
})

test_that("undo gives the state before, redo the one after, and nothing done leaves no trace", {
  base <- explored_orders()
  one <- state_of(base)
  two <- after_act(one, list(do = "add_axis", side = "rows", axis = "region"))
  expect_identical(after_act(two, list(do = "undo"))$now, one$now)
  expect_identical(after_act(after_act(two, list(do = "undo")), list(do = "redo"))$now, two$now)
  expect_identical(after_act(two, list(do = "add_axis", side = "rows", axis = "region")), two)
  expect_identical(after_act(one, list(do = "undo")), one)
})

test_that("what is dropped takes with it what spoke of it, and no more", {
  base <- explored_orders()
  state <- state_of(base,
    list(do = "add_axis", side = "rows", axis = "region", at = 1L),
    list(do = "add_measure", text = "growth(amount, year)", name = "growth"),
    list(do = "set_rule", rule = "sort", axis = "region", text = "largest_first(growth)"),
    list(do = "set_rule", rule = "keep", axis = "region", text = "keep_top(2, amount)"))
  ask <- after_act(state, list(do = "drop_measure", at = 2L))$now$ask
  expect_identical(length(ask$measures), 1L)
  expect_identical(ask$sort, list())
  expect_identical(names(ask$keep), "region")
  # A figure that another is worked out from stays unseen, and goes with that one.
  hidden <- after_act(state, list(do = "drop_measure", at = 1L))
  expect_true(hidden$now$ask$measures[[1L]]$hidden)
  hidden <- after_act(hidden, list(do = "set_rule", rule = "keep", axis = "region", text = ""))
  expect_identical(after_act(hidden, list(do = "drop_measure", at = 2L))$now$ask$measures, list())
  expect_identical(after_act(state, list(do = "drop_axis", side = "rows", at = 1L))$now$ask$sort, list())
  worked <- state_of(base, list(do = "work_out", text = "size = banded(amount, c(0, 100))", side = "rows"))
  expect_identical(worked$now$ask$rows, c("month", "size"))
  expect_identical(after_act(worked, list(do = "drop_axis", side = "rows", at = 2L))$now$ask$work_out, list())
})

test_that("members limit, are left out, and come back", {
  base <- explored_orders()
  limit <- function(...) seen_after(base, list(do = "limit", column = "channel", ...))
  of <- function(seen) sum(seen$table$figures[[1L]])
  lines <- function(...) {
    seen_after(base, list(do = "set_measure", at = 1L, text = "count()", name = "lines"), list(do = "limit",
      column = "channel", ...))
  }
  all <- of(seen_after(base, list(do = "set_measure", at = 1L, text = "count()", name = "lines")))
  web <- of(lines(members = list("\"web\"")))
  expect_identical(of(lines(members = list("\"web\""), except = TRUE)), all - web)
  expect_identical(of(lines(members = list("\"web\""), none = TRUE)), web)
  expect_identical(limit(members = list("\"web\""))$ask$only, "channel == \"web\"")
  again <- after_act(state_of(base, list(do = "limit", column = "channel", members = list("\"web\""))),
    list(do = "limit", column = "channel", members = list("\"phone\"", "\"web\"")))
  expect_identical(again$now$ask$only, "channel %in% c(\"phone\", \"web\")")
  expect_identical(after_act(again, list(do = "limit", column = "channel", members = list()))$now$ask$only,
    character())
})

test_that("limits are read from their text as they were written", {
  limits <- list(
    list(column = "a", members = "\"x\"", none = FALSE, except = FALSE),
    list(column = "odd name", members = c("\"x\"", "\"say \\\"y\\\"\""), none = TRUE, except = FALSE),
    list(column = "a", members = c("1", "2.5"), none = FALSE, except = TRUE),
    list(column = "a", members = character(), none = TRUE, except = TRUE),
    list(column = "a", members = c("TRUE"), none = TRUE, except = TRUE),
    list(column = "d", members = "as.Date(\"2026-01-05\")", none = FALSE, except = FALSE)
  )
  for (limit in limits) expect_identical(limit_said(limit_text(limit)), limit)
  for (text in c("a > 3", "a == b", "a == \"x\" & b == \"y\"", "!a", "a %in% b", "f(a)",
    "a == \"x\" | !is.na(a)")) {
    expect_null(limit_said(text))
  }
})

test_that("acts of the wrong kind are typed errors and change nothing", {
  base <- explored_orders()
  state <- state_of(base)
  wrong <- list(
    list(do = "no_such"), list(do = 1), list(do = "drop_axis", side = "rows", at = 7L),
    list(do = "drop_axis", side = "sideways", at = 1L), list(do = "set", key = "system", value = "x"),
    list(do = "set", key = "kind", value = "pie"), list(do = "add_condition", text = "a = = b"),
    list(do = "limit", column = "channel", members = list("system('id')")), list(do = "move_axis",
      side = "rows", at = 1, to = 3),
    list(do = "add_measure", text = strrep("x", 20000L)), list(do = "open", ask = list(kind = "table",
      evil = "x")),
    list(do = "clear", part = "disk"), list(do = "read_as", reading = list(system = "x")),
    list(do = "set_rule", rule = "sort", axis = "region"), list(do = "limit", column = "channel",
      members = as.list(rep("\"x\"", 5000L)))
  )
  for (act in wrong) expect_error(after_act(state, act), class = "drystack_error")
  # What can be said but not asked is an error of the ask, told where the table would stand.
  for (text in c("sum(nothing)", "sum(region)", "system(\"id\")", "prior(amount, day)")) {
    seen <- seen_after(base, list(do = "add_measure", text = text))
    expect_s3_class(seen$error, "drystack_error")
    expect_null(seen$table)
    expect_match(drawn_ask(seen)$error, "<p class=\"wrong\">")
  }
})

test_that("an address holds an ask, and a broken or foreign one is a typed error", {
  base <- explored_orders()
  state <- state_of(base, list(do = "add_axis", side = "rows", axis = "region"),
    list(do = "limit", column = "channel", members = list("\"w\u00e9b\"")),
    list(do = "set_rule", rule = "keep", axis = "region", text = "keep_top(2, amount)"))
  for (ask in list(state$now$ask, empty_ask(), base$ask)) expect_identical(ask_of_address(address_of(ask)),
    ask)
  address <- address_of(state$now$ask)
  encoded <- function(text) jsonlite::base64url_enc(charToRaw(text))
  broken <- c("", "x", substr(address, 1L, nchar(address) - 7L), "!!!!", encoded("[1,2]"),
    encoded("{\"evil\":1}"),
    encoded("{\"kind\":\"pie\"}"), encoded("{\"rows\":[1]}"), encoded("{\"measures\":[\"x\"]}"),
      encoded("{\"sort\":[\"x\"]}"),
    encoded("{\"complete\":\"yes\"}"), encoded("{\"latest\":[\"a\",\"b\"]}"), strrep("A", 300000L))
  for (text in broken) expect_error(ask_of_address(text), class = "drystack_error_address")
})

test_that("a figure that is there already is shown, not added once more", {
  base <- explored_orders()
  growth <- list(do = "add_measure", text = "growth(amount, year)", name = "growth")
  once <- state_of(base, growth)
  expect_identical(after_act(once, growth), once)
  n <- length(once$now$ask$measures)
  hidden <- after_act(once, list(do = "set_measure", at = n, hidden = TRUE))
  shown <- after_act(hidden, growth)
  expect_identical(shown$now, once$now)
  named <- after_act(once, list(do = "add_measure", text = "again = growth(amount, year)"))
  expect_length(named$now$ask$measures, n + 1L)
})

test_that("an address names the report whose orders it asks, by a plain name only", {
  folder <- yard_folder()
  app <- explore_app(opened_book(daybook(few_orders(), on)), new_guard("127.0.0.1", 4001), folder)
  first <- app$opened$state
  opened <- after_act(first, act_prepared(app, list(do = "open_report", report = "monthly.yml", page = "no")))
  expect_identical(opened$now$report, "monthly.yml")
  expect_match(opened$now$page$title, "Sales of Harrowgill Stone Yard to")
  expect_identical(after_act(opened, list(do = "undo"))$now, first$now)
  expect_gt(base_of(app, opened$now)$book$rows, base_of(app, first$now)$book$rows)
  address <- address_of(opened$now$ask, "monthly.yml")
  again <- after_act(first, act_prepared(app, list(do = "open", address = address)))
  expect_identical(again$now[c("ask", "report")], opened$now[c("ask", "report")])
  expect_identical(again$now$page, first$now$page)
  for (name in c("../monthly.yml", "monthly", "/etc/passwd", "orders.csv", ".yml")) {
    for (act in list(list(do = "open_report", report = name),
      list(do = "open", address = address_of(first$now$ask, name)))) {
      expect_error(act_prepared(app, act), class = "drystack_error_output")
    }
  }
  expect_raised(act_prepared(app, list(do = "open_report", report = "month.yml")), "standing", "monthly.yml")
  # One that is broken, or leads out of the folder, is told and opens nothing.
  writeLines("page: [", file.path(folder, "broken.yml"))
  writeLines(c("drystack: 1", "title: x", "orders: {file: ../gone.csv, date: on}", "page: []"),
    file.path(folder, "outside.yml"))
  for (name in c("broken.yml", "outside.yml")) {
    expect_error(act_prepared(app, list(do = "open_report", report = name)),
      class = "drystack_error_standing")
  }
  # A report that was written since is read anew.
  lines <- readLines(file.path(folder, "monthly.yml"))
  writeLines(sub("^title: .*", "title: Another", lines), file.path(folder, "monthly.yml"))
  changed <- after_act(first, act_prepared(app, list(do = "open_report", report = "monthly.yml")))
  expect_identical(changed$now$page$title, "Another")
})

test_that("a page gathers asks, in an order of one's own", {
  base <- explored_orders()
  state <- state_of(base, list(do = "add_block"), list(do = "set_axis", side = "rows", at = 1L,
    axis = "region"),
    list(do = "add_block", as = "figure", label = "Regions"), list(do = "move_block", at = 2L, to = 1L),
    list(do = "title_page", title = "August"))
  page <- state$now$page
  expect_identical(vapply(page$blocks, `[[`, "", "as"), c("figure", "table"))
  expect_identical(after_act(state, list(do = "show_block", at = 2L))$now$ask$rows, "month")
  report <- explored_report(page, base, new.env())
  expect_identical(report$title, "August")
  expect_identical(report$labels, c("Regions", ""))
  expect_identical(length(after_act(state, list(do = "drop_block", at = 1L))$now$page$blocks), 1L)
  expect_error(explored_report(empty_page(), base, new.env()), class = "drystack_error_act")
})

test_that("a page has texts, blocks side by side, and a look of its own", {
  base <- explored_orders()
  state <- state_of(base, list(do = "add_block"), list(do = "add_block", as = "text",
    text = "Seen by the yard."),
    list(do = "add_block", as = "figure"), list(do = "set_block", at = 3L, beside = TRUE),
    list(do = "set_page", key = "orientation", value = "landscape"))
  page <- state$now$page
  report <- explored_report(page, base, new.env())
  expect_identical(report$look$orientation, "landscape")
  expect_length(report$parts, 2L)
  expect_s3_class(report$parts[[2L]], "drystack_beside")
  expect_identical(report$parts[[2L]]$parts[[1L]], "Seen by the yard.")
  expect_error(after_act(state, list(do = "show_block", at = 2L)), class = "drystack_error_act")
  expect_error(after_act(state, list(do = "set_block", at = 2L, as = "figure")), class = "drystack_error_act")
  expect_error(after_act(state, list(do = "set_page", key = "paper", value = "A5")))
  expect_error(after_act(state, list(do = "set_page", key = "asked", value = "x")))
  again <- after_act(state, list(do = "set_block", at = 2L, text = "{as_of}"))
  expect_error(standing_lines(explored_report(again$now$page, base, new.env()), ".", "o.csv"),
    class = "drystack_error_standing")
})

test_that("a report that is opened is saved with all it had: texts, marks, bars, rows, looks", {
  reports <- setdiff(names(demo_reports()), "customer-statement")
  folder <- yard_folder(reports)
  text_of <- function(file) {
    built <- build_report(file, list(as_of = "2026-08-31"), file.path(folder, "out"), "txt")
    readLines(built$files, encoding = "UTF-8")
  }
  for (name in reports) {
    file <- file.path(folder, paste0(name, ".yml"))
    opened <- opened_report(file)
    page <- opened$state$now$page
    base <- explore_base(opened$open(list()))
    again <- file.path(folder, "again.yml")
    writeLines(standing_lines(explored_report(page, base, new.env()), folder, ask = intersect(page$asked,
      "as_of"), braced = page$braced), again)
    said <- function(lines) grep("^Built with", lines, value = TRUE, invert = TRUE)
    expect_identical(said(text_of(again)), said(text_of(file)), label = name)
  }
})
