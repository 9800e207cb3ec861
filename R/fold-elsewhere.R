# What engines share that hold their columns elsewhere, in files or in a database: they work on
# frames of some orders, in which all means what it does in the whole.

# The columns of the orders, by name, that some columns are worked out of.
source_names <- function(engine, ids) {
  unique(unlist(lapply(base_ids(engine, ids), function(id) {
    meaning <- engine$meanings[[id]]
    if (meaning$kind == "elsewhere") meaning$name
  })))
}

# The ids of these columns, in any engine.
base_ids <- function(engine, ids) {
  unique(unlist(lapply(ids, function(id) {
    meaning <- engine$meanings[[id]]
    switch(meaning$kind,
      worked_out = base_ids(engine, ids_of(meaning$tree)),
      looked_up = base_ids(engine, engine$meanings[[meaning$lookup]]$by),
      lookup = base_ids(engine, meaning$by), id
    )
  })))
}

# A frame of some orders of an engine that holds its columns elsewhere: all means there what it does
# in the whole. `given` says what such a column means in the frame, NULL where the frame lacks it.
with_meanings <- function(frame, engine, given) {
  each <- c(names(engine$each), each_tables(engine))
  for (id in each) mean_alike(id, frame, engine)
  frame$each_some <- engine$each_some
  for (id in setdiff(ls(engine$meanings), each)) {
    meaning <- engine$meanings[[id]]
    if (meaning$kind == "elsewhere") meaning <- given(c(meaning, list(id = id)))
    if (!is.null(meaning)) settle_when_needed(meaning, id, frame, engine)
  }
  frame$last_id <- engine$last_id
  frame$functions <- engine$functions
  frame
}

# Figures of members are worked out when they are looked at.
mean_alike <- function(id, frame, engine) {
  force(id)
  force(engine)
  delayedAssign(id, engine$meanings[[id]], assign.env = frame$meanings)
}

# What a tree means among all orders may take a look at them all.
settle_when_needed <- function(meaning, id, frame, engine) {
  force(meaning)
  delayedAssign(id, {
    if (meaning$kind == "worked_out") meaning$tree <- settled_tree(meaning$tree, engine)
    meaning
  }, assign.env = frame$meanings)
}

# A tree for some of the orders, that means what it does among all: groups are held against all
# members once, and of labels spelt in several ways the most frequent among all orders is taken.
settled_tree <- function(tree, engine) {
  if (identical(tree$fn, "regroup")) tree$constants$checked <- FALSE
  if (identical(tree$fn, "one_spelling")) {
    spelt <- kept(engine, "spelling", tree_key(tree), function() {
      counted <- labels_counted(engine, tree$args[[1L]])
      list(labels = counted$labels, usual = counted$labels[usual_spelling(counted$labels,
        counted$lines)])
    })
    tree <- node("call", fn = "spelt", args = tree$args, constants = spelt, text = tree_text(tree))
  }
  tree$args <- lapply(tree$args, settled_tree, engine = engine)
  tree
}

# The different texts of an expression in the order they are met, with the order lines of each.
labels_counted <- function(engine, tree) UseMethod("labels_counted")

scope_key <- function(scope) paste(vapply(scope, `[[`, "", "key"), collapse = " ")


# The ids of the columns that conditions speak of; a limit to members speaks of their dimensions.
condition_ids <- function(scope) {
  unlist(lapply(scope, function(condition) {
    if (is.null(condition$limit)) ids_of(condition$tree) else dimension_ids(
      condition$limit$dimensions)
  }))
}

dimension_ids <- function(dimensions) unlist(lapply(dimensions, function(d) d$axis$column))

# An R function may look at all order lines at once.
check_no_functions <- function(tree) {
  functions <- tree_collect(tree, function(one) if (one$kind == "custom") list(one))
  if (length(functions) > 0L) {
    raise("engine", c(
      "An R function cannot work out a column of orders that are not in memory.",
      "x" = paste0(quoted(tree_text(functions[[1L]])), " may look at all order lines at once."),
      ">" = "Say it in the row language, or give {.fn daybook} the orders as a data frame."
    ))
  }
}
