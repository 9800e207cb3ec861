# Orders that cannot be opened as they are: the explorer asks, and each way that it offers leads to the
# lines that it told.

unread_files <- function() {
  days <- seq(as.Date("2024-11-02"), by = "day", length.out = 60L)
  early <- as.Date(paste0(c("2024-11-", "2025-01-"), rep(sprintf("%02d", 2:12), each = 2L)))
  line <- function(date, amount = 10.25, at = seq_along(date)) paste0("A", at, ";", date, ";C", at %% 7L,
    ";", amount)
  head <- "Order;Datum;Kunde;Betrag"
  list(
    unsettled = c(head, line(format(early, "%d/%m/%Y"))),
    impossible = c(head, line(days), line("2025-02-31", at = 99L)),
    uneven = c(head, line(days), paste0(line("2025-01-05", at = 98L), ";x")),
    nameless = line(days)
  )
}

# An explorer of a file, and a window whose session keeps what it is told, by kind.
unread_window <- function(path, env = parent.frame()) {
  told <- new.env()
  app <- explore_app(opened_orders(document_of_options(list(orders = path))), new_guard("127.0.0.1", 4001),
    withr::local_tempdir(.local_envir = env))
  window <- new_window(app, "w")
  window$session <- list(send = function(kind, what) told[[kind]] <- what)
  say <- function(...) {
    rm(list = ls(told), envir = told)
    window$newest <- 1
    serve(app, window, list(n = 1, ...))
    as.list(told)
  }
  list(say = say, window = window)
}

test_that("what cannot be opened is asked on the page, and each way leads to the lines it tells", {
  on_surface("page", function() argument_names("page"))
  files <- unread_files()
  for (name in names(files)) {
    path <- withr::local_tempfile(lines = files[[name]], fileext = ".csv")
    asked <- unread_window(path)$say(do = "hello")
    expect_null(asked$drawn, label = name)
    expect_gt(length(asked$unread$ways), 0L, label = name)
    for (way in asked$unread$ways) {
      one <- unread_window(path)
      one$say(do = "hello")
      drawn <- one$say(do = "act", act = list(do = "read_as", reading = way$reading))$drawn
      expect_null(drawn$error, label = name)
      expect_match(way$means, paste0(counted_lines(one$window$seen$book$rows), ":"), fixed = TRUE)
      expect_match(drawn$sentence, "by", label = name)
      expect_true(drawn$undo)
      expect_false(is.null(one$say(do = "act", act = list(do = "undo"))$unread), label = name)
    }
  }
})

test_that("the ways of dates tell what a date would be, and how many lines lie in which years", {
  on_surface("page", function() argument_names("page"))
  path <- withr::local_tempfile(lines = unread_files()$unsettled, fileext = ".csv")
  ways <- unread_window(path)$say(do = "hello")$unread$ways
  means <- stats::setNames(vapply(ways, `[[`, "", "means"), vapply(ways, `[[`, "", "words"))
  expect_match(means[["Day, month, year"]],
    "\"02/11/2024\" is 2 November 2024. 22 lines: 11 in 2024, 11 in 2025",
    fixed = TRUE)
  expect_match(means[["Month, day, year"]], "\"02/11/2024\" is 11 February 2024", fixed = TRUE)
  expect_setequal(names(means), c("Day, month, year", "Month, day, year"))
})

test_that("a reading that goes wrong later asks too, and what no way can read is refused at once", {
  on_surface("page", function() argument_names("page"))
  good <- withr::local_tempfile(lines = unread_files()$impossible[1:61], fileext = ".csv")
  one <- unread_window(good)
  expect_false(is.null(one$say(do = "hello")$drawn))
  expect_match(one$say(do = "act", act = list(do = "read_as", reading = list(date = "Kunde")))$unread$html,
    "Kunde")
  bad <- withr::local_tempfile(lines = "%PDF-1.4", fileext = ".csv")
  expect_error(unread_window(bad), class = "drystack_error_file")
})
