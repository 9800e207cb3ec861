#' Headlines: single figures with their comparison
#'
#' Figures for the top of a page, each with its comparison, a sign of direction and a small line of
#' its history. `mtd(sum(net))` is this month so far, `moving(sum(net), 30, day)` the last
#' 30 days, `only(sum(net), !paid)` what is unpaid.
#'
#' @param book A daybook.
#' @param ... The measures, each `name = expression` in the [measure language][measure_language].
#' @param against What each is compared with: a unit such as `year` or `month`, for the same so
#'   many periods earlier; or a list by name, in which `share(m)` compares with another figure, and
#'   `none` with nothing: `list(sales = month, unpaid = share(sum(amount)))`. Figures that are not
#'   named there, and by default all that have a lens on time, are compared with the year before.
#' @param history The unit of the history line, its last 13 periods; `NULL` for none.
#' @return A `drystack_headlines`. As a data frame it has a row for each figure: `headline` (its
#'   name), `label`, `figure`, `compared_with`, `before`, `change` (a part of `before`; of a share
#'   the share itself), `.role`.
#' @section Errors: Those of [rollup()]; `drystack_error_argument` for a comparison that is none.
#' @seealso [rollup()] for rows; [report()] puts both on one page.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   only(status != "cancelled")
#' headlines(book,
#'   month = measure(mtd(sum(amount)), label = "Sales this month so far", format = money(digits =
#'   0)), days_30 = measure(
#'     moving(sum(amount), 30, day), label = "Sales of the last 30 days", format = money(digits = 0)
#'   ),
#'   unpaid = measure(only(sum(amount), !paid), label = "Unpaid", format = money(digits = 0)),
#'   against = list(unpaid = share(sum(amount)))
#' )
#' @export
headlines <- function(book, ..., against = NULL, history = "month") {
  own_setting()
  check_names_whole(sys.call(), "book")
  check_daybook(book)
  make_table(new_request("headlines",
    measures = said_dots(...), against = said_quo(rlang::enquo(against)),
    history = said_quo(rlang::enquo(history))
  ), book)
}

# The measures of the ask are the headlines and, after them, what each is compared with; `compared`
# says which is which: against (what each headline is compared with), before (the name of the
# measure that is), history (as said).
read_headlines <- function(request, book) {
  known <- ask_measures(request$measures, book, list())
  shown <- shown_measures(known, request$show)
  against <- read_against(request$against, shown, book, known)
  compared <- Filter(Negate(is.null), against)
  before <- utils::tail(make.unique(c(names(known), paste("before", names(compared))), sep = " "),
    length(compared))
  measures <- c(shown, stats::setNames(Map(new_measure, before,
    lapply(compared, `[[`, "tree")), before))
  new_ask("headlines", list(), measures, known = known, compared = list(
    against = against, before = stats::setNames(before, names(compared)), history = request$history
  ))
}

headlines_table <- function(ask, book) {
  shown <- ask$measures[headline_names(ask)]
  new_table(ask, answer(ask, book), book,
    compared = ask$compared$against, history = headline_history(book, shown, ask$compared$history)
  )
}

headline_names <- function(ask) names(ask$compared$against)

# What each figure is compared with: list(words, tree, share), or NULL.
read_against <- function(against, measures, book, known = measures) {
  said <- against$expr
  by_name <- rlang::is_call(said, c("list", "c"))
  named <- if (by_name) as.list(said)[-1L] else list()
  unknown <- setdiff(rlang::names2(named), names(measures))
  if (length(unknown) > 0L) {
    raise("argument", c(
      paste0(
        "{.arg against} names ", quoted(unknown[1L]), ", which is not a figure here."
      ), advise_word(unknown[1L], names(measures), "figures")
    ))
  }
  lapply(stats::setNames(names(measures), names(measures)), function(name) {
    if (by_name && name %in% names(named)) {
      return(compared_with(named[[name]], name, known, book, against$env))
    }
    if (by_name || is.null(said)) {
      tree <- measures[[name]]$tree
      said <- if (has_time_lens(tree) && !has_effect(tree)) as.name("year")
    }
    compared_with(said, name, known, book, against$env)
  })
}

compared_with <- function(said, name, measures, book, env) {
  if (is.null(said)) {
    return(NULL)
  }
  if (identical(said, as.name("none")) || identical(said, "none")) {
    return(NULL)
  }
  words <- book_vocabulary(book, env, lapply(measures, `[[`, "tree"))
  if (rlang::is_call(said, "share", n = 1L)) {
    tree <- parse_measure(said[[2L]], words)
    label <- if (tree$kind == "named") measures[[tree$name]]$label else tree_text(tree)
    return(list(words = paste("of", label), tree = tree, share = TRUE))
  }
  unit <- period_of_words(said, book$calendars)
  other <- if (is.symbol(said) || rlang::is_string(said)) as.character(said) else ""
  if (is.null(unit) && other %in% names(measures)) {
    return(compared_with_measure(other, name, measures))
  }
  if (is.null(unit)) {
    raise("argument", c(
      paste0("{.arg against} is a unit such as {.code year}, or {.code share(m)}, not ",
        quoted(rlang::as_label(said)), "."),
      advise_word(rlang::as_label(said), period_units, "units")
    ))
  }
  tree <- parse_measure(rlang::call2("prior", as.name(name), said), words)
  list(words = paste("a", unit$unit, "before"), tree = tree, share = FALSE,
    unit = rlang::as_label(said))
}

# Another figure, such as a target; itself it is compared with nothing.
compared_with_measure <- function(other, name, measures) {
  if (other == name) {
    return(NULL)
  }
  list(words = measures[[other]]$label, tree = node("named", name = other,
    child = measures[[other]]$tree),
    share = FALSE, unit = other)
}

headline_history <- function(book, measures, history) {
  if (is.null(history$expr)) {
    return(NULL)
  }
  book <- within_dates(book, latest(history_length, !!history$expr))
  axes <- read_axes(list(history), book)
  rows <- answer(new_ask("rollup", axes, measures), book)$rows
  said <- if (is.character(history$expr)) history$expr else rlang::as_label(history$expr)
  list(said = said, unit = axes[[1L]]$unit, periods = rows$axes[[1L]], figures = rows$figures)
}

#' @export
as.data.frame.drystack_headlines <- function(x, ...) {
  own_setting()
  names <- headline_names(x$ask)
  now <- vapply(names, function(name) as.numeric(x$figures[[name]]), 0, USE.NAMES = FALSE)
  before <- vapply(names, function(name) figure_before(x, name), 0, USE.NAMES = FALSE)
  share <- vapply(names, function(name) isTRUE(x$compared[[name]]$share), NA, USE.NAMES = FALSE)
  words <- vapply(names, function(name) x$compared[[name]]$words %||% NA_character_, "",
    USE.NAMES = FALSE)
  data.frame(
    headline = names, label = vapply(x$ask$measures[names], `[[`, "", "label", USE.NAMES = FALSE),
    figure = now, compared_with = words, before = before,
    change = ifelse(share, finite(now / before), growth_of(now, before)),
    .role = rep("line", length(names))
  )
}

# What a headline is compared with, NA for nothing.
figure_before <- function(x, name) {
  if (is.null(x$compared[[name]])) NA_real_ else as.numeric(
    x$figures[[x$ask$compared$before[[name]]]])
}

#' @export
figure_at.drystack_headlines <- function(x, row, measure) {
  names <- headline_names(x$ask)
  name <- names[check_row(row, length(names))]
  column <- figure_name(measure %||% "figure", c("figure", "before"))
  if (column == "before" && is.null(x$compared[[name]])) {
    raise("argument", paste0(quoted(name), " is compared with nothing."))
  }
  list(measure = if (column == "figure") name else x$ask$compared$before[[name]], row = 1L)
}

# Each figure against R's own sum of the order lines behind it, where it is
# one aggregate that adds up.
#' @export
tie_measures.drystack_headlines <- function(x) {
  at <- cell_of(x, 1L)
  lapply(unname(x$ask$measures), function(measure) {
    leaf <- single_aggregate(measure$tree)
    parts <- if (!is.null(leaf)) figure_parts(x, measure$tree, 1L, at)
    if (length(parts) != 1L) {
      return(not_checked(measure, "it is not a sum or count of one set of orders"))
    }
    expected <- plain_sum(leaf, x$book, parts[[1L]])
    found <- x$figures[[measure$name]]
    tie_check(
      "figure = its order lines added up by R", measure$name, expected$value, found,
      same_amount(expected$value, found, expected$added + abs(found))
    )
  })
}

single_aggregate <- function(tree) {
  if (keeps(tree, "lines")) single_aggregate(figures_of(tree)[[1L]])
  else if (tree$kind == "aggregate" && tree$fn %in% c("sum", "count")) tree
}
