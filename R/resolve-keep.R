# Members that are not kept become one member, before anything is resolved that is shown: the places of the folded
# groups are changed, and whatever is merged from them (sums, rows, distinct values) is right by itself.

keep_members <- function(folded, ask, plan) {
  folded$kept <- list()
  for (dimension in names(ask$keep)) folded <- keep_dimension(folded, dimension, ask, plan)
  folded
}

keep_dimension <- function(folded, dimension, ask, plan) {
  rule <- ask$keep[[dimension]]
  members <- folded$dimensions[[dimension]]$members
  check_others_label(rule$others, members, dimension)
  resolved <- resolve_level(plan$keep[[dimension]], folded, ask, plan)
  place <- resolved$members[[dimension]]
  sizes <- vapply(folded$dimensions, dimension_size, 0)[names(resolved$members)]
  parent <- group_keys(resolved$members[names(sizes) != dimension], sizes[names(sizes) != dimension])
  if (length(parent) == 0L) parent <- rep(0, length(place))
  by <- as.vector(as_figure(resolved$figures$by, resolved$count, 1L))
  order <- order(parent, place > length(members), -by, place, na.last = TRUE)
  position <- integer(length(place))
  position[order] <- sequence(rle(parent[order])$lengths)
  kept <- position <= rule$n
  keys <- group_keys(resolved$members, sizes)
  folded$kept[[dimension]] <- list(
    n = rule$n, others = rule$others, shown = length(unique(place[kept])), of = length(unique(place)), all = all(kept),
    keys = keys[kept], sizes = sizes
  )
  if (all(kept)) folded else put_together(folded, dimension, rule$others %||% "(not shown)")
}

# A new member after the others, before the missing one.
put_together <- function(folded, dimension, label) {
  folded$jobs <- lapply(folded$jobs, function(job) {
    job$places <- places_put_together(job$places, dimension, folded$kept[[dimension]])
    job
  })
  d <- folded$dimensions[[dimension]]
  folded$dimensions[[dimension]]$others <- length(d$members) + 1L
  folded$dimensions[[dimension]]$members <- c(d$members, label)
  folded
}

places_put_together <- function(places, dimension, kept) {
  last <- kept$sizes[[dimension]] - 1L
  other <- !group_keys(places[names(kept$sizes)], kept$sizes) %in% kept$keys
  place <- places[[dimension]]
  places[[dimension]] <- as.integer(ifelse(other, last + 1L, ifelse(place > last, place + 1L, place)))
  places
}

check_others_label <- function(label, members, dimension) {
  if (!is.null(label) && label %in% members) {
    raise("argument", c(
      paste0(quoted(label), " is a member of ", quoted(dimension), " already."),
      ">" = "Give the others another label: {.code keep_top(n, by, others = \"The rest\")}."
    ))
  }
}

# One place for each member and one for missing.
dimension_size <- function(d) length(d$members) + 1
