# A bridge as steps: the figure before, its parts, the figure now, of the total row or the only one.

fits_bridge <- function(x) inherits(x, "drystack_rollup") && !is.null(bridge_shown(x)) &&
  length(bridge_row(x)) == 1L

bridge_row <- function(x) if (length(x$role) == 1L) 1L else which(x$role == "total")

draw_bridge <- function(x) {
  shown <- bridge_shown(x)
  row <- bridge_row(x)
  amounts <- vapply(shown, function(m) as.numeric(x$figures[[m$name]][row]), 0)
  if (anyNA(amounts)) raise("figure", c("The bridge has figures that are unknown.",
    ">" = "Limit the dates shown to periods with a year before them."))
  n <- length(amounts)
  moved <- amounts[-c(1L, n)]
  to <- amounts[1L] + cumsum(moved)
  steps <- data.frame(label = shown_text(vapply(shown, head_label, "")), amount = amounts,
    from = c(0, amounts[1L], to[-length(to)], 0), to = c(amounts[1L], to, amounts[n]),
    what = c("all", ifelse(moved < 0, "less", "more"), "all"), place = seq_len(n))
  drawn <- steps_plot(steps, shown[[n]])
  dressed(drawn$plot, x, paste("From", tolower(head_label(shown[[1L]])), "to",
    tolower(head_label(shown[[n]])),
    "by", joined_words(tolower(vapply(shown[-c(1L, n)], head_label, "")))), drawn$note)
}
