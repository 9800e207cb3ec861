# occurrences(): how often a cell's part of time came round, in the days that the record holds:
# its Mondays, its Octobers. What is counted are the days or periods that the part is a part of, or
# those of a unit that is said.

parse_occurrences <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("unit", "calendar"), fn)
  unit <- if (!is.null(args$unit)) period_option(args$unit, args$calendar, vocabulary, fn)
  node("occurrences", fn = fn, options = list(unit = unit),
    text = arguments_text(fn, said_options(as.list(said)[-1L])))
}
