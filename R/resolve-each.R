# Finer figures first, then one of them: each(day, m) over the periods within a cell, each(order_id, m) over the values
# of a
# column.

resolve_each <- function(tree, at) {
  result <- as_figure(resolve_number(tree$child, at), at$count, tree$width)
  if (!is.null(tree$present)) result[resolve_tree(tree$present, at) %in% c(0, NA)] <- NA
  combine <- combiners()[[tree$fn]]
  cells <- vapply(seq_along(tree$pieces), function(i) {
    if (!tree$known[i]) rep(NA_real_, at$count) else combine(result[, tree$pieces[[i]], drop = FALSE], tree$options)
  }, numeric(at$count))
  matrix(cells, at$count, length(tree$pieces))
}

as_figure <- function(x, groups, cells) if (is.matrix(x)) x else matrix(x, groups, cells)

# The column is one more dimension: its groups are resolved on a level of their own, then combined within each group
# here.
resolve_members <- function(tree, at) {
  inner <- members_level(tree, at)
  lines <- resolve_tree(tree$present, inner)
  result <- as_figure(resolve_number(tree$child, inner), nrow(lines), ncol(lines))
  absent <- is.na(lines) | lines == 0
  result[absent] <- NA
  out <- matrix(NA_real_, at$count, ncol(lines))
  combine <- combiners()[[tree$fn]]
  groups <- split(seq_len(nrow(lines)), factor(inner$owner, levels = seq_len(at$count)))
  for (g in seq_len(at$count)) out[g, ] <- combine(t(result[groups[[g]], , drop = FALSE]), tree$options)
  out[, is.na(tree$present$from)] <- NA
  out
}

# A level with the groups of the entity's job; `owner` is the group of the outer level each belongs to.
members_level <- function(tree, at) {
  key <- job_key(tree$present$job)
  remembered_in(at$seen, paste("members", key), function() {
    job <- at$folded$jobs[[key]]
    dimensions <- c(at$folded$dimensions, list(.entity = list(members = seq_len(max(job$places$.entity, 1L)))))
    sizes <- vapply(dimensions, dimension_size, 0)
    kept <- c(at$kept, ".entity")
    entity <- names(Filter(function(j) !is.null(j$places$.entity), at$folded$jobs))
    inner <- new.env(parent = emptyenv())
    inner$kept <- kept
    inner$job_keys <- lapply(at$folded$jobs[entity], function(j) group_keys(j$places[kept], sizes[kept]))
    inner$keys <- unique(inner$job_keys[[key]])
    inner$count <- length(inner$keys)
    inner$places <- places_of(inner$keys, sizes[kept])
    inner$owner <- if (length(at$kept) == 0L) rep(1L, inner$count) else match(
      inner$keys %/% sizes[[".entity"]], at$keys
    )
    for (name in c("folded", "ask", "plan", "periods", "book")) assign(name, at[[name]], envir = inner)
    inner$seen <- new.env(parent = emptyenv())
    inner
  })
}
