# What changed since it was told: reasons add up, and the lines named are those that were planted.

changed_orders <- function(seed) {
  withr::local_seed(seed)
  n <- sample(c(30L, 120L), 1L)
  before <- data.frame(
    id = seq_len(n), on = as.Date("2025-01-01") + sample(0:420, n, TRUE), depot = sample(c("A", "B", NA), n,
      TRUE),
    channel = sample(c("web", "phone"), n, TRUE), customer = paste0("C", sample(9L, n, TRUE)),
    amount = round(stats::runif(n, -50, 900), 2), status = sample(c("sent", "cancelled"), n, TRUE,
      c(0.8, 0.2))
  )
  before <- before[sample(n), ]
  after <- before
  planted <- list()
  planted$gone <- sort(sample(before$id, sample(0:3, 1L)))
  after <- after[!after$id %in% planted$gone, ]
  planted$changed <- sort(sample(after$id, sample(0:3, 1L)))
  at <- match(planted$changed, after$id)
  column <- sample(c("amount", "depot", "status", "on"), 1L)
  after[[column]][at] <- switch(column, amount = after$amount[at] + 10.07, depot = "Z", status = "other",
    on = after$on[at] + 31)
  planted$late <- if (stats::runif(1) < 0.7) 1000L + seq_len(sample(3L, 1L)) else integer()
  if (length(planted$late) > 0L) after <- rbind(after,
    transform(after[sample(nrow(after), length(planted$late)), ],
    id = planted$late, amount = 123.45))
  list(before = before, after = after[sample(nrow(after)), ], planted = planted, column = column)
}

kinds <- data.frame(customer = paste0("C", 1:9), kind = rep(c("trade", "house", "works"), 3L))

# A random ask, and another that differs from it in some of its terms.
random_asks <- function(seed) {
  withr::local_seed(seed + 5000)
  other <- sample(c("nothing", "condition", "calendar", "lookup", "measure", "column", "as of"), 1L)
  by <- sample(list(quote(c(month, depot)), quote(quarter), quote(c(kind, month)), quote(c(depot, channel))),
    1L)[[1L]]
  ask <- function(orders, second = FALSE) {
    with <- function(what) second && other == what
    book <- daybook(orders, on, calendars = fiscal_calendar(if (with("calendar")) "April" else "July"))
    lookup <- kinds
    if (with("lookup")) lookup$kind[2:4] <- "trade"
    book <- enrich(book, lookup, by = "customer")
    book <- if (with("column")) work_out(book, net = amount * 0.9) else work_out(book, net = amount)
    book <- if (with("condition")) only(book, status == "sent", amount > 20) else only(book, status == "sent")
    book <- as_of(book, if (with("as of")) "2026-01-31" else "2025-12-15")
    book <- within_dates(book, "2025-02-01", "2025-12-31")
    kept <- if (with("measure")) measures(s = sum(net) + 1, n = count(), c = distinct(customer), m = s / n,
      y = ytd(s))
      else measures(s = sum(net), n = count(), c = distinct(customer), m = s / n, y = ytd(s))
    if (seed %% 3L == 0L) rlang::inject(crosstab(book, rows = !!(if (is.call(by)) by[[2L]] else by),
      cols = year, kept,
      totals = "all"))
    else rlang::inject(rollup(book, by = !!by, kept, totals = "all"))
  }
  list(ask = ask, other = other)
}

expect_changes_hold <- function(seed) {
  made <- changed_orders(seed)
  asks <- random_asks(seed)
  told <- asks$ask(made$before)
  now <- asks$ask(made$after, TRUE)
  x <- changes(told, now, key = "id")
  data <- as.data.frame(x)
  label <- paste("seed", seed, asks$other)
  # What was told and what is so now are the tables' own figures, cell by cell.
  long <- function(table) {
    if (inherits(table, "drystack_crosstab")) as.data.frame(table, shape = "long") else as.data.frame(table)
  }
  axes <- names(told$ask$axes)
  key <- function(frame, role) {
    do.call(paste, c(lapply(axes, function(axis) {
      values <- frame[[axis]]
      if (is_period(values)) format(values) else as.character(values)
    }), list(role %in% c("subtotal", "total")), sep = "|"))
  }
  for (measure in names(told$figures)) {
    mine <- data[data$.measure == measure, ]
    was <- long(told)
    if (asks$other != "calendar") {
      expect_identical(mine$before[match(key(was, was$.role), key(mine, mine$.role))],
        as.numeric(was[[measure]]),
        label = label)
    }
    if (asks$other != "calendar") {
      is <- long(now)
      shared <- key(is, is$.role) %in% key(mine, mine$.role)
      found <- mine$now[match(key(is, is$.role)[shared], key(mine, mine$.role))]
      if (asks$other != "as of") expect_equal(found, as.numeric(is[[measure]])[shared], tolerance = 1e-12,
        label = label)
    }
    reasons <- mine[x$reasons$reason]
    sums <- unname(rowSums(as.matrix(reasons)))
    known <- !is.na(mine$difference) & !is.na(sums)
    expect_equal(sums[known], mine$difference[known], tolerance = 1e-9, label = label)
    if (measure %in% c("s", "n")) expect_false(anyNA(mine$difference), label = label)
  }
  expect_true(all(tie_out(x)$ok), label = label)
  # Every line named was planted, and none is missed.
  found <- compare_lines(made$before, made$after, "id")
  expect_setequal(made$before$id[found$gone], made$planted$gone)
  expect_setequal(made$after$id[found$late], made$planted$late)
  expect_setequal(made$after$id[found$changed$after], made$planted$changed)
  lines <- changed_lines(x)
  expect_in_set(paste(lines$.what, lines$id), c(paste("gone", made$planted$gone), paste("changed",
    made$planted$changed),
    paste("entered since", made$planted$late)))
  expect_in_set(lines$.differs[lines$.what == "changed"], made$column)
  # What the reasons of lines move is what their lines move, of a figure that adds up.
  whole <- Reduce(`&`, lapply(axes, function(axis) is.na(data[[axis]])))
  total <- data[data$.measure == "s" & whole & data$.role == "total", ]
  for (reason in intersect(c("lines gone", "lines entered since", "lines changed"), x$reasons$reason)) {
    what <- c("lines gone" = "gone", "lines entered since" = "entered since",
      "lines changed" = "changed")[[reason]]
    mine <- lines[lines$.what == what, ]
    expect_equal(sum(mine$now - mine$before), utils::tail(total[[reason]], 1L), tolerance = 1e-9,
      label = paste(label, reason))
  }
}

test_that("what moved figures adds up to their differences, and lines named are those planted", {
  for (seed in seq_len(max(trials(200), 24L))) expect_changes_hold(seed)
})

test_that("the order in which reasons are told does not depend on rows, and without a key none has changed", {
  made <- changed_orders(4L)
  ask <- random_asks(4L)$ask
  x <- changes(ask(made$before), ask(made$after))
  expect_false("lines changed" %in% x$reasons$reason)
  whole <- changes(ask(made$before), ask(made$after), key = "id")
  expect_identical(as.data.frame(x)$difference, as.data.frame(whole)$difference)
  same <- changes(ask(made$before), ask(made$before[rev(seq_len(nrow(made$before))), ]), key = "id")
  expect_identical(nrow(same$reasons), 0L)
  expect_match(paste(format(same), collapse = "\n"), "Nothing that was told")
})

test_that("what cannot be compared is said", {
  made <- changed_orders(1L)
  ask <- function(orders, ...) rollup(daybook(orders, on), ...)
  expect_raised(changes(ask(made$before, depot, s = sum(amount)), ask(made$after, month, s = sum(amount))),
    "argument",
    "depot", "month")
  expect_raised(changes(ask(made$before, depot, s = sum(amount)), ask(made$after, depot, t = sum(amount))),
    "argument",
    "measure in common")
  expect_raised(changes(ask(made$before, depot, s = sum(amount)), made$after), "argument")
  expect_raised(changes(made$before, made$after), "argument", "two tables or two daybooks, or two builds")
  expect_raised(changes(ask(made$before, s = sum(amount)), ask(made$after, s = sum(amount)), key = "depot"),
    "key",
    "not unique", "appear more than once")
  expect_raised(changes(ask(made$before, s = sum(amount)), ask(made$after, s = sum(amount)), key = "idd"),
    "column")
  x <- changes(ask(made$before, depot, s = sum(amount), t = count()), ask(made$after, depot, s = sum(amount)),
    key = "id")
  expect_identical(x$missing, "t")
  expect_match(paste(format(x), collapse = "\n"), "T cannot be compared")
})

test_that("a figure steps from what was told to what is so now", {
  made <- changed_orders(2L)
  ask <- random_asks(2L)$ask
  x <- changes(ask(made$before), ask(made$after), key = "id")
  plot <- figure(x)
  steps <- ggplot2::ggplot_build(plot)$data[[1L]]
  total <- utils::tail(as.data.frame(x)[as.data.frame(x)$.measure == "s", ], 1L)
  expect_identical(steps$ymax[1L], total$before)
  expect_identical(steps$ymax[nrow(steps)], total$now)
  expect_identical(nrow(steps), nrow(x$reasons) + 2L)
  html <- paste(html_lines(as_bundle(report(x, title = "Changed"))), collapse = "\n")
  expect_match(html, "Which order lines")
  expect_match(html, "data:image/svg")
})

test_that("orders can be asked as they were known on a day, and what was entered since is named", {
  orders <- few_orders()
  orders$entered <- orders$on + c(0, 40, 0, 0, 3, NA)[seq_len(nrow(orders))]
  book <- daybook(orders, on)
  known <- as_known(book, entered, "2024-12-31")
  plain <- orders[!is.na(orders$entered) & orders$entered <= as.Date("2024-12-31"), ]
  expect_identical(plain(rollup(known, s = sum(amount)))$s,
    sum(plain$amount[plain$on <= as.Date("2024-12-31")], na.rm = TRUE))
  x <- changes(rollup(known, by = year, s = sum(amount), totals = "grand"),
    rollup(as_of(book, "2024-12-31"), by = year, s = sum(amount), totals = "grand"))
  expect_in_set("lines entered since", x$reasons$reason)
  expect_false("other conditions" %in% x$reasons$reason)
  expect_identical(utils::tail(as.data.frame(x)$now, 1L),
    sum(orders$amount[orders$on <= as.Date("2024-12-31")],
    na.rm = TRUE))
  expect_match(paste(format(rollup(known, s = sum(amount)), width = 300L), collapse = "\n"),
    "as known on 31 December 2024")
  orders$entered[1L] <- orders$on[1L] - 2
  odd <- as_known(daybook(orders, on), entered, "2024-12-31")
  expect_match(paste(format(rollup(odd, s = sum(amount)), width = 300L), collapse = "\n"), paste0(
    "1 order line without a day in \"entered\", known on no day; ",
    "1 order line entered before the date of the order"))
  expect_raised(as_known(book, amount, "2024-12-31"), "column", "holds no dates")
  expect_raised(as_known(book, enterd, "2024-12-31"), "column", "entered")
  expect_raised(as_known(book, entered, "soon"), "date")
})

test_that("two exports are compared on the command line, line by line or by what moved a figure", {
  made <- changed_orders(7L)
  folder <- withr::local_tempdir()
  files <- file.path(folder, c("before.csv", "after.csv"))
  Map(function(orders, file) utils::write.csv(orders, file, row.names = FALSE), made[c("before", "after")],
    files)
  args <- c("changes", "--before", files[1L], "--orders", files[2L], "--date", "on", "--as-of", "2025-12-31")
  got <- drystack(args, "--line-key", "id")
  expect_identical(got$status, 0L)
  found <- compare_lines(made$before, made$after, "id")
  text <- paste(got$out, collapse = "\n")
  expect_match(text, paste0("Only after +", length(found$late)))
  expect_match(text, paste0("Different +", length(found$changed$after)))
  got <- drystack(args, "--line-key", "id", "--by", "depot", "--show", "s = sum(amount)", "--only",
    "status == \"sent\"")
  ask <- function(orders) {
    rollup(as_of(only(daybook(orders, on), status == "sent"), "2025-12-31"), by = depot,
      s = sum(amount), totals = "grand")
  }
  whole <- utils::tail(as.data.frame(changes(ask(made$before), ask(made$after), key = "id")), 1L)
  expect_match(paste(got$out, collapse = "\n"), paste0("Told before +", gsub("\\+", "",
    format_by(whole$before,
    decimal(digits = 2)))))
  expect_identical(drystack(args, "--line-key", "depot")$status, 1L)
  expect_identical(drystack("changes", "--orders", files[2L], "--date", "on")$status, 2L)
  path <- file.path(folder, "changes.html")
  expect_identical(drystack(args, "--line-key", "id", "--out", path)$status, 0L)
  expect_match(paste(readLines(path, encoding = "UTF-8"), collapse = ""), "Two daybooks side by side")
})

test_that("a member named NA is no total, and members of any text are told apart", {
  orders <- data.frame(id = 1:4, on = as.Date("2026-01-31"), land = c("NA", "NA", "a\rb", "-"),
    amount = c(1, 2, 4, 8))
  ask <- function(orders) {
    rollup(daybook(orders, on), by = c(land, month), s = measure(sum(amount)), totals = "all")
  }
  after <- transform(orders, amount = amount * c(10, 1, 1, 1))
  data <- as.data.frame(changes(ask(orders), ask(after), key = "id"))
  expect_identical(nrow(data), 7L)
  expect_setequal(data$before, c(3, 4, 8, 3, 4, 8, 15))
  expect_identical(sort(data$difference), c(0, 0, 0, 0, 9, 9, 9))
})

test_that("orders that are all others leave nothing on the way", {
  book <- function(orders) {
    rollup(daybook(orders, on), by = depot, s = sum(amount), m = mean(amount), totals = "grand")
  }
  before <- data.frame(id = 1:2, on = as.Date("2024-02-29"), depot = c("A", NA), amount = c(5, 7))
  after <- data.frame(id = 3:4, on = as.Date("2024-02-29"), depot = c("A", "B"), amount = c(1, NA))
  x <- changes(book(before), book(after), key = "id")
  whole <- subset(as.data.frame(x), .measure == "s" & .role == "total")
  expect_identical(c(whole$before, whole$`lines gone`, whole$`lines entered since`, whole$now),
    c(12, -12, 1, 1))
  expect_true(all(tie_out(x)$ok))
  # A line without a known amount is named too.
  expect_identical(changed_lines(x)$id, c(2L, 1L, 3L, 4L))
})

test_that("dates that nobody asked for are open: a line entered before the first date told is seen", {
  orders <- data.frame(id = 1:4, on = as.Date("2026-01-10") + 0:3, amount = c(1, 2, NA, 4))
  ask <- function(orders, book = identity) {
    rollup(book(as_of(daybook(orders, on), "2026-01-13")), month, s = sum(amount), n = count(),
      totals = "grand")
  }
  late <- rbind(orders, data.frame(id = 5:6, on = as.Date(c("2025-12-31", "2026-01-12")), amount = c(5, 0)))
  x <- changes(ask(orders), ask(late), key = "id")
  total <- subset(as.data.frame(x), .measure == "s" & .role == "total")
  expect_identical(c(total$before, total$now, total$`lines entered since`), c(7, 12, 5))
  # One that moved no amount is named too.
  expect_setequal(changed_lines(x)$id, 5:6)
  expect_true(all(tie_out(x)$ok))
  limited <- function(book) within_dates(book, "2026-01-01")
  y <- changes(ask(orders, limited), ask(late, limited), key = "id")
  expect_identical(subset(as.data.frame(y), .measure == "s" & .role == "total")$now, 7)
})
