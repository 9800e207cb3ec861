# What is asked of measure trees.

is_so_far <- function(tree) {
  tree$kind == "lens" && tree$fn %in% c("ytd", "htd", "qtd", "mtd", "wtd", "so_far")
}

has_lens <- function(tree, fn) any(fn %in% lenses_in(tree))

# The words of the lenses on time that a tree looks through, outlooks and effects among them. A
# measure keeps them, as they are asked for often.
lenses_in <- function(tree) {
  unique(tree_collect(tree, function(one) {
    if (one$kind %in% c("lens", "index", "outlook", "effect")) one$fn
    else if (one$kind == "of") lenses_in(one$child)
  }))
}

drops_conditions <- function(tree) tree_any(tree, function(one) !is.null(one$drop))

is_additive <- function(tree) {
  if (keeps(tree, "sum")) is_additive(figures_of(tree)[[1L]]) else kind_of(tree)$adds_up(tree)
}

# A sum, a difference, and an amount times or by a constant.
call_adds_up <- function(tree) {
  parts <- tree$args
  all_add_up <- function() all(vapply(parts, is_additive, NA))
  switch(tree$fn,
    "+" = ,
    "-" = all_add_up(),
    "*" = sum(vapply(parts, is_constant, NA)) == 1L && any(vapply(parts, is_additive, NA)),
    "/" = is_constant(parts[[2L]]) && is_additive(parts[[1L]]),
    FALSE
  )
}

is_constant <- function(tree) {
  tree$kind == "value" || tree$kind == "call" && all(vapply(tree$args, is_constant, NA))
}

has_time_lens <- function(tree) {
  has_outlook(tree) || has_effect(tree) || has_lens(tree, names(lenses())) || disregards_dates(tree)
}

disregards_dates <- function(tree) {
  tree_any(tree, function(one) {
    isTRUE(one$drop$dates) || isTRUE(one$drop$all) || one$kind == "of" &&
      disregards_dates(one$child)
  })
}

without_prior <- function(tree) {
  tree_map(tree, function(one) {
    if (one$kind == "lens" && one$fn == "prior") without_prior(one$child)
  })
}

# Whether a figure is one of a record beside the orders, under whatever lens.
is_beside <- function(tree) {
  tree$kind == "of" || keeps(tree, "record") && is_beside(figures_of(tree)[[1L]])
}

has_effect <- function(tree) tree_any(tree, function(one) one$kind == "effect")

has_outlook <- function(tree) tree_any(tree, function(one) one$kind == "outlook")
