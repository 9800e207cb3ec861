# The explorer in a real browser: from the act to the table on the screen, by the page's own clock, beside
# the ask alone in R. Once with the figure of the act before on the screen, as of somebody who
# looks at it, and once with each act right after the table, while that figure is still being
# drawn. Orders of the demo, and BENCH_ROWS made ones.
suppressMessages({
  library(testthat)
  library(drystack)
})
source("tests/browser/helper-browser.R")
rows <- as.numeric(Sys.getenv("BENCH_ROWS", "1e7"))

made_orders <- function(rows) {
  set.seed(1)
  data.frame(on = as.Date("2023-01-01") + sample.int(1355L, rows, TRUE), region = sample(letters[1:12], rows,
    TRUE),
    channel = sample(c("web", "phone", "counter"), rows, TRUE), amount = round(stats::runif(rows, 1, 500), 2))
}

acts <- list(
  list(do = "set_axis", side = "rows", at = 1L, axis = "region"),
  list(do = "add_measure", text = "growth(amount, year)", name = "growth"),
  list(do = "add_axis", side = "cols", axis = "quarter"), list(do = "turn"),
  list(do = "limit", column = "channel", members = list("\"web\"")),
  list(do = "limit", column = "channel", members = list("\"web\"", "\"phone\"")),
  list(do = "set", key = "totals", value = "all"), list(do = "set_dates", latest = "8 quarter"),
  list(do = "undo"), list(do = "redo")
)

# The acts, three times over, done by the page itself. What a round adds is taken back, so that each asks the
# same. looking: whether the figure is waited for before the next act.
explored_times <- function(explorer, looking) {
  page <- page_at(explorer$url)
  wait_for(page, is_drawn, 120)
  again <- list(list(do = "drop_measure", at = 2L), list(do = "clear", part = "all"),
    list(do = "add_axis", side = "rows", axis = "month"))
  of_page <- function(x) jsonlite::toJSON(x, auto_unbox = TRUE)
  js(page, paste0("(() => { explorer.measured = []; const nap = (t) => new Promise((r) => setTimeout(r, t));
    const until = async (is) => { while (!is()) await nap(20); };
    const done = async (what) => { const n = explorer.times.length; act(what);
      await until(() => explorer.times.length > n); return explorer.times[n]; };
    (async () => { for (let round = 0; round < 3; round += 1) {
      for (const what of ", of_page(acts), ") {
        explorer.measured.push(await done(what));
        if (", of_page(looking), ")
          await until(() => !document.querySelector('#figure:not([hidden]).waiting'));
        await nap(", if (looking) 300 else 50, ");
      }
      for (const what of ", of_page(again), ") { await done(what); await nap(500); }
    } explorer.ended = true; })(); })()"))
  while (!isTRUE(js(page, "explorer.ended"))) Sys.sleep(1)
  unlist(jsonlite::fromJSON(js(page, "JSON.stringify(explorer.measured)")))
}

asked_time <- function(book) {
  ask <- function() {
    rollup(book, by = c(region, quarter), amount = sum(amount), growth = growth(amount, year),
      totals = "all")
  }
  ask()
  1000 * stats::median(replicate(5L, system.time(ask())[["elapsed"]]))
}

# A daybook of a data frame, as R's explore() opens it.
explorer_of_frame <- function(file, env = parent.frame()) {
  explorer_of(begin = paste0("drystack::explore(drystack::daybook(readRDS('", file,
    "'), date = 'on'), open = FALSE, port = "),
    env = env)
}

told <- function(what, times, alone) {
  cat(sprintf("explorer, %-27s %5.0f ms from act to screen (half: %.0f to %.0f), %.0f ms the ask alone\n",
    what, stats::median(times), stats::quantile(times, 0.25), stats::quantile(times, 0.75), alone))
}

local({
  explorer <- explorer_of()
  alone <- asked_time(daybook(harrowgill()$orders, date = ordered_on))
  told("24,291 lines", explored_times(explorer, TRUE), alone)
  told("24,291 lines, at once", explored_times(explorer, FALSE), alone)
})
local({
  orders <- made_orders(rows)
  file <- withr::local_tempfile(fileext = ".rds")
  saveRDS(orders, file, compress = FALSE)
  alone <- asked_time(daybook(orders, date = on))
  rm(orders)
  lines <- paste(format(rows, big.mark = ",", scientific = FALSE), "lines")
  explorer <- explorer_of_frame(file)
  told(lines, explored_times(explorer, TRUE), alone)
  told(paste0(lines, ", at once"), explored_times(explorer, FALSE), alone)
})
