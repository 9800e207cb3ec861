# Walking trees: the only recursions over them that look at every node alike.

# The trees a node is made of, conditions included; a figure of a record beside the orders is
# closed, as its columns are not those of the orders.
subtrees <- function(tree) {
  if (tree$kind == "of") {
    return(list())
  }
  c(tree$args, if (!is.null(tree$child)) list(tree$child), if (!is.null(tree$condition))
    list(tree$condition))
}

# Whether some node of a tree is as wanted.
tree_any <- function(tree, is_wanted) {
  if (isTRUE(is_wanted(tree))) {
    return(TRUE)
  }
  for (part in subtrees(tree)) if (tree_any(part, is_wanted)) return(TRUE)
  FALSE
}

# What is found at the nodes of a tree, the outer first; NULL is nothing.
tree_collect <- function(tree, find) {
  unlist(c(list(find(tree)), lapply(subtrees(tree), tree_collect, find = find)), recursive = FALSE)
}

# The records beside the orders that a measure looks at, by name.
records_of <- function(tree) {
  tree_collect(tree, function(one) if (one$kind == "of") one$record)
}

# A measure with some nodes as others: `change` gives the node that stands instead, or NULL. Amounts
# of aggregates stay what they are.
tree_map <- function(tree, change) {
  changed <- change(tree)
  if (!is.null(changed)) {
    return(changed)
  }
  if (!is.null(tree$child)) tree$child <- tree_map(tree$child, change)
  if (tree$kind != "aggregate") tree$args <- lapply(tree$args, tree_map, change = change)
  tree
}

# A measure as what it is, whatever name it was given.
without_names <- function(tree) if (tree$kind == "named") without_names(tree$child) else tree
