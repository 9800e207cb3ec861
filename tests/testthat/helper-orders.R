# Small made-up orders, and a larger untidy set drawn with a seed.

few_orders <- function() {
  data.frame(
    on = as.Date(c("2024-01-15", "2024-02-29", "2024-07-01", "2025-01-31", "2025-02-28", "2025-03-10")),
    depot = c("Skelby", "Thornmoor", "Skelby", "Skelby", NA, "Thornmoor"),
    amount = c(10, 20, 30, 40, 50.5, -5),
    status = c("sent", "sent", "cancelled", "sent", "open", "sent")
  )
}

untidy_orders <- function(n, seed) {
  withr::with_seed(seed, {
    days <- as.Date("2022-11-20") + sample.int(1100L, n, TRUE)
    amount <- round(stats::rnorm(n, 80, 60), 2)
    data.frame(
      on = replace(days, sample.int(n, n %/% 40L), NA),
      depot = sample(c("Skelby", "Thornmoor", "Garrick", NA), n, TRUE),
      channel = factor(sample(c("web", "counter", "phone"), n, TRUE),
        levels = c("web", "counter", "phone", "unused")),
      customer = sample.int(25L, n, TRUE),
      amount = replace(amount, sample.int(n, n %/% 30L), NA),
      quantity = sample(c(-3:40, NA), n, TRUE),
      paid = sample(c(TRUE, FALSE, NA), n, TRUE, c(0.7, 0.25, 0.05))
    )
  })
}

plain <- function(table) as.data.frame(table)

# English names of weekdays in any locale.
weekdays_of <- function(dates) weekday_names[(as.POSIXlt(dates)$wday + 6L) %% 7L + 1L]
