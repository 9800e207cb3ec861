book <- daybook(untidy_orders(1500L, 5), on)
sums <- function(...) plain(rollup(book, depot, sales = sum(amount), ...))

test_that("members stand by the figures of a measure, the missing one last", {
  largest <- sums(sort = largest_first(sales))
  expect_identical(largest$depot[4L], "(none)")
  expect_identical(largest$sales[1:3], sort(largest$sales[1:3], decreasing = TRUE))
  smallest <- sums(sort = smallest_first(sum(amount)))
  expect_identical(smallest$depot, c(rev(largest$depot[1:3]), "(none)"))
})

test_that("within groups, and by the figures of one column", {
  x <- plain(rollup(book, c(depot, channel), n = count(), sort = largest_first(n)))
  for (group in split(x, x$depot)) expect_false(is.unsorted(-group$n))
  y <- plain(rollup(book, c(year, depot), n = count(), sort = list(depot = largest_first(n))))
  for (group in split(y, format(y$year))) expect_false(is.unsorted(-group$n[group$depot != "(none)"]))
  wide <- plain(crosstab(book, depot, channel, n = count(), sort = largest_first(n, at = "phone")))
  expect_false(is.unsorted(-wide$phone[wide$depot != "(none)"]))
  across <- crosstab(book, channel, depot, n = count(), sort = list(depot = largest_first(n)),
    totals = "grand")
  total <- unlist(plain(across)[4L, 2:4])
  expect_false(is.unsorted(-total))
})

test_that("by a key, one for each label, and in a list that is given", {
  orders <- untidy_orders(500L, 2)
  orders$place <- c(Garrick = 3, Skelby = 1, Thornmoor = 2)[orders$depot]
  keyed <- daybook(orders, on)
  expect_identical(
    plain(rollup(keyed, depot, n = count(), sort = by_key(place)))$depot,
    c("Skelby", "Thornmoor", "Garrick", "(none)")
  )
  lasting <- sort_key(keyed, depot, place)
  expect_identical(plain(rollup(lasting, depot, n = count()))$depot,
    c("Skelby", "Thornmoor", "Garrick", "(none)"))
  expect_identical(plain(rollup(lasting, depot, n = count(), sort = in_order("Garrick")))$depot[1L],
    "Garrick")
  orders$place[which(orders$depot == "Skelby")[1L]] <- 9
  expect_raised(rollup(daybook(orders, on), depot, n = count(), sort = by_key(place)),
    "sort", "Skelby", "more than one key")
  expect_raised(sort_key(daybook(orders, on), depot, place), "sort", "Skelby")
  expect_raised(sums(sort = in_order("Skelbe")), "sort", "Skelbe", "Did you mean")
})

test_that("an order is along what running figures run, and rank goes by it", {
  x <- plain(rollup(book, depot, n = count(), cum = running(share(n), along = depot),
    r = rank(n), sort = largest_first(n)))
  expect_equal(x$cum, cumsum(x$n) / sum(x$n))
  expect_identical(x$r, rank(-x$n, ties.method = "min") + 0)
  expect_raised(
    rollup(
      book, c(year, depot), n = count(), c = running(n, along = depot), sort = largest_first(n)
    ), "sort", "one order for all periods"
  )
})

test_that("the others are worked out from their orders, whatever the figure", {
  orders <- untidy_orders(1500L, 5)
  x <- plain(rollup(book, customer,
    n = count(), people = distinct(customer), mid = median(amount),
    top = max(amount), keep = keep_top(5, n), totals = "grand"
  ))
  dated <- orders[!is.na(orders$on), ]
  counts <- sort(table(dated$customer), decreasing = TRUE)
  kept <- x$customer[x$.role == "line"]
  expect_identical(unname(as.vector(counts[1:5])) + 0, x$n[1:5])
  rest <- dated[!as.character(dated$customer) %in% kept, ]
  others <- x[x$.role == "others", ]
  expect_identical(others$customer, "All others")
  expect_identical(others$n, nrow(rest) + 0)
  expect_identical(others$people, length(unique(rest$customer)) + 0)
  expect_identical(others$mid, stats::median(rest$amount, na.rm = TRUE))
  expect_identical(others$top, max(rest$amount, na.rm = TRUE))
  expect_identical(x$n[x$.role == "total"], nrow(dated) + 0)
})

test_that("members are kept within their group, the same in every period", {
  x <- plain(rollup(book, c(depot, customer, year), n = count(),
    keep = list(customer = keep_top(2, n)), totals = "all"))
  lines <- x[x$.role == "line", ]
  for (depot in unique(lines$depot)) expect_length(unique(lines$customer[lines$depot == depot]), 2L)
  total <- x[x$.role == "total", ]
  expect_identical(sum(x$n[x$.role %in% c("line", "others")]), total$n)
  nested <- plain(rollup(book, c(depot, customer), n = count(),
    keep = list(depot = keep_top(1, n), customer = keep_top(1, n))))
  expect_identical(nested$.role, c("line", "others", "others", "others"))
  expect_identical(sum(nested$n), total$n)
})

test_that("others may be dropped, with a note; totals are those of all", {
  x <- rollup(book, depot, n = count(), keep = keep_top(2, n, others = NULL), totals = "grand")
  expect_identical(plain(x)$.role, c("line", "line", "total"))
  expect_identical(plain(x)$n[3L], sum(!is.na(untidy_orders(1500L, 5)$on)) + 0)
  expect_match(paste(format(x), collapse = "\n"), "2 of 4 members of depot shown; totals are those of all")
  expect_s3_class(tie_out(x), "drystack_tie_out")
})

test_that("more than there are is all, with a note, and no others have no rank", {
  expect_match(
    paste(format(rollup(book, depot, n = count(), keep = keep_top(9, n))), collapse = "\n"),
    "All 4 members of depot shown; 9 asked for"
  )
  x <- plain(rollup(book, depot, n = count(), r = rank(n), keep = keep_top(2, n)))
  expect_identical(x$r, c(1, 2, NA))
})

test_that("rules that make no sense are errors", {
  expect_raised(keep_top(0, n), "argument", "at least 1")
  expect_raised(keep_top(3), "argument", "needs a measure")
  expect_raised(sums(sort = largest_first(sale)), "expression", "\"sale\"", "Did you mean \"sales\"")
  expect_raised(sums(sort = list(month = largest_first(sales))), "argument", "\"month\"", "not a dimension")
  expect_raised(rollup(book, NULL, n = count(), sort = largest_first(n)), "argument", "none")
  expect_raised(sums(sort = "largest"), "argument", "one rule")
  expect_raised(sums(keep = keep_top(1, sales, others = "Skelby")), "argument", "is a member")
  expect_raised(
    sums(sort = largest_first(sales, at = "web")), "sort",
    "{.arg at}" |> sub(pattern = "{.arg at}", replacement = "`at`", fixed = TRUE)
  )
  expect_raised(crosstab(book, depot, channel, n = count(), sort = largest_first(n, at = "fax")),
    "sort", "no column \"fax\"")
  expect_raised(in_order(), "sort", "takes members")
})

test_that("a total over the lines shown counts all others as one of them", {
  orders <- data.frame(on = as.Date("2026-01-01"), k = c("a", "b", "c", "d"), x = c(11, 22, 33, 44))
  x <- plain(rollup(daybook(orders, on), k, s = measure(sum(x), total = of_shown(mean)),
    keep = keep_top(2, s), totals = "grand"))
  expect_identical(x$s, c(44, 33, 33, mean(c(44, 33, 33))))
})

test_that("a whole over groups that keep different members is refused", {
  orders <- data.frame(on = as.Date("2026-01-01"), g = c("x", "x", "y", "y"), k = c("a", "b", "a", "b"),
    v = c(4, 1, 2, 3))
  book <- daybook(orders, on)
  ask <- function(...) rollup(book, c(g, k), s = sum(v), ..., keep = list(k = keep_top(1, s)))
  expect_raised(ask(p = share(s, within = k)), "sort", "differ by g", "within = c(g, k)")
  expect_raised(ask(p = s / overall(s, within = k)), "sort", "\"p\"")
  expect_identical(plain(ask(p = share(s, within = c(g, k))))$p, rep(1, 4L))
  expect_identical(plain(ask(p = share(s, within = g)))$p, c(0.8, 0.2, 0.6, 0.4))
})

test_that("periods of a rollup stand by a measure, and the best are kept in the order of time", {
  whole <- plain(rollup(book, month, s = sum(amount), so_far = ytd(s), before = prior(s, year)))
  by_size <- rollup(book, month, s = sum(amount), so_far = ytd(s), before = prior(s, year),
    sort = largest_first(s), totals = "grand")
  expect_identical(plain(by_size)[seq_len(nrow(whole)), 1:4],
    `rownames<-`(whole[order(-whole$s), 1:4], NULL))
  best <- rollup(book, month, s = sum(amount), totals = "grand", keep = keep_top(3, s))
  kept <- sort(order(-whole$s)[1:3])
  expect_identical(plain(best)$s, c(whole$s[kept], plain(by_size)$s[nrow(whole) + 1L]))
  expect_identical(format(plain(best)$month[1:3]), format(whole$month[kept]))
  expect_match(all_notes(best), "3 of 37 periods of month shown; totals are those of all", all = FALSE)
  expect_no_match(all_notes(best), "part-way")
  part_way <- rollup(as_of(book, "2025-10-20"), month, s = sum(amount))
  last <- rollup(as_of(book, "2025-10-20"), month, s = sum(amount), keep = keep_top(100, s))
  expect_identical(all_notes(last)[1L], all_notes(part_way)[1L])
  expect_match(all_notes(last)[1L], "is part-way")
  expect_true(all(tie_out(best)$ok, na.rm = TRUE))
  expect_equal(sum(behind(best, 2)$amount, na.rm = TRUE), whole$s[kept[2L]])
})

test_that("periods are kept within the members before them, which may be kept themselves", {
  each <- plain(rollup(book, c(channel, quarter), s = sum(amount)))
  two <- rollup(book, c(channel, quarter), s = sum(amount), totals = "all",
    keep = list(quarter = keep_top(2, s)))
  for (channel in c("web", "counter", "phone")) {
    own <- each$s[each$channel == channel]
    shown <- plain(two)[plain(two)$channel %in% channel & plain(two)$.role == "line", ]
    expect_identical(shown$s, own[sort(order(-own)[1:2])])
  }
  both <- rollup(book, c(year, depot), s = sum(amount), totals = "all",
    keep = list(year = keep_top(1, s), depot = keep_top(1, s)))
  expect_identical(plain(both)$.role, c("line", "others", "subtotal", "total"))
  expect_true(all(tie_out(both)$ok, na.rm = TRUE))
  expect_equal(explain(both, 2, "s")$value, plain(both)$s[2L])
})

test_that("what periods in another order cannot do is refused by name", {
  expect_raised(rollup(book, month, s = sum(amount), r = running(s, along = month), sort = largest_first(s)),
    "sort", "\"r\" runs along \"month\"")
  expect_raised(rollup(book, month, s = sum(amount), sort = in_order("2024-01")), "sort", "Only a measure")
  expect_raised(rollup(book, month, s = sum(amount), keep = keep_top(3, s, others = "Rest")), "argument",
    "cannot be combined")
  expect_raised(crosstab(book, depot, month, s = sum(amount), sort = list(month = largest_first(s))),
    "argument", "order of time")
})

test_that("a figure is explained in whatever order its members stand", {
  orders <- data.frame(d = as.Date("2026-01-05") + 0:3, depot = c("A", "B", "C", "A"), v = c(1, 2, 4, 8))
  for (rule in c("in_order(\"C\", \"A\")", "largest_first(s)", "by_key(v2)")) {
    book <- work_out(daybook(orders, d), v2 = regroup(depot, z = "A"))
    x <- eval(str2lang(paste0("rollup(book, depot, s = sum(v), sort = ", rule, ")")))
    told <- vapply(1:3, function(row) as.data.frame(explain(x, row, "s")$steps)$value[1L], 0)
    expect_identical(told, plain(x)$s, info = rule)
  }
})
