# Rows kept by a condition: each shown row, and each total, is that of the table without the rule.

where_orders <- function(n, seed) {
  set.seed(seed)
  data.frame(
    ordered = as.Date("2025-01-01") + sample(0:420, n, TRUE), a = sample(c("p", "q", "r", NA), n, TRUE),
    b = sample(c("u", "v", "w", "x", "y"), n, TRUE), k = factor(sample(c("L", "M", "S"), n, TRUE), c("S", "M",
      "L")), order = sample(1:60, n, TRUE), v = round(rnorm(n, 20, 60), 2)
  )
}

# The rows of a table by the members of its axes; those put together stand under "...".
rows_by_key <- function(x, label = NULL) {
  rows <- as.data.frame(x, shape = "long")
  axes <- lapply(rows[names(x$axes)], function(values) {
    values <- as.character(values)
    ifelse(is.na(values), "all", ifelse(values %in% label, "...", values))
  })
  rows$.key <- do.call(paste, c(axes, list(sep = "/")))
  rows
}

axis_key <- function(rows, axes, x) {
  do.call(paste, c(lapply(rows[axes], function(v) ifelse(is.na(v), "all", as.character(v))), sep = "/"))
}

where_measures <- function() {
  measures(s = sum(v), n = count(), g = growth(s, month), r = rank(s), sh = share(s), rn = running(s,
    along = b))
}

test_that("rows that stay are those of the table without the rule, and so are totals", {
  asks <- list(
    list(by = quote(c(a, b)), axis = "b", leading = c("a", "b")),
    list(by = quote(c(month, b)), axis = "b", leading = c("month", "b")),
    list(by = quote(c(b, month)), axis = "month", leading = c("b", "month")),
    list(by = quote(c(b, month)), axis = "b", leading = "b"),
    list(by = quote(c(k, b)), axis = "k", leading = "k")
  )
  conditions <- alist(s > 100, r <= 2, sh > 0.04 & n >= 3, !(g < 0), g < 0 | s < 50)
  figures <- where_measures()
  for (i in seq_along(asks)) for (condition in conditions) {
    ask <- asks[[i]]
    book <- daybook(where_orders(250L, i), date = ordered) |> within_dates("2025-03-01", "2026-01-31")
    plain <- rlang::inject(rollup(book, by = !!ask$by, figures, totals = "all"))
    rule <- rlang::inject(keep_where(!!condition))
    cut <- rlang::inject(rollup(book, by = !!ask$by, figures, totals = "all",
      keep = stats::setNames(list(rule), ask$axis)))
    # The condition is asked of the rows that keep the leading axes alone.
    level <- as.data.frame(rlang::inject(rollup(book, by = !!as.call(c(quote(c), lapply(ask$leading,
      as.name))),
      s = sum(v), n = count(), g = growth(s, month), r = rank(s), sh = share(s))))
    met <- eval(condition, level)
    kept <- axis_key(level, ask$leading)[met %in% TRUE | met %in% 1]
    all <- rows_by_key(plain)
    there <- axis_key(all, ask$leading)
    released <- is.na(all[[ask$axis]])
    expected <- all[released | there %in% kept, ]
    found <- rows_by_key(cut)
    expect_identical(found$.key, expected$.key)
    expect_equal(found[names(expected)], expected, ignore_attr = TRUE)
    expect_true(all(tie_out(cut)$ties, na.rm = TRUE))
  }
})

# Order lines with the words of the axes, those that are not kept as "Rest".
put_as_rest <- function(orders, level, axes, met) {
  words <- function(values) ifelse(is.na(values), "(none)", as.character(values))
  orders$month <- format(orders$ordered, "%Y-%m")
  key_of_axis <- function(axis, rows) {
    by_text <- axis != "month" || is.character(rows[[axis]])
    if (by_text) words(rows[[axis]]) else substr(format(rows[[axis]]), 1L, 7L)
  }
  keys <- function(rows) do.call(paste, c(lapply(axes, key_of_axis, rows = rows), sep = "/"))
  last <- axes[length(axes)]
  orders[[last]] <- ifelse(keys(orders) %in% keys(level)[met %in% TRUE], words(orders[[last]]), "Rest")
  orders
}

test_that("the line of others has the figures of its orders, in each group and period", {
  asks <- list(
    list(by = quote(b), leading = "b"), list(by = quote(c(a, b)), leading = c("a", "b")),
    list(by = quote(c(b, a)), leading = "b"), list(by = quote(c(month, b)), leading = c("month", "b")),
    list(by = quote(c(month, k)), leading = c("month", "k")), list(by = quote(c(b, month)), leading = "b")
  )
  for (i in seq_along(asks)) for (condition in alist(s > 150, r <= 2, n < 9)) {
    ask <- asks[[i]]
    orders <- where_orders(250L, 20L + i)
    book <- daybook(orders, date = ordered)
    axis <- utils::tail(ask$leading, 1L)
    rule <- rlang::inject(keep_where(!!condition, others = "Rest"))
    x <- rlang::inject(rollup(book, by = !!ask$by, s = sum(v), n = count(), r = rank(s), d = distinct(order),
      m = median(v), totals = "all", keep = stats::setNames(list(rule), axis), sort = largest_first(s)))
    level <- as.data.frame(rlang::inject(rollup(book, by = !!as.call(c(quote(c), lapply(ask$leading,
      as.name))),
      s = sum(v), n = count(), r = rank(s))))
    lines <- put_as_rest(orders, level, ask$leading, eval(condition, level))
    rows <- as.data.frame(x)
    other <- which(rows[[axis]] %in% "Rest")
    for (row in other) {
      here <- rep(TRUE, nrow(lines))
      for (name in setdiff(names(x$axes), character())) {
        value <- rows[[name]][row]
        if (is.na(value)) next
        value <- if (name == "month") substr(format(value), 1L, 7L) else as.character(value)
        own <- ifelse(is.na(lines[[name]]), "(none)", as.character(lines[[name]]))
        here <- here & own == value
      }
      own <- lines[here, ]
      expect_equal(c(rows$s[row], rows$n[row], rows$d[row]), c(sum(own$v), nrow(own),
        length(unique(own$order))))
      expect_equal(rows$m[row], if (nrow(own) > 0L) stats::median(own$v) else NA_real_)
      expect_identical(nrow(behind(x, row = row, measure = "s")), nrow(own))
    }
    expect_identical(length(other) > 0L, any(lines[[axis]] == "Rest"))
    expect_true(all(tie_out(x)$ties, na.rm = TRUE))
  }
})

test_that("a cross-tab keeps whole rows and columns, and both may have others", {
  orders <- where_orders(300L, 4L)
  book <- daybook(orders, date = ordered)
  x <- crosstab(book, rows = b, cols = a, s = sum(v), totals = "all",
    keep = list(b = keep_where(s > 1100, others = "few"), a = keep_where(count() >= 75, others = "rare")))
  cells <- as.data.frame(x, shape = "long")
  word <- function(values) ifelse(is.na(values), "(none)", as.character(values))
  own <- data.frame(b = word(orders$b), a = word(orders$a), v = orders$v)
  many <- names(which(tapply(own$v, own$b, sum) > 1100))
  often <- names(which(table(own$a) >= 75))
  own$b[!own$b %in% many] <- "few"
  own$a[!own$a %in% often] <- "rare"
  expect_true(all(c(length(many), length(often)) > 0L) && "few" %in% own$b && "rare" %in% own$a)
  sums <- tapply(own$v, own[c("b", "a")], sum)
  inner <- cells[!is.na(cells$a) & !is.na(cells$b), ]
  expect_equal(inner$s, unname(sums[cbind(as.character(inner$b), as.character(inner$a))]))
  expect_identical(nrow(inner), length(sums))
  expect_identical(unique(as.character(inner$b)), c(sort(many), "few"))
  corner <- which(as.data.frame(x)$b %in% "few")
  expect_identical(nrow(behind(x, row = corner, measure = "rare")), sum(own$b == "few" & own$a == "rare"))
})

test_that("a listing keeps lines by their figure, and groups without lines are left out", {
  orders <- where_orders(80L, 9L)
  x <- listing(daybook(orders, date = ordered), groups = b, lines = c(ordered, order), s = sum(v),
    keep = keep_where(s > 60))
  rows <- as.data.frame(x)
  expect_equal(sort(rows$s[rows$.role == "line"]), sort(orders$v[orders$v > 60]))
  groups <- listing(daybook(orders, date = ordered), groups = b, lines = c(ordered, order), s = sum(v),
    keep = list(b = keep_where(s > 400)))
  sums <- tapply(orders$v, orders$b, sum)
  expect_identical(unique(as.character(stats::na.omit(as.data.frame(groups)$b))), names(sums)[sums > 400])
})

test_that("what is kept is told, none and unknown figures too", {
  book <- daybook(where_orders(250L, 1L), date = ordered)
  told <- function(...) paste(format(rollup(book, ...), width = 300L), collapse = " ")
  expect_match(told(by = b, s = sum(v), keep = keep_where(s > 1e9), totals = "grand"),
    "None of 5 members of b shown, those where s is above 1,000,000,000; +totals are those of +all")
  expect_match(told(by = month, s = sum(v), g = growth(s, year), keep = keep_where(g < 0)), "unknown figure")
  expect_match(told(by = b, s = sum(v), r = rank(s), keep = keep_where(r == 1)),
    "counts all rows, those not +shown too")
})

test_that("what is no rule of rows is refused by kind", {
  book <- daybook(where_orders(50L, 1L), date = ordered)
  ask <- function(rule, by = quote(b)) rlang::inject(rollup(book, by = !!by, s = sum(v), keep = rule))
  expect_raised(ask(keep_where(s)), "expression", "not a condition on figures", "keep_where(s > 0)")
  expect_raised(keep_where(), "argument", "needs a condition")
  expect_raised(ask(keep_where(s > 0, others = "u")), "argument", "is a member")
  expect_raised(ask(keep_where(s > 0, others = "Rest"), quote(month)), "argument", "cannot be combined")
  expect_raised(rollup(book, s = sum(v), keep = keep_where(s > 0)), "argument", "needs rows")
  expect_raised(ask(keep_where(t > 0)), "expression", "no measure")
})

test_that("a figure of the rows is the same beside the line of others", {
  book <- daybook(where_orders(250L, 3L), date = ordered)
  x <- as.data.frame(rollup(book, by = c(a, b), s = sum(v), m = overall(s, using = mean), totals = "all",
    keep = list(b = keep_where(s > 150, others = "Rest"))))
  plain <- as.data.frame(rollup(book, by = c(a, b), s = sum(v)))
  expect_equal(x$m, rep(mean(plain$s), nrow(x)))
  expect_true("Rest" %in% x$b)
})
