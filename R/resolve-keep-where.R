# Rows kept by a condition on their figures. All rows are worked out as without it; then those that
# do not meet it go out of sight. A line for them is worked out from a copy of the fold in which
# they are one member (put_in_one()), so that no other row changes.

# A place after the members for the line of others, before the missing member.
with_places_for_others <- function(folded, ask) {
  for (axis in names(ask$keep_where)) {
    label <- ask$keep_where[[axis]]$others
    if (is.null(label)) next
    members <- folded$dimensions[[axis]]$members
    check_others_label(label, members, axis)
    all <- stats::setNames(list(seq_len(length(members) + 1L)), axis)
    folded <- put_together(folded, list(dimension = axis, places = all,
      last = length(members)), label)
  }
  folded
}

keep_rows <- function(folded, ask, plan) {
  for (axis in names(ask$keep_where)) folded$kept_where[[axis]] <- rows_that_meet(axis,
    folded, ask, plan)
  folded
}

# What a condition keeps of the rows up to an axis.
#
# axis, leading: where it is said, and the axes up to there; tree, others: what was said
# ranks: by leading axis those of the rows kept; shown, of, unknown: how many of how many are kept,
#   and how many could not be decided; together: whether the rest is one line
# last, place: of a dimension with such a line how many members it has, and the place of the line
rows_that_meet <- function(axis, folded, ask, plan) {
  rule <- ask$keep_where[[axis]]
  rows <- level_rows(resolve_level(plan$keep_where[[axis]], folded, ask, plan), ask)
  asked <- !is_dropped(rows, folded)
  met <- rows$figures$by
  kept <- asked & met %in% 1
  place <- folded$dimensions[[axis]]$others
  list(
    axis = axis, leading = rule$leading, tree = rule$tree, others = rule$others,
    ranks = lapply(rows$ranks[rule$leading], `[`, kept), shown = sum(kept), of = sum(asked),
    unknown = sum(is.na(met[asked])), together = !is.null(rule$others) && any(asked & !kept),
    last = place - 1L, place = if (is.null(rule$others)) integer() else place
  )
}

# The lines of others of each set of axes, in each of the periods before them: list(axes, periods:
# by axis the first day; levels: resolved; folded).
resolve_others <- function(folded, ask, plan) {
  together <- names(Filter(function(kept) kept$together, folded$kept_where))
  unlist(lapply(subsets_of(together), function(axes) {
    leading <- unlist(lapply(folded$kept_where[axes], `[[`, "leading"))
    periods <- plan$levels[[1L]]$periods
    periods <- periods[intersect(names(periods), leading)]
    if (length(periods) > 0L) periods <- distinct_rows(periods)
    n <- if (length(periods) > 0L) length(periods[[1L]]) else 1L
    check_periods_of_others(n, axes, names(periods))
    lapply(seq_len(n), function(i) others_in(axes, lapply(periods, `[`, i), folded, ask, plan))
  }), recursive = FALSE)
}

subsets_of <- function(names) {
  unlist(lapply(seq_along(names), utils::combn, x = names, simplify = FALSE), recursive = FALSE)
}

most_periods_of_others <- 400L

check_periods_of_others <- function(n, axes, periods) {
  if (n > most_periods_of_others) raise("argument", c(
    paste0("The others of ", words_of(axes),
      " would be different members in each of {format_count(n)} periods."),
    ">" = paste0("Put ", words_of(periods), " after ", words_of(axes),
      ", show fewer of them, or leave the ", "others out.")))
}

others_in <- function(axes, periods, folded, ask, plan) {
  folded$whole <- folded
  for (axis in intersect(names(ask$axes), axes)) {
    kept <- folded$kept_where[[axis]]
    dimensions <- intersect(kept$leading, names(folded$dimensions))
    folded <- put_in_one(folded, kept, lapply(kept$ranks[dimensions], `[`,
      ranks_at(kept$ranks, periods)))
  }
  folded <- resolve_order(folded, ask, plan)
  levels <- Filter(function(level) all(level$keeps[match(axes, names(ask$axes))]), plan$levels)
  list(axes = axes, periods = periods, folded = folded,
    levels = lapply(levels, resolve_level, folded = folded, ask = ask, plan = plan))
}

# Which of some ranks lie in the periods said.
ranks_at <- function(ranks, periods) {
  here <- rep(TRUE, length(ranks[[1L]]))
  for (axis in intersect(names(periods), names(ranks))) here <- here &
    ranks[[axis]] %in% periods[[axis]]
  here
}

# Members that are not kept get the place of the others.
put_in_one <- function(folded, kept, places) {
  folded$jobs <- lapply(folded$jobs, function(job) {
    n <- length(job$places[[kept$axis]])
    other <- is.na(match_rows(job$places[names(places)], places, n, length(places[[1L]])))
    job$places[[kept$axis]][other] <- kept$place
    job
  })
  folded$dimensions[[kept$axis]]$alone <- unique(places[[kept$axis]])
  folded
}
