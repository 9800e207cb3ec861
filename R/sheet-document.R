# A document: what a writer writes. A table alone is a document of one block; a page has several.
#
# title, subtitle, facts, notes: text
# blocks: each list(kind = "table", sheet), list(kind = "figure", drawing) or list(kind = "text",
#   text), with the label it stands under ("" for none)
# contents: TRUE: the labels are listed first

new_document <- function(title, subtitle, facts, notes, blocks, contents = FALSE) {
  blocks <- lapply(blocks, function(block) {
    block$label <- shown_text(block$label)
    if (block$kind == "text") block$text <- shown_text(block$text)
    block
  })
  list(
    title = shown_text(title), subtitle = shown_text(subtitle),
    facts = shown_text(facts), notes = shown_text(notes), blocks = blocks, contents = contents
  )
}

as_document <- function(x) UseMethod("as_document")

#' @export
as_document.default <- function(x) {
  raise("argument", c("{.arg x} must be a table, a report or a figure of this package.",
    "x" = "It is {.obj_type_friendly {x}}."))
}

#' @export
as_document.drystack_table <- function(x) sheet_document(as_sheet(x))

# A bare sheet, such as a calendar's.
sheet_document <- function(sheet) {
  own_setting()
  title <- sheet$title
  facts <- sheet$facts
  notes <- sheet$notes
  sheet$facts <- sheet$notes <- character()
  new_document(title, character(), facts, notes, list(list(kind = "table", label = "", sheet = sheet)))
}

# What stands for a figure where it cannot be seen: what it says of itself, else its label.
figure_words <- function(block) {
  alt <- block$drawing$alt()
  if (nzchar(alt)) alt else block$label
}

table_blocks <- function(document) Filter(function(block) block$kind == "table", document$blocks)

# Formats that hold one table.
only_table <- function(document, ending) {
  tables <- table_blocks(document)
  if (length(tables) != 1L) {
    raise("output", c(
      "A {ending} file holds one table; this report has {length(tables)}.",
      ">" = "Write the table itself, or the report as .html, .xlsx, .md, .json, .txt or .pdf."
    ))
  }
  tables[[1L]]$sheet
}
