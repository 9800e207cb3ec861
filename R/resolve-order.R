# The shown order of the members of a dimension within the axes before it, from the figures of a
# hidden level: for each of its rows the values of these axes (`ranks`, as level_rows() gives them)
# and the place in the order (`place`).

resolve_order <- function(folded, ask, plan) {
  for (dimension in names(plan$order)) {
    resolved <- resolve_level(plan$order[[dimension]], folded, ask, plan)
    folded$order[[dimension]] <- ordered_members(resolved, dimension,
      ask$sort[[dimension]], folded, ask)
  }
  folded
}

ordered_members <- function(resolved, dimension, rule, folded, ask) {
  rows <- level_rows(resolved, ask)
  here <- rows_at(rows, rule, folded, ask)
  ranks <- lapply(rows$ranks[rule$leading], `[`, here)
  by <- rows$figures$by[here]
  if (!is.numeric(by)) raise(
    "sort", c("A table can only be sorted by numbers.",
      "x" = "This measure gives {type_words(by)}.")
  )
  member <- ranks[[dimension]]
  d <- folded$dimensions[[dimension]]
  last <- !is.null(d) & (member > length(d$members) | member %in% d$others)
  place <- integer(length(by))
  place[order(last, ifelse(last, 0, if (rule$largest) -by else by), member,
    na.last = TRUE)] <- seq_along(by)
  list(leading = rule$leading, ranks = ranks, place = place)
}

# The rows of one column, said by its labels.
rows_at <- function(rows, rule, folded, ask) {
  here <- rep(TRUE, length(rows$role))
  for (i in seq_along(rule$across)) {
    axis <- ask$axes[[rule$across[i]]]
    rank <- rows$ranks[[axis$name]]
    labels <- rank_labels(axis, rank, folded)
    found <- labels$label %in% rule$at[i] | labels$key %in% rule$at[i]
    if (!any(found)) {
      raise("sort", c(
        paste0("There is no column ", quoted(rule$at[i]), " to sort the table by."),
        advise_word(rule$at[i], unique(labels$label), "columns")
      ))
    }
    here <- here & found
  }
  here
}

rank_labels <- function(axis, rank, folded) {
  values <- axis_values(axis, rank, folded)
  if (is_period(values)) list(label = format(values), key = format(values, "key")) else list(
    label = as.character(values), key = as.character(values)
  )
}

# The place of each row in the order of a dimension; what an axis released keeps its rank.
order_places <- function(ranks, order, dimension) {
  rank <- ranks[[dimension]]
  shown <- rank != released
  found <- match_rows(lapply(ranks[order$leading], `[`, shown), order$ranks, sum(shown),
    length(order$place))
  rank[shown] <- order$place[found]
  rank
}
