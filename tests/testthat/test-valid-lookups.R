# Lookups by several keys and valid from a day, against a loop in base R, on every engine.

costs_of <- function(seed) {
  set.seed(seed)
  costs <- unique(data.frame(who = sample(c(paste0("C", 1:22), "C99"), 90L, TRUE), shop = sample(c("p",
    "q"), 90L, TRUE),
    since = as.Date("2025-02-01") + 40L * sample(0:8, 90L, TRUE)))
  costs$cost <- round(runif(nrow(costs), 1, 30), 2)
  costs$kind <- sample(c("own", "bought"), nrow(costs), TRUE)
  costs
}

row_by_hand <- function(orders, costs, keys, from = NULL) {
  vapply(seq_len(nrow(orders)), function(i) {
    same <- Reduce(`&`, lapply(keys, function(key) costs[[key]] == orders[[key]][i]))
    if (!is.null(from)) same <- same & costs[[from]] <= orders$on[i]
    here <- which(same)
    if (!is.null(from)) here <- here[which.max(costs[[from]][here])]
    here[1L]
  }, 1L)
}

test_that("the row is that of all keys, valid on the day of the order, on every engine", {
  orders <- each_orders(300L, 8L)
  costs <- costs_of(8L)
  one <- costs[!duplicated(costs[c("who", "shop")]), ]
  for (book in each_books(orders)) {
    for (case in list(list(table = costs, keys = c("who", "shop"), from = "since"), list(table = one,
      keys = c("who", "shop")),
      list(table = costs[!duplicated(costs[c("who", "since")]), ], keys = "who", from = "since"))) {
      row <- row_by_hand(orders, case$table, case$keys, case$from)
      rich <- enrich(book, case$table[setdiff(names(case$table), c(setdiff(c("shop", "since"), c(case$keys,
        case$from))))],
        by = case$keys, from = case$from, name = "costs")
      dated <- !is.na(orders$on)
      x <- as.data.frame(rollup(rich, by = month, c = sum(cost), m = sum(v * cost), n = count(cost)))
      month <- factor(format(orders$on[dated], "%Y-%m"), format(start_of(x$month), "%Y-%m"))
      cost <- case$table$cost[row][dated]
      expect_equal(x$c, as.numeric(tapply(cost, month, sum, na.rm = TRUE, default = 0)))
      expect_equal(x$m, as.numeric(tapply(cost * orders$v[dated], month, sum, na.rm = TRUE, default = 0)))
      expect_equal(x$n, as.numeric(tapply(!is.na(cost), month, sum, default = 0)))
      kinds <- as.data.frame(rollup(rich, by = kind, n = count()))
      found <- table(ifelse(is.na(row), "(none)", case$table$kind[row])[dated])
      expect_equal(stats::setNames(kinds$n, as.character(kinds$kind)),
        unclass(found)[as.character(kinds$kind)],
        ignore_attr = TRUE)
      expect_identical(as.data.frame(rollup(rich, n = count()))$n, as.numeric(sum(dated)))
    }
  }
})

test_that("days before the first validity are counted, doubled rows refused, and all surfaces say it", {
  orders <- each_orders(300L, 9L)
  costs <- costs_of(9L)
  book <- daybook(orders, on)
  rich <- enrich(book, costs, by = c("who", "shop"), from = "since")
  missed <- sum(is.na(row_by_hand(orders, costs, c("who", "shop"),
    "since")) & !is.na(orders$who) & !is.na(orders$on))
  told <- paste(format(rollup(rich, s = sum(cost)), width = 300L), collapse = " ")
  expect_match(told, paste0("on ", missed, " lines"))
  expect_match(told, "before it is valid|another who")
  expect_raised(enrich(book, rbind(costs, costs[3L, ]), by = c("who", "shop"), from = "since"), "lookup",
    costs$who[3L], "from")
  expect_raised(enrich(book, costs, by = c("who", "shop")), "lookup", "more than one row")
  expect_raised(enrich(book, costs, by = c("who", "stop")), "column", "shop")
  expect_raised(enrich(book, transform(costs, since = "soon"), by = c("who", "shop"), from = "since"),
    "lookup", "not a date at")
  folder <- withr::local_tempdir()
  utils::write.csv(orders, file.path(folder, "o.csv"), row.names = FALSE, na = "")
  utils::write.csv(costs, file.path(folder, "costs.csv"), row.names = FALSE)
  asked <- rollup(enrich(daybook(file.path(folder, "o.csv"), on), file.path(folder, "costs.csv"),
    by = c("who", "shop"),
    from = "since", prefix = "c_"), by = month, s = sum(c_cost))
  as_standing(asked, file.path(folder, "r.yml"))
  built <- build_report(file.path(folder, "r.yml"), out = folder, formats = "csv")
  expect_equal(utils::read.csv(file.path(folder, "r.csv"))$s, as.data.frame(asked)$s)
  out <- withr::with_dir(folder, utils::capture.output(run_command(c("rollup", "--orders", "o.csv",
    "--date", "on",
    "--lookup", "costs.csv:who,shop@since:c_", "--by", "month", "--show", "s = sum(c_cost)", "--format",
      "csv"))))
  expect_equal(utils::read.csv(text = out)$s, as.data.frame(asked)$s)
  expect_identical(lookup_text(lookup_of_text("costs.csv:who,shop=place@since:c_")),
    "costs.csv:who,shop=place@since:c_")
})
