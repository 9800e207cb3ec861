# The HTML writer: one page that stands alone. Row heads are <th scope="row">, so that a figure
# can be read with its row.

write_html_file <- function(document, path) write_text_lines(html_lines(document), path)

html_lines <- function(document) {
  c(
    "<!DOCTYPE html>",
    "<html lang=\"en\">",
    "<head>",
    "<meta charset=\"utf-8\">",
    "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">",
    paste0("<title>", html_text(document$title), "</title>"),
    "<style>", html_style(), html_print_head(document$title), "</style>",
    "</head>",
    "<body>",
    "<main>",
    paste0("<h1>", html_text(document$title), "</h1>"),
    html_paragraphs(document$subtitle, "subtitle"),
    html_paragraphs(document$facts, "facts"),
    if (document$contents) html_contents(document$blocks),
    unlist(Map(html_block, document$blocks, seq_along(document$blocks))),
    html_notes(document$notes, "footer"),
    "</main>",
    "</body>",
    "</html>"
  )
}

html_paragraphs <- function(text, class) {
  if (length(text) > 0L) paste0("<p class=\"", class, "\">", html_text(text), "</p>")
}

# The title over every printed page.
html_print_head <- function(title) {
  safe <- gsub("([\"\\\\<>])", " ", gsub("[[:cntrl:]]", " ", title))
  paste0("@page { @top-left { content: \"", safe, "\"; font: 8pt system-ui, sans-serif; color: #33424d; } }")
}

html_contents <- function(blocks) {
  labels <- vapply(blocks, `[[`, "", "label")
  here <- which(labels != "")
  c(
    "<nav aria-label=\"Contents\"><ul>", paste0("<li><a href=\"#part-",
      here, "\">", html_text(labels[here]), "</a></li>"),
    "</ul></nav>"
  )
}

html_block <- function(block, number) {
  c(
    paste0("<section id=\"part-", number, "\">"),
    if (block$label != "") paste0("<h2>", html_text(block$label), "</h2>"),
    switch(block$kind,
      table = c(html_paragraphs(block$sheet$facts, "facts"), html_body(block$sheet),
        html_notes(block$sheet$notes, "div")),
      figure = html_figure(block),
      text = html_paragraphs(block$text, "text")
    ),
    "</section>"
  )
}

# Figures stand in the page itself, as drawings.
html_figure <- function(block) {
  c(
    "<figure>",
    paste0("<img alt=\"", html_attribute(figure_words(block)), "\" src=\"", figure_svg_uri(block), "\">"),
    "</figure>"
  )
}

figure_svg_uri <- function(block) {
  paste0("data:image/svg+xml;base64,", gsub("\n", "", jsonlite::base64_enc(block$drawing$svg())))
}

html_attribute <- function(x) htmltools::htmlEscape(x, attribute = TRUE)

html_text <- function(x) htmltools::htmlEscape(x)

html_style <- function() {
  readLines(system.file("page", "drystack.css", package = "drystack", mustWork = TRUE), encoding = "UTF-8")
}

html_body <- function(sheet) {
  if (identical(sheet$layout, "headlines")) html_headlines(sheet) else html_table(sheet)
}

html_table <- function(sheet) {
  c(
    "<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"Table\">",
    "<table>",
    paste0("<caption>", html_text(sheet$title), "</caption>"),
    "<thead>",
    html_heads(sheet$columns),
    "</thead>",
    "<tbody>",
    html_rows(sheet),
    "</tbody>",
    "</table>",
    "</div>"
  )
}

# Heads over several columns, then the column labels.
html_heads <- function(columns) {
  over <- vapply(head_spans(columns), function(spans) {
    cells <- ifelse(
      spans$label == "", paste0("<td colspan=\"", spans$length, "\"></td>"),
      paste0("<th scope=\"colgroup\" class=\"span\" colspan=\"",
        spans$length, "\">", html_text(spans$label), "</th>")
    )
    paste0("<tr>", paste(cells, collapse = ""), "</tr>")
  }, "")
  heads <- vapply(columns, function(column) {
    class <- c(if (column$align == "right") "figure", if (column$total) "of-all")
    if (column$label == "") return("<td></td>")
    paste0("<th scope=\"col\"", html_class(class), ">", html_text(column$label), "</th>")
  }, "")
  c(over, paste0("<tr>", paste(heads, collapse = ""), "</tr>"))
}

html_class <- function(class) {
  if (length(class) > 0L) paste0(" class=\"", paste(class, collapse = " "), "\"") else ""
}

html_rows <- function(sheet) {
  if (length(sheet$role) == 0L) {
    return(paste0("<tr><td colspan=\"", length(sheet$columns), "\">No rows.</td></tr>"))
  }
  cells <- lapply(sheet$columns, html_cells)
  page <- if (is.null(sheet$page_after)) FALSE else sheet$page_after
  class <- paste0(sheet$role, ifelse(sheet$mark, " part-way", ""), ifelse(page, " page-end", ""))
  paste0("<tr class=\"", class, "\">", do.call(paste0, unname(cells)), "</tr>")
}

# A cell that heads its row is a head where it says something.
html_cells <- function(column) {
  text <- html_text(column$text)
  if (column$align == "left") {
    deep <- nchar(text) - nchar(sub("^ +", "", text))
    indent <- ifelse(deep > 0L, paste0(" style=\"padding-left:", 0.5 + 0.6 * deep, "rem\""), "")
    return(ifelse(trimws(text) == "", "<td></td>",
      paste0("<th scope=\"row\"", indent, ">", trimws(text), "</th>")))
  }
  if (column$align == "text") {
    return(paste0("<td>", text, "</td>"))
  }
  negative <- is.numeric(column$raw) & !is.na(column$raw) & column$raw < 0
  paste0("<td class=\"figure", if (column$total) " of-all", ifelse(negative, " negative", ""),
    "\">", text, "</td>")
}

html_notes <- function(notes, element) {
  if (length(notes) == 0L) {
    return(character())
  }
  c(paste0("<", element, " class=\"notes\">"), paste0("<p>", html_text(notes), "</p>"),
    paste0("</", element, ">"))
}
