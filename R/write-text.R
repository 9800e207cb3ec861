# The text writer: aligned columns under thin rules, cut into blocks where the page is too narrow for all columns.

sheet_lines <- function(sheet, width = 100L, most_rows = Inf) {
  shown <- shown_rows(length(sheet$role), most_rows)
  blocks <- column_blocks(sheet, width)
  body <- unlist(lapply(seq_along(blocks), function(i) {
    c(if (i > 1L) "", block_lines(sheet, blocks[[i]], shown))
  }))
  left <- length(sheet$role) - length(shown)
  c(
    wrap_lines(c(sheet$title, sheet$facts), width), "", body,
    if (left > 0L) paste0("\u2026 ", format_count(left), " more rows: as.data.frame() and write_report() give all."),
    if (length(sheet$notes) > 0L) c("", wrap_lines(sheet$notes, width))
  )
}

wrap_lines <- function(text, width) unlist(lapply(text, strwrap, width = width, exdent = 2L))

shown_rows <- function(rows, most) seq_len(min(rows, most))

# Columns side by side as far as they fit; later blocks repeat the columns of the axes.
column_blocks <- function(sheet, width) {
  widths <- vapply(sheet$columns, column_width, 1L) + 2L
  lead <- which(vapply(sheet$columns, function(column) column$align == "left", logical(1L)))
  blocks <- list()
  block <- lead
  for (i in setdiff(seq_along(sheet$columns), lead)) {
    if (length(block) > length(lead) && sum(widths[c(block, i)]) - 2L > width) {
      blocks <- c(blocks, list(block))
      block <- lead
    }
    block <- c(block, i)
  }
  c(blocks, list(block))
}

column_width <- function(column) max(cli::ansi_nchar(c(column$label, column$text), "width"), 0L)

block_lines <- function(sheet, block, shown) {
  columns <- sheet$columns[block]
  widths <- vapply(columns, column_width, 1L)
  cells <- Map(function(column, width) pad(column$text[shown], width, column$align), columns, widths)
  heads <- Map(function(column, width) pad(column$label, width, column$align), columns, widths)
  rule <- strrep("\u2500", sum(widths) + 2L * (length(widths) - 1L))
  rows <- if (length(shown) > 0L) do.call(paste, c(unname(cells), sep = "  ")) else "(no rows)"
  c(paste(unlist(heads), collapse = "  "), rule, ruled_rows(rows, sheet$role[shown], rule))
}

# A grand total stands under a rule of its own; a group ends with its subtotal and an empty line.
ruled_rows <- function(rows, role, rule) {
  more_lines <- role == "subtotal" & c(utils::tail(role, -1L), "end") == "line"
  after <- ifelse(more_lines, "", NA)
  before <- ifelse(role == "total" & length(rows) > 1L, rule, NA)
  lines <- as.vector(rbind(before, rows, after))
  sub(" +$", "", lines[!is.na(lines)])
}

# Padded by width on the screen, not by count of characters.
pad <- function(text, width, align) {
  gap <- strrep(" ", pmax(width - cli::ansi_nchar(text, "width"), 0L))
  if (align == "right") paste0(gap, text) else paste0(text, gap)
}
