# The figures and pages that tools/screenshots shows, made from the demo data into the folder named.
suppressMessages(library(drystack))
folder <- commandArgs(TRUE)[1L]
yard <- harrowgill()

book <- daybook(
  yard$orders, date = ordered_on,
  calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
) |>
  enrich(yard$products, by = "product_id") |>
  work_out(net = amount - discount) |>
  only(status != "cancelled") |>
  as_of("2026-08-31")
recent <- within_dates(book, latest(12, month))
pounds <- money(digits = 0)
draw <- function(x, name, ...) {
  write_report(suppressMessages(figure(x, ...)), file.path(folder, paste0(name, "-figure.png")))
}

draw(rollup(book, by = month, sales = sum(net), ytd = ytd(sales)), "monthly")
sales <- measures(
  sales = measure(sum(net), label = "Net sales", format = pounds),
  ly = measure(prior(sales, year), format = pounds)
)
draw(rollup(recent, by = month, sales), "compare")
draw(rollup(recent, by = product, sales = measure(sum(net), label = "Net sales", format = pounds)), "shares")
draw(rollup(recent, by = category, sales), "steps")
draw(crosstab(recent, rows = category, cols = month,
  sales = measure(sum(net), label = "Net sales", format = pounds)), "heat", kind = "heat")
draw(rollup(within_dates(book, "2025-07-01", "2026-06-30"),
  bridge(sum(net), sum(quantity), over = product_id, to = year, units = unit)), "bridge")

yard_folder <- harrowgill_folder(file.path(folder, "yard"), c("monthly", "year-so-far", "against-plan"))
built <- build_report(file.path(yard_folder, "monthly.yml"), set = list(as_of = "2026-08-31"), out = folder, formats = "html")
invisible(file.rename(built$files, file.path(folder, "monthly.html")))

# The year so far, and what changed of the three months since they were told.
built <- build_report(file.path(yard_folder, "against-plan.yml"), out = folder, formats = "html")
invisible(file.rename(built$files, file.path(folder, "plan.html")))
built <- build_report(file.path(yard_folder, "year-so-far.yml"), list(as_of = "2026-08-31"), folder,
  formats = "html")
invisible(file.rename(built$files, file.path(folder, "year.html")))

numbered <- function(orders) transform(orders, line = seq_along(order_id))
told <- numbered(yard$orders)
now <- told[!(told$order_id %in% 26604 & told$product_id == "P127"), ]
now$amount[which(now$order_id == 26610)[1L]] <- 5159.52
late <- transform(told[which(told$ordered_on == "2026-08-10")[1:3], ], line = 90001:90003, order_id = 27999)
ask <- function(orders) {
  daybook(orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
    only("without cancelled orders" = status != "cancelled") |> as_of("2026-08-31") |>
    within_dates(latest(3, month)) |>
    rollup(by = month, sales = measure(sum(amount - discount), label = "Net sales", format = pounds),
      orders = distinct(order_id), totals = "grand")
}
changed <- changes(ask(told), ask(rbind(now, late)), key = "line")
write_report(changed, file.path(folder, "changes.html"))
