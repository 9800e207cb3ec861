# From headlines to their sheet: a row for each, with its comparison in words and
# its history as a small line.

#' @export
as_sheet.drystack_headlines <- function(x) {
  data <- as.data.frame(x)
  names <- headline_names(x$ask)
  shown <- function(values, format) {
    vapply(seq_along(names), function(i) {
      format_by(values[i], x$ask$measures[[names[i]]]$format)
    }, "")
  }
  share <- vapply(names, function(name) isTRUE(x$compared[[name]]$share), NA)
  change <- paste0(ifelse(share, "", direction_mark(data$change)),
    format_by(abs(data$change), percentage()))
  none <- is.na(data$compared_with)
  compared <- ifelse(share, data$compared_with,
    paste0("on ", data$compared_with, " (", shown(data$before), ")"))
  line <- vapply(names, function(name) small_line(x$history$figures[[name]]), "")
  columns <- list(
    new_sheet_column("headline", "", "left", data$headline, headline_labels(x)),
    new_sheet_column(
      "figure", "Figure", "right", data[["figure"]], with_estimate_mark(shown(data[["figure"]]),
        vapply(names, function(name) any(x$rows$estimated[[name]]), NA)), format = lapply(
        x$ask$measures[names], `[[`, "format"
      )
    ),
    new_sheet_column("change", "Change", "right", data$change,
      ifelse(none, "", change), format = percentage()),
    new_sheet_column("compared_with", "Compared with", "text",
      data$compared_with, ifelse(none, "", compared)),
    new_sheet_column("history", paste("Last", history_length, paste0(x$history$unit, "s")),
      "text", line, line)
  )
  left_out <- c(if (all(none)) c("change", "compared_with"), if (is.null(x$history)) "history")
  columns <- Filter(function(column) !column$name %in% left_out, columns)
  table_sheet(
    x, columns, data$.role, rep(FALSE, nrow(data)), layout = "headlines",
    history = lapply(names, function(name) as.numeric(x$history$figures[[name]]))
  )
}

headline_labels <- function(x) {
  vapply(x$ask$measures[headline_names(x$ask)], head_label, "",
    USE.NAMES = FALSE)
}

# Up, down or the same: never told by colour alone.
direction_mark <- function(change) {
  ifelse(is.na(change), "", ifelse(change > 0, "\u25b2 ", ifelse(change < 0, "\u25bc ", "= ")))
}

# Eight heights of bars between the least and the greatest.
small_line <- function(values) {
  values <- as.numeric(values)
  known <- values[!is.na(values)]
  if (length(known) == 0L) {
    return("")
  }
  bars <- intToUtf8(0x2581:0x2588, multiple = TRUE)
  low <- min(known)
  spread <- max(known) - low
  height <- if (spread == 0) rep(4L, length(values)) else pmin(
    floor((values - low) / spread * 8), 7) + 1L
  paste(ifelse(is.na(values), " ", bars[height]), collapse = "")
}
