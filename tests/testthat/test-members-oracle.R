# Random asks of figures over members, days and balances, each cell worked out again by plain R from the
# order lines, on every engine that needs no server.

drawn_orders <- function(seed) {
  set.seed(seed)
  n <- sample(c(20L, 150L, 400L), 1L)
  orders <- each_orders(n, seed)
  orders$order <- sample(seq_len(max(n %/% 3L, 2L)), n, TRUE)
  orders$paid <- orders$on + sample(c(NA, 0:60, -1L), n, TRUE)
  opened <- as.Date("2024-06-01") + sample(0:500, 3L)
  orders$opened <- stats::setNames(opened, c("p", "q", "r"))[orders$shop]
  orders
}

# One year earlier: the last day of a month goes to the last day of the month.
year_before <- function(day) {
  last <- format(day + 1L, "%d") == "01"
  there <- seq(as.Date(format(day, "%Y-%m-01")), by = "-1 year", length.out = 2L)[2L]
  end <- seq(there, by = "month", length.out = 2L)[2L] - 1L
  if (last) end else min(there + as.integer(format(day, "%d")) - 1L, end)
}

# What is asked, and how plain R works it out for a cell: lines `in` it, `all` of its members whatever
# their day, its first and last day.
drawn_figure <- function(about) {
  k <- sample(5:60, 1L)
  within <- function(lines, from, to) lines[!is.na(lines$on) & lines$on >= from & lines$on <= to, ]
  pick <- sample(10L, 1L)
  unit_before <- function(cell) list(from = year_before(cell$from), to = year_before(cell$to))
  switch(pick,
    list("median(gaps(on))", function(cell) none(diff(sort(unique(as.numeric(cell$here$on)))),
      stats::median)),
    list("count(gaps(on))", function(cell) max(length(unique(cell$here$on)) - 1L, 0L)),
    list("max(each(who, max(gaps(on))))", function(cell) {
      none(unlist(lapply(split(as.numeric(cell$here$on), cell$here$who2),
        function(d) diff(sort(unique(d))))), max)
    }),
    list("as_of - max(on)", function(cell) none(as.numeric(cell$here$on),
      function(d) as.numeric(about$as_of) - max(d))),
    list("alike(sum(v), who, year)", function(cell) {
      before <- unit_before(cell)
      both <- intersect(cell$here$who2, within(cell$all, before$from, before$to)$who2)
      sum(cell$here$v[cell$here$who2 %in% both])
    }),
    list("alike(sum(v), shop, year, from = opened)", function(cell) {
      sum(cell$here$v[cell$here$opened <= year_before(cell$from)])
    }),
    list(paste0("open_at(sum(v), on, paid, older = ", k, ")"), function(cell) {
      open <- !is.na(cell$all$on) & cell$all$on + k <= cell$to &
        (is.na(cell$all$paid) | cell$all$paid > cell$to & cell$all$paid >= cell$all$on)
      sum(cell$all$v[open])
    }),
    list(paste0("only(sum(v), of_each(who, count()) > ", k, ")"), function(cell) {
      n <- table(about$lines$who)
      sum(cell$here$v[cell$here$who %in% names(n)[n > k]])
    }),
    list("only(count(), any_in(order, shop == \"q\"))", function(cell) {
      sum(cell$here$order %in% about$lines$order[about$lines$shop == "q"])
    }),
    list(paste0("longest(each(month, sum(v) > ", k, "))"), function(cell) {
      months <- format(seq(as.Date(format(cell$from, "%Y-%m-01")), cell$to, by = "month"), "%Y-%m")
      sums <- tapply(cell$here$v, factor(format(cell$here$on, "%Y-%m"), months), sum)
      runs <- rle((sums > k) %in% TRUE)
      max(0, runs$lengths[runs$values])
    })
  )
}

none <- function(x, fn) if (length(x) == 0L) NA_real_ else as.numeric(fn(x))

drawn_axes <- function() {
  list(shop = stats::runif(1L) < 0.6, unit = sample(c("none", "month", "quarter"), 1L))
}

expected_cell <- function(x, row, axes, about, figure) {
  lines <- about$lines
  if (axes$shop) lines <- lines[lines$shop == x$shop[row], ]
  limit <- c(about$first, about$as_of)
  if (axes$unit != "none") {
    period <- x[[axes$unit]][row]
    limit <- c(max(start_of(period), limit[1L]), min(end_of(period), limit[2L]))
  }
  lines$who2 <- ifelse(is.na(lines$who), "(none)", lines$who)
  figure(list(all = lines, from = limit[1L], to = limit[2L],
    here = lines[lines$on >= limit[1L] & lines$on <= limit[2L], ]))
}

test_that("figures over members, days and balances are those of plain R in every cell", {
  for (seed in seq_len(trials(400L))) {
    orders <- drawn_orders(seed)
    about <- list(as_of = as.Date("2025-06-01") + sample(c(0:400, 29, 272, 91), 1L))
    sent <- stats::runif(1L) < 0.5
    dated <- !is.na(orders$on)
    about$first <- min(orders$on[dated])
    if (about$first > about$as_of) next
    about$lines <- orders[dated & orders$on <= about$as_of & (!sent | orders$status == "sent"), ]
    asked <- drawn_figure(about)
    axes <- drawn_axes()
    by <- c(if (axes$shop) "shop", if (axes$unit != "none") axes$unit)
    books <- each_books(orders)
    for (name in if (seed %% 4L == 0L) names(books) else "frame") {
      book <- as_of(books[[name]], about$as_of)
      if (sent) book <- only(book, status == "sent")
      said <- stats::setNames(list(str2lang(asked[[1L]])), "figure")
      x <- as.data.frame(rlang::inject(rollup(book, by = !!by, !!!said)))
      expected <- vapply(seq_len(nrow(x)), expected_cell, 0, x = x, axes = axes, about = about,
        figure = function(cell) as.numeric(asked[[2L]](cell)))
      expect_equal(x$figure, expected, label = paste("seed", seed, name, asked[[1L]], "by", toString(by)))
    }
  }
})

test_that("what is no date is refused as one on every engine", {
  for (book in each_books(each_orders(60L, 3L))) {
    expect_raised(rollup(book, by = shop, s = on(sum(v), v)), "date", "holds no dates")
    expect_raised(rollup(book, by = shop, s = median(gaps(v))), "expression", "a column of dates")
  }
})
