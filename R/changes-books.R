# Two daybooks side by side: order lines that only one has, those that differ and in which columns,
# and totals by period and dimension.

#' @rdname changes
#' @param by For two daybooks: the rows of their totals, as in [rollup()]; default `month` where
#'   their calendar has months.
#' @export
changes.drystack_daybook <- function(before, after, key = NULL, ..., by = NULL) {
  own_setting()
  check_daybook(after)
  axes <- said_axes(rlang::enquo(by))
  if (length(axes) == 0L) axes <- list(said(if ("month" %in% before$calendars[[1L]]$units) "month"
    else "year"))
  new_book_changes(before, after, key, axes)
}

new_book_changes <- function(before, after, key, axes) {
  lines <- list(lines_of_book(before), lines_of_book(after))
  if (!is.null(key) && (!is.character(key) || anyNA(key))) raise("argument",
    "{.arg key} must be names of columns.")
  shared <- intersect(names(lines[[1L]]), names(lines[[2L]]))
  if (length(shared) == 0L) raise("argument", "The daybooks have no column in common.")
  found <- compare_lines(lines[[1L]], lines[[2L]], key)
  books <- Map(function(book, lines) {
    book$engine <- hold_engine(engine_of_lines(engine_of(book), lines))
    book
  }, list(before, after), lines)
  amounts <- setdiff(shared_amounts(books[[1L]], books[[2L]]), key)
  tables <- lapply(books, book_totals, axes = axes, amounts = amounts)
  figures <- figures_of_steps(tables[[1L]], tables[2L])
  structure(list(
    counts = c(both = nrow(lines[[2L]]) - length(found$late) - length(found$changed$after),
      different = length(found$changed$after), before = length(found$gone),
      after = length(found$late)),
    columns = if (!is.null(found$differs)) sort(
      colSums(found$differs)[colSums(found$differs) > 0], TRUE),
    apart = list(before = setdiff(names(lines[[1L]]), shared),
      after = setdiff(names(lines[[2L]]), shared)),
    lines = different_lines(lines, found, shared, key), key = key, cells = figures$cells,
      figures = figures$figures,
    axes = tables[[2L]]$ask$axes, measures = tables[[2L]]$ask$measures
  ), class = c("drystack_book_changes", "drystack_changes"))
}

# The columns both add up.
shared_amounts <- function(before, after) {
  amounts <- lapply(list(before, after), function(book) {
    facts <- column_facts(book)
    intersect(facts$name[facts$kind == "amount"], book$made$names)
  })
  intersect(amounts[[1L]], amounts[[2L]])
}

book_totals <- function(book, axes, amounts) {
  measures <- lapply(stats::setNames(amounts, paste0("total_", amounts)), function(name) {
    said(call("sum", as.name(name)))
  })
  make_table(new_request("rollup", rows = axes,
    measures = c(list(order_lines = said(quote(count()))), measures),
    totals = "grand"), book)
}

# Each line that only one has or that differs: how, and its columns as they are now.
different_lines <- function(lines, found, shared, key) {
  rows <- function(from, at) lines[[from]][at, shared, drop = FALSE]
  part <- function(what, lines, differs) {
    if (nrow(lines) > 0L) cbind(data.frame(.what = rep(what, nrow(lines)),
      .differs = differs), lines)
  }
  told <- if (!is.null(found$differs)) differences_told(lines, found) else character()
  all <- rbind(
    part("only before", rows(1L, found$gone), rep("", length(found$gone))),
    part("different", rows(2L, found$changed$after), told),
    part("only after", rows(2L, found$late), rep("", length(found$late)))
  )
  if (!is.null(all)) rownames(all) <- NULL
  all
}

# "amount: 5 is now 7; status: open is now sent"
differences_told <- function(lines, found) {
  told <- character(length(found$changed$after))
  for (name in colnames(found$differs)) {
    here <- which(found$differs[, name])
    value <- function(from, at) {
      values <- plain_values(lines[[from]][[name]][at])
      text <- if (is.numeric(values)) format_plain_each(values) else as.character(values)
      ifelse(is.na(text), "nothing", text)
    }
    one <- paste0(name, ": ", value(1L, found$changed$before[here]), " is now ",
      value(2L, found$changed$after[here]))
    told[here] <- ifelse(told[here] == "", one, paste(told[here], one, sep = "; "))
  }
  told
}

format_plain_each <- function(values) vapply(values, format_plain, "")

#' @export
as.data.frame.drystack_book_changes <- function(x, ...) {
  parts <- lapply(names(x$figures), function(measure) {
    figures <- x$figures[[measure]]
    cells <- structure(x$cells$axes, class = "data.frame", row.names = seq_along(x$cells$role))
    cbind(cells, data.frame(.measure = measure, before = figures[, 1L], now = figures[, 2L],
      difference = clean_difference(figures[, 2L], figures[, 1L]), .role = x$cells$role))
  })
  do.call(rbind, parts)
}

#' @export
tie_out.drystack_book_changes <- function(x) {
  counts <- x$figures$order_lines
  total <- whole_cell(x)
  moved <- counts[total, 2L] - counts[total, 1L]
  checks_of(list(tie_check(
    "lines only after, less those only before = the difference of dated lines in scope",
    "order_lines", moved, x$counts[["after"]] - x$counts[["before"]], NA,
    "lines without a date, after the as-of date or out of scope are compared too")))
}

#' @export
as_bundle.drystack_book_changes <- function(x) {
  blocks <- list(list(kind = "table", label = "Order lines", sheet = counts_sheet(x)))
  if (length(x$columns) > 0L) blocks <- c(blocks,
    list(list(kind = "table", label = "Columns that differ",
    sheet = bare_sheet("Columns that differ", list(
      new_sheet_column("column", "Column", "left", names(x$columns), names(x$columns)),
      new_sheet_column("lines", "Order lines", "right", unname(x$columns),
        format_count(unname(x$columns)))
    ), rep("line", length(x$columns)), data.frame(column = names(x$columns),
      lines = unname(x$columns))))))
  totals <- lapply(names(x$figures), function(measure) {
    x$moved <- lapply(x$figures, function(figures) matrix(0, nrow(figures), 0L))
    x$reasons <- data.frame(reason = character())
    if (any(moved_cells(x, measure))) list(kind = "table",
      label = head_label(x$measures[[measure]]),
      sheet = cells_sheet(x, measure, c("Before", "After")))
  })
  lines <- if (NROW(x$lines) > 0L) list(list(kind = "table", label = "Which order lines",
    sheet = different_sheet(x)))
  new_bundle("Two daybooks side by side", character(), character(), character(),
    c(blocks, Filter(Negate(is.null), totals), lines))
}

counts_sheet <- function(x) {
  words <- c(both = "the same in both", different = "different", before = "only before",
    after = "only after")
  here <- names(x$counts) != "different" | !is.null(x$key)
  values <- x$counts[here]
  notes <- c(
    if (is.null(x$key)) paste0("Without a key, lines are compared as a whole: a changed line is ",
      "in both lists."),
    unlist(lapply(c("before", "after"), function(side) {
      if (length(x$apart[[side]]) > 0L) paste0("Only ", side, " has the ",
        if (length(x$apart[[side]]) == 1L) "column " else "columns ",
        joined_words(x$apart[[side]]), ".")
    }))
  )
  bare_sheet("Order lines", list(
    new_sheet_column("what", "", "left", words[names(values)],
      sentence_case(unname(words[names(values)]))),
    new_sheet_column("lines", "Order lines", "right", unname(values), format_count(unname(values)))
  ), rep("line", length(values)), data.frame(what = names(values), lines = unname(values)), notes)
}

different_sheet <- function(x) {
  lines <- utils::head(x$lines, most_lines_shown)
  shown <- utils::head(unique(c(x$key, setdiff(names(lines), c(".what", ".differs", x$key)))),
    length(x$key) + 5L)
  what <- ifelse(lines$.differs == "", lines$.what, lines$.differs)
  columns <- c(list(new_sheet_column("what", "", "text", what, what)),
    lapply(shown, function(name) {
      line_column(lines[[name]], name, sentence_case(plain_words(name)), seq_len(nrow(lines)))
    }))
  notes <- if (nrow(x$lines) > nrow(lines)) paste0("The first ", nrow(lines), " of ",
    format_count(nrow(x$lines)), ".")
  bare_sheet("Order lines", columns, rep("line", nrow(lines)), lines, as.character(notes))
}
