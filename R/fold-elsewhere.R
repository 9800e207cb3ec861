# What engines share that hold their columns elsewhere, in files or in a database: they work on frames
# of some orders, in which all means what it does in the whole.

# The columns of the orders, by name, that some columns are worked out of.
source_names <- function(engine, ids) {
  unique(unlist(lapply(ids, function(id) {
    meaning <- engine$meanings[[id]]
    switch(meaning$kind,
      elsewhere = meaning$name,
      worked_out = source_names(engine, ids_of(meaning$tree)),
      looked_up = source_names(engine, engine$meanings[[meaning$lookup]]$by),
      lookup = source_names(engine, meaning$by)
    )
  })))
}

# A frame of some orders of an engine that holds its columns elsewhere: all means there what it does in
# the whole. `given` says what such a column means in the frame, NULL where the frame lacks it.
with_meanings <- function(frame, engine, given) {
  for (id in ls(engine$meanings)) {
    meaning <- engine$meanings[[id]]
    if (meaning$kind == "elsewhere") meaning <- given(c(meaning, list(id = id)))
    else if (meaning$kind == "worked_out") meaning$tree <- unchecked_groups(meaning$tree)
    if (!is.null(meaning)) assign(id, meaning, envir = frame$meanings)
  }
  frame$last_id <- engine$last_id
  frame$functions <- engine$functions
  frame
}

# Groups are held against the members of all orders, once; among some orders some may not occur.
unchecked_groups <- function(tree) {
  if (identical(tree$fn, "regroup")) tree$constants$checked <- FALSE
  tree$args <- lapply(tree$args, unchecked_groups)
  tree
}

scope_key <- function(scope) paste(vapply(scope, `[[`, "", "key"), collapse = " ")


# The ids of the columns that conditions speak of; a limit to members speaks of their dimensions.
condition_ids <- function(scope) {
  unlist(lapply(scope, function(condition) {
    if (is.null(condition$limit)) ids_of(condition$tree) else dimension_ids(condition$limit$dimensions)
  }))
}

dimension_ids <- function(dimensions) unlist(lapply(dimensions, function(d) d$axis$column))

# An R function may look at all order lines at once.
check_no_functions <- function(tree) {
  if (tree$kind == "custom") {
    raise("engine", c(
      "An R function cannot work out a column of orders that are not in memory.",
      "x" = paste0(quoted(tree_text(tree)), " may look at all order lines at once."),
      ">" = "Say it in the row language, or give {.fn daybook} the orders as a data frame."
    ))
  }
  for (part in subtrees(tree)) check_no_functions(part)
}
