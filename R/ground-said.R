# What a caller said: an expression and the environment in which R values may be looked for; NULL
# where none may be, as on the command line.
said <- function(expr, env = NULL) list(expr = expr, env = env)

said_quo <- function(quo) said(rlang::quo_get_expr(quo), rlang::quo_get_env(quo))

# The arguments of dots, by name ("" where there is none).
said_dots <- function(...) said_quos(rlang::enquos(..., .ignore_empty = "all"))

said_quos <- function(quos) {
  empty <- vapply(quos, rlang::quo_is_missing, NA)
  if (any(empty)) raise("expression", c(paste0("Nothing is said for ",
    quoted(names(quos)[empty][1L]), "."), ">" = "Give it an expression, or leave it out."))
  stats::setNames(lapply(quos, said_quo), rlang::names2(quos))
}

said_label <- function(said) {
  paste(deparse(said$expr, width.cutoff = 200L, nlines = 1L), collapse = "")
}
