# The engine for orders in parts: files with the same columns, or one that is larger than memory,
# cut where records end. Each question goes over the parts, one at a time in memory as an engine of
# its own (fold-frame.R; the passes are those of fold-parts-passes.R), and what the parts give is
# put together.
#
# parts: of each how it is read (see new_orders_in_parts())
# date: list(name, order, undated), how the days are read; settled: the values of that column in all
#   parts and their days, once known
# kinds: of each column that was read what it holds; one that differs from part to part is texts
# told_of: by column what was told of it, list(path, told) of each file
# texts, known_texts: the different texts of columns, and of which columns all are known
# held, bytes: columns of parts that stay in memory, as long as they are few, and their size

#' @export
as_engine.drystack_taken_parts <- function(taken, date) {
  engine <- new_engine("drystack_parts", 0)
  engine$parts <- taken$parts
  engine$rows_of_parts <- engine$before <- rep(0, length(engine$parts))
  engine$date <- date
  engine$told <- taken$told
  engine$settled <- NULL
  engine$kinds <- list()
  engine$told_of <- list()
  engine$texts <- list()
  engine$known_texts <- character()
  engine$held <- new.env(parent = emptyenv())
  engine$bytes <- 0
  engine$kept <- new.env(parent = emptyenv())
  wanted <- wanted_at_first(engine, taken$wanted)
  engine$facts <- over_columns(engine, wanted, function(frame, i) orders_facts(frame, list()))
  engine$rows_of_parts <- vapply(engine$facts, function(facts) facts$lines + 0, 0)
  engine$before <- cumsum(c(0, engine$rows_of_parts))[seq_along(engine$parts)]
  engine$rows <- sum(engine$rows_of_parts)
  if (engine$rows == 0) {
    raise("orders", c("There are no orders: their files have no rows.", ">" = "Check the export."))
  }
  engine
}

#' @export
told_of_columns.drystack_parts <- function(engine) {
  told_of_files(unlist(unname(engine$told_of), recursive = FALSE))
}

# Columns that are known to be numbers need not be read before they are asked for, where they could
# not stay in memory until then.
wanted_at_first <- function(engine, wanted) {
  if (bytes_of_parts(engine) <= most_held()) {
    return(wanted)
  }
  numbers <- Reduce(intersect, lapply(engine$parts, `[[`, "numbers"), wanted)
  engine$kinds[numbers] <- "number"
  setdiff(wanted, numbers)
}

# One part in memory, with some of its columns, as an engine in which all means
# what it does in the whole.
part_frame <- function(engine, i, names) frame_of_columns(engine, i, part_columns(engine, i, names))

frame_of_columns <- function(engine, i, columns) {
  names <- names(columns)
  days <- part_days(engine, columns[[engine$date$name]])
  frame <- frame_engine(length(days), days)
  frame$before <- engine$before[i]
  frame$whole <- engine
  late <- new_late_columns(names, length(days), NULL, NULL, NULL,
    stats::setNames(columns, seq_along(names)))
  settled <- is_settled(columns[[engine$date$name]])
  with_meanings(frame, engine, function(meaning) {
    if (meaning$name == engine$date$name && settled) list(kind = "day")
    else if (meaning$name %in% names) list(kind = "late", orders = late,
      place = match(meaning$name, names))
  })
}

#' @export
orders_facts.drystack_parts <- function(engine, scope) {
  facts <- if (length(scope) == 0L) engine$facts
    else kept(engine, "facts", scope_key(scope), function() {
      over_parts(engine, condition_ids(scope),
        function(frame, i) orders_facts(frame, local_scope(scope, frame)))
    })
  days <- function(field) as.integer(unlist(lapply(facts, `[[`, field)))
  list(
    lines = sum(vapply(facts, function(f) f$lines + 0, 0)),
    undated = sum(vapply(facts, function(f) f$undated + 0, 0)),
    first = end_known(days("first"), min), last = end_known(days("last"), max)
  )
}

end_known <- function(days, end) if (all(is.na(days))) NA_integer_ else end(days, na.rm = TRUE)

#' @export
column_kind.drystack_parts <- function(engine, tree) {
  check_no_functions(tree)
  check_groups(engine, tree)
  names <- source_names(engine, ids_of(tree))
  column_kind(part_frame(engine, 1L, union(engine$date$name, names)), settled_tree(tree, engine))
}

#' @export
labels_counted.drystack_parts <- function(engine, tree) {
  counted <- over_parts(engine, ids_of(tree), function(frame, i) {
    texts <- as.character(plain_values(line_values(frame, settled_tree(tree, engine))))
    labels <- unique(texts[!is.na(texts)])
    list(labels = labels, lines = tabulate(match(texts, labels), length(labels)))
  })
  all <- unlist(lapply(counted, `[[`, "labels"))
  labels <- unique(all)
  lines <- unlist(lapply(counted, `[[`, "lines"))
  list(labels = labels, lines = as.vector(rowsum(as.numeric(lines), match(all, labels))))
}

check_groups <- function(engine, tree) {
  for (part in subtrees(tree)) check_groups(engine, part)
  if (!identical(tree$fn, "regroup")) {
    return(invisible())
  }
  values <- over_parts(engine, ids_of(tree), function(frame, i) {
    unique(whole_of_tree(frame, settled_tree(tree$args[[1L]], engine)))
  })
  regrouped_values(unlist(lapply(values, as.character)), tree$constants$groups)
}

# The members of all parts. Their codes are those of each part (see local_dimension()).
#' @export
members.drystack_parts <- function(engine, axis) {
  key <- if (axis$kind == "cyclic") paste(axis$part, axis$calendar$id) else axis$column
  kept(engine, "members", key, function() {
    texts <- texts_of_axis(engine, axis)
    found <- if (!is.null(texts)) list(list(values = texts, factor = FALSE))
      else over_parts(engine, axis$column, function(frame, i) {
        coded <- members(frame, axis)
        coded[c("members", "values", "factor")]
      })
    c(joined_members(found), list(axis = axis))
  })
}

# The texts of a column, where a pass has met all of them.
texts_of_axis <- function(engine, axis) {
  name <- if (axis$kind == "dimension") engine$meanings[[axis$column]]$name
  if (!is.null(name) && name != engine$date$name && name %in% engine$known_texts &&
    identical(engine$kinds[[name]], "text"))
      engine$texts[[name]]
}

joined_members <- function(found) {
  if (found[[1L]]$factor) {
    members <- unique(unlist(lapply(found, `[[`, "members")))
    return(list(place = seq_along(members), members = members, factor = TRUE))
  }
  values <- sort_values(unique(do.call(vctrs::vec_c, lapply(found, `[[`, "values"))))
  list(place = seq_along(values), members = member_text(values), values = values, factor = FALSE)
}

# A dimension of the whole with the codes of one part.
local_dimension <- function(dimension, frame) {
  coded <- members(frame, dimension$axis)
  dimension$codes <- coded$codes
  dimension$place <- match(coded$members, dimension$members)[coded$place]
  dimension
}

local_scope <- function(scope, frame) {
  lapply(scope, function(condition) {
    if (is.null(condition$limit)) condition$tree <- settled_tree(condition$tree, frame$whole)
    else condition$limit$dimensions <- lapply(condition$limit$dimensions,
      local_dimension, frame = frame)
    condition
  })
}

# Where the rows of a part lie among those of the whole.
rows_of_part <- function(i, engine, rows) {
  within <- rows > engine$before[i] & rows <= engine$before[i] + engine$rows_of_parts[i]
  list(here = which(within), rows = rows[within] - engine$before[i])
}

#' @export
order_lines.drystack_parts <- function(engine, part) {
  ids <- c(part$job$date$id, condition_ids(part$job$scope), dimension_ids(part$dimensions))
  unlist(over_parts(engine, ids, function(frame, i) {
    part$dimensions <- lapply(part$dimensions, local_dimension, frame = frame)
    part$job$scope <- local_scope(part$job$scope, frame)
    order_lines(frame, part) + frame$before
  }))
}

#' @export
line_values.drystack_parts <- function(engine, tree, rows = NULL) {
  wanted <- rows %||% seq_len(engine$rows)
  places <- lapply(seq_along(engine$parts), rows_of_part, engine = engine, rows = wanted)
  values <- over_parts(engine, ids_of(tree), function(frame, i) {
    line_values(frame, settled_tree(tree, engine), places[[i]]$rows)
  })
  vctrs::vec_slice(do.call(vctrs::vec_c, values), order(unlist(lapply(places, `[[`, "here"))))
}

#' @export
line_days.drystack_parts <- function(engine) {
  unlist(over_parts(engine, character(), function(frame, i) as.integer(frame$days)))
}

#' @export
left_out.drystack_parts <- function(engine, book) {
  if (length(book$scope) == 0L && book$as_of >= book$last) {
    return(c(book$undated, 0))
  }
  key <- paste(book$as_of, scope_key(book$scope))
  Reduce(`+`, kept(engine, "left out", key, function() {
    over_parts(engine, condition_ids(book$scope), function(frame, i) left_out_of_part(frame, book))
  }))
}

left_out_of_part <- function(frame, book) {
  met <- lapply(local_scope(book$scope, frame), condition_mask, engine = frame)
  kernel_left_out(frame$days, book$as_of, met, thread_count())
}

#' @export
member_pairs.drystack_parts <- function(engine, a, b) {
  wholes <- list(members(engine, a), members(engine, b))
  pairs <- over_parts(engine, c(a$column, b$column), function(frame, i) {
    own <- lapply(wholes, local_dimension, frame = frame)
    first <- kernel_encode_pair(own[[1L]]$codes, own[[2L]]$codes, thread_count())$first
    lapply(own, function(dimension) dimension$place[dimension$codes[first]])
  })
  columns <- lapply(1:2, function(side) unlist(lapply(pairs, `[[`, side)))
  lapply(columns, `[`, first_of_rows(columns, length(columns[[1L]])))
}

#' @export
rows_of_orders.drystack_parts <- function(engine, rows) rows

# Some rows in memory: the columns of the files are read where they are needed.
#' @export
orders_part.drystack_parts <- function(engine, rows) {
  part <- frame_engine(length(rows), line_days(engine)[rows])
  with_meanings(part, engine, function(meaning) {
    list(kind = "part", of = engine, id = meaning$id,
      rows = rows)
  })
}

#' @export
lookup_match.drystack_parts <- function(engine, id) {
  kept(engine, "lookup", id, function() {
    found <- over_parts(engine, engine$meanings[[id]]$by,
      function(frame, i) lookup_match(frame, id))
    list(
      row = unlist(lapply(found, `[[`, "row")), unmatched = sort_values(
        unique(unlist(lapply(found, `[[`, "unmatched")))),
      lines = sum(vapply(found, `[[`, 0, "lines"))
    )
  })
}
