# How figures look when nothing else is said: thousands set apart, two decimals unless all are whole, unknown as a
# dash.

unknown_face <- "\u2013"

format_figures <- function(values) {
  known <- values[!is.na(values)]
  whole <- all(known == round(known))
  small <- length(known) > 0L && !whole && max(abs(known)) < 10
  digits <- if (whole) 0L else if (small) 3L else 2L
  text <- formatC(values, format = "f", digits = digits, big.mark = ",")
  text <- sub("^-(0(\\.0*)?)$", "\\1", text)
  text <- sub("^-", "\u2212", text)
  text[is.na(values)] <- unknown_face
  text
}

# By the format of a measure, or by the figures alone.
format_by <- function(values, format) {
  if (is.null(format) || (format$kind == "number" && is.null(format$digits))) {
    return(format_figures(values))
  }
  shown <- if (format$kind == "percent") 100 * values else values
  text <- formatC(abs(shown), format = "f", digits = format$digits, big.mark = ",")
  text <- paste0(format$symbol, text, if (format$kind == "percent") "%")
  negative <- !is.na(values) & round(shown, format$digits) < 0
  text[negative] <- paste0("\u2212", text[negative])
  text[is.na(values)] <- unknown_face
  text
}
