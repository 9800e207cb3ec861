# A bridge as steps: the figure before, its parts, the figure now, of the total row or the only one.

fits_bridge <- function(x) {
  inherits(x, "drystack_rollup") && !is.null(bridge_shown(x)) && length(bridge_row(x)) == 1L
}

bridge_row <- function(x) if (length(x$role) == 1L) 1L else which(x$role == "total")

draw_bridge <- function(x) {
  shown <- bridge_shown(x)
  row <- bridge_row(x)
  amounts <- vapply(shown, function(m) as.numeric(x$figures[[m$name]][row]), 0)
  if (anyNA(amounts)) raise("figure", c("The bridge has figures that are unknown.",
    ">" = "Limit the dates shown to periods with a year before them."))
  labels <- vapply(shown, head_label, "", USE.NAMES = FALSE)
  n <- length(labels)
  drawn <- steps_plot(steps_between(shown_text(labels), unname(amounts)), shown[[n]])
  words <- tolower(labels)
  dressed(drawn$plot, x, paste("From", words[1L], "to", words[n], "by",
    joined_words(words[-c(1L, n)])), drawn$note)
}
