# of_each(column, measure): a figure of each member of a column, worked out once over all orders of
# the scope to the as-of date, as a column of the order lines. What it is depends on the daybook
# that asks, so that each state of one (as-of date, conditions) has an engine of its own beside that
# of the orders, in which such columns mean what they are for it.

# Such columns by their ids, as an engine knows them: list(by: the id, by_name, tree: of the
# measure; order: how members stand, an expression, and env, where its values are; shown: whether
# the dates shown limit it).
# each_some: by id a value of its kind.

# The id of such a column: the same figure of the same members is one.
each_id <- function(engine, spec, text) {
  root <- engine$root %||% engine
  key <- rlang::hash(list(spec$by, if (!is.null(spec$tree)) tree_key(spec$tree), spec$shown, text))
  same <- names(Filter(function(one) one$key == key, root$each))
  if (length(same) > 0L) {
    return(same[1L])
  }
  id <- new_meaning(root, list(kind = "of_each"))
  root$each[[id]] <- c(spec, list(key = key))
  root$each_some[[id]] <- if (is_as_of(spec)) as.Date("2020-01-01") else figure_kind_of(
    spec$tree, engine)
  id
}

# The as-of date is such a column too: it hangs on the daybook, not on its orders.
is_as_of <- function(spec) identical(spec$kind, "as_of")

# The id of a column that a word works out for itself, the same one each time.
made_id <- function(engine, tree) {
  root <- engine$root %||% engine
  key <- tree_key(tree)
  if (is.null(root$made[[key]])) root$made[[key]] <- new_meaning(engine, list(kind = "worked_out",
    tree = tree))
  root$made[[key]]
}

# A value of the kind that a measure gives.
figure_kind_of <- function(tree, engine) {
  if (tree$kind %in% c("named", "lens", "scope", "along", "overall")) {
    return(figure_kind_of(tree$child, engine))
  }
  if (tree$kind == "each" && tree$fn %in% c("min", "max")) {
    return(figure_kind_of(tree$child, engine))
  }
  if (tree$kind == "day" || tree$kind == "call" &&
    are_figures_days(tree$fn, vapply(tree$args, function(arg) {
      inherits(figure_kind_of(arg, engine), c("Date", "POSIXct"))
    }, NA))) {
    return(as.Date("2020-01-01"))
  }
  ends <- tree$kind == "aggregate" && tree$fn %in% c("min", "max", "first", "last", "most_common")
  some <- if (ends) column_kind(engine, tree$args[[1L]])
  if (length(some) == 0L || is.numeric(some) &&
    !is.object(some)) 1 else if (inherits(some, c("Date", "POSIXct")))
      as.Date("2020-01-01") else "text"
}

# The engine of a daybook's orders as this daybook sees them.
settled_engine <- function(root, book) {
  if (length(root$each) == 0L) {
    return(root)
  }
  key <- each_state_key(book, root)
  found <- root$settled[[key]]
  if (is.null(found)) {
    found <- clone_engine(root)
    root$settled <- utils::head(c(stats::setNames(list(found), key), root$settled), most_settled)
  }
  for (id in setdiff(ls(root$meanings), ls(found$meanings))) {
    if (id %in% names(root$each)) settle_each(id, found, book)
    else assign(id, root$meanings[[id]], envir = found$meanings)
  }
  list2env(mget(c("each", "each_some", "last_id", "functions"), envir = root), envir = found)
  if (is.null(found$seeded)) seed_cache(found, root)
  found
}

# Columns that do not hang on the daybook need not be worked out again.
seed_cache <- function(engine, root) {
  engine$seeded <- TRUE
  others <- Filter(function(one) !identical(one, engine), root$settled)
  known <- (c(others, list(root)))[[1L]]$kept
  for (key in grep("^(values|codes|lookup) c[0-9]+$", ls(known), value = TRUE)) {
    own <- each_in(sub("^.* ", "", key), engine, as_of = TRUE)
    if (length(own) == 0L) assign(key, known[[key]], envir = engine$kept)
  }
}

# More states of a daybook than these are worked out again when they come back.
most_settled <- 6L

each_state_key <- function(book, root) {
  limited <- any(vapply(root$each, function(spec) isTRUE(spec$shown), NA))
  rlang::hash(list(book$as_of, book$covered, book$date, if (limited) book$shown,
    vapply(book$scope, `[[`, "", "key")))
}

clone_engine <- function(root) {
  engine <- structure(rlang::env_clone(root), class = class(root))
  engine$root <- root
  engine$settled <- engine$seeded <- NULL
  engine$kept <- new.env(parent = emptyenv())
  engine$meanings <- new.env(parent = emptyenv())
  begin_anew(engine)
  engine
}

# What an engine has worked out beside `kept` and must not share with another.
begin_anew <- function(engine) UseMethod("begin_anew")

#' @export
begin_anew.default <- function(engine) invisible()

# The meaning of such a column for a daybook, worked out when it is first looked at.
settle_each <- function(id, engine, book) {
  force(book)
  if (is_as_of(engine$root$each[[id]])) {
    assign(id, list(kind = "worked_out", tree = value_node(as_day_date(book$as_of))),
      envir = engine$meanings)
    return(invisible())
  }
  table <- each_table(id)
  delayedAssign(table, {
    spec <- engine$each[[id]]
    found <- figures_of_each(structure(list(book = without_each(book, id, engine), spec = spec),
      class = "drystack_each"))
    list(kind = "lookup", by = spec$by, keys = found$keys, key = spec$by_name, there = NULL,
      values = found$values)
  }, assign.env = engine$meanings)
  delayedAssign(id, list(kind = "looked_up", lookup = table,
    values = engine$meanings[[table]]$values,
    column = id),
    assign.env = engine$meanings)
}

# The ids of the lookups that hold such figures.
each_table <- function(id) paste0(id, " by member", recycle0 = TRUE)

each_tables <- function(engine) each_table(names(engine$each))

# list(keys, values): the figures of each member; worked out by the tables (table-each.R).
figures_of_each <- function(asked) UseMethod("figures_of_each")

# The daybook without conditions that speak of such a column themselves.
without_each <- function(book, id, engine) {
  book$scope <- Filter(function(condition) {
    !id %in% each_in(ids_of(condition$tree), engine)
  }, book$scope)
  if (!engine$each[[id]]$shown) book["shown"] <- list(NULL)
  book
}

# The columns of this kind that others are worked out of, and they themselves; `as_of`: the as-of
# date too.
each_in <- function(ids, engine, as_of = FALSE) {
  unique(unlist(lapply(unique(ids), function(id) {
    spec <- engine$each[[id]]
    if (!is.null(spec) && is_as_of(spec)) {
      return(if (as_of) id else character())
    }
    if (!is.null(spec)) {
      return(c(id, each_in(c(spec$by, ids_of(spec$tree)), engine, as_of)))
    }
    meaning <- if (!id %in% each_tables(engine)) engine$meanings[[id]]
    switch(meaning$kind %||% "none",
      worked_out = each_in(ids_of(meaning$tree), engine, as_of),
      looked_up = each_in(engine$meanings[[meaning$lookup]]$by, engine, as_of)
    )
  })))
}
