# The text writer: aligned columns under thin rules, cut into blocks where the page is
# too narrow for all columns.

write_text_file <- function(bundle, path) write_text_lines(bundle_lines(bundle, 100L), path)

bundle_lines <- function(bundle, width = 100L, most_rows = Inf) {
  c(
    wrap_lines(c(bundle$title, bundle$subtitle, fact_line(bundle$facts)), width),
    if (bundle$contents) c("", paste0("  ", block_labels(bundle))),
    unlist(lapply(flat_blocks(bundle), block_text, width = width, most_rows = most_rows)),
    if (length(bundle$notes) > 0L) c("", wrap_lines(bundle$notes, width)),
    if (length(bundle$about) > 0L) c("", wrap_lines(bundle$about, width))
  )
}

block_text <- function(block, width, most_rows) {
  c(
    if (block$label != "") c("", block$label), "",
    switch(block$kind,
      table = sheet_lines(block$sheet, width, most_rows),
      figure = wrap_lines(paste0("[figure: ", figure_words(block), "]"), width),
      text = wrap_lines(block$text, width)
    )
  )
}

sheet_lines <- function(sheet, width = 100L, most_rows = Inf) {
  sheet <- with_short_labels(sheet)
  sheet$columns <- lapply(sheet$columns, with_head_lines)
  shown <- shown_rows(length(sheet$role), most_rows)
  blocks <- column_blocks(sheet, width)
  body <- unlist(lapply(seq_along(blocks), function(i) {
    c(if (i > 1L) "", block_label(sheet, blocks, i), block_lines(sheet, blocks[[i]], shown))
  }))
  left <- length(sheet$role) - length(shown)
  c(
    wrap_lines(fact_line(sheet$facts), width), body,
    if (left > 0L) paste0("\u2026 ", format_count(left),
      " more rows: as.data.frame() and write_report() give all."),
    if (length(sheet$notes) > 0L) c("", wrap_lines(sheet$notes, width))
  )
}

# Where a table is too wide for the page, each of its parts says which columns it has.
block_label <- function(sheet, blocks, i) {
  if (length(blocks) == 1L) {
    return(NULL)
  }
  figures <- lapply(blocks, function(block) {
    block[vapply(sheet$columns[block], function(column) column$align != "left", NA)]
  })
  ends <- match(figures[[i]][c(1L, length(figures[[i]]))], unlist(figures))
  paste0(
    "[", i, " of ", length(blocks), ": ",
    if (ends[1L] == ends[2L]) paste("column", ends[1L]) else paste("columns", ends[1L],
      "to", ends[2L]),
    " of ", length(unlist(figures)), "]"
  )
}

wrap_lines <- function(text, width) unlist(lapply(text, strwrap, width = width, exdent = 2L))

shown_rows <- function(rows, most) seq_len(min(rows, most))

# Columns side by side as far as they fit, in parts of even width; later parts repeat the columns of
# the axes. Columns under one head stay together where they can.
column_blocks <- function(sheet, width) {
  widths <- column_widths(sheet$columns) + 2L
  lead <- which(vapply(sheet$columns, function(column) column$align == "left", logical(1L)))
  rest <- setdiff(seq_along(sheet$columns), lead)
  room <- width + 2L - sum(widths[lead])
  groups <- columns_under_heads(sheet$columns, rest)
  groups <- unlist(lapply(groups, function(group) {
    if (sum(widths[group]) <= room) list(group) else as.list(group)
  }), recursive = FALSE)
  most <- filled_blocks(groups, widths, room)
  if (length(most) == 1L) {
    return(list(c(lead, most[[1L]])))
  }
  # No part is wider than it must be for as many parts.
  needed <- max(vapply(groups, function(group) sum(widths[group]), 1),
    ceiling(sum(widths[rest]) / length(most)))
  for (room in seq(min(needed, room), room)) {
    blocks <- filled_blocks(groups, widths, room)
    if (length(blocks) <= length(most)) break
  }
  lapply(blocks, function(block) c(lead, block))
}

# Groups of columns one after the other, in parts that take no more than some room where they can.
filled_blocks <- function(groups, widths, room) {
  blocks <- list()
  block <- integer()
  for (group in groups) {
    if (length(block) > 0L && sum(widths[c(block, group)]) > room) {
      blocks <- c(blocks, list(block))
      block <- integer()
    }
    block <- c(block, group)
  }
  c(blocks, list(block))
}

columns_under_heads <- function(columns, rest) {
  outermost <- vapply(columns[rest], function(column) c(column$heads, "")[1L], "")
  runs <- rle(outermost)
  if (all(outermost == "")) as.list(rest) else split(rest,
    rep(seq_along(runs$lengths), runs$lengths))
}

# Labels are cut to what leaves room for figures; what is cut says so.
longest_label <- 60L

with_short_labels <- function(sheet) {
  sheet$columns <- lapply(sheet$columns, function(column) {
    if (column$align != "right") column$text <- cut_label(column$text)
    column$label <- cut_label(column$label)
    column$heads <- cut_label(column$heads)
    column
  })
  sheet
}

cut_label <- function(text) {
  long <- cli::ansi_nchar(text, "width") > longest_label
  text[long] <- cli::ansi_strtrim(text[long], longest_label, ellipsis = "\u2026")
  text
}

column_width <- function(column) {
  max(cli::ansi_nchar(c(column$head_lines %||% column$label,
    read_text(column)), "width"), 0L)
}

# A head that is longer than what stands under it is broken between its words.
shortest_head <- 12L

with_head_lines <- function(column) {
  wide <- max(cli::ansi_nchar(column$text, "width"), shortest_head)
  column$head_lines <- if (column$align == "left" || !nzchar(column$label)) column$label
    else strwrap(column$label, wide + 1L)
  column
}

# A head wider than the columns under it makes the last of them wider.
column_widths <- function(columns) {
  widths <- vapply(columns, column_width, 1L)
  for (spans in head_spans(columns)) {
    last <- cumsum(spans$length)
    for (i in seq_along(last)) {
      under <- seq(to = last[i], length.out = spans$length[i])
      lacking <- cli::ansi_nchar(spans$label[i], "width") - sum(widths[under]) - 2L *
        (length(under) - 1L)
      widths[last[i]] <- widths[last[i]] + max(lacking, 0L)
    }
  }
  widths
}

block_lines <- function(sheet, block, shown) {
  columns <- sheet$columns[block]
  widths <- column_widths(columns)
  cells <- Map(function(column, width) pad(read_text(column)[shown], width, column$align),
    columns, widths)
  rule <- strrep("\u2500", sum(widths) + 2L * (length(widths) - 1L))
  rows <- if (length(shown) > 0L) do.call(paste, c(unname(cells), sep = "  ")) else "(no rows)"
  c(head_lines(columns, widths), label_lines(columns, widths), rule,
    ruled_rows(rows, sheet$role[shown], rule, sheet$gap_after[shown]))
}

# Labels of several lines end on the same one.
label_lines <- function(columns, widths) {
  depth <- max(lengths(lapply(columns, `[[`, "head_lines")), 1L)
  heads <- Map(function(column, width) {
    pad(c(rep("", depth - length(column$head_lines)), column$head_lines), width, column$align)
  }, columns, widths)
  sub(" +$", "", do.call(paste, c(unname(heads), sep = "  ")))
}

# Heads over several columns: each centred over a rule as wide as its columns.
head_lines <- function(columns, widths) {
  lines <- lapply(head_spans(columns), function(spans) {
    last <- cumsum(spans$length)
    wide <- vapply(seq_along(last), function(i) {
      sum(widths[seq(to = last[i], length.out = spans$length[i])]) + 2L * (spans$length[i] - 1L)
    }, 1L)
    rule <- ifelse(spans$label == "", strrep(" ", wide), strrep("\u2500", wide))
    c(paste(pad(spans$label, wide, "centre"), collapse = "  "), paste(rule, collapse = "  "))
  })
  sub(" +$", "", as.character(unlist(lines)))
}

# A grand total stands apart by a rule; an empty line stands between groups that have a subtotal.
ruled_rows <- function(rows, role, rule, gap = NULL) {
  n <- length(rows)
  is_line <- role %in% c("line", "others")
  before_line <- c(is_line[-1L], FALSE)
  leads <- leads_its_lines(role, is_line)
  gap_after <- (gap %||% FALSE) | !leads & role == "subtotal" & before_line
  gap_before <- leads & role == "subtotal" & c(FALSE, is_line[-n])
  after <- ifelse(gap_after, "", ifelse(role == "total" & leads &
    n > 1L & c(role[-1L], "") != "total", rule, NA))
  before <- ifelse(gap_before, "", ifelse(role == "total" & !leads &
    n > 1L & c("", role[-n]) != "total", rule, NA))
  lines <- as.vector(rbind(before, rows, after))
  sub(" +$", "", lines[!is.na(lines)])
}

# TRUE where totals stand before their lines: then the last row is a line.
leads_its_lines <- function(role, is_line) {
  rep(length(role) > 1L && is_line[length(role)] && any(!is_line), length(role))
}

# Padded by width on the screen, not by count of characters.
pad <- function(text, width, align) {
  gap <- strrep(" ", pmax(width - cli::ansi_nchar(text, "width"), 0L))
  if (align == "centre") {
    left <- nchar(gap) %/% 2L
    return(paste0(substr(gap, 1L, left), text, substr(gap, left + 1L, nchar(gap))))
  }
  if (align == "right") paste0(gap, text) else paste0(text, gap)
}
