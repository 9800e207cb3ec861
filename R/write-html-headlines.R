# Headlines as a page shows them: a list of single figures, each with its comparison
# and its history as a line.

html_headlines <- function(sheet) {
  text <- function(name) html_text(column_text(sheet, name))
  items <- vapply(seq_along(sheet$role), function(i) {
    change <- text("change")[i]
    paste0(
      "<li><span class=\"label\">", text("headline")[i], "</span><strong>",
      text("figure")[i], "</strong>",
      if (nzchar(change)) paste0("<span class=\"change\">", change, " ",
        text("compared_with")[i], "</span>"),
      html_line(sheet$history[[i]], column_label(sheet, "history")), "</li>"
    )
  }, "")
  # The longest figure fits its box, and the others are as large.
  wide <- max(nchar(column_text(sheet, "figure"), "width"))
  c(paste0("<ul class=\"headlines\" style=\"--wide:", wide, "\">"), items, "</ul>")
}

column_text <- function(sheet, name) {
  found <- Filter(function(column) column$name == name, sheet$columns)
  if (length(found) == 0L) rep("", length(sheet$role)) else found[[1L]]$text
}

column_label <- function(sheet, name) {
  found <- Filter(function(column) column$name == name, sheet$columns)
  if (length(found) == 0L) "" else found[[1L]]$label
}

# A line drawing of a figure's history, with its last point marked.
html_line <- function(values, label) {
  known <- which(!is.na(values))
  if (length(known) < 2L) {
    return("")
  }
  spread <- max(values[known]) - min(values[known])
  x <- round(4 + 112 * (known - 1) / (length(values) - 1), 1)
  y <- round(26 - 22 * (if (spread == 0) rep(0.5, length(known))
    else (values[known] - min(values[known])) / spread), 1)
  last <- length(known)
  paste0(
    "<svg viewBox=\"0 0 120 30\" preserveAspectRatio=\"xMinYMid\" role=\"img\" aria-label=\"",
    html_text(label), "\"><polyline points=\"",
    paste(x, y, sep = ",", collapse = " "), "\"/><circle cx=\"",
    x[last], "\" cy=\"", y[last], "\" r=\"2.6\"/></svg>"
  )
}
