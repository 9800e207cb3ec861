yard <- harrowgill()

cleaned <- function() {
  o <- yard$orders
  o <- o[!is.na(o$ordered_on) & !is.na(o$amount) & !is.na(o$region) &
    o$amount != 0 & o$quantity < 4000 & !duplicated(o), ]
  o <- o[order(o$ordered_on), ]
  o$order_id <- as.character(o$order_id)
  o$depot <- sub("^(.)", "\\U\\1", trimws(tolower(o$depot)), perl = TRUE)
  o[o$customer_id %in% yard$customers$customer_id, ]
}

test_that("all planted defects of the demo are found, with their counts", {
  found <- check(enrich(daybook(yard$orders, ordered_on), yard$customers, "customer_id"),
    today = "2026-09-18")
  count <- function(check, column) found$count[found$check == check & found$column == column]
  expect_identical(count("undated lines", "ordered_on"), 9L)
  expect_identical(count("missing values", "amount"), 6L)
  expect_identical(count("missing values", "region"), 11L)
  expect_identical(count("zero amounts", "amount"), 5L)
  expect_identical(count("label variants", "depot"), 14L)
  expect_identical(count("repeated lines", ""), 5L)
  expect_identical(count("outliers", "quantity"), 1L)
  expect_identical(count("unmatched keys", "customer_id"), 4L)
  expect_identical(count("late entries", "ordered_on"), 1L)
  expect_length(count("codes as numbers", "order_id"), 1L)
  expect_gt(count("negative amounts", "amount"), 0L)
  expect_true(all(found$advice != ""))
})

test_that("the cleaned demo raises no alarm", {
  found <- check(enrich(daybook(cleaned(), ordered_on), yard$customers, "customer_id"), today = "2026-09-18")
  expect_identical(found$check[found$level == "problem"], character())
  expect_match(format(found)[1L], "No problem found")
})

test_that("gaps, drops, future lines and text in numbers are found where they are", {
  o <- cleaned()
  gap <- o[!(o$ordered_on > "2025-03-03" & o$ordered_on < "2025-04-01"), ]
  found <- check(daybook(gap, ordered_on), today = "2026-09-18")
  expect_match(found$examples[found$check == "gap in dates"], "4 March 2025 to 31 March 2025")
  expect_match(found$examples[found$check == "drop in lines"], "2025-03")
  future <- check(daybook(o, ordered_on), today = "2026-09-01")
  expect_identical(future$count[future$check == "future lines"], sum(o$ordered_on > "2026-09-01"))
  o$discount <- as.character(o$discount)
  o$discount[7L] <- "n/a"
  spoiled <- check(daybook(o, ordered_on), today = "2026-09-18")
  expect_match(spoiled$examples[spoiled$check == "text in numbers"], "\"n/a\" at row 7")
})

test_that("a first look tells kinds and what each column could be, with a command that runs", {
  x <- look_at(harrowgill_path("orders.csv"))
  kind <- stats::setNames(x$could_be, x$column)
  expect_identical(
    unname(kind[c("ordered_on", "amount", "depot", "order_id", "customer_id", "paid")]),
    c("date", "amount", "dimension", "code", "code", "condition")
  )
  expect_identical(x$known[x$column == "amount"], sum(!is.na(yard$orders$amount)))
  expect_true(any(grepl("drystack rollup --orders", format(x))))
  expect_raised(look_at(1), "orders")
  none <- look_at(data.frame(a = 1:3))
  expect_match(paste(format(none), collapse = " "), "No column could be the date")
})
