# The parts of a difference, by the prices of before. Of the members with lines on both sides:
#   price: what they fetch now less what the same quantity would have fetched then;
#   volume: their quantity more or less, at the mean price of then of all of them;
#   mix: the rest, that the quantities have gone to members dearer or cheaper than the mean.
# Members on one side alone are new or gone. Without a quantity before there is no price of then:
# all is price. (The additive decomposition of a product of price and quantity after Laspeyres:
# quantities at base prices.)

resolve_effect <- function(tree, at) {
  inner <- members_level(tree$entity, at)
  n <- inner$count
  side <- function(leaves) {
    tree$lines_seen <- leaves
    matrix(lines_of_members(tree, inner), n, tree$width) > 0
  }
  here <- side(tree$lines_seen[tree$now])
  then <- side(tree$lines_seen[-tree$now])
  figures <- lapply(tree$args, function(arg) {
    figure <- matrix(as_figure(resolve_number(arg, inner), n, tree$width), n, tree$width)
    replace(figure, is.na(figure), 0)
  })
  per <- length(figures) / 2
  now <- list(amount = figures[[1L]], quantity = if (tree$with_quantity) figures[[2L]])
  before <- list(amount = figures[[per + 1L]], quantity = if (tree$with_quantity)
    figures[[per + 2L]])
  owner <- inner$owner
  sums <- function(m) sums_by_group(m, owner, at$count)
  out <- switch(tree$part,
    new = cents_of(sums(now$amount * (here & !then))),
    gone = cents_of(-sums(before$amount * (then & !here))),
    change = cents_of(sums((now$amount - before$amount) * (here & then))),
    parts_of_both(now, before, here & then, owner, units_of_members(tree, inner, at),
      sums)[[tree$part]]
  )
  out[, unknown_cells(tree)] <- NA
  out
}

# What is whole cents but for the noise of adding doubles.
cents_of <- function(x) ifelse(is_nearly_whole(x * 100), round(x * 100) / 100, x)

sums_by_group <- function(m, group, count) {
  out <- matrix(0, count, ncol(m))
  if (nrow(m) > 0L) {
    found <- rowsum(m, group)
    out[as.integer(rownames(found)), ] <- found
  }
  out
}

# Cells whose days before, or now, are unknown.
unknown_cells <- function(tree) {
  unknown <- function(leaves) Reduce(`&`, lapply(leaves, function(leaf) is.na(leaf$from)))
  which(unknown(tree$lines_seen[tree$now]) | unknown(tree$lines_seen[-tree$now]))
}

parts_of_both <- function(now, before, both, owner, units, sums) {
  priced <- both & before$quantity != 0
  group <- if (is.null(units)) owner else row_ids(list(owner, units), length(owner))
  total <- function(m) {
    if (nrow(m) == 0L) m else rowsum(m, group)[match(group, sort(unique(group))), , drop = FALSE]
  }
  quantity <- total(before$quantity * priced)
  mean <- ifelse(quantity == 0, 0, total(before$amount * priced) / quantity)
  price <- ifelse(priced, before$amount / before$quantity, 0)
  more <- (now$quantity - before$quantity) * priced
  parts <- list(volume = sums(more * mean), mix = sums(more * (price - mean)),
    price = sums(ifelse(priced, now$amount - price * now$quantity,
      (now$amount - before$amount) * both)))
  in_cents(parts, sums((now$amount - before$amount) * both))
}

# Parts in whole cents that add up to their whole, the largest remainders first, where the whole
# has such.
in_cents <- function(parts, whole) {
  if (length(whole) == 0L) {
    return(parts)
  }
  cents <- round(whole * 100)
  exact <- is_nearly_whole(whole * 100)
  floors <- lapply(parts, function(part) floor(part * 100 + 1e-9))
  rest <- do.call(cbind, Map(function(part, floor) as.vector(part * 100 - floor), parts, floors))
  left <- as.vector(cents - Reduce(`+`, floors))
  place <- t(apply(-rest, 1L, rank, ties.method = "first"))
  place <- matrix(place, ncol = length(parts))
  Map(function(part, floor, i) {
    more <- matrix(place[, i] <= left, nrow(part))
    ifelse(exact, (floor + more) / 100, part)
  }, parts, floors, seq_along(parts))
}

# The unit of each member where quantities are of several: volumes are then counted within each. A
# member of two units cannot be compared with itself.
units_of_members <- function(tree, inner, at) {
  if (is.null(tree$units)) {
    return(NULL)
  }
  engine <- engine_of(at$folded$book)
  axes <- list(dimension_axis(tree$over$column, tree$over$id), dimension_axis(tree$units$column,
    tree$units$id))
  pairs <- member_pairs(engine, axes[[1L]], axes[[2L]])
  known <- !is.na(pairs[[1L]]) & !is.na(pairs[[2L]])
  pairs <- lapply(pairs, `[`, known)
  twice <- unique(pairs[[1L]][duplicated(pairs[[1L]])])
  if (length(twice) > 0L) {
    raise("expression", c(
      paste0("Members of ", quoted(tree$over$column), " have several values of ",
        quoted(tree$units$column), ": {examples_of(members(engine, axes[[1L]])$members[twice])}."),
      ">" = paste0("Quantities in different units cannot be compared: take a finer column as ",
        "{.arg over}.")))
  }
  entity <- inner$entity
  if (length(records_asked(at$ask)) > 0L) {
    all <- members_of_entity(tree$over$column, tree$over$id, at$ask, at$folded$book)
    entity <- match(all, members(engine, axes[[1L]])$members)[entity]
  }
  found <- pairs[[2L]][match(entity, pairs[[1L]])]
  replace(found, is.na(found), 0L)
}
