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
