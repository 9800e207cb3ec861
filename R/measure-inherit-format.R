# The format of a measure that is given none: a share, a growth and a ratio less one are
# percentages, and what is worked out from an amount by a lens, a sum, a difference or a constant
# factor looks like that amount. NULL: nothing is known of it.
#
# measures: those before it, by name

inherited_format <- function(tree, measures) {
  if (keeps(tree, "format")) inherited_format(figures_of(tree)[[1L]], measures)
  else kind_of(tree)$format(tree, measures)
}

# The mean or the greatest of some figures looks like these; their number or spread
# squared does not.
format_of_combined <- function(tree, measures) {
  by <- tree$using %||% tree$fn
  if (!by %in% c("count", "var")) inherited_format(tree$child, measures)
}

format_of_call <- function(tree, measures) {
  if (is_ratio_less_one(tree)) {
    return(percentage())
  }
  constant <- vapply(tree$args, function(arg) arg$kind == "value", NA)
  formats <- unique(lapply(tree$args[!constant], inherited_format, measures = measures))
  same <- tree$fn %in% c("+", "-", "abs", "round", "least", "greatest", "or_zero", "if_known")
  # An amount times a constant is one; a constant divided by an amount is none.
  scaled <- sum(constant) == 1L && (tree$fn == "*" || tree$fn == "/" && constant[2L])
  if (length(formats) != 1L || !(same || scaled)) {
    return(NULL)
  }
  # A percentage times a constant, often 100, is a number that someone wants as it is.
  if (same || !identical(formats[[1L]]$kind, "percentage")) formats[[1L]]
}

# Such as the sales over those of last year, less one.
is_ratio_less_one <- function(tree) {
  tree$fn == "-" && length(tree$args) == 2L && identical(tree$args[[1L]]$fn, "/") &&
    isTRUE(tree$args[[2L]]$value == 1)
}
