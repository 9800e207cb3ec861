# What the parts of the sentence say and offer, and what a place of the table answers.

test_that("the sentence says what is asked, in words", {
  base <- explored_orders()
  expect_identical(faces_of(seen_after(base))[1:6],
    c("amount", "month", "nothing", "all orders", "the last 12 months", "18 September 2026"))
  seen <- seen_after(base,
    list(do = "limit", column = "channel", members = list("\"web\"", "\"phone\"")),
    list(do = "limit", column = "status", members = list("\"cancelled\""), except = TRUE),
    list(do = "add_condition", text = "amount > 100 & !paid"),
    list(do = "add_measure", text = "regardless(share(amount), channel)", name = "part"),
    list(do = "add_measure", text = "distinct(customer_id)", name = "customers"),
    list(do = "set_dates", from = "2026-01-01", to = "2026-03-31"))
  faces <- faces_of(seen)
  for (words in c("channel is web or phone", "status is not cancelled", "amount is over 100 and not paid",
    "part", "customers", "1 January 2026 to 31 March 2026")) {
    expect_true(words %in% faces, label = words)
  }
  # Each condition tells how many lines are left after it; a figure that disregards one says which.
  lines <- base$book |> only(channel %in% c("web", "phone"))
  marks <- unlist(lapply(explored_sentence(seen), function(phrase) vapply(phrase$parts, `[[`, "", "mark")))
  all <- engine_of(base$book)$rows - base$book$undated
  expect_true(paste(format_count(sum(harrowgill()$orders$channel %in% c("web", "phone") &
    !is.na(harrowgill()$orders$ordered_on))), "lines") %in% marks)
  expect_true("whatever the channel" %in% marks)
  many <- seen_after(base, list(do = "limit", column = "product_id",
    members = as.list(paste0("\"P", 101:130, "\""))))
  expect_true("product id is P101, P102, P103 or 27 more" %in% faces_of(many))
})

test_that("members stand in the list with their figure, those without orders too", {
  base <- explored_orders()
  state <- list(list(do = "limit", column = "depot", members = list("\"Garrick\"")),
    list(do = "limit", column = "channel", members = list("\"web\"")))
  seen <- rlang::exec(seen_after, base, !!!state)
  menu <- explored_menu(seen, list(menu = "only", at = 1L))
  expect_identical(menu$multi$column, "depot")
  notes <- stats::setNames(vapply(items_of(menu), `[[`, "", "note"), labels_of(menu))
  expected <- rollup(base$book |> only(channel == "web") |> within_dates(latest(12, month)), by = depot,
    amount = sum(amount))
  expect_identical(unname(notes[as.character(expected$axes$depot)]), as_sheet(expected)$columns[[2L]]$text)
  expect_true(all(members(engine_of(base$book), dimension_axis("depot",
    base$book$columns[["depot"]]))$members %in% names(notes)))
  none <- seen_after(base, list(do = "add_condition", text = "region == \"Coast\" & amount > 0"))
  menu <- explored_menu(none, list(menu = "members", column = "region"))
  notes <- stats::setNames(vapply(items_of(menu), `[[`, "", "note"), labels_of(menu))
  expect_identical(names(notes)[notes != "no orders"], "Coast")
  expect_identical(unname(notes["Vale"]), "no orders")
})

test_that("of very many members the first are shown, and searching finds the others", {
  many <- data.frame(on = as.Date("2026-01-01") + (0:199999 %% 365), who = sprintf("buyer %06d", 0:199999),
    amount = 1)
  base <- explore_base(daybook(many, on))
  seen <- explored_seen(base$ask, base, new.env())
  menu <- explored_menu(seen, list(menu = "members", column = "who"))
  expect_identical(length(items_of(menu)), most_items)
  expect_equal(menu$more, 200000 - most_items)
  found <- explored_menu(seen, list(menu = "members", column = "who", search = "BUYER 19999"))
  expect_identical(length(items_of(found)), 12L)
  expect_equal(found$more, 0)
})

test_that("a table too wide to read says so and offers to turn", {
  wide <- data.frame(on = as.Date("2026-01-01") + 0:299, who = sprintf("b%03d", 0:299), amount = 1)
  base <- explore_base(daybook(wide, on))
  seen <- explored_seen(after_act(new_state(base$ask), list(do = "add_axis", side = "cols",
    axis = "who"))$now$ask, base, new.env())
  expect_match(drawn_ask(seen)$table, "columns are too many")
  expect_match(drawn_ask(seen)$table, "turn it")
  long <- explored_seen(after_act(new_state(base$ask), list(do = "set_axis", side = "rows", at = 1L,
    axis = "who"))$now$ask,
    base, new.env())
  expect_match(drawn_ask(long, rows = 100L)$table, ">200 more rows<")
})

test_that("places of the sheet are figures and members, in every kind of table", {
  base <- explored_orders()
  seen <- seen_after(base, list(do = "add_axis", side = "rows", axis = "region", at = 1L))
  place <- place_of_sheet(seen$table, 2L, 3L)
  expect_identical(place[c("kind", "row", "measure")], list(kind = "figure", row = 2L, measure = "amount"))
  expect_identical(member_act(seen, place_of_sheet(seen$table, 2L, 1L)),
    list(do = "limit", column = "region", members = list("\"Coast\"")))
  finer <- member_act(seen, place_of_sheet(seen$table, 2L, 2L))
  expect_identical(finer[c("do", "axis", "from", "to")], list(do = "finer", axis = "day", from = "2025-11-01",
    to = "2025-11-30"))
  after <- explored_seen(after_act(new_state(seen$ask), finer)$now$ask, base, new.env())
  expect_equal(sum(after$table$figures$amount),
    sum(seen$table$figures$amount[format(seen$table$axes$month) == "2025-11 Nov"]))
  by <- show_by_act(seen, place)
  shown <- explored_seen(after_act(new_state(seen$ask), c(by, list(axis = "channel")))$now$ask, base,
    new.env())
  expect_equal(sum(shown$table$figures$amount), seen$table$figures$amount[2L])
  # A cross-tab: the figure in the grid, the member across.
  cross <- seen_after(base, list(do = "set_axis", side = "rows", at = 1L, axis = "region"),
    list(do = "add_axis", side = "cols", axis = "channel"))
  place <- place_of_sheet(cross$table, 1L, 2L)
  expect_identical(explained_answer(cross, place)$title, explain(cross$table, 1L, place$measure)$title)
  expect_identical(member_act(cross, head_place(cross$table, 2L, 1L))$column, "channel")
  expect_identical(head_place(cross$table, 1L, 1L)$kind, "nothing")
  # A listing has headings that are no rows of its table.
  listed <- seen_after(base, list(do = "set", key = "kind", value = "listing"),
    list(do = "set_axis", side = "rows", at = 1L, axis = "depot"), list(do = "add_axis", side = "lines",
      axis = "order_id"),
    list(do = "limit", column = "customer_id", members = list("\"C1707\"")), list(do = "set", key = "layout",
      value = "indented"))
  expect_identical(place_of_sheet(listed$table, 1L, 3L)$kind, "nothing")
  expect_identical(place_of_sheet(listed$table, 2L, 3L)$row, 1L)
  for (place in list(c(0L, 1L), c(1L, 99L), c(999L, 1L))) {
    expect_identical(place_of_sheet(seen$table, place[1L], place[2L])$kind, "nothing")
  }
})

test_that("order lines behind a figure come a page at a time", {
  table <- rollup(explored_orders()$book, by = year, amount = sum(amount), growth = growth(amount, year))
  for (measure in c("amount", "growth")) {
    lines <- behind(table, 2L, measure)
    placed <- placed_behind(table, list(row = 2L, measure = measure))
    first <- lines_answer(placed, 1)
    expect_identical(first$pages, ceiling(nrow(lines) / lines_a_page))
    expect_identical(lengths(regmatches(first$html, gregexpr("<tr class=\"line", first$html, fixed = TRUE))),
      lines_a_page)
    third <- data_sheet("", "", character(), lines[101:150, columns_in_order(names(lines), table)])
    expect_identical(lines_answer(placed, 3)$html,
      paste(html_table(replaced_field(third, "title", "Order lines")), collapse = ""))
    expect_identical(lines_answer(placed, 1e9)$page, first$pages)
  }
  none <- list(rows = integer(), part = NULL, table = table)
  expect_identical(lines_answer(none, 1)$pages, 1)
})

test_that("typing is completed, and what is wrong is told before it is entered", {
  seen <- seen_after(explored_orders())
  expect_true("distinct" %in% unlist(completed(seen, "amount / dist", "measure")$words))
  expect_identical(completed(seen, "sum(amount) / count()", "measure")$wrong, "")
  expect_match(completed(seen, "sum(amuont)", "measure")$wrong, "amuont")
  expect_match(completed(seen, "sum(amount", "measure")$wrong, "not a complete expression")
  expect_match(completed(seen, "channel = 1", "condition")$wrong, ".")
  expect_identical(completed(seen, "5 week", "dates")$wrong, "")
  expect_match(completed(seen, "2026-02-31", "day")$wrong, ".")
})

test_that("files are written in the folder named at start only", {
  folder <- withr::local_tempdir()
  expect_identical(file_in_folder(folder, "page one.html", "html"), file.path(folder, "page one.html"))
  for (name in c("../x.html", "/etc/x.html", "a/b.html", ".x.html", "x.exe", "x", "..html", "a\\b.html",
    "x.html\n")) {
    expect_error(file_in_folder(folder, name, "html"), class = "drystack_error_output", label = name)
  }
})

test_that("what is shown becomes a report whose parts are asked for", {
  base <- explored_orders()
  seen <- seen_after(base, list(do = "limit", column = "depot", members = list("\"Garrick\"")),
    list(do = "limit", column = "channel", members = list("\"web\"", "\"phone\"")),
    list(do = "set_dates", from = "2026-01-01", to = "2026-06-30"))
  asked <- vapply(possible_parameters(seen$ask), `[[`, "", "name")
  expect_identical(asked, c("as_of", "from", "to", "depot", "channel"))
  folder <- withr::local_tempdir()
  said <- with_parameters(document_of(seen$table, folder, NULL, NULL), asked)
  file <- file.path(folder, "r.yml")
  writeLines(yaml_text(said), file)
  built <- function(set) {
    out <- withr::local_tempdir()
    build_report(file, set = set, out = out, formats = "csv", outside = TRUE)
    utils::read.csv(file.path(out, "r.csv"))
  }
  expect_equal(built(list())$amount, seen$table$figures$amount)
  other <- rollup(base$book |> only(depot == "Skelby", channel %in% c("counter")) |> as_of("2026-05-15") |>
    within_dates("2026-02-01", "2026-06-30"), by = month, amount = sum(amount))
  expect_equal(built(list(depot = "Skelby", channel = "counter", as_of = "2026-05-15",
    from = "2026-02-01"))$amount,
    other$figures$amount)
  expect_error(with_parameters(said, "region"), class = "drystack_error_standing")
})

test_that("amounts are offered in bands, and members to be put together; how they are made is changed", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:99, depot = rep(c("Skelby", "Garrick"), 50L),
    amount = (1:100)^2, discount = 0)
  base <- explore_base(daybook(orders, date = on))
  base$made <- new.env()
  items <- function(state) {
    seen <- explored_seen(state$now$ask, base, base$made)
    unlist(lapply(explored_menu(seen, list(menu = "rows", at = 1))$groups, `[[`, "items"), recursive = FALSE)
  }
  named <- function(items, label) Filter(function(item) identical(item$label, label), items)
  state <- new_state(base$ask)
  # All discounts are alike: they have no bands.
  expect_length(named(items(state), "discount in bands"), 0L)
  bands <- named(items(state), "amount in bands")[[1L]]
  expect_identical(bands$note, "500, 2000, 5000")
  banded <- after_act(state, bands$act)
  expect_identical(banded$now$ask$rows, "amount_bands")
  table <- function(state) explored_seen(state$now$ask, base, base$made)$table
  expect_identical(as.character(table(banded)$axes$amount_bands),
    c("under 500", "500 to under 2,000", "2,000 to under 5,000", "5,000 and over"))
  change <- named(items(banded), "change how it is made")[[1L]]
  other <- after_act(banded, c(change$act, list(text = sub("500, 2000, 5000", "900", change$typed$value))))
  expect_identical(table(other)$figures$amount, c(sum((1:29)^2), sum((30:100)^2)))
  by_depot <- after_act(state, list(do = "set_axis", side = "rows", at = 1L, axis = "depot"))
  together <- named(items(by_depot), "put members together")[[1L]]
  whole <- table(after_act(by_depot, c(together$act, list(text = together$typed$value))))
  expect_identical(format(whole$axes$depot_groups), "Together")
})

test_that("made columns are offered of columns and members whatever they are called", {
  odd <- c("Sk\"el'by", "Gar\\rick {x}", "\u00df = b")
  orders <- data.frame(on = as.Date("2026-01-05") + 0:99, amount = 1:100, check.names = FALSE,
    "my depot" = rep(odd, length.out = 100L), "2nd amount" = (1:100)^2)
  base <- explore_base(daybook(orders, date = on))
  base$made <- new.env()
  state <- after_act(new_state(base$ask), list(do = "set_axis", side = "rows", at = 1L, axis = "my depot"))
  seen <- function(state) explored_seen(state$now$ask, base, base$made)
  items <- function(state) {
    all <- unlist(lapply(explored_menu(seen(state), list(menu = "rows", at = 1))$groups, `[[`, "items"),
      recursive = FALSE)
    Filter(function(item) identical(item$act$do, "work_out"), all)
  }
  take <- function(state, item) {
    after_act(state, if (is.null(item$typed)) item$act else c(item$act, list(text = item$typed$value)))
  }
  expect_length(items(state), 3L)
  for (item in items(state)) {
    made <- take(state, item)
    expect_null(seen(made)$error, info = item$label)
    expect_gt(length(seen(made)$table$role), 1L)
    change <- Filter(function(one) one$label == "change how it is made", items(made))[[1L]]
    expect_identical(take(made, change)$now, made$now, info = item$label)
  }
})

test_that("a standing report opens as a page, block by block the same tables", {
  file <- file.path(yard_folder(), "monthly.yml")
  opened <- opened_report(file)
  base <- explore_base(opened$open(list()))
  source <- read_standing(file)
  built <- built_book(source, list(), list(outside = FALSE, today = Sys.Date(), strict = FALSE, ask = NULL))
  parts <- standing_parts(source, built$book, built$values)
  tables <- unname(Filter(function(part) inherits(part, "drystack_table"), flat_parts(parts)))
  blocks <- Filter(function(block) block$as == "table", opened$state$now$page$blocks)
  expect_identical(length(blocks), length(tables))
  for (i in seq_along(tables)) {
    mine <- explored_table(blocks[[i]]$ask, explored_book(blocks[[i]]$ask, base))
    expect_identical(as.data.frame(mine), as.data.frame(tables[[i]]), label = paste("block", i))
  }
})

test_that("what changed in a table is kept as it was said, and made of any table without columns across", {
  folder <- withr::local_tempdir()
  utils::write.csv(data.frame(on = as.Date("2026-05-01") + 0:9, depot = "Skelby", amount = 1:10),
    file.path(folder, "orders.csv"), row.names = FALSE)
  said <- list(list(changes = list(by = list("month"), show = list("sales"), since = "2026-04-01",
    label = "Moved")), list(changes = list(by = list("depot"), show = list("sales"))),
    list(rollup = list(by = list("depot"), show = list("sales"))))
  file <- file.path(folder, "yard.yml")
  writeLines(yaml_text(list(drystack = 1L, title = "The yard", measures = list(sales = "sum(amount)"),
    orders = list(file = "orders.csv", date = "on"), page = said)), file)
  opened <- opened_report(file)
  base <- explore_base(opened$open(list()))
  saved <- function(page) {
    lines <- standing_lines(explored_report(page, base, new.env()), folder)
    yaml::yaml.load(paste(lines, collapse = "\n"))$page
  }
  page <- opened$state$now$page
  expect_identical(saved(page)[1:2], yaml::yaml.load(yaml_text(said[1:2])))
  changed <- after_act(opened$state, list(do = "set_block", at = 3L, as = "changes"))
  expect_identical(saved(changed$now$page)[[3L]], saved(page)[[2L]])
  across <- after_act(after_act(opened$state, list(do = "add_axis", side = "cols", axis = "month")),
    list(do = "replace_block", at = 3L))
  expect_error(after_act(across, list(do = "set_block", at = 3L, as = "changes")),
    class = "drystack_error_act")
})

test_that("what cannot be listened on, or read, is a typed error", {
  port <- kernel_free_port("127.0.0.1")
  server <- httpuv::startServer("127.0.0.1", port, list(call = function(request) {
    list(status = 200L,
      headers = list(), body = "")
  }))
  withr::defer(httpuv::stopServer(server))
  expect_error(begin_gate(new_guard("127.0.0.1", port), tempfile()), class = "drystack_error_explore")
  expect_error(explore(daybook(few_orders(), on), folder = "/no/such", open = FALSE),
    class = "drystack_error_output")
  expect_error(explore(few_orders()), class = "drystack_error_argument")
  expect_error(explore("no-such.yml"), class = "drystack_error_standing")
  expect_identical(suppressMessages(run_command(c("explore", "--no-such"))), 2L)
  expect_output(run_command(c("explore", "--help")), "whose parts you can change")
})

test_that("a long fold is stopped by a newer act, by a word, or by a window that is closed", {
  orders <- data.frame(on = as.Date("2026-01-01") + sample.int(300L, 3e5L, TRUE), amount = stats::runif(3e5L))
  book <- daybook(orders, on)
  app <- list2env(list(queue = list(), windows = new.env()))
  window <- list2env(list(newest = 5L, stopped = FALSE,
    session = list(sendCustomMessage = function(...) NULL)))
  said <- list(do = "act", n = 5L)
  asked <- function() {
    withr::local_options(drystack.progress = watcher(app, window, said), drystack.progress_after = 0)
    rlang::try_fetch(rollup(book, by = month, s = sum(amount), m = median(amount)),
      drystack_stopped = function(e) "stopped")
  }
  expect_s3_class(asked(), "drystack_rollup")
  window$newest <- 6L
  expect_identical(asked(), "stopped")
  window$newest <- 5L
  window$stopped <- TRUE
  expect_identical(asked(), "stopped")
  window$stopped <- FALSE
  window$session <- NULL
  expect_identical(asked(), "stopped")
  window$session <- list(sendCustomMessage = function(...) NULL)
  whole <- asked()
  expect_equal(sum(whole$figures$s), sum(orders$amount))
})

test_that("conditions of long ago are forgotten, and mean the same when they come again", {
  withr::local_options(drystack.memory = 1e6)
  orders <- few_orders()[rep(seq_len(nrow(few_orders())), 3000L), ]
  book <- daybook(orders, on)
  first <- as.data.frame(rollup(only(book, amount > 0), s = count()))
  for (i in 1:40) rollup(only(book, amount > !!i), s = count())
  engine <- engine_of(book)
  expect_lt(length(grep("^mask", ls(engine$kept))), 30L)
  expect_identical(as.data.frame(rollup(only(book, amount > 0), s = count())), first)
})

test_that("what is typed as a whole is what is done, before parts of words", {
  seen <- seen_after(explored_orders(), list(do = "add_axis", side = "rows", axis = "depot"))
  takes <- function(menu, text, at = 0L) {
    told <- explored_menu(seen, list(menu = menu, at = at, search = text))
    if (identical(told$enter, "text")) {
      return(c(told$typed$act, stats::setNames(list(text), told$typed$key)))
    }
    if (told$enter < 0L) NULL else items_of(told)[[told$enter + 1L]]$act
  }
  shown <- function(text) {
    ask <- after_act(new_state(seen$ask), takes("dates", text))$now$ask
    ask[c("latest", "from", "to")]
  }
  latest <- function(text) list(latest = text, from = "", to = "")
  days <- function(from, to) list(latest = "", from = from, to = to)
  for (text in c("1 week", "2 month", "4 month", "13 week", "5 quarter")) {
    expect_identical(shown(text), latest(text))
  }
  expect_identical(shown("2025"), days("2025-01-01", "2025-12-31"))
  expect_identical(shown("2026-02"), days("2026-02-01", "2026-02-28"))
  expect_identical(shown("2026-01-01 to 2026-03-31"), days("2026-01-01", "2026-03-31"))
  expect_identical(shown("the last 3 months"), latest("3 month"))
  expect_identical(shown("FY2025"), days("2024-07-01", "2025-06-30"))
  # An exact name wins over names that hold it, on a side that can be typed too.
  expect_identical(takes("rows", "channel")$axis, "channel")
  expect_identical(takes("measure", "count()")$text, "count()")
  expect_null(takes("as_of", "no such day at all")$axis)
  expect_identical(takes("calendar", "week:4-4-5:last Saturday of January")$value,
    "week:4-4-5:last Saturday of January")
})

test_that("a figure runs in time where there is time, else down the table", {
  base <- explored_orders()
  members <- seen_after(base, list(do = "clear", part = "rows"),
    list(do = "add_axis", side = "rows", axis = "product_id"))
  labels <- labels_of(explored_menu(members, list(menu = "derived", of = "amount")))
  expect_false("running amount" %in% labels)
  running <- seen_after(base, list(do = "clear", part = "rows"),
    list(do = "add_axis", side = "rows", axis = "product_id"),
    item_act(members, "running amount down the table", menu = "measure", at = 0L),
    item_act(members, "running share of amount down the table", menu = "measure", at = 0L))
  table <- plain(running$table)
  lines <- table[table$.role == "line", ]
  expect_equal(lines$amount_running, cumsum(lines$amount))
  expect_equal(utils::tail(lines$amount_running_share, 1L), 1)
  timed <- labels_of(explored_menu(seen_after(base), list(menu = "derived", of = "amount")))
  expect_true("running amount" %in% timed)
})

test_that("where no figure can be drawn its reason stands in its place", {
  seen <- seen_after(explored_orders())
  seen$table$role <- character()
  expect_match(drawn_figure(seen, 640, 420)$wrong, "needs rows")
})

test_that("what is wrong with a text is told while it is typed", {
  seen <- seen_after(explored_orders())
  wrong <- function(text, words) completed(seen, text, words)$wrong
  expect_match(wrong("region == \"Paek\"", "condition"), "did you mean \"Peak\"", fixed = TRUE)
  expect_identical(wrong("region == \"Peak\"", "condition"), "")
  expect_match(wrong("fiscal:Juli", "calendar"), "Juli")
  expect_identical(wrong("fiscal:July", "calendar"), "")
  for (text in c("2026-02-31", "2026-02-31 to 2026-03-31")) expect_match(wrong(text, "dates"), "2026-02-31")
  expect_match(wrong("2026-13-01", "day"), "2026-13-01")
})

test_that("while an ask is wrong the rest of its sentence keeps its words", {
  base <- explored_orders()
  acts <- list(list(do = "add_measure", text = "ytd(amount)", name = "to_date"),
    list(do = "add_axis", side = "rows", axis = "depot"), list(do = "set", key = "totals", value = "all"))
  right <- faces_of(rlang::exec(seen_after, base, !!!acts))
  figure <- faces_of(rlang::exec(seen_after, base, !!!acts,
    list(do = "add_measure", text = "sum(nothing)", name = "wrong")))
  expect_identical(setdiff(figure, "sum(nothing)"), right)
  condition <- faces_of(rlang::exec(seen_after, base, !!!acts,
    list(do = "add_condition", text = "amount > \"x\"")))
  expect_identical(setdiff(condition, right), "amount is over x")
  expect_identical(setdiff(right, condition), "all orders")
})

test_that("what is shown is taken along as a file or as text, and nothing else is answered", {
  seen <- seen_after(explored_orders(), list(do = "add_axis", side = "cols", axis = "channel"))
  id <- "0123456789abcdef"
  app <- list(windows = list2env(stats::setNames(list(list(seen = seen)), id)))
  taken <- function(format) taken_response(app, paste0(id, "/", format))
  lines <- strsplit(rawToChar(taken("tsv")$body), "\n", fixed = TRUE)[[1L]]
  cells <- strsplit(lines, "\t", fixed = TRUE)
  table <- as.data.frame(seen$table)
  expect_length(unique(lengths(cells)), 1L)
  expect_length(lines, nrow(table) + 1L)
  expect_match(cells[[1L]][2L], "phone|counter|web")
  expect_equal(as.numeric(vapply(cells[-1L], `[`, "", 2L)), table[[2L]])
  expect_identical(rawToChar(taken("csv")$body[1:5]), "month")
  expect_identical(rawToChar(taken("xlsx")$body[1:2]), "PK")
  expect_identical(taken("png")$body[2:4], charToRaw("PNG"))
  expect_match(rawToChar(taken("svg")$body), "</svg>")
  expect_match(taken("csv")$headers[["Content-Disposition"]],
    "filename=\"amount-by-month-across-channel.csv\"", fixed = TRUE)
  for (path in c("", id, paste0(id, "/exe"), "other/csv", paste0(id, "/../csv"), paste0("%00/csv"))) {
    expect_identical(taken_response(app, path)$status, 404L, label = path)
  }
})

test_that("order lines behind a figure begin with the columns that matter to it", {
  seen <- seen_after(explored_orders(), list(do = "add_axis", side = "rows", axis = "region"),
    list(do = "add_axis", side = "rows", axis = "customer_id"))
  names <- c(".line", names(seen$base$book$columns))
  expect_identical(columns_in_order(names, seen$table)[1:4],
    c("ordered_on", "region", "customer_id", "amount"))
  expect_setequal(columns_in_order(names, seen$table), setdiff(names, ".line"))
})

test_that("each figure shown is one line of the list, which opens to what makes sense of it", {
  base <- explored_orders()
  seen <- seen_after(base, list(do = "add_measure", text = "share(amount)", name = "part"),
    list(do = "add_measure", text = "ytd(amount)", name = "to_date"),
    list(do = "add_measure", text = "prior(amount, year)", name = "before"))
  menu <- explored_menu(seen, list(menu = "measure", at = 0L))
  expect_identical(menu$groups[[1L]]$title, "From the orders")
  expect_identical(vapply(menu$groups[[2L]]$items, `[[`, "", "label"),
    paste("from", c("amount", "share of amount", "amount, year to date", "amount a year before")))
  words <- function(of) paste(labels_of(explored_menu(seen, list(menu = "derived", of = of))),
    collapse = "; ")
  expect_match(words("amount"), "share of amount in the total")
  expect_no_match(words("part"), "share of share|to date|running")
  expect_no_match(words("to_date"), "this year to date|running|over 12 months")
  expect_no_match(words("before"), "a year before a year before")
  expect_error(explored_menu(seen, list(menu = "derived", of = "none")), class = "drystack_error_act")
  found <- labels_of(explored_menu(seen, list(menu = "measure", at = 0L, search = "share total")))
  expect_true("share of amount in the total" %in% found)
})

test_that("a figure that is typed without a name is called by its words", {
  seen <- seen_after(explored_orders())
  label <- function(act) labelled_act(c(list(do = "add_measure"), act), seen)$label
  expect_identical(label(list(text = "sum(amount - discount)")), "total amount less discount")
  expect_identical(label(list(text = "amount / count()")), "amount per order lines")
  expect_null(label(list(text = "net = sum(amount)")))
  expect_null(label(list(text = "sum(nothing)")))
  expect_identical(label(list(text = "count()", label = "Lines")), "Lines")
  expect_null(label(list(text = "share(amount)", name = "part")))
})

test_that("a calendar that is added has the weeks and trading days of the others, and is said elsewhere", {
  calendar <- trading(civil_calendar(week_begins = "Sunday"), closed = "Sunday")
  base <- explore_base(daybook(read_orders(harrowgill_path("orders.csv")), ordered_on, calendars = calendar))
  seen <- seen_after(base, list(do = "set", key = "calendar", value = "fiscal:April"))
  leads <- seen$book$calendars[[1L]]
  expect_identical(leads$trading, calendar$trading)
  expect_identical(leads$week_begins, calendar$week_begins)
  texts <- explored_texts(seen)
  for (text in texts) expect_no_match(text, "^#")
  expect_match(texts$command, "--closed 'Sunday'", fixed = TRUE)
  there <- eval(parse(text = texts$r, keep.source = FALSE), new.env(parent = asNamespace("drystack")))
  expect_identical(as.data.frame(there), as.data.frame(seen$table))
})

test_that("hours stand in the lists where dates have times, and averages of days in those of figures", {
  timed <- data.frame(on = as.POSIXct("2026-01-01", tz = "UTC") + 3600 * (1:400), who = c("a", "b"),
    amount = 1:400)
  base <- explore_base(daybook(timed, on))
  seen <- explored_seen(base$ask, base, new.env())
  axes <- labels_of(explored_menu(seen, list(menu = "cols", at = 0L)))
  expect_true(any(grepl("hour", axes)))
  plain <- explored_orders()
  expect_false(any(grepl("hour", labels_of(explored_menu(seen_after(plain), list(menu = "cols", at = 0L))))))
  found <- items_of(explored_menu(seen, list(menu = "measure", search = "average of daily")))
  expect_identical(found[[1L]]$act$text, "mean(each(day, amount))")
  # What the list adds is what R is asked.
  expect_identical(seen_after(plain, found[[1L]]$act)$ask$measures[[2L]]$text, "mean(each(day, amount))")
  by_hand <- mean(tapply(timed$amount, as.Date(timed$on), sum))
  expect_equal(as.data.frame(rollup(base$book, m = mean(each(day, sum(amount)))))$m, by_hand,
    tolerance = 1e-9)
})
