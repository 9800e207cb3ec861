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
    of = length(unique(start)), all = all(kept), unknown = length(setdiff(start[is.na(by)], start[kept])),
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
    of = length(unique(place)), all = all(kept), unknown = length(setdiff(place[is.na(by)], place[kept])),
    places = lapply(resolved$members, `[`, kept),
    last = length(members)
  )
  if (all(kept)) folded else put_together(folded, dimension, rule$others %||% "(not shown)")
}

# A new member after the others, before the missing one.
put_together <- function(folded, dimension, label) {
  folded$jobs <- lapply(folded$jobs, function(job) {
    job$places <- places_put_together(job$places, folded$kept[[dimension]])
    job
  })
  d <- folded$dimensions[[dimension]]
  folded$dimensions[[dimension]]$others <- length(d$members) + 1L
  folded$dimensions[[dimension]]$alone <- unique(folded$kept[[dimension]]$places[[dimension]])
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
