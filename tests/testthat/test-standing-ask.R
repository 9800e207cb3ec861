# Reports saved from a command with parts that are asked for.

test_that("parts of a command become parameters, with what they are as their defaults", {
  folder <- yard_folder()
  orders <- file.path(folder, "orders.csv")
  report <- file.path(folder, "r.yml")
  words <- c("rollup", "--orders", orders, "--date", "ordered_on", "--only", "depot == \"Garrick\"", "--only",
    "!(channel %in% c(\"web\"))", "--from", "2026-01-01", "--to", "2026-06-30", "--by", "month",
    "--show", "sales = sum(amount)")
  expect_identical(suppressMessages(run_command(c(words, "--save", report, "--ask",
    "as_of,depot,channel,from",
    "--out", file.path(folder, "now.csv")))), 0L)
  lines <- readLines(report)
  expect_match(lines[1:2], "^# ")
  built <- function(...) {
    build_report(report, set = list(...), out = file.path(folder, "out"), formats = "csv")
    readLines(file.path(folder, "out", "r.csv"))
  }
  expect_identical(built(), readLines(file.path(folder, "now.csv")))
  again <- function(depot, wanted, as_of, from) {
    x <- daybook(read_orders(orders), date = ordered_on) |> only(depot == !!depot, !(channel %in% wanted)) |>
      as_of(as_of) |> within_dates(from, "2026-06-30") |> rollup(by = month, sales = sum(amount))
    write_report(x, file.path(folder, "other.csv"))
    readLines(file.path(folder, "other.csv"))
  }
  expect_identical(built(depot = "Skelby", channel = "web,phone", as_of = "2026-05-15", from = "2026-02-01"),
    again("Skelby", c("web", "phone"), "2026-05-15", "2026-02-01"))
  # What nothing limits cannot be asked for; --ask alone is no request.
  save <- function(ask) {
    suppressMessages(run_command(c(words, "--save", file.path(folder, "no.yml"), "--ask",
      ask)))
  }
  expect_identical(save("region"), 1L)
  expect_identical(save("depot,nothing"), 1L)
  expect_false(file.exists(file.path(folder, "no.yml")))
  expect_identical(suppressMessages(run_command(c(words, "--ask", "depot"))), 2L)
})
