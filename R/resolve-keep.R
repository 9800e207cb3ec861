# Members that are not kept become one member, before anything is resolved that is shown: the
# places of the folded groups are changed, and whatever is merged from them (sums, rows, distinct
# values) is right by itself.

keep_members <- function(folded, ask, plan) {
  for (axis in names(ask$keep)) {
    keep <- if (is_period_axis(ask$axes[[axis]])) keep_periods else keep_dimension
    folded <- keep(folded, axis, ask, plan)
  }
  folded
}

# Which periods are kept, by the ranks of their rows.
keep_periods <- function(folded, axis, ask, plan) {
  rule <- ask$keep[[axis]]
  rows <- level_rows(resolve_level(plan$keep[[axis]], folded, ask, plan), ask)
  start <- rows$ranks[[axis]]
  parent <- row_ids(rows$ranks[setdiff(rule$leading, axis)], length(start))
  by <- rows$figures$by
  kept <- !is.na(by) & top_places(parent, logical(length(start)), by, start) <= rule$n
  folded$kept[[axis]] <- list(
    dimension = axis, n = rule$n, others = NULL, shown = length(unique(start[kept])),
    of = length(unique(start)), all = all(kept),
    unknown = length(setdiff(start[is.na(by)], start[kept])),
    ranks = lapply(rows$ranks[rule$leading], `[`, kept)
  )
  folded
}

# The place of each member within its parent, the largest figure first. One whose figure is unknown
# is never kept.
top_places <- function(parent, last, by, place) {
  order <- order(parent, last, -by, place, na.last = TRUE)
  position <- integer(length(place))
  position[order] <- sequence(rle(parent[order])$lengths)
  position
}

keep_dimension <- function(folded, dimension, ask, plan) {
  rule <- ask$keep[[dimension]]
  members <- folded$dimensions[[dimension]]$members
  check_others_label(rule$others, members, dimension)
  resolved <- resolve_level(plan$keep[[dimension]], folded, ask, plan)
  place <- resolved$members[[dimension]]
  parent <- row_ids(resolved$members[setdiff(names(resolved$members), dimension)], length(place))
  by <- as.vector(as_figure(resolved$figures$by, resolved$count, 1L))
  kept <- !is.na(by) & top_places(parent, place > length(members), by, place) <= rule$n
  folded$kept[[dimension]] <- list(
    dimension = dimension, n = rule$n, others = rule$others, shown = length(unique(place[kept])),
    of = length(unique(place)), all = all(kept),
    unknown = length(setdiff(place[is.na(by)], place[kept])),
    places = lapply(resolved$members, `[`, kept),
    last = length(members)
  )
  if (all(kept)) folded else put_together(folded, folded$kept[[dimension]],
    rule$others %||% "(not shown)")
}

# A new member after those that are kept, before the missing one.
put_together <- function(folded, kept, label) {
  dimension <- kept$dimension
  folded$jobs <- lapply(folded$jobs, function(job) {
    job$places <- places_put_together(job$places, kept)
    job
  })
  d <- folded$dimensions[[dimension]]
  folded$dimensions[[dimension]]$others <- length(d$members) + 1L
  folded$dimensions[[dimension]]$alone <- unique(kept$places[[dimension]])
  folded$dimensions[[dimension]]$members <- c(d$members, label)
  folded
}

check_others_label <- function(label, members, dimension) {
  if (!is.null(label) && label %in% members) {
    raise("argument", c(
      paste0(quoted(label), " is a member of ", quoted(dimension), " already."),
      ">" = "Give the others another label: {.code keep_top(n, by, others = \"The rest\")}."
    ))
  }
}

is_dropped <- function(rows, folded) {
  dropped <- logical(length(rows$role))
  for (dimension in names(folded$kept)) {
    kept <- folded$kept[[dimension]]
    if (!is.null(kept$others)) next
    dropped <- dropped | if (!is.null(kept$ranks)) is_other_rank(rows$ranks, kept)
      else rows$ranks[[dimension]] %in% folded$dimensions[[dimension]]$others
  }
  dropped
}

# Rows of a period, or of what a condition was asked of, that is not kept.
is_other_rank <- function(ranks, kept) {
  ranks[[kept$dimension]] != released & is.na(match_rows(ranks[names(kept$ranks)], kept$ranks,
    length(ranks[[1L]]), length(kept$ranks[[1L]])))
}
