# custom(fn, x, ...): an R function of the rows of a cell, for the R surface only. Of
# no rows there is no figure.

aggregate_custom <- made_once(function() new_aggregate("rows", custom_figures, reads = "any"))

custom_figures <- function(cell) {
  lists <- cell$sorted("rows")
  columns <- cell$arguments()
  known <- if (cell$constants$missing) NULL else Reduce(`&`, lapply(columns, is_known))
  out <- matrix(NA_real_, lists$size[1L], length(cell$first))
  for (group in seq_len(nrow(out))) {
    for (i in which(!is.na(cell$first))) {
      at <- (group - 1L) * lists$size[2L]
      rows <- lists$sorted[seq_between(lists$offsets[at + cell$first[i] + 1L],
        lists$offsets[at + cell$end[i] + 1L])]
      if (!is.null(known)) rows <- rows[known[rows]]
      if (length(rows) > 0L) out[group, i] <- custom_figure(cell$fn,
        lapply(columns, vctrs::vec_slice, rows), cell$text)
    }
  }
  out
}

seq_between <- function(before, last) seq_len(last - before) + before

custom_figure <- function(fn, columns, text) {
  value <- rlang::try_fetch(do.call(fn, unname(columns)), error = function(e) {
    raise("expression", c(paste0(quoted(text), " cannot be worked out."),
      "x" = braces_kept(conditionMessage(e))))
  })
  if (length(value) != 1L || !(is.numeric(value) || is.logical(value))) {
    raise("expression", c(
      paste0(quoted(text), " must give one number for each cell."),
      "x" = "It gives {type_words(value)} of length {length(value)}."
    ))
  }
  if (is.finite(value)) as.numeric(value) else NA_real_
}
