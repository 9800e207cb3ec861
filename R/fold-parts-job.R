# The fold of a job over orders in parts: the states of each part, merged as they come.

#' @export
fold.drystack_parts <- function(engine, job, dimensions, book) {
  ids <- c(job$date$id, job$entity$id, condition_ids(job$scope), dimension_ids(dimensions),
    unlist(lapply(job$amounts, function(amount) ids_of(amount$tree))))
  held <- holds_rows(job)
  whole <- NULL
  asked <- over_parts(engine, ids, function(frame, i) {
    states <- part_states(frame, job, dimensions, book)
    list(states = if (is_apart()) packed_fold(states) else states,
      beside = facts_beside(frame, job, book))
  }, function(gave, i) {
    if (i == 1L) whole <<- new_whole(dimensions)
    whole <<- with_part(whole, unpacked_fold(gave$states), held)
    gave$beside
  }, here = held)
  keep_facts(engine, asked, job, book)
  finished_whole(whole, job)
}

# Folded states as another process can take them over; what looks at values again stays behind.
packed_fold <- function(folded) {
  folded$lines <- kernel_pack_states(folded$lines)
  folded$states <- lapply(folded$states, lapply, kernel_pack_states)
  folded[c("values", "codes", "sorted", "cells")] <- NULL
  c(folded, list(packed = TRUE))
}

unpacked_fold <- function(folded) {
  if (isTRUE(folded$packed)) {
    unpacked <- function(states) kernel_unpack_states(states$name, states$bytes)
    folded$lines <- unpacked(folded$lines)
    folded$states <- lapply(folded$states, lapply, unpacked)
  }
  folded
}

# What a table will ask of the same conditions, answered in the same pass: the lines that meet each,
# and those left out.
facts_beside <- function(frame, job, book) {
  own <- Filter(function(condition) is.null(condition$limit), job$scope)
  list(
    met = lapply(own, function(condition) orders_facts(frame, local_scope(list(condition), frame))),
    undecided = lapply(own, function(condition) {
      if (may_be_unknown(condition$tree)) orders_facts(frame,
        local_scope(list(undecided(condition)), frame))
    }),
    left_out = if (identical(scope_key(own), scope_key(book$scope))) left_out_of_part(frame, book)
  )
}

keep_facts <- function(engine, asked, job, book) {
  own <- Filter(function(condition) is.null(condition$limit), job$scope)
  for (i in seq_along(own)) {
    kept(engine, "facts", scope_key(own[i]), function() lapply(asked, function(part) part$met[[i]]))
    if (may_be_unknown(own[[i]]$tree)) {
      kept(engine, "facts", scope_key(list(undecided(own[[i]]))),
        function() lapply(asked, function(part) part$undecided[[i]]))
    }
  }
  if (!is.null(asked[[1L]]$left_out)) {
    kept(engine, "left out", paste(book$as_of, scope_key(book$scope)),
      function() lapply(asked, `[[`, "left_out"))
  }
}

# Whether figures of the job look at values again: at the rows of cells, or
# where first and last stand.
holds_rows <- function(job) job$rows || any(vapply(job$amounts, `[[`, NA, "position"))

# The states of one part, its groups told by places among the members of the whole, and by the
# values of what is kept apart.
part_states <- function(frame, job, dimensions, book) {
  own <- lapply(dimensions, function(d) {
    coded <- members(frame, d$axis)
    list(codes = coded$codes, place = coded$place, members = coded$members)
  })
  job$scope <- local_scope(job$scope, frame)
  job$amounts <- lapply(job$amounts, function(amount) {
    amount$tree <- settled_tree(amount$tree, frame$whole)
    amount
  })
  folded <- fold(frame, job, own, book)
  folded$places <- Map(function(place, mine, whole) {
    c(match(mine$members, whole$members), length(whole$members) + 1L)[place]
  }, folded$places, own, dimensions)
  if (!is.null(job$entity)) {
    coded <- column_codes(frame, job$entity$id, job$entity$name)
    folded$entities <- vctrs::vec_slice(coded$values, order(coded$place))
  }
  folded$rows <- frame$rows
  folded$before <- frame$before
  folded
}

# What the parts so far gave: places and entity of the groups, the members kept apart in the order
# they were met, states, and the parts themselves where their rows are looked at again.
new_whole <- function(dimensions) {
  list(
    dimensions = dimensions, places = NULL, entity = NULL, entities = NULL,
    count = 0L, lines = NULL,
    states = NULL, parts = list(), to_group = list()
  )
}

with_part <- function(whole, part, held) {
  if (!is.null(part$entity)) {
    whole$entities <- unique(vctrs::vec_c(whole$entities, part$entities))
    none <- part$entity > length(part$entities)
    part$entity_whole <- ifelse(none, 0L, match(part$entities, whole$entities)[part$entity])
  }
  keys <- function(x, entity) c(unname(x$places), if (!is.null(entity)) list(entity))
  theirs <- keys(part, part$entity_whole)
  to <- list(integer())
  if (is.null(whole$lines)) {
    whole$places <- part$places
    whole$entity <- part$entity_whole
    whole$count <- part$count
    to <- list(seq_len(part$count))
    whole$lines <- part$lines
    whole$states <- part$states
  } else if (part$count > 0L) {
    joined <- Map(c, keys(whole, whole$entity), theirs)
    first <- if (length(joined) == 0L) 1L else first_of_rows(joined, whole$count + part$count)
    groups <- lapply(joined, `[`, first)
    count <- length(first)
    all <- if (length(joined) == 0L) c(1L, 1L) else match_rows(joined,
      groups, whole$count + part$count, count)
    to <- list(all[seq_len(whole$count)], all[whole$count + seq_len(part$count)])
    merged <- function(a, b) kernel_merge_parts(list(a, b), to, count)
    whole$lines <- merged(whole$lines, part$lines)
    whole$states <- Map(function(a, b) Map(merged, a, b), whole$states, part$states)
    n <- length(whole$places)
    whole$places <- stats::setNames(groups[seq_len(n)], names(whole$places))
    whole$entity <- if (!is.null(part$entity)) groups[[n + 1L]]
    whole$count <- count
    whole$to_group <- lapply(whole$to_group, function(before) to[[1L]][before])
    to <- to[2L]
  }
  if (held) {
    whole$parts <- c(whole$parts, list(part[c("values", "codes", "sorted", "rows", "before")]))
    whole$to_group <- c(whole$to_group, to)
  }
  whole
}

# In the order of the members, as one engine over all orders gives them.
finished_whole <- function(whole, job) {
  entity <- whole$entity
  if (!is.null(entity)) {
    rank <- match(whole$entities, sort_values(whole$entities))
    entity <- ifelse(entity == 0L, length(whole$entities) + 1L, rank[pmax(entity, 1L)])
  }
  keys <- c(unname(whole$places), if (!is.null(entity)) list(entity))
  order <- if (length(keys) == 0L) 1L else do.call(base::order, c(keys, method = "radix"))
  to <- order(order)
  sorted <- function(states) {
    if (identical(to, seq_along(to))) states else kernel_merge_groups(states, to, whole$count)
  }
  groups <- lapply(whole$to_group, function(group) to[group])
  c(
    list(
      places = lapply(whole$places, `[`, order), entity = entity[order], entity_id = job$entity$id,
      count = whole$count, lines = sorted(whole$lines),
      states = lapply(whole$states, lapply, sorted),
      cells = NULL
    ),
    values_in_parts(whole$parts, groups, job)
  )
}

# The values of an amount over all parts, their codes, and what the rows of each cell hold.
values_in_parts <- function(parts, groups, job) {
  remembered <- new.env(parent = emptyenv())
  codes_of <- function(key) {
    remembered_in(remembered, key, function() joined_codes(lapply(parts, function(p) p$codes(key))))
  }
  list(
    values = function(key) do.call(vctrs::vec_c, lapply(parts, function(p) p$values(key))),
    codes = function(key) codes_of(key)$whole,
    sorted = function(what, key, to_group, n_groups) {
      lists <- Map(function(part, own) {
        part$sorted(what, key, to_group[own], n_groups)
      }, parts, groups)
      maps <- switch(what,
        codes = codes_of(key)$maps,
        rows = lapply(parts, function(p) as.integer(p$before + seq_len(p$rows))),
        values = list()
      )
      kernel_merge_lists(lists, rep(list(seq_len(n_groups)), length(parts)), n_groups, maps)
    }
  )
}

# Codes of the parts as codes of the whole: list(whole: members, place and values by code; maps).
joined_codes <- function(coded) {
  values <- lapply(coded, function(part) part$values)
  all <- unique(do.call(vctrs::vec_c, values))
  distinct <- sort_values(all)
  list(
    whole = list(members = member_text(distinct), place = match(all, distinct), values = all),
    maps = lapply(values, match, all)
  )
}
