# What each kind of node of a tree is, one record each. What a kind does with the cells of a table
# and with its figures is listed under the same names: tracers() in plan-trace.R,
# resolvers() in resolve-figures.R.
#
# text:    how a tree of the kind is written, where it was not said in other words
# words:   as a part of a sentence; NULL where it has no words that are short
# told:    what it does, as one step of an explanation
# of:      the trees whose figures, of the same rows, its figure is worked out from
# keeps:   what its figure has in common with the first of these: the "format"; the "days" that
#          it counts; the "sum": it adds up wherever that does; the "record" it is of; the "lines":
#          it is the same aggregate of other order lines; the "name": it is called after it
# moved:   whether these are worked out in other cells
# format:  what it looks like, where that is not kept
# adds_up: whether it does, where that is not kept

new_kind <- function(text = text_round_child, words = function(tree, faces) NULL,
  told = function(tree) "", of = function(tree) NULL, keeps = character(), moved = FALSE,
  format = function(tree, measures) NULL, adds_up = function(tree) FALSE) {
  list(text = text, words = words, told = told, of = of,
    keeps = if (is.function(keeps)) keeps else function(tree) keeps,
    moved = moved, format = format, adds_up = adds_up)
}

kind_of <- function(tree) node_kinds()[[tree$kind]]

figures_of <- function(tree) kind_of(tree)$of(tree)

keeps <- function(tree, what) what %in% kind_of(tree)$keeps(tree)

node_kinds <- made_once(function() {
  c(kinds_at_the_bottom(), kinds_of_order_lines(), kinds_over_time(), kinds_over_the_table())
})

of_child <- function(tree) list(tree$child)
of_args <- function(tree) tree$args

kinds_at_the_bottom <- function() {
  list(
    value = new_kind(
      text = function(tree) value_text(tree$value),
      words = function(tree, faces) constant_figure_in_words(tree$value)
    ),
    column = new_kind(text = function(tree) name_text(tree$name)),
    custom = new_kind(),
    named = new_kind(
      text = function(tree) name_text(tree$name),
      words = function(tree, faces) named_in_words(tree$name, faces),
      of = of_child, keeps = c("days", "sum", "record", "lines"),
      format = function(tree, measures) measures[[tree$name]]$format
    ),
    call = new_kind(
      text = call_text, words = call_in_words,
      of = of_args, keeps = "days", format = format_of_call, adds_up = call_adds_up
    ),
    day = new_kind(
      words = function(tree, faces) {
        c(as_of = "the as-of date", first = "the first day", last = "the last day")[[tree$fn]]
      },
      told = function(tree) {
        c(as_of = "as of which the table is", first = "the cell's first day",
          last = "its last")[[tree$fn]]
      }
    ),
    days_left = new_kind(words = days_left_in_words, told = days_left_words),
    occurrences = new_kind(told = occurrences_words)
  )
}

kinds_of_order_lines <- function() {
  list(
    aggregate = new_kind(
      text = function(tree) text_with_options(tree, vapply(tree$args, tree_text, "")),
      words = aggregate_in_words, adds_up = function(tree) tree$fn %in% c("sum", "count")
    ),
    each = new_kind(
      text = function(tree) text_with_options(tree, tree$said), words = each_in_words,
      format = format_of_combined
    ),
    scope = new_kind(
      words = scope_in_words, told = narrowed_words,
      of = of_child, keeps = c("format", "days", "sum", "record", "lines"), moved = TRUE
    ),
    of = new_kind(
      words = function(tree, faces) measure_in_words(tree$child, faces),
      told = function(tree) paste("of the record", tree$record, "beside the orders"),
      of = of_child, keeps = c("format", "sum"), moved = TRUE
    ),
    effect = new_kind(
      words = function(tree, faces) {
        paste(tree$part, "effect on", measure_in_words(tree$args[[1L]], faces))
      },
      told = effect_words,
      format = function(tree, measures) inherited_format(tree$args[[1L]], measures)
    )
  )
}

kinds_over_time <- function() {
  list(
    lens = new_kind(
      words = lens_in_words, told = lens_words,
      of = of_child, keeps = kept_by_lens, moved = TRUE
    ),
    outlook = new_kind(
      words = function(tree, faces) paste("outlook of", measure_in_words(tree$child, faces)),
      told = function(tree) outlook_words(tree$options),
      of = of_child, keeps = "format", moved = TRUE
    ),
    growth = new_kind(
      words = growth_in_words,
      told = function(tree) "the change as a part of the base; unknown on a base of zero or below",
      of = of_args, keeps = c("days", "name"), format = function(tree, measures) percentage()
    ),
    index = new_kind(
      words = function(tree, faces) {
        paste0(measure_in_words(tree$child, faces), ", ", tree$base, " as 100")
      },
      told = function(tree) paste("with", tree$base, "as 100"),
      of = of_child, keeps = "days"
    )
  )
}

kinds_over_the_table <- function() {
  list(
    along = new_kind(
      words = function(tree, faces) paste("running", measure_in_words(tree$child, faces)),
      told = along_words, of = of_child, keeps = c("format", "name"), moved = TRUE
    ),
    overall = new_kind(
      words = function(tree, faces) paste(measure_in_words(tree$child, faces), "overall"),
      told = overall_words, of = of_child, keeps = "format", moved = TRUE
    ),
    share = new_kind(
      words = share_in_words,
      told = function(tree) "the figure as a part of the whole",
      of = of_args, keeps = c("days", "name"), format = function(tree, measures) percentage()
    ),
    of_rows = new_kind(
      words = function(tree, faces) {
        paste(tree$using, "of", measure_in_words(tree$child, faces), of_rows_words(tree$within))
      },
      told = function(tree) {
        paste("the", tree$using, "of the figures of the rows", of_rows_words(tree$within))
      },
      of = of_child, format = format_of_combined
    ),
    rank = new_kind(
      words = function(tree, faces) paste("rank by", measure_in_words(tree$child, faces)),
      told = rank_words, of = of_child, keeps = c("days", "name")
    )
  )
}

# The figures of a window that are combined do not add up as each of them does.
kept_by_lens <- function(tree) {
  c("format", "record", "name", if (is.null(tree$options$using)) c("sum", "lines"))
}
