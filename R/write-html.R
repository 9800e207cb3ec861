# The HTML writer: one page that stands alone. Row heads are <th scope="row">, so that a figure can be read with its
# row.

write_html_file <- function(sheet, path) write_text_lines(html_lines(sheet), path)

html_lines <- function(sheet) {
  c(
    "<!DOCTYPE html>",
    "<html lang=\"en\">",
    "<head>",
    "<meta charset=\"utf-8\">",
    "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">",
    paste0("<title>", html_text(sheet$title), "</title>"),
    "<style>", html_style(), "</style>",
    "</head>",
    "<body>",
    "<main>",
    paste0("<h1>", html_text(sheet$title), "</h1>"),
    paste0("<p class=\"facts\">", html_text(sheet$facts), "</p>"),
    html_body(sheet),
    html_notes(sheet$notes),
    "</main>",
    "</body>",
    "</html>"
  )
}

html_text <- function(x) htmltools::htmlEscape(x)

html_style <- function() {
  readLines(system.file("page", "drystack.css", package = "drystack", mustWork = TRUE), encoding = "UTF-8")
}

html_body <- function(sheet) {
  sheet$columns <- shown_columns(sheet)
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
      paste0("<th scope=\"colgroup\" class=\"span\" colspan=\"", spans$length, "\">", html_text(spans$label), "</th>")
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

html_class <- function(class) if (length(class) > 0L) paste0(" class=\"", paste(class, collapse = " "), "\"") else ""

html_rows <- function(sheet) {
  if (length(sheet$role) == 0L) {
    return(paste0("<tr><td colspan=\"", length(sheet$columns), "\">No rows.</td></tr>"))
  }
  cells <- lapply(sheet$columns, html_cells)
  class <- paste0(sheet$role, ifelse(sheet$mark, " part-way", ""))
  paste0("<tr class=\"", class, "\">", do.call(paste0, unname(cells)), "</tr>")
}

html_cells <- function(column) {
  text <- html_text(column$text)
  if (column$align == "left") {
    return(paste0("<th scope=\"row\">", text, "</th>"))
  }
  if (column$align == "text") {
    return(paste0("<td>", text, "</td>"))
  }
  negative <- is.numeric(column$raw) & !is.na(column$raw) & column$raw < 0
  paste0("<td class=\"figure", if (column$total) " of-all", ifelse(negative, " negative", ""), "\">", text, "</td>")
}

html_notes <- function(notes) {
  if (length(notes) == 0L) {
    return(character())
  }
  c("<footer class=\"notes\">", paste0("<p>", html_text(notes), "</p>"), "</footer>")
}
