# What is asked of measure trees.

is_so_far <- function(tree) {
  tree$kind == "lens" && tree$fn %in% c("ytd", "htd", "qtd", "mtd", "wtd", "so_far")
}

has_lens <- function(tree, fn) {
  tree_any(tree, function(one) {
    one$kind %in% c("lens", "index") && one$fn %in% fn || one$kind == "of" &&
      has_lens(one$child, fn)
  })
}

drops_conditions <- function(tree) tree_any(tree, function(one) !is.null(one$drop))

is_additive <- function(tree) {
  constant <- function(tree) {
    tree$kind == "value" || (tree$kind == "call" && all(vapply(tree$args, constant, logical(1L))))
  }
  switch(tree$kind,
    aggregate = tree$fn %in% c("sum", "count"),
    named = ,
    of = ,
    scope = is_additive(tree$child),
    lens = is.null(tree$options$using) && is_additive(tree$child),
    call = switch(tree$fn,
      "+" = ,
      "-" = all(vapply(tree$args, is_additive, logical(1L))),
      "*" = sum(vapply(tree$args, constant, logical(1L))) == 1L &&
        any(vapply(tree$args, is_additive, logical(1L))),
      "/" = constant(tree$args[[2L]]) && is_additive(tree$args[[1L]]),
      FALSE
    ),
    FALSE
  )
}

has_time_lens <- function(tree) has_outlook(tree) || has_effect(tree) ||
  has_lens(tree, names(lenses())) || disregards_dates(tree)

disregards_dates <- function(tree) {
  tree_any(tree, function(one) {
    isTRUE(one$drop$dates) || isTRUE(one$drop$all) || one$kind == "of" &&
      disregards_dates(one$child)
  })
}

without_prior <- function(tree) {
  tree_map(tree, function(one) if (one$kind == "lens" && one$fn == "prior")
    without_prior(one$child))
}

# Whether a figure is one of a record beside the orders, under whatever lens.
is_beside <- function(tree) {
  switch(tree$kind, of = TRUE, named = , lens = , scope = is_beside(tree$child), FALSE)
}

has_effect <- function(tree) tree_any(tree, function(one) one$kind == "effect")

has_outlook <- function(tree) tree_any(tree, function(one) one$kind == "outlook")
