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
  folded$kept[[dimension]] <- list(
    n = rule$n, others = rule$others, shown = length(unique(place[kept])), of = length(unique(place)), all = all(kept)
  )
  if (all(kept)) {
    return(folded)
  }
  keys <- group_keys(resolved$members, sizes)
  put_together(folded, dimension, keys[kept], sizes, rule$others %||% "(not shown)")
}

# A new member after the others, before the missing one.
put_together <- function(folded, dimension, kept, sizes, label) {
  last <- length(folded$dimensions[[dimension]]$members)
  folded$jobs <- lapply(folded$jobs, function(job) {
    place <- job$places[[dimension]]
    other <- !group_keys(job$places[names(sizes)], sizes) %in% kept
    job$places[[dimension]] <- ifelse(other, last + 1L, ifelse(place > last, place + 1L, place))
    job
  })
  folded$dimensions[[dimension]]$members <- c(folded$dimensions[[dimension]]$members, label)
  folded$dimensions[[dimension]]$others <- last + 1L
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

# One place for each member and one for missing.
dimension_size <- function(d) length(d$members) + 1
