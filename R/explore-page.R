# The page being made in the explorer: its title, its look, and its blocks, each an ask shown as a
# table or a figure, or a text.
#
# look: what report() is told of the page
# asked, braced: of a report that was opened, the parts it asked for, and the texts it had with
# braces, by
#   what they became
# blocks: see new_page_block()

empty_page <- function() {
  list(title = "", look = list(subtitle = character(), footnotes = character(), contents = FALSE,
    notes = "full",
    paper = "A4", orientation = "portrait"), asked = character(), braced = list(), blocks = list())
}

# as: "table", "figure", "changes" (of a report that is built: what changed in the table) or "text",
# which has a text and no ask of its own; label: "" for none; beside: TRUE where it stands beside
# the block before it;
# since: of changes, "" for the last build.
new_page_block <- function(ask, as, label = "", text = "", beside = FALSE,
  axis_labels = list(), since = "") {
  list(ask = ask, as = as, label = label, text = text, beside = beside, axis_labels = axis_labels,
    since = since)
}

page_acts <- function() {
  list(
    add_block = on_page(function(page, act, ask) {
      as <- check_choice(act_text(act, "as", "table"), c(block_forms, "text"), "as")
      text <- if (as == "text") act_text(act, "text") else ""
      page$blocks <- c(page$blocks, list(new_page_block(ask, as, act_text(act, "label", ""), text)))
      page
    }),
    drop_block = on_page(function(page, act, ask) {
      page$blocks <- page$blocks[-act_at(act, length(page$blocks))]
      page
    }),
    move_block = on_page(function(page, act, ask) with_moved(page, "blocks", act)),
    set_block = on_page(act_set_block),
    title_page = on_page(function(page, act, ask) {
      page$title <- act_text(act, "title")
      page
    }),
    set_page = on_page(function(page, act, ask) {
      key <- check_choice(act_text(act, "key"), names(page_choices()), "key")
      page$look[[key]] <- check_choice(act_text(act, "value"), page_choices()[[key]], key)
      page
    }),
    # A block of the page as the ask that is looked at.
    show_block = function(now, act) {
      now$ask <- now$page$blocks[[asked_block(now$page, act)]]$ask
      now
    },
    # What is looked at instead of a block.
    replace_block = on_page(function(page, act, ask) {
      page$blocks[[asked_block(page, act)]]$ask <- ask
      page
    })
  )
}

block_forms <- c("table", "figure", "changes")

page_choices <- function() {
  list(notes = notes_words, paper = paper_words, orientation = orientation_words)
}

act_set_block <- function(page, act, ask) {
  at <- act_at(act, length(page$blocks))
  block <- page$blocks[[at]]
  if (!is.null(act$as)) {
    asked_block(page, act)
    block$as <- check_choice(act_text(act, "as"), block_forms, "as")
    if (block$as == "changes") check_compared(block$ask)
  }
  if (!is.null(act$label)) block$label <- act_text(act, "label")
  if (!is.null(act$text)) block$text <- act_text(act, "text")
  if (!is.null(act$beside)) block$beside <- isTRUE(act$beside)
  page$blocks[[at]] <- block
  page
}

check_compared <- function(ask) {
  if (!is_compared(ask)) raise("act", c("A block of changes needs a table with nothing across.",
    ">" = "Put what runs across down the side."))
}

is_compared <- function(ask) ask$kind == "table" && length(ask$cols) == 0L

# The place of a block that is no text.
asked_block <- function(page, act) {
  at <- act_at(act, length(page$blocks))
  if (page$blocks[[at]]$as == "text") raise("act", "Block {at} is a text and has no table.")
  at
}

on_page <- function(change) {
  force(change)
  function(now, act) {
    now$page <- change(now$page, act, now$ask)
    now
  }
}

# The page as a report(): each block asked again.
explored_report <- function(page, base, made) {
  if (length(page$blocks) == 0L) {
    raise("act", c("The page has no block yet.", ">" = "Add what is shown: \"add to page\"."))
  }
  parts <- lapply(page$blocks, explored_block, base = base, made = made)
  names(parts) <- vapply(page$blocks, `[[`, "", "label")
  row <- cumsum(!vapply(page$blocks, `[[`, NA, "beside"))
  rows <- lapply(split(parts, row), function(parts) {
    if (length(parts) == 1L) parts else list(beside(!!!parts))
  })
  names <- lapply(rows, function(parts) if (is.null(names(parts))) "" else names(parts))
  parts <- stats::setNames(unlist(unname(rows), recursive = FALSE), unlist(names))
  rlang::exec(report, !!!parts, title = if (nzchar(page$title)) page$title, !!!page$look)
}

explored_block <- function(block, base, made) {
  if (block$as == "text") {
    return(block$text)
  }
  table <- explored_table(block$ask, explored_book(block$ask, base, made))
  if (block$as == "changes" && is_compared(block$ask)) attr(table, "changes_since") <- block$since
  if (block$as != "figure") {
    return(table)
  }
  with_axis_labels(draw_figure(table, explored_figure_kind(table, block$ask$figure)),
    unlist(block$axis_labels))
}

# The kind of figure an ask is drawn as: the one it says where that fits the table, else the first
# that does.
explored_figure_kind <- function(table, said) {
  figure_kind_quietly(table, if (figure_fits(said, table)) said)
}

figure_fits <- function(kind, table) {
  kind %in% names(known_figures()) && known_figures()[[kind]]$fits(table)
}
