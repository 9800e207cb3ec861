# The figures and pages that tools/screenshots shows, made from the demo data into the folder named.
suppressMessages(library(drystack))
folder <- commandArgs(TRUE)[1L]

book <- daybook(
  harrowgill()$orders, date = ordered_on,
  calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
) |>
  derive(net = amount - discount) |>
  only(status != "cancelled") |>
  as_of("2026-08-31")

monthly <- rollup(book, by = month, sales = sum(net), ytd = ytd(sales))
write_report(figure(monthly), file.path(folder, "monthly-figure.png"))

regions <- rollup(book |> only(!is.na(region)), by = c(region, month), sales = sum(net), ytd = ytd(sales))
write_report(figure(regions), file.path(folder, "regions-figure.png"))

write_report(
  figure(week_calendar("4-4-5", "last Saturday of January"), "2026-08-31"), file.path(folder, "calendar-figure.png")
)

halves <- rollup(book,
  by = c(region, half), sales = sum(net), ytd = ytd(sales), ytd_ly = prior(ytd, year), change = ytd - ytd_ly,
  totals = "all"
)
write_report(halves, file.path(folder, "rollup.html"))
