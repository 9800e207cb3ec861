# Figures of each member of a column: who its members are follows the lenses inside.

orders_of_members <- function() {
  data.frame(on = as.Date(c("2025-01-05", "2025-01-20", "2025-02-03", "2026-01-05", "2026-01-25")),
    who = c("a", "b", "c", "a", "d"), ch = c("w", "t", "w", "w", "t"), v = c(10, 20, 30, 5, 7))
}

test_that("the members are those that an aggregate inside sees in its own, moved cell", {
  book <- daybook(orders_of_members(), on)
  x <- plain(rollup(within_dates(book, "2026-01-01"), month, p = prior(sum(v), year),
    e = sum(each(who, prior(sum(v), year))), n = count(each(who, prior(sum(v), year))),
    lost = count(each(who, prior(sum(v), year) / (sum(v) == 0))), now = count(each(who, sum(v))),
    web = mean(each(who, only(sum(v), ch == "w")))))
  expect_identical(x$e, x$p)
  expect_identical(c(x$n, x$lost, x$now, x$web), c(2, 1, 2, 5))
  # Finer periods inside, and what is worked out of periods alone, move with the cell as well; the record
  # begins on 5 January.
  moved <- plain(rollup(within_dates(book, "2026-01-01"), month, d = count(each(who, prior(max(each(day,
    sum(v))), year))), o = sum(each(who, prior(occurrences(day), year)))))
  expect_identical(c(moved$d, moved$o), c(2, 2 * 21))
})

test_that("so it is on every engine, and the explanation reads the same order lines", {
  skip_if_not_installed("RSQLite")
  orders <- orders_of_members()
  ask <- function(book) {
    rollup(book, c(ch, month), e = sum(each(who, prior(sum(v), year))),
      d = max(each(who, sum(v) - prior(sum(v), year))),
      r = sum(each(who, regardless(sum(v), ch))), totals = "all")
  }
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(orders, file, row.names = FALSE)
  memory <- ask(only(daybook(orders, on), v > 5))
  for (book in list(daybook(file, on), daybook(sqlite_orders(orders), on))) {
    expect_identical(plain(ask(only(book, v > 5))), plain(memory))
  }
  row <- which(plain(memory)$e == 20)[1L]
  expect_identical(behind(memory, row, "e")$v, 20)
  expect_match(paste(format(explain(memory, row, "e")), collapse = " "), "1 line")
})

test_that("an overall figure inside each() releases axes of the table, not the member", {
  orders <- orders_of_members()
  x <- plain(rollup(daybook(orders, on), ch, own = max(each(who, sum(v))),
    all = max(each(who, overall(sum(v)))),
    share = max(each(who, share(sum(v))))))
  by_member <- tapply(orders$v, list(orders$ch, orders$who), sum)
  all <- tapply(orders$v, orders$who, sum)
  for (i in seq_along(x$ch)) {
    here <- !is.na(by_member[x$ch[i], ])
    expect_identical(x$all[i], max(all[here]))
    expect_equal(x$share[i], max((by_member[x$ch[i], ] / all)[here]))
  }
})
