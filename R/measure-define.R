#' Measures: figures with a label, a format and a rule for totals
#'
#' Inside [rollup()] a measure is written `name = expression`. `measure()` around the
#' expression gives it what travels with it to every output. `measures()` keeps several for
#' use in more than one table.
#'
#' @param expr An expression of the [measure language][measure_language].
#' @param label What tables and figures call it. By default a lens of another measure is put in
#'   words, such as "sales a year before"; other measures use their name, with
#'   spaces for underscores.
#' @param format How its figures look: [decimal()], [percentage()] or [money()]. By default
#'   shares, growth and a ratio less one are percentages; a measure worked out from another (its
#'   prior, to date, running, moving, difference, average by day) looks like it; all others are
#'   plain numbers.
#' @param description A sentence for readers, given as a note.
#' @param total How totals come about: from the orders in their cell (the default), or
#'   `of_shown(f)`, where `f` (`mean`, `sum`, `min`, `max`, `median`) is applied to the
#'   lines shown under the total.
#' @param marks Words shown beside a figure if a rule over the figures of its row holds:
#'   `c("falling" = growth < 0, "ahead" = sales > 1.2 * ly)`, of measures that the table shows. A
#'   rule in `good()` or `bad()` gives its mark a sign and a colour, `\u2713 ahead`,
#'   `! falling`.
#' @param bar `TRUE`: in a rollup, draw a bar of the figure's length beside it.
#' @param history A unit such as `month`: in a rollup without periods, draw a line of the figure's
#'   last 13 periods beside it.
#' @param ... Measures, each `name = expression`; a later one may use an earlier one by name.
#' @return `measures()`: a `drystack_measures`, to be put among the measures of a table. `measure()`
#'   is read by the tables and is not a function to call on its own.
#' @section Errors: `drystack_error_argument` for a label or rule of the wrong kind and for
#'   `measure()` outside a table; errors of the expressions come from the table that reads them.
#' @seealso [measure_language] has the words of figures; [decimal()] and others the formats.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' sales <- measures(
#'   sales = measure(
#'     sum(amount - discount), label = "Net sales", format = money("\u00a3", digits = 0)
#'   ),
#'   growth = measure(growth(sales, year), label = "on last year", format = percentage())
#' )
#' sales
#' rollup(book, by = year, sales, lines = count())
#' rollup(book, by = year, line = measure(mean(amount), total = of_shown(mean)), totals = "grand")
#' @export
measure <- function(expr, label = NULL, format = NULL, description = NULL,
  total = NULL, marks = NULL,
  bar = FALSE, history = NULL) {
  raise("argument", c(
    "{.fn measure} stands inside a table or {.fn measures}.",
    ">" = "For example {.code rollup(book, sales = measure(sum(amount)))}."
  ))
}

#' @rdname measure
#' @export
measures <- function(...) {
  structure(list(said = said_dots(...)), class = "drystack_measures")
}

# A measure as a table holds it: a tree with the name, label and format that travel with it.
# `labelled`: whether somebody gave the label; records: those beside the orders that it looks at.
new_measure <- function(name, tree, label = NULL, format = NULL, description = NULL, total = NULL,
  marks = NULL, bar = FALSE, history = NULL) {
  list(name = name, tree = tree, label = label %||% plain_words(name), labelled = !is.null(label),
    format = format, description = description, total = total, marks = marks, bar = bar,
    history = history, records = records_of(tree), lenses = lenses_in(tree))
}

# Whether a measure looks through a lens on time, of a word.
looks_through <- function(measure, word) word %in% measure$lenses

# Reads the measures of an ask in the order given: a later one may use the earlier ones by name.
# `vocabulary_of` gives what may be named from an environment and the trees so far.
read_measures <- function(said, vocabulary_of) {
  said <- spliced_measures(said)
  if (length(said) == 0L) {
    raise(
      "argument", c("The request has no measure.",
        ">" = "Give at least one, for example {.code sales = sum(amount)}.")
    )
  }
  names <- rlang::names2(said)
  unnamed <- names == ""
  names[unnamed] <- vapply(said[unnamed], said_label, "")
  check_measure_names(names)
  trees <- list()
  measures <- list()
  for (i in seq_along(said)) {
    vocabulary <- vocabulary_of(said[[i]]$env, trees)
    one <- read_measure(names[i], said[[i]], vocabulary)
    one$set <- said[[i]]$set
    one$format <- one$format %||% inherited_format(one$tree, measures)
    measures[[names[i]]] <- one
    trees[[names[i]]] <- one$tree
  }
  with_labels(measures, unnamed)
}

# A variable that holds measures() stands for them, and bridge() for its own.
spliced_measures <- function(said) {
  parts <- lapply(seq_along(said), function(i) {
    one <- said[i]
    expr <- one[[1L]]$expr
    known <- if (rlang::is_symbol(expr) && !is.null(one[[1L]]$env))
      get0(rlang::as_string(expr), envir = one[[1L]]$env)
    if (inherits(known, "drystack_measures")) spliced_measures(known$said)
    else if (!is.null(bridge_said(expr))) spliced_bridge(one) else one
  })
  unlist(parts, recursive = FALSE)
}

# bridge(), alone or inside measure(): list(expr, format).
bridge_said <- function(expr) {
  if (rlang::is_call(expr, "bridge")) {
    return(list(expr = expr))
  }
  if (rlang::is_call(expr, "measure") && rlang::is_call(as.list(expr)[-1L][[1L]], "bridge"))
    list(expr = as.list(expr)[[2L]], format = expr$format)
}

# `set`: the name that shows all of them.
spliced_bridge <- function(one) {
  bridge <- bridge_said(one[[1L]]$expr)
  name <- rlang::names2(one)
  set <- if (nzchar(name)) name else said_label(one[[1L]])
  lapply(bridge_measures(bridge$expr, name), function(expr) {
    if (!is.null(bridge$format)) expr$format <- bridge$format
    c(said(expr, one[[1L]]$env), list(set = set))
  })
}

read_measure <- function(name, said, vocabulary) {
  if (!rlang::is_call(said$expr, "measure")) {
    return(new_measure(name, parse_measure(said$expr, vocabulary)))
  }
  args <- match_arguments(as.list(said$expr)[-1L],
    c("expr", "label", "format", "description", "total", "marks", "bar", "history"), "measure")
  if (is.null(args$expr)) raise("expression", "{.fn measure} needs an expression.")
  new_measure(
    name, parse_measure(args$expr, vocabulary), text_said(args$label, "label", vocabulary),
    format_said(args$format, vocabulary), text_said(args$description, "description", vocabulary),
    total_said(args$total), marks_said(args$marks), flag_said(args$bar, "bar"),
    if (!is.null(args$history)) said(args$history, vocabulary$env)
  )
}

flag_said <- function(said, name) if (is.null(said)) FALSE else check_flag(said, name)

text_said <- function(said, name, vocabulary) {
  if (is.null(said)) {
    return(NULL)
  }
  value <- if (is.character(said)) said else if (!is.null(vocabulary$env))
    eval(said, vocabulary$env)
  check_text(value, name)
}

total_said <- function(said) {
  if (is.null(said)) {
    return(NULL)
  }
  known <- c("mean", "sum", "min", "max", "median")
  fn <- if (rlang::is_call(said, "of_shown", n = 1L)) rlang::as_label(said[[2L]]) else ""
  if (!fn %in% known) {
    raise("argument", c(
      "{.arg total} is {.code of_shown(f)} with one of {.val {known}}.", "x" = paste0(
        "It is ", quoted(rlang::as_label(said)), "."
      ),
      "i" = "Without it totals are worked out from their orders."
    ))
  }
  fn
}

check_measure_names <- function(names) {
  taken <- intersect(names, names_of_tables)
  if (length(taken) > 0L) {
    raise("argument", c(
      "A measure cannot be named {examples_of(taken)}.",
      "x" = "Tables have columns of that name themselves.",
      ">" = "Give it another name."
    ))
  }
  repeated <- unique(names[duplicated(names)])
  if (length(repeated) > 0L) {
    raise("argument", c(
      "Measures need names of their own.",
      "x" = "More than one is named {examples_of(repeated)}."
    ))
  }
}

# A format as it is said; where R values may not be looked for, only the
# constructors with constants.
format_said <- function(said, vocabulary) {
  if (is.null(said)) {
    return(NULL)
  }
  makers <- list(decimal = decimal, percentage = percentage, money = money,
    compact = compact, plain = plain)
  fn <- if (rlang::is_call(said)) call_word(said) else ""
  constants <- all(vapply(as.list(said)[-1L], function(x) is.atomic(x), logical(1L)))
  value <- if (fn %in% names(makers) && constants) {
    args <- match_arguments(as.list(said)[-1L], names(formals(makers[[fn]])), fn)
    do.call(makers[[fn]], args)
  } else if (!is.null(vocabulary$env)) {
    eval(said, vocabulary$env)
  }
  if (!inherits(value, "drystack_format")) {
    raise("argument", c(
      paste(
        "{.arg format} is {.code decimal()}, {.code percentage()}, {.code money(\"\u00a3\")},",
        "{.code compact()} or {.code plain()}."
      ),
      "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
    ))
  }
  value
}
