# From a listing to its sheet: headings over groups or group columns with each label once,
# line numbers, blank lines.

#' @export
as_sheet.drystack_listing <- function(x) {
  x <- with_zeros(x)
  groups <- names(group_axes(x$ask))
  rows <- listing_rows(x, groups)
  columns <- if (x$ask$look$layout == "indented") list(heading_column(x, rows, groups))
    else group_columns(x,
      rows, groups)
  if (x$ask$look$number) columns <- c(columns, list(number_column(x, rows, groups)))
  values <- listed_values(x)
  of <- ifelse(rows$role == "heading", NA, rows$of)
  columns <- c(
    columns,
    Map(function(value, name) line_column(value, name, line_label(x, name), of), values,
      names(values)),
    lapply(unname(x$ask$measures), measure_column, x = x, of = of)
  )
  table_sheet(x, columns, rows$role, rep(FALSE, length(rows$role)),
    level = rows$level, page_after = rows$page_after)
}

# The rows of the sheet: of (the row of the table, NA for headings and blanks), role, level (how
# many groups deep), group (for headings, which), page_after.
listing_rows <- function(x, groups) {
  n <- length(x$role)
  depth <- vapply(seq_len(n), function(i) 0L, 1L)
  for (group in groups) depth <- depth + !is.na(x$axes[[group]])
  rows <- data.frame(at = seq_len(n), place = 0, of = seq_len(n),
    role = x$role, level = depth, group = NA_integer_)
  if (x$ask$look$layout == "indented") rows <- rbind(rows, headings(x, groups))
  after <- group_ends(x, groups)
  if (x$ask$look$after == "blank" && length(after) > 0L) {
    rows <- rbind(rows, data.frame(at = after, place = 1, of = NA_integer_,
      role = "blank", level = 0L, group = NA_integer_))
  }
  rows <- rows[order(rows$at, rows$place, rows$level), ]
  rows$page_after <- x$ask$look$after == "page" & rows$at %in% after & rows$place == 0
  rows
}

# Where a group begins: before its first row.
headings <- function(x, groups) {
  parts <- lapply(seq_along(groups), function(k) {
    key <- do.call(paste, c(lapply(x$axes[groups[seq_len(k)]], as.character), sep = "\r"))
    known <- !is.na(x$axes[[groups[k]]])
    first <- which(known & !duplicated(key))
    data.frame(
      at = first, place = rep(-1, length(first)), of = first, role = rep("heading", length(first)),
      level = rep(k, length(first)), group = rep(k, length(first))
    )
  })
  do.call(rbind, parts)
}

# The last row of each group of the first level, but the last group.
group_ends <- function(x, groups) {
  if (length(groups) == 0L) {
    return(integer())
  }
  values <- as.character(x$axes[[groups[1L]]])
  ends <- which(!is.na(values) & c(values[-1L], NA) != values)
  ends <- ends[!is.na(ends)]
  utils::head(c(ends, which(!is.na(values) & c(is.na(values[-1L]), TRUE))) |>
    unique() |> sort(), -1L)
}

# Group labels once, at the first row they hold for; a total names what it is of.
group_columns <- function(x, rows, groups) {
  shown <- rows$of
  lapply(seq_along(groups), function(k) {
    values <- as.character(x$axes[[groups[k]]])
    key <- do.call(paste, c(lapply(x$axes[groups[seq_len(k)]], as.character), sep = "\r"))
    text <- ifelse(is.na(values) | duplicated(key), "", values)
    total <- x$role == "subtotal" & is_last_kept(x, groups, k)
    text[total] <- paste("Total", values[total])
    if (k == 1L) text[x$role == "total"] <- "Total"
    new_sheet_column(groups[k], head_label(x$ask$axes[[groups[k]]]),
      "left", values[shown], picked_text(text, shown))
  })
}

is_last_kept <- function(x, groups, k) {
  here <- !is.na(x$axes[[groups[k]]])
  if (k < length(groups)) here & is.na(x$axes[[groups[k + 1L]]]) else here & is.na(x$axes$lines)
}

picked_text <- function(text, of) ifelse(is.na(of), "", text[of])

heading_column <- function(x, rows, groups) {
  deepest <- vapply(seq_along(x$role), function(i) "", "")
  for (group in groups) {
    values <- as.character(x$axes[[group]])
    deepest[!is.na(values)] <- values[!is.na(values)]
  }
  text <- ifelse(x$role == "total", "Total", ifelse(x$role == "subtotal",
    paste("Total", deepest), ""))
  text <- picked_text(text, rows$of)
  for (k in seq_along(groups)) {
    here <- rows$role == "heading" & rows$group %in% k
    text[here] <- as.character(x$axes[[groups[k]]])[rows$of[here]]
  }
  labelled <- text != ""
  text[labelled] <- paste0(strrep("  ", pmax(rows$level[labelled] - 1L, 0L)), text[labelled])
  label <- sentence_case(joined_words(labels_of(groups, x$ask$axes)))
  new_sheet_column("group", label %||% "", "left", trimws(text), text)
}

# Numbered within the innermost group.
number_column <- function(x, rows, groups) {
  line <- x$role == "line"
  key <- if (length(groups) == 0L) rep("", length(line))
    else do.call(paste, c(lapply(x$axes[groups], as.character), sep = "\r"))
  number <- rep(NA_real_, length(line))
  number[line] <- stats::ave(rep(1, sum(line)), key[line], FUN = cumsum)
  values <- number[rows$of]
  values[rows$role == "heading"] <- NA
  new_sheet_column("number", "No.", "right", values,
    ifelse(is.na(values), "", format_by(values, plain())))
}

line_label <- function(x, name) {
  axis <- x$ask$listing$columns[[name]]
  if (is.null(axis)) sentence_case(plain_words(name)) else head_label(axis)
}

line_column <- function(value, name, label, of) {
  value <- value[of]
  if (is.numeric(value) && !is.object(value)) {
    code <- looks_like_code(value, name)
    text <- ifelse(is.na(value), "", format_by(value, if (code) plain() else NULL))
    return(new_sheet_column(name, label, if (code) "text" else "right",
      value, text, format = if (code) plain()))
  }
  text <- if (is.logical(value)) c("no", "yes")[value + 1L] else as.character(value)
  new_sheet_column(name, label, "text", value, ifelse(is.na(text), "", text))
}

# Headings and blanks have no figures.
measure_column <- function(measure, x, of) {
  column <- figure_column(x$figures[[measure$name]], measure)
  column <- with_marks(column, measure, x$figures, of)
  column$text <- picked_text(column$text, of)
  column$raw <- column$raw[of]
  column
}
