# What a measure is called where nobody gave it a label: what a lens makes of another measure is
# told in words where these are short, everything else goes by its name.

longest_meaning <- 44L

# `unnamed`: TRUE where the name is only the text of the expression. Labels that would be the same
# are told apart by the names.
with_labels <- function(measures, unnamed) {
  faces <- character()
  for (i in seq_along(measures)) {
    if (!measures[[i]]$labelled) measures[[i]]$label <- meant_label(measures[[i]],
      unnamed[i], faces)
    faces[[measures[[i]]$name]] <- measures[[i]]$label
  }
  same <- faces %in% faces[duplicated(faces)]
  for (i in which(same)) if (!measures[[i]]$labelled)
    measures[[i]]$label <- plain_words(measures[[i]]$name)
  measures
}

meant_label <- function(measure, unnamed, faces) {
  if (!unnamed && !is_of_named(measure$tree)) {
    return(plain_words(measure$name))
  }
  words <- if (measure$tree$kind == "growth") growth_label(measure$tree)
  words <- words %||% measure_in_words(measure$tree, faces)
  if (nchar(words) <= longest_meaning) words else if (
    unnamed) measure$name else plain_words(measure$name)
}

# A lens, or lenses within each other, on a measure that has a name.
is_of_named <- function(tree) {
  if (!keeps(tree, "name")) {
    return(FALSE)
  }
  of <- figures_of(tree)[[1L]]
  of$kind == "named" || is.null(tree$args) && is_of_named(of)
}

# The name at the bottom of such lenses.
base_name <- function(tree) {
  if (tree$kind == "named") tree$name else base_name(figures_of(tree)[[1L]])
}

# Growth is of the figure beside it.
growth_label <- function(tree) {
  prior <- tree$args[[2L]]
  if (identical(prior$fn, "prior")) paste("growth on", before_in_words(prior$options))
}

# As the head of a column: what nobody worded begins with a capital.
head_label <- function(x) if (isTRUE(x$labelled)) x$label else sentence_case(x$label)

# As a part of a sentence about several of them, by their names.
labels_of <- function(names, known) {
  vapply(names, function(name) known[[name]]$label %||% plain_words(name), "", USE.NAMES = FALSE)
}
