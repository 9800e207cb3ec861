# The ask: everything about a request but the orders, read and checked.
#
# kind: "rollup", "crosstab", "listing" or "headlines"
# axes: by name (daybook-axes.R); cols: the names of those that run across, all others run down
# measures: those shown, by name; known: all that may be spoken of
# totals: for rows and cols "none", "grand" or "all"; totals_at: "end" or "start"
# members: "shown": those that occur on the dates shown; "seen": those some lens sees too
# sort, keep, keep_where: rules of order (plan-sort.R), of members kept (plan-keep.R) and
# of rows kept
#   by a condition (plan-keep-where.R), by the name of their axis
# look: by name (plan-look.R)
# records: those beside the orders whose members have rows, whatever its measures (figures
# of one row)
# listing: what only a listing has (table-listing.R); compared: what headlines are
#   compared with (table-headlines.R)

new_ask <- function(kind, axes, measures, totals = both_sides("none"),
  totals_at = both_sides("end"), cols = character(), members = "shown", known = measures,
  look = list(), listing = NULL, compared = NULL) {
  list(
    kind = kind, axes = axes, measures = measures, totals = totals,
    totals_at = totals_at, cols = cols, members = members, known = known,
    look = read_looks(look, kind), listing = listing, compared = compared,
    sort = list(), keep = list(),
    keep_where = list()
  )
}

both_sides <- function(word) c(rows = word, cols = word)

only_rows <- function(word, cols) c(rows = word, cols = cols)

# Of a table that has no columns beside its rows.
one_side <- function(word, name) {
  if (!is.null(names(word))) raise("argument", c(
    paste0(argument_said(name), " takes one word here."),
    "x" = "It was given for {words_of(names(word))}, but this table has only rows."))
  word
}

# One word for rows and columns, or one for each: c(rows = "all", cols = "none").
read_sides <- function(x, choices, name) {
  if (is.null(names(x))) {
    return(both_sides(check_choice(x, choices, name)))
  }
  if (anyDuplicated(names(x)) > 0L || !all(names(x) %in% c("rows", "cols"))) {
    raise("argument", c(
      paste0(argument_said(name), " is one word, or one for {.val rows} and one for {.val cols}."),
      ">" = "For example {.code {name} = c(rows = \"{choices[1]}\", cols = \"{choices[2]}\")}."
    ))
  }
  sides <- both_sides(choices[1L])
  for (side in names(x)) sides[[side]] <- check_choice(x[[side]], choices, name)
  sides
}

total_words <- c("none", "grand", "all")

words_of_ends <- c("end", "start")

member_words_known <- c("shown", "seen")

# The names of the axes that run down, or across.
side_axes <- function(ask, side) {
  if (side == "cols") ask$cols else setdiff(names(ask$axes), ask$cols)
}

# The axes of one side up to one of them.
leading_axes <- function(ask, axis) {
  side <- side_axes(ask, if (axis %in% ask$cols) "cols" else "rows")
  side[seq_len(match(axis, side))]
}

dimension_axes <- function(ask) Filter(Negate(is_period_axis), ask$axes)

# What an expression over the measures of an ask may name.
ask_words <- function(ask, book, env) {
  book_vocabulary(book, env, lapply(ask$known, `[[`, "tree"), names(ask$axes), ask$cols)
}

# The measures of a request, where they may name each other and the axes of their table.
ask_measures <- function(said, book, axes, cols = character()) {
  read_measures(said, function(env, trees) book_vocabulary(book, env, trees, names(axes), cols))
}

# Those of some measures that are shown, where the others are only spoken of.
shown_measures <- function(measures, show) {
  if (is.null(show)) {
    check_marks(measures)
    return(measures)
  }
  show <- unlist(lapply(show, function(name) {
    of_set <- names(Filter(function(m) identical(m$set, name), measures))
    if (length(of_set) > 0L) of_set else name
  }))
  for (name in show) {
    if (!name %in% names(measures)) {
      raise(
        "argument", c(paste0("There is no measure ", quoted(name), " to show."),
          advise_word(name, names(measures), "measures"))
      )
    }
  }
  check_marks(measures[show])
  measures[show]
}

# What the rules of order and of members kept look at, by the axis of each.
rule_trees <- function(ask) {
  Filter(Negate(is.null), lapply(c(ask$sort, ask$keep, ask$keep_where), function(rule) rule$tree))
}
