book <- daybook(few_orders(), on, calendars = fiscal_calendar("July"))
months <- rollup(as_of(book, "2025-03-10"), month, sales = sum(amount), ytd = ytd(sales), totals = "grand")

test_that("bars are the amounts, the line is the year to date and starts again each fiscal year", {
  plot <- figure(months)
  expect_s3_class(plot, "ggplot")
  built <- ggplot2::ggplot_build(plot)
  rows <- plain(months)[plain(months)$.role == "line", ]
  expect_identical(built$data[[1L]]$ymax, rows$sales)
  line <- built$data[[2L]]
  expect_identical(line$y[order(line$x)], rows$ytd)
  expect_identical(as.vector(table(line$group)), c(6L, 9L))
})

test_that("part-way periods are told apart, and the figure says what it shows", {
  plot <- figure(months)
  alpha <- ggplot2::ggplot_build(plot)$data[[1L]]$alpha
  expect_lt(alpha[15L], alpha[14L])
  expect_identical(plot$labels$title, "Sales by month")
  expect_match(plot$labels$caption, "2025-03 Mar is part-way")
  expect_match(plot$labels$alt, "from January 2024 to March 2025")
})

test_that("a dimension gives a panel for each member, in the order of the table", {
  plot <- figure(rollup(book, c(depot, quarter), sales = sum(amount)))
  layout <- ggplot2::ggplot_build(plot)$layout$layout
  expect_identical(as.character(layout$panel), c("Skelby", "Thornmoor", "(none)"))
})

test_that("a figure can be added to", {
  plot <- figure(months) + ggplot2::labs(title = "Mine")
  expect_identical(plot$labels$title, "Mine")
})

test_that("one period is enough for a figure", {
  one <- rollup(daybook(few_orders()[2L, ], on), month, sales = sum(amount), ytd = ytd(sales))
  expect_identical(ggplot2::ggplot_build(figure(one))$data[[1L]]$ymax, 20)
})

test_that("what cannot be drawn is an error", {
  expect_raised(figure(rollup(book, c(depot, status, month), n = count())),
    "figure", "1 period and 2 dimensions")
  expect_raised(figure(rollup(only(book, amount > 1e6), c(depot, month), n = count())),
    "figure", "needs rows")
  expect_raised(figure(months, kind = "heat"), "figure", "does not fit", "\"periods\"")
  expect_raised(figure(months, kind = "pie"), "argument", "kind")
  expect_raised(figure(1), "figure", "no figure for")
})

test_that("each kind draws the figures of its table", {
  drawn <- function(plot, layer = 1L) ggplot2::ggplot_build(plot)$data[[layer]]
  large <- daybook(untidy_orders(2000L, 9), on)
  ours <- rollup(within_dates(large, latest(6, month)), month, s = sum(amount), ly = prior(s, year))
  compare <- drawn(figure(ours, kind = "compare"))
  data <- plain(ours)
  expect_identical(compare$ymax[1:12], c(data$ly, data$s))
  moving <- rollup(large, month, s = sum(amount), ma = moving(s, 3, using = mean))
  expect_identical(drawn(figure(moving, kind = "moving"), 2L)$y[3:5], plain(moving)$ma[3:5])
  shares <- rollup(large, depot, s = sum(amount))
  expect_equal(drawn(figure(shares, kind = "shares"))$y, {
    s <- plain(shares)
    c(sort(s$s[s$depot != "(none)"], decreasing = TRUE), s$s[s$depot == "(none)"])
  })
  steps <- rollup(within_dates(large, latest(3, month)), depot, s = sum(amount), ly = prior(s, year))
  built <- drawn(figure(steps, kind = "steps"))
  expect_equal(built$ymax[nrow(built)], sum(plain(steps)$s))
  heat <- crosstab(large, depot, channel, n = count())
  expect_identical(nrow(drawn(figure(heat))), 12L)
  expect_identical(
    drawn(figure(rollup(large, day_of_week, n = count()), kind = "bars"))$y,
    plain(rollup(large, day_of_week, n = count()))$n
  )
})

# The texts that are drawn on a device of some inches.
texts_drawn <- function(plot, width, height) {
  file <- withr::local_tempfile(fileext = ".png")
  ragg::agg_png(file, width, height, units = "in", res = 72)
  on.exit(grDevices::dev.off())
  texts <- function(grob) {
    if (inherits(grob, "text")) as.character(grob$label)
    else unlist(lapply(c(grob$children, grob$grobs), texts))
  }
  texts(grid::forceGrob(ggplot2::ggplotGrob(plot)))
}

test_that("numbers stand where cells and bars hold them; of many periods the last are drawn", {
  large <- daybook(untidy_orders(2000L, 9), on)
  table <- crosstab(large, rows = month, cols = c(depot, channel), s = sum(amount))
  plot <- figure(table, kind = "heat")
  numbers <- function(width, height) sum(grepl("^[0-9.]+[kM]?$", texts_drawn(plot, width, height)))
  expect_gt(numbers(12.8, 8), 40L)
  expect_identical(numbers(4, 8), 0L)
  expect_identical(numbers(12.8, 2), 0L)
  bars <- figure(rollup(within_dates(large, latest(12, month)), month, s = sum(amount)))
  over_bars <- function(width) sum(grepl("^[0-9.]+k$", texts_drawn(bars, width, 4)))
  expect_gt(over_bars(10), over_bars(2.5) + 8L)
  weeks <- figure(crosstab(large, rows = week, cols = channel, n = count()), kind = "heat")
  shown <- unique(as.character(weeks$data$down))
  all <- format(unique(rollup(large, week, n = count())$axes$week))
  expect_setequal(shown, utils::tail(all, 40L))
  expect_match(weeks$labels$caption, "The last 40 of", fixed = TRUE)
})

test_that("one point is drawn as a point, without a word about lines", {
  last <- within_dates(book, latest(1, month))
  both <- rollup(last, month, s = sum(amount), y = ytd(s))
  first <- as.character(rollup(book, depot, n = count())$axes$depot[1L])
  for (table in list(both, rollup(last, c(month, depot), s = sum(amount), y = ytd(s)),
    rollup(only(book, depot == first), depot, s = sum(amount)))) {
    plot <- figure(table, kind = if (inherits(table$axes[[1L]], "drystack_period")) "periods" else "shares")
    expect_silent(texts_drawn(plot, 8, 5))
  }
  points <- ggplot2::ggplot_build(figure(both, kind = "periods"))$data
  expect_true(any(vapply(points, function(layer) identical(layer$y, both$figures$y), NA)))
})

test_that("the figure that fits is picked and said; every figure has its alternative text", {
  expect_message(figure(rollup(book, month, s = sum(amount))), NA)
  both <- rollup(book, month, s = sum(amount), ly = prior(s, year))
  expect_message(plot <- figure(both), "Drawn as \"compare\"", class = "drystack_message_figure")
  expect_match(plot$labels$alt, "S against s a year before by month")
})

test_that("of many members the largest are drawn, and one row is enough", {
  many <- daybook(data.frame(on = as.Date("2024-01-01"), code = sprintf("c%03d", 1:400),
    amount = 1:400 + 0.5), on)
  plot <- figure(rollup(many, code, s = sum(amount)), kind = "shares")
  expect_identical(nrow(ggplot2::ggplot_build(plot)$data[[1L]]), 40L)
  expect_match(plot$labels$caption, "The 40 largest of 400 are drawn")
  panels <- figure(rollup(many, c(code, month), s = sum(amount)))
  expect_match(panels$labels$caption, "The 12 largest of 400")
  one <- daybook(few_orders()[1L, ], on)
  for (kind in c("shares", "bars")) expect_s3_class(figure(rollup(one, depot, s = sum(amount)),
    kind = kind), "ggplot")
  expect_s3_class(figure(crosstab(one, depot, status, s = sum(amount))), "ggplot")
})

test_that("a table's own running measure is drawn, along members and along periods", {
  book <- daybook(few_orders(), on) |> only(!is.na(depot))
  x <- rollup(book, depot, s = sum(amount), run = running(share(s), along = depot), sort = smallest_first(s))
  drawn <- suppressMessages(figure(x, kind = "shares"))
  expect_identical(drawn$data$member, as.character(plain(x)$depot))
  expect_equal(drawn$data$share, plain(x)$run)
  y <- rollup(book, month, s = sum(amount), run = running(s, along = month))
  line <- suppressMessages(figure(y, kind = "periods"))
  expect_equal(line$data$line, plain(y)$run)
})

test_that("cells without a figure are hatched, and numbers stand in the others", {
  x <- crosstab(as_of(daybook(few_orders(), on), "2025-06-30"), rows = depot, cols = month,
    g = growth(sum(amount), year))
  data <- figure(x, kind = "heat")$data
  built <- ggplot2::ggplot_build(figure(x, kind = "heat"))
  known <- sum(!is.na(data$figure))
  expect_gt(known, 0L)
  expect_gt(sum(is.na(data$figure)), 0L)
  tiles <- built$data[[1L]]
  lines <- built$data[[2L]]
  # Every line lies within the cell of a figure that is not there.
  cell <- function(at) floor(at + 0.5 + 1e-9)
  empty <- tiles[is.na(data$figure), ]
  middle <- list(x = (lines$x + lines$xend) / 2, y = (lines$y + lines$yend) / 2)
  expect_setequal(paste(cell(middle$x), cell(middle$y)), paste(empty$x, empty$y))
  expect_identical(nrow(built$data[[3L]]), known)
  months <- figure(crosstab(as_of(daybook(few_orders(), on), "2025-06-30"), rows = depot, cols = month,
    s = sum(amount)))$data
  expect_true(all(is.na(months$figure[months$across %in% c("2025-04 Apr", "2025-05 May", "2025-06 Jun")])))
})

test_that("few bars say their figure, many do not, and very many members are refused with advice", {
  labels_in <- function(plot) unlist(lapply(ggplot2::ggplot_build(plot)$data, `[[`, "label"))
  expect_identical(labels_in(figure(rollup(book, quarter, s = sum(amount)))),
    short_figures(plain(rollup(book, quarter, s = sum(amount)))$s, list()))
  expect_null(labels_in(figure(rollup(book, month, s = sum(amount)))))
  orders <- data.frame(on = as.Date("2026-01-01"), who = seq_len(1001L) + 0.5, amount = 1)
  expect_raised(figure(rollup(daybook(orders, on), who, s = sum(amount))), "figure", "1,001 members",
    "keep_top")
})

test_that("axes are labelled as asked, and the ground is that of the page", {
  plot <- figure(rollup(book, quarter, s = sum(amount)), axis_labels = c(x = "Quarter", y = "Pounds"))
  expect_identical(unlist(plot$labels[c("x", "y")]), c(x = "Quarter", y = "Pounds"))
  expect_raised(figure(months, axis_labels = c(z = "no")), "argument", "x")
  fill <- function(ground) theme_drystack(ground = ground)$plot.background$fill
  expect_identical(c(fill("paper"), fill("white")), c(drystack_palette[["paper"]], "white"))
  expect_s3_class(theme_drystack(ground = "none")$plot.background, "element_blank")
  expect_raised(theme_drystack(ground = "blue"), "argument")
  # On a page the title is the page's.
  block <- as_bundle(report(figure(months), title = "The yard"))$blocks[[1L]]
  expect_identical(block$label, "Sales by month")
  svg <- rawToChar(block$drawing$svg())
  expect_no_match(svg, "Sales by month|As of")
})

test_that("for a dark page a figure is drawn in colours for it, and only then", {
  book <- daybook(harrowgill()$orders, date = ordered_on)
  table <- crosstab(book, rows = region, cols = year, s = sum(amount))
  ground <- function(plot) ggplot2::ggplot_build(plot)$plot$theme$plot.background$fill
  dark <- in_shades(TRUE, figure(table))
  expect_identical(ground(dark), "#191d20")
  expect_identical(ground(figure(table)), drystack_palette[["paper"]])
  # Cells without a figure to the greatest stand apart from the ground in both.
  fills <- ggplot2::ggplot_build(dark)$data[[1L]]$fill
  expect_true(all(tolower(fills) != "#191d20"))
})

test_that("a table of two sides is drawn as lines, groups of bars or shades, by its size, and says why", {
  drawn <- function(x) {
    kinds <- figure_kinds(x)
    expect_identical(sum(kinds$drawn), 1L)
    expect_match(kinds$why, "[a-z]")
    message <- tryCatch(figure(x), drystack_message_figure = conditionMessage)
    if (sum(kinds$fits) > 1L) expect_match(message, paste0("\"", kinds$kind[kinds$drawn], "\", for ",
      kinds$why[kinds$drawn]), fixed = TRUE)
    for (kind in kinds$kind) {
      if (kinds$fits[kinds$kind == kind]) expect_s3_class(figure(x, kind = kind), "ggplot")
      else expect_raised(figure(x, kind = kind), "figure", "does not fit")
    }
    kinds$kind[kinds$drawn]
  }
  few <- daybook(data.frame(on = as.Date("2026-01-05") + 31 * (0:23), a = rep(c("x", "y", "z"), 8L),
    b = rep(c("u", "v"), 12L), code = sprintf("c%02d", 1:24), amount = 1:24), on)
  expect_identical(drawn(crosstab(few, month, a, s = sum(amount))), "lines")
  expect_identical(drawn(crosstab(few, a, month, s = sum(amount))), "lines")
  expect_identical(drawn(crosstab(few, a, b, s = sum(amount))), "grouped")
  expect_identical(drawn(crosstab(few, code, a, s = sum(amount))), "heat")
  expect_identical(drawn(crosstab(few, month, code, s = sum(amount))), "heat")
  expect_identical(drawn(rollup(few, by = c(month_of_year, year), s = sum(amount))), "lines")
})

test_that("lines are the figures of the table, each named at its end, unknown after the orders end", {
  few <- daybook(data.frame(on = as.Date("2026-01-05") + 31 * (0:7), a = rep(c("x", "y"), 4L),
    amount = 1:8), on) |>
    as_of("2026-10-15")
  x <- crosstab(few, month, a, s = sum(amount))
  plot <- figure(x, kind = "lines")
  long <- as.data.frame(x, shape = "long")
  wanted <- ifelse(start_of(long$month) > as.Date("2026-08-10"), NA, long$s)
  expect_identical(plot$data$amount, wanted)
  names <- ggplot2::layer_data(plot, 3L)
  expect_setequal(trimws(names$label), c("x", "y"))
  years <- figure(rollup(few, by = c(month_of_year, year), s = sum(amount)), kind = "lines")
  expect_setequal(levels(years$data$series), "2026")
})

test_that("a figure says which measures of its table it does not draw", {
  x <- rollup(book, c(month, depot), s = sum(amount), n = measure(count(), label = "Orders"), y = ytd(s))
  expect_match(figure(x, kind = "periods")$labels$caption, "Not drawn: Orders.", fixed = TRUE)
  expect_no_match(figure(months, kind = "periods")$labels$caption %||% "", "Not drawn")
  expect_match(figure(crosstab(book, depot, status, s = sum(amount), n = count()))$labels$caption,
    "Not drawn: n")
})

# The labels of an axis of each panel as they are drawn.
labels_drawn <- function(plot, axis = "y") {
  panels <- ggplot2::ggplot_build(plot)$layout$panel_params
  lapply(panels, function(panel) stats::na.omit(panel[[axis]]$get_labels()))
}

test_that("measures that share no axis stand one below the other, each with its own scale", {
  x <- rollup(book, month, s = measure(sum(amount), format = money("\u00a3")), n = measure(count(),
    label = "Orders"),
    y = ytd(s), g = measure(growth(s, month), format = percentage()))
  plot <- figure(x, kind = "periods")
  expect_identical(levels(plot$data$panel), c("S", "Orders", "Growth on a month before"))
  expect_no_match(plot$labels$caption %||% "", "Not drawn")
  labels <- labels_drawn(plot)
  expect_true(all(grepl("\u00a3", labels[[1L]])) && !any(grepl("\u00a3|%", labels[[2L]])) &&
    all(grepl("%", labels[[3L]])))
  frame <- as.data.frame(x)
  for (panel in list(list("S", "s"), list("Orders", "n"), list("Growth on a month before", "g"))) {
    expect_identical(plot$data$amount[plot$data$panel == panel[[1L]]], frame[[panel[[2L]]]])
  }
  members <- figure(rollup(book, depot, s = sum(amount), n = count(), r = running(s, along = depot)),
    kind = "bars")
  expect_identical(levels(members$data$panel), c("S", "N"))
  parts <- figure(rollup(book, month_of_year, s = sum(amount), r = running(s, along = month_of_year)))
  expect_equal(ggplot2::layer_data(parts, 2L)$y, cumsum(parts$data$amount))
})

test_that("labels of an axis say their ticks as they are", {
  said <- function(text) {
    unit <- c(k = 1e3, M = 1e6, bn = 1e9)[sub("^[^a-zA-Z]*", "", text)]
    as.numeric(gsub("[^0-9.]", "", text)) * ifelse(is.na(unit), 1, unit)
  }
  amounts <- list(c(4.75e6, 5e6, 5.25e6), c(0, 5e5, 1e6, 1.5e6), c(0, 0.25, 0.5), c(999500, 1e6, 1000500),
    c(1.25e9,
    2.5e9), c(12500, 12750), 1:3)
  measure <- new_measure("s", value_node(1), format = money("\u00a3"))
  for (ticks in amounts) expect_equal(unname(said(amount_labels(measure)(ticks))), ticks)
  measure$format <- percentage()
  expect_identical(amount_labels(measure)(c(0.0025, 0.005)), c("0.25%", "0.50%"))
  # The whole figures of steps in the unit of the steps, so that they are told apart.
  measure$format <- money("\u00a3")
  expect_identical(step_labels(c(5000000, 24000, -1500, 5022500), measure), c("\u00a35,000.0k", "\u00a324.0k",
    "\u2212\u00a31.5k", "\u00a35,022.5k"))
})

test_that("ticks of periods stand under their bars, none past the last", {
  for (unit in alist(month, week, quarter)) {
    plot <- rlang::inject(figure(rollup(book, by = !!unit, s = sum(amount))))
    bars <- ggplot2::layer_data(plot, 1L)
    ticks <- ggplot2::ggplot_build(plot)$layout$panel_params[[1L]]$x$get_breaks()
    middles <- (bars$xmin + bars$xmax) / 2
    ticks <- ticks[!is.na(ticks)]
    expect_gt(length(ticks), 0L)
    expect_equal(unname(middles[vapply(ticks, function(tick) which.min(abs(tick - middles)), 1L)]), ticks)
  }
})

test_that("members put together are told beside the shares, not drawn among them", {
  x <- rollup(book, depot, s = sum(amount), keep = keep_top(2, s))
  plot <- figure(x, kind = "shares")
  expect_identical(nrow(plot$data), 2L)
  expect_match(plot$labels$caption, "All others, not drawn: .* of all\\.")
  expect_lt(max(plot$data$share), 1)
})

test_that("figures of nothing known are drawn as what they are, or refused by name", {
  few <- daybook(data.frame(on = as.Date(c("2026-03-31", "2024-02-29", "2024-02-29")), a = c("x", NA, "x"),
    v = NA_real_),
    on)
  for (x in list(crosstab(few, month, a, m = mean(v)), crosstab(few, a, month, m = mean(v)),
    rollup(few, by = c(month_of_year, year), m = mean(v)))) {
    kinds <- figure_kinds(x)
    expect_false(kinds$fits[kinds$kind == "lines"])
    for (kind in kinds$kind[kinds$fits]) expect_s3_class(figure(x, kind = kind), "ggplot")
  }
})

test_that("bars side by side differ in grey and to eyes that see no red, on paper and on a dark page", {
  # Linear light, the same simulated for deuteranopia (Vi\u00e9not, Brettel and Mollon 1999), and lightness.
  linear <- function(colour) (t(grDevices::col2rgb(colour)) / 255)^2.2
  lightness <- function(rgb) 116 * pmax(as.vector(rgb %*% c(0.2126, 0.7152, 0.0722)), 0.009)^(1 / 3) - 16
  dim_red <- matrix(c(0.29275, 0.70725, 0, 0.29275, 0.70725, 0, -0.02234, 0.02234, 1), 3L, byrow = TRUE)
  for (dark in c(FALSE, TRUE)) in_shades(dark, {
    bars <- unname(bar_colours(letters[1:6]))
    for (seen in list(lightness(linear(bars)), lightness(linear(bars) %*% t(dim_red)))) {
      expect_true(all(abs(diff(seen)) > 9))
    }
  })
})
