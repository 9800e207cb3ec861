# The page being made in the explorer: its title and its blocks, each an ask shown as a table or a figure.
#
# blocks: for each list(ask, as: "table" or "figure", label: "" for none)

empty_page <- function() list(title = "", blocks = list())

page_acts <- function() {
  list(
    add_block = on_page(function(page, act, ask) {
      as <- check_choice(act_text(act, "as", "table"), block_forms, "as")
      page$blocks <- c(page$blocks, list(list(ask = ask, as = as, label = act_text(act, "label", ""))))
      page
    }),
    drop_block = on_page(function(page, act, ask) {
      page$blocks <- page$blocks[-act_at(act, length(page$blocks))]
      page
    }),
    move_block = on_page(function(page, act, ask) with_moved(page, "blocks", act)),
    set_block = on_page(function(page, act, ask) {
      at <- act_at(act, length(page$blocks))
      if (!is.null(act$as)) page$blocks[[at]]$as <- check_choice(act_text(act, "as"), block_forms, "as")
      if (!is.null(act$label)) page$blocks[[at]]$label <- act_text(act, "label")
      page
    }),
    title_page = on_page(function(page, act, ask) {
      page$title <- act_text(act, "title")
      page
    }),
    # A block of the page as the ask that is looked at.
    show_block = function(now, act) {
      now$ask <- now$page$blocks[[act_at(act, length(now$page$blocks))]]$ask
      now
    },
    # What is looked at instead of a block.
    replace_block = on_page(function(page, act, ask) {
      page$blocks[[act_at(act, length(page$blocks))]]$ask <- ask
      page
    })
  )
}

block_forms <- c("table", "figure")

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
  parts <- lapply(page$blocks, function(block) {
    table <- explored_table(block$ask, explored_book(block$ask, base, made))
    if (block$as == "table") table else draw_figure(table, explored_figure_kind(table, block$ask$figure))
  })
  labels <- vapply(page$blocks, `[[`, "", "label")
  rlang::exec(report, !!!stats::setNames(parts, labels), title = if (nzchar(page$title)) page$title)
}

# The kind of figure an ask is drawn as: the one it says where that fits the table, else the first
# that does.
explored_figure_kind <- function(table, said) figure_kind_quietly(table, if (figure_fits(said, table)) said)

figure_fits <- function(kind, table) kind %in% names(figure_kinds()) && figure_kinds()[[kind]]$fits(table)
