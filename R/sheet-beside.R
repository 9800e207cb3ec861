# What can stand beside the figures of a rollup: a bar as long as the figure, or a line of
# its history.

# The column of a measure, with its bar and history.
figure_columns <- function(x, name) {
  measure <- x$ask$measures[[name]]
  column <- figure_column(x$figures[[name]], measure)
  column$text <- with_estimate_mark(column$text, x$rows$estimated[[name]])
  column <- with_marks(column, measure, x$figures)
  c(list(column),
    if (measure$bar && is.numeric(column$raw)) list(bar_column(column, x$role)),
    if (!is.null(x$histories[[name]])) list(history_column(x, name)))
}

# The words of marks beside the figures of a column; `of`: which rows it shows, all where
# it is NULL.
with_marks <- function(column, measure, figures, of = NULL) {
  if (is.null(measure$marks)) {
    return(column)
  }
  marks <- marks_of(measure, figures)
  column$marked <- if (is.null(of)) marks$word else picked_text(marks$word, of)
  column$tone <- if (is.null(of)) marks$tone else marks$tone[of]
  column
}

longest_bar <- 12L

# As long as the figure is beside the largest of the lines; what is negative, a total or put
# together of others, which would leave the rest specks, has none.
bar_column <- function(column, role) {
  line <- role == "line"
  most <- max(column$raw[line], 0, na.rm = TRUE)
  part <- ifelse(line & !is.na(column$raw) & most > 0, pmax(column$raw, 0) / most, 0)
  new_sheet_column(paste0(".bar_", column$name), "", "text", rep("", length(part)), block_bar(part))
}

# Whole blocks, then an eighth as many as are left over.
block_bar <- function(part) {
  eighths <- round(part * longest_bar * 8)
  paste0(strrep("\u2588", eighths %/% 8), c("",
    intToUtf8(0x258f:0x2589, multiple = TRUE))[eighths %% 8 + 1L])
}

history_column <- function(x, name) {
  history <- x$histories[[name]]
  line <- vapply(history$figures, small_line, "")
  column <- new_sheet_column(paste0(".history_", name),
    paste("Last", history_length, unit_plural(history$unit)), "text", line, line)
  column$history <- history$figures
  column
}

# An estimate is marked before its figure.
with_estimate_mark <- function(text, estimated) {
  here <- which(estimated %in% TRUE & nzchar(text))
  text[here] <- paste(estimate_mark, text[here])
  text
}
