# Makes the demo orders of Harrowgill Stone Yard, a made-up merchant. Run from the repository root:
#   Rscript data-raw/harrowgill.R Everything is invented and drawn with a fixed seed; the defects
# listed in ?harrowgill are planted on purpose.

set.seed(20260918, kind = "Mersenne-Twister", normal.kind = "Inversion", sample.kind = "Rejection")

first_day <- as.Date("2023-01-03")
last_day <- as.Date("2026-09-18")

depots <- data.frame(
  depot = c("Skelby", "Thornmoor", "Garrick", "Eskholme"),
  manager = c("A. Lorrimer", "J. Tewkes", "P. Ashgill", "M. Farrowby"),
  opened_on = as.Date(c("2009-04-01", "2012-09-03", "2017-03-20", "2024-10-07"))
)

products <- data.frame(
  category = rep(
    c("Walling", "Coping", "Flags", "Setts", "Gravel", "Slate"),
    c(7L, 5L, 7L, 5L, 6L, 5L)
  ),
  product = c(
    "Random walling, buff", "Random walling, grey", "Coursed walling 140",
    "Coursed walling 215", "Dry stone, mixed", "Quoins, dressed", "Pitched-face walling",
    "Coping, half round", "Coping, weathered", "Coping, twice weathered",
    "Pier cap, flat", "Pier cap, pyramid", "Flags, riven 22", "Flags, sawn 25",
    "Flags, tumbled", "Flags, reclaimed", "Stepping flags", "Riven steps", "Flags, random packs",
    "Setts, tumbled", "Setts, sawn", "Setts, reclaimed", "Cobbles", "Kerb setts",
    "Gravel, golden 10", "Gravel, golden 20", "Limestone chippings",
    "Slate chippings, plum", "Sharp sand", "Scalpings", "Roof slate, heather",
    "Roof slate, blue", "Slate paddle stones", "Slate sills", "Slate flags"
  ),
  unit = rep(c("t", "m", "m2", "m2", "bag", "each"), c(7L, 5L, 7L, 5L, 6L, 5L)),
  unit_price = c(
    148, 139, 186, 178, 112, 96, 205, 42.5, 46, 52.75, 38, 44.5, 36.8, 48.2, 52.4, 64, 9.5, 58, 33.6,
    61.5, 72, 88.25, 66, 24.8, 62, 58.5, 47, 74, 44, 36.5, 4.85, 5.2, 86, 41.3, 68.9
  )
)
products <- cbind(product_id = sprintf("P%03d", seq_len(nrow(products)) * 3L + 100L), products)

kinds <- c("Landscaper", "Builder", "Household")
surnames <- c(
  "Ackerley", "Birkin", "Cawthra", "Denholm", "Eldroth", "Fenwright",
  "Garsdale", "Hollin", "Ibbotroyd", "Jagger", "Kexby", "Lathom",
  "Micklow", "Netherby", "Oxenber", "Pickersgill", "Quernmore", "Raistrick", "Sedgwin", "Tordoff",
  "Ulshaw", "Varley", "Wharram", "Yarker"
)
trades <- list(
  Landscaper = c("Gardens", "Landscapes", "Groundworks"), Builder = c("Building", "& Sons", "Homes"),
  Household = ""
)
n_customers <- 640L
kind <- sample(kinds, n_customers, TRUE, c(0.22, 0.28, 0.5))
customers <- data.frame(
  customer_id = sprintf("C%04d", sample(1000:9999, n_customers)),
  customer = vapply(kind, function(k) trimws(paste(sample(surnames, 1L), sample(trades[[k]], 1L))), ""),
  kind = kind,
  town = sample(c("Skelby", "Aldersett", "Thornmoor", "Low Garrick", "Esk Haven", "Kirkdene"),
    n_customers, TRUE)
)
customers$customer <- ifelse(
  customers$kind == "Household", paste0(sample(LETTERS, n_customers, TRUE), ". ", customers$customer),
  customers$customer
)

# Orders: more in spring and summer, fewer on Saturdays, none on Sundays, 6 % more
# each year, three promotions.
days <- seq(first_day, last_day, by = 1L)
days <- days[format(days, "%u") != "7" & !format(days, "%m-%d") %in% c("12-25", "12-26", "01-01", "01-02")]
month <- as.integer(format(days, "%m"))
season <- c(0.55, 0.65, 0.95, 1.25, 1.4, 1.35, 1.2, 1.1, 1.05, 0.85, 0.65, 0.4)[month]
growth <- 1.06^(as.numeric(days - first_day) / 365.25)
weekday <- ifelse(format(days, "%u") == "6", 0.55, 1)
promotion <- format(days, "%Y-%m") %in% c("2024-03", "2025-03", "2026-02")
load <- season * growth * weekday * ifelse(promotion, 1.35, 1)
n_orders <- 8950L
ordered_on <- sort(sample(days, n_orders, TRUE, load))
open_depots <- function(day) if (day < as.Date("2024-10-07")) depots$depot[1:3] else depots$depot
depot <- vapply(ordered_on, function(day) {
  sample(open_depots(day), 1L, prob = c(0.4, 0.28, 0.2, 0.12)[seq_along(open_depots(day))])
}, "")
region_of <- list(
  "Skelby" = c(0.6, 0.2, 0.15, 0.05), "Thornmoor" = c(0.1, 0.6, 0.25, 0.05),
  "Garrick" = c(0.05, 0.25, 0.6, 0.1), "Eskholme" = c(0.05, 0.05, 0.2, 0.7)
)
regions <- c("North", "Peak", "Vale", "Coast")
customer <- sample(
  n_customers, n_orders, TRUE, ifelse(customers$kind == "Household", 0.4, 1.6) * rexp(n_customers) + 0.05
)
orders <- data.frame(
  order_id = 10000L + cumsum(sample(1:3, n_orders, TRUE)),
  ordered_on = ordered_on,
  depot = depot,
  region = vapply(depot, function(d) sample(regions, 1L, prob = region_of[[d]]), "", USE.NAMES = FALSE),
  channel = ifelse(
    customers$kind[customer] == "Household",
    sample(c("counter", "phone", "web"), n_orders, TRUE, c(0.4, 0.2, 0.4)),
    sample(c("counter", "phone", "web"), n_orders, TRUE, c(0.45, 0.4, 0.15))
  ),
  customer_id = customers$customer_id[customer],
  status = sample(c("sent", "cancelled"), n_orders, TRUE, c(0.975, 0.025)),
  paid = runif(n_orders) < 0.985,
  shipped_on = ordered_on + sample(c(0L, 1L, 2L, 3L, 5L, 8L, 13L),
    n_orders, TRUE, c(30, 20, 15, 12, 10, 8, 5)),
  promotion = ordered_on %in% days[promotion],
  trade = customers$kind[customer] != "Household"
)
recent <- orders$ordered_on > last_day - 45L
orders$paid[recent] <- runif(sum(recent)) < 0.7
orders$status[orders$shipped_on > last_day & orders$status == "sent"] <- "open"
orders$shipped_on[orders$shipped_on > last_day | orders$status == "cancelled"] <- NA

# Lines: one to six an order; quantity by product; trade customers buy more.
n_lines <- sample(1:6, n_orders, TRUE, c(0.26, 0.26, 0.2, 0.14, 0.09, 0.05))
lines <- orders[rep(seq_len(n_orders), n_lines), ]
liked <- rexp(nrow(products)) + 0.3
item <- unlist(lapply(n_lines, function(n) sample(nrow(products), n, prob = liked)))
lines$product_id <- products$product_id[item]
base_quantity <- c(t = 3, m = 8, m2 = 14, bag = 3, each = 20)[products$unit[item]]
lines$quantity <- as.integer(pmax(1,
  round(base_quantity * rexp(nrow(lines), 1) * ifelse(lines$trade, 1.6, 0.7))))
inflation <- 1.03^(as.numeric(format(lines$ordered_on, "%Y")) - 2023)
price <- round(products$unit_price[item] * inflation, 2)
lines$amount <- round(lines$quantity * price, 2)
discount_rate <- ifelse(lines$promotion, 0.1, ifelse(lines$trade & runif(nrow(lines)) < 0.25, 0.05, 0))
lines$discount <- round(lines$amount * discount_rate, 2)
returned <- which(lines$status == "sent" & runif(nrow(lines)) < 0.012)
lines$quantity[returned] <- -lines$quantity[returned]
lines$amount[returned] <- -lines$amount[returned]
lines$discount[returned] <- -lines$discount[returned]

# Planted defects.
plant <- function(n) sample(which(lines$ordered_on < as.Date("2026-08-01")), n)
variant <- plant(14L)
lines$depot[variant] <- ifelse(
  seq_along(variant) %% 2L == 0L, paste0(tolower(lines$depot[variant]), " "), toupper(lines$depot[variant])
)
lines$ordered_on[plant(9L)] <- NA
lines$amount[plant(6L)] <- NA
lines$amount[plant(5L)] <- 0
lines$region[plant(11L)] <- NA
outlier <- plant(1L)
lines$quantity[outlier] <- 4000L
lines$amount[outlier] <- round(4000 * 44.5, 2)
strangers <- sample(setdiff(unique(lines$customer_id), NA), 4L)
customers <- customers[!customers$customer_id %in% strangers, ]
repeated <- plant(5L)
lines <- rbind(lines, lines[repeated, ])
lines <- lines[order(lines$order_id), ]
late <- lines[which(lines$ordered_on == as.Date("2026-06-30"))[1L], ]
late$order_id <- 39001L
late$product_id <- "P103"
late$quantity <- 6L
late$amount <- 970.36
late$discount <- 0
lines <- rbind(lines, late)

columns <- c(
  "order_id", "ordered_on", "shipped_on", "depot", "region", "channel",
  "customer_id", "product_id", "quantity", "amount", "discount", "status", "paid"
)
save <- function(x, name) {
  utils::write.csv(x, file.path("inst", "extdata", paste0(name, ".csv")),
    row.names = FALSE, na = "", quote = FALSE)
}
quote_text <- function(x) {
  text <- vapply(x, is.character, logical(1L))
  x[text] <- lapply(x[text], function(v) ifelse(grepl("[,\"]", v), paste0("\"", v, "\""), v))
  x
}
save(lines[columns], "orders")
save(quote_text(customers), "customers")
save(quote_text(products), "products")
save(depots, "depots")

# Targets by month and depot of the fiscal years 2025 to 2027: what the year before sold and a little more,
# in steps of 500; where there was no year before, a round guess.
clean <- tools::toTitleCase(tolower(trimws(lines$depot)))
sold <- tapply(lines$amount, list(format(lines$ordered_on, "%Y-%m"), clean), sum, na.rm = TRUE)
months <- seq(as.Date("2024-07-01"), as.Date("2027-06-01"), by = "month")
targets <- expand.grid(depot = depots$depot, month = months, stringsAsFactors = FALSE)
known <- function(years) {
  month <- sprintf("%d-%s", as.integer(format(targets$month, "%Y")) - years, format(targets$month, "%m"))
  sold[cbind(match(month, rownames(sold)), match(targets$depot, colnames(sold)))]
}
before <- known(1L)
before <- ifelse(is.na(before) | before < 5000, known(2L), before)
before <- ifelse(is.na(before) | before < 5000, 45000, before)
targets$target <- pmax(round(before * 1.05 / 500) * 500, 10000)
targets <- targets[!(targets$depot == "Eskholme" & targets$month < as.Date("2024-10-01")), ]
targets$month <- format(targets$month, "%Y-%m")
save(targets[c("month", "depot", "target")], "targets")
message(nrow(lines), " lines in ", length(unique(lines$order_id)), " orders")
