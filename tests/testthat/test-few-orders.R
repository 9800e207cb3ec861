# Few and odd orders answer alike in memory, in a database and from states.

few_forms <- function(orders, folder, env) {
  path <- file.path(folder, "orders.csv")
  utils::write.csv(orders, path, row.names = FALSE, na = "")
  kept <- keep_states(daybook(path, date = on), file.path(folder, "kept"), by = c(g, h), v)
  list(database = list(orders, sqlite_orders(orders, env)), states = list(path, kept))
}

few_asks <- list(
  function(k) {
    rollup(k, by = c(g, month), s = sum(v), n = count(), a = count(v), m = mean(v), d = sd(v),
      x = max(v),
      ly = prior(s, year), gr = growth(s, year), y = ytd(s), sh = share(s), totals = "all")
  },
  function(k) rollup(only(k, h), by = c(day_of_week), s = sum(v), o = occurrences(day)),
  function(k) {
    rollup(k, by = g, md = median(v), dd = distinct(v), f = first(v), l = last(v),
      e = max(each(day, sum(v))))
  },
  function(k) crosstab(k, rows = g, cols = quarter, s = sum(v), totals = "all"),
  function(k) behind(rollup(k, by = year, s = sum(v)), row = 1L)[c("on", "g", "v")],
  function(k) tie_out(rollup(k, by = c(g, year), s = sum(v), n = count(), totals = "all")),
  function(k) listing(k, groups = g, lines = on, s = sum(v), r = running(s, along = lines)),
  function(k) rollup(as_of(k, "2024-02-29"), by = c(month), s = sum(v), ly = prior(s, year))
)

test_that("one line, leap days, unknown amounts, unsorted and repeated lines give the same everywhere", {
  day <- function(...) as.Date(c(...))
  cases <- list(
    one = data.frame(on = day("2024-02-29"), g = "a", h = TRUE, v = 1.25),
    leap = data.frame(on = day("2024-02-29", "2023-02-28", "2025-02-28", "2024-02-28"), g = c("a", "a", "b",
      "a"),
      h = TRUE, v = c(1, 2, 4, 8)),
    unknown = data.frame(on = day("2024-01-31", "2024-02-29"), g = c("a", NA), h = c(TRUE, NA),
      v = c(NA_real_, NA)),
    unsorted = data.frame(on = day("2024-03-01", NA, "2023-12-31", "2024-02-29", "2024-03-01"),
      g = c("b", "a", "a", "b", "b"),
      h = c(TRUE, FALSE, TRUE, NA, TRUE), v = c(0.1, 0.2, NA, -0.3, 0.1)),
    alike = data.frame(on = rep(day("2024-02-29"), 4L), g = "a", h = FALSE, v = 2.5)
  )
  for (name in names(cases)) {
    folder <- withr::local_tempdir()
    forms <- few_forms(cases[[name]], folder, environment())
    for (form in names(forms)) {
      here <- daybook(forms[[form]][[1L]], date = on)
      there <- daybook(forms[[form]][[2L]], date = on)
      for (i in seq_along(few_asks)) {
        expect_equal(asked_of_book(few_asks[[i]], there), asked_of_book(few_asks[[i]], here),
          tolerance = 1e-12,
          info = paste(name, form, i), ignore_attr = TRUE)
      }
    }
  }
})
