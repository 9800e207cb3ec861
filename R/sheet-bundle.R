# A bundle: what a writer writes. A table alone is a bundle of one block; a page has several.
#
# title, subtitle, facts, notes: text; about: what is told once, at the end, of the orders
# and of how
#   the bundle was made
# blocks: each list(kind = "table", sheet), list(kind = "figure", drawing, across: how
# many stand side
#   by side with it), list(kind = "text", text) or list(kind = "beside", blocks), with the label it
#   stands under ("" for none)
# told: of a page, all that its tables tell, wherever it is shown
# contents: TRUE: the labels are listed first
# paper: "A4" or "letter"; orientation: "portrait" or "landscape"

new_bundle <- function(title, subtitle, facts, notes, blocks, contents = FALSE, about = character(),
  paper = "A4", orientation = "portrait") {
  list(
    title = shown_text(title), subtitle = shown_text(subtitle),
    facts = shown_text(facts), notes = shown_text(notes), about = shown_text(about),
    blocks = lapply(blocks, shown_block), contents = contents, paper = paper,
    orientation = orientation
  )
}

shown_block <- function(block) {
  block$label <- shown_text(block$label)
  if (block$kind == "text") block$text <- shown_text(block$text)
  if (block$kind == "beside") block$blocks <- lapply(block$blocks, shown_block)
  block
}

as_bundle <- function(x) UseMethod("as_bundle")

#' @export
as_bundle.default <- function(x) {
  raise("argument", c("{.arg x} must be a table, a report or a figure of this package.",
    "x" = "It is {type_words(x)}."))
}

#' @export
as_bundle.drystack_table <- function(x) sheet_bundle(as_sheet(x))

# A bare sheet, such as a calendar's.
sheet_bundle <- function(sheet) {
  own_setting()
  head <- sheet[c("title", "facts", "notes")]
  about <- sheet$about$text
  sheet[c("facts", "notes")] <- list(character(), character())
  new_bundle(head$title, character(), head$facts, head$notes,
    list(list(kind = "table", label = "", sheet = sheet)), about = about)
}

# How much is told beside the figures: "full": all; "brief": nothing of how it was made; "none": no
# notes either.
notes_words <- c("full", "brief", "none")

paper_words <- c("A4", "letter")

orientation_words <- c("portrait", "landscape")

with_notes <- function(bundle, notes) {
  if (notes != "full") bundle$about <- character()
  if (notes == "none") {
    bundle$notes <- character()
    bundle$blocks <- lapply(bundle$blocks, without_notes)
  }
  bundle
}

without_notes <- function(block) {
  if (block$kind == "table") block$sheet$notes <- character()
  if (block$kind == "beside") block$blocks <- lapply(block$blocks, without_notes)
  block
}

# Facts as one line.
fact_line <- function(facts) if (length(facts) > 0L) paste(facts, collapse = " \u00b7 ")

# What stands for a figure where it cannot be seen: what it says of itself, else its label.
figure_words <- function(block) {
  alt <- block$drawing$alt()
  if (nzchar(alt)) alt else block$label
}

# The blocks one under the other, for writers that put nothing side by side.
flat_blocks <- function(bundle) {
  unlist(lapply(bundle$blocks, function(block) {
    if (block$kind != "beside") {
      return(list(block))
    }
    if (nzchar(block$label) && !nzchar(block$blocks[[1L]]$label))
      block$blocks[[1L]]$label <- block$label
    block$blocks
  }), recursive = FALSE)
}

block_labels <- function(bundle) {
  labels <- vapply(flat_blocks(bundle), `[[`, "", "label")
  labels[labels != ""]
}

table_blocks <- function(bundle) Filter(function(block) block$kind == "table", flat_blocks(bundle))

# Formats that hold one table.
only_table <- function(bundle, ending) {
  tables <- table_blocks(bundle)
  if (length(tables) != 1L) {
    raise("output", c(
      "A {ending} file holds one table; this report has {length(tables)}.",
      ">" = "Write the table itself, or the report as .html, .xlsx, .md, .json, .txt or .pdf."
    ))
  }
  tables[[1L]]$sheet
}
