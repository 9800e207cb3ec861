# The Markdown writer: pipe tables, figures inside the file as data.

write_markdown_file <- function(bundle, path) write_text_lines(markdown_lines(bundle), path)

markdown_lines <- function(bundle) {
  paragraphs <- function(text) as.vector(rbind(markdown_text(text), ""))
  c(
    paste("#", markdown_text(bundle$title)), "",
    paragraphs(bundle$subtitle), paragraphs(fact_line(bundle$facts)),
    if (bundle$contents) c(paste("-", markdown_text(block_labels(bundle))), ""),
    unlist(lapply(flat_blocks(bundle), markdown_block)),
    paragraphs(bundle$notes),
    if (length(bundle$about) > 0L) c("---", "", paragraphs(bundle$about))
  )
}

markdown_block <- function(block) {
  c(
    if (block$label != "") c(paste("##", markdown_text(block$label)), ""),
    switch(block$kind,
      table = markdown_table(block$sheet),
      figure = c(paste0("![", markdown_text(figure_words(block)), "](",
        figure_data_uri(block), ")"), ""),
      text = as.vector(rbind(markdown_text(block$text), ""))
    )
  )
}

# The labels of heads stand before those of their columns: Markdown has one line for both.
markdown_table <- function(sheet) {
  heads <- vapply(sheet$columns, function(column) {
    words <- c(column$heads, column$label)
    markdown_text(paste(words[words != ""], collapse = " "))
  }, "")
  rule <- vapply(sheet$columns, function(column) if (column$align == "right") "---:" else "---", "")
  shown <- sheet$role != "blank"
  cells <- lapply(sheet$columns, function(column) markdown_text(read_text(column)[shown]))
  strong <- sheet$role[shown] %in% c("subtotal", "total", "heading")
  cells <- lapply(cells, function(text) ifelse(strong & text != "", paste0("**", text, "**"), text))
  row <- function(cells) paste0("| ", do.call(paste, c(unname(cells), sep = " | ")), " |")
  facts <- as.vector(rbind(markdown_text(fact_line(sheet$facts)), ""))
  c(
    if (length(sheet$facts) > 0L) facts, row(as.list(heads)), row(as.list(rule)),
    if (any(shown)) row(cells), "", if (length(sheet$notes) > 0L)
      as.vector(rbind(markdown_text(sheet$notes), ""))
  )
}

# What Markdown would read as its own is escaped; line ends would break a table.
markdown_text <- function(text) {
  text <- gsub("([\\\\`*_{}<>|~#]|\\[|\\])", "\\\\\\1", text)
  text <- gsub("[\r\n]+", " ", text)
  sub("^([-+=]+)( |$)", "\\\\\\1\\2", sub("^([0-9]+)([.)] )", "\\1\\\\\\2", text))
}

figure_data_uri <- function(block) {
  paste0("data:image/png;base64,", gsub("\n", "",
    jsonlite::base64_enc(block$drawing$png(block$across))))
}
