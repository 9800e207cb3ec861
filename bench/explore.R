# The explorer in a real browser: from the act to the table on the screen, by the page's own clock, beside
# the ask alone in R. Once with the figure of the act before on the screen, as of somebody who looks at it, and
# once with each act right after the table, while that figure is still being drawn. Orders of the demo, and BENCH_ROWS made ones.
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

explored_times <- function(explorer, looking) {
  page <- page_at(explorer$url)
  wait_for(page, is_drawn, 120)
  for (round in 1:3) {
    for (act in acts) {
      before <- js(page, "explorer.times.length")
      js(page, paste0("act(", jsonlite::toJSON(act, auto_unbox = TRUE), ")"))
      wait_for(page, paste0("explorer.times.length > ", before, " || document.querySelector('.error')"), 60)
      if (looking) wait_for(page, "!document.querySelector('#figure:not([hidden]).waiting')", 60)
      Sys.sleep(if (looking) 0.3 else 0.05)
    }
    js(page, "act({do: 'clear', part: 'all'})")
    Sys.sleep(1)
    js(page, "act({do: 'add_axis', side: 'rows', axis: 'month'})")
    Sys.sleep(1)
  }
  unlist(jsonlite::fromJSON(js(page, "JSON.stringify(explorer.times)")))
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
