# The HTML writer: one page that stands alone. Row heads are <th scope="row">, so that a figure
# can be read with its row.

write_html_file <- function(bundle, path) write_text_lines(html_lines(bundle), path)

html_lines <- function(bundle) {
  c(
    "<!DOCTYPE html>",
    "<html lang=\"en\">",
    "<head>",
    "<meta charset=\"utf-8\">",
    "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">",
    paste0("<title>", html_text(bundle$title), "</title>"),
    "<style>", html_style(), html_paper(bundle), "</style>",
    "</head>",
    "<body>",
    "<main>",
    # The head stands on the page of what it heads.
    paste0("<header", html_class(if (begins_turned(bundle)) "turned"), ">"),
    paste0("<h1>", html_text(bundle$title), "</h1>"),
    html_paragraphs(bundle$subtitle, "subtitle"),
    html_paragraphs(fact_line(bundle$facts), "facts"),
    "</header>",
    if (bundle$contents) html_contents(bundle),
    html_blocks(bundle),
    html_end(bundle),
    "</main>",
    "</body>",
    "</html>"
  )
}

begins_turned <- function(bundle) {
  !bundle$contents && length(bundle$blocks) > 0L && isTRUE(bundle$blocks[[1L]]$turned)
}

# Notes of the whole, then how it was made.
html_end <- function(bundle) {
  # It stands on the page of the last part.
  last <- bundle$blocks[[max(length(bundle$blocks), 1L)]]
  turned <- isTRUE(last$turned)
  c(
    if (turned) "<div class=\"turned\">",
    html_notes(bundle$notes, "footer"),
    if (length(bundle$about) > 0L) c("<section class=\"about\">", "<h2>About these figures</h2>",
      html_paragraphs(bundle$about, "said"), "</section>"),
    if (turned) "</div>"
  )
}

html_paragraphs <- function(text, class) {
  if (length(text) > 0L) paste0("<p class=\"", class, "\">", html_text(text), "</p>")
}

# Paper, and what stands over every printed page but the first: title and as-of date.
html_paper <- function(bundle) {
  safe <- function(text) gsub("([\"\\\\<>])", " ", gsub("[[:cntrl:]]", " ", text))
  head <- paste(c(bundle$title, bundle$facts["as_of"]), collapse = " \u00b7 ")
  font <- "font: 8pt system-ui, sans-serif; color: #33424d;"
  turned <- if (bundle$orientation == "portrait") "landscape" else "portrait"
  c(
    paste0("@page { size: ", bundle$paper, " ", bundle$orientation, "; }"),
    paste0("@page turned { size: ", bundle$paper, " ", turned, "; }"),
    paste0("@page { @top-left { content: \"", safe(head), "\"; ", font, " } }"),
    "@page :first { @top-left { content: none; } }"
  )
}

html_contents <- function(bundle) {
  blocks <- flat_blocks(bundle)
  labels <- vapply(blocks, `[[`, "", "label")
  here <- which(labels != "")
  c(
    "<nav aria-label=\"Contents\"><ul>", paste0("<li><a href=\"#part-",
      here, "\">", html_text(labels[here]), "</a></li>"),
    "</ul></nav>"
  )
}

# Each part has a number, those side by side too.
html_blocks <- function(bundle) {
  number <- 0L
  next_section <- function(block, level) {
    number <<- number + 1L
    html_section(block, number, level)
  }
  unlist(lapply(bundle$blocks, function(block) {
    if (block$kind != "beside") {
      return(next_section(block, "h2"))
    }
    c(
      "<section>", html_heading(block$label, "h2"), "<div class=\"beside\">",
      unlist(lapply(block$blocks, next_section, level = if (
        nzchar(block$label)) "h3" else "h2")), "</div>",
      "</section>"
    )
  }))
}

html_heading <- function(label, level) {
  if (nzchar(label)) paste0("<", level, ">", html_text(label), "</", level, ">")
}

html_section <- function(block, number, level) {
  class <- c(block$kind, if (isTRUE(block$turned)) "turned")
  c(
    paste0("<section id=\"part-", number, "\"", html_class(class), ">"),
    html_heading(block$label, level),
    switch(block$kind,
      table = c(html_paragraphs(fact_line(block$sheet$facts), "facts"), html_body(block$sheet),
        html_notes(block$sheet$notes, "div")),
      figure = html_figure(block),
      text = html_paragraphs(block$text, "said")
    ),
    "</section>"
  )
}

# Figures stand in the page itself, as drawings.
html_figure <- function(block) {
  c(
    paste0("<figure class=\"of-", block$across, "\">"),
    paste0("<img alt=\"", html_attribute(figure_words(block)), "\" src=\"",
      figure_svg_uri(block), "\">"),
    "</figure>"
  )
}

figure_svg_uri <- function(block) {
  paste0("data:image/svg+xml;base64,", gsub("\n", "",
    jsonlite::base64_enc(block$drawing$svg(block$across))))
}

html_attribute <- function(x) htmltools::htmlEscape(x, attribute = TRUE)

html_text <- function(x) htmltools::htmlEscape(x)

html_style <- function() {
  readLines(system.file("page", "drystack.css", package = "drystack", mustWork = TRUE),
    encoding = "UTF-8")
}

html_body <- function(sheet) {
  if (identical(sheet$layout, "headlines")) html_headlines(sheet) else html_table(sheet)
}

# Tables that fit a page are not split: of so many rows, unless they say otherwise.
rows_of_few <- 40L

are_few <- function(rows, sheet) length(rows) <= (sheet$few %||% rows_of_few)

html_table <- function(sheet) {
  c(
    paste0("<div class=\"wide", if (are_few(sheet$role, sheet)) " few",
      "\" tabindex=\"0\" role=\"region\" aria-label=\"Table\">"),
    if (is.null(sheet$widths)) "<table>" else "<table style=\"width:100%\">",
    paste0("<caption>", html_text(sheet$title), "</caption>"),
    html_widths(sheet$widths),
    "<thead>",
    if (!is.null(sheet$goes_on)) paste0("<tr><th class=\"goes-on\" colspan=\"",
      length(sheet$columns), "\">", html_text(sheet$goes_on), "</th></tr>"),
    html_heads(sheet$columns),
    "</thead>",
    html_groups(sheet),
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
    class <- c(if (column$align == "right") "figure", if (column$total) "of-all",
      if (nchar(column$label) <= longest_unbroken) "short")
    if (column$label == "") return(if (startsWith(column$name, ".bar_")) "<td class=\"bar\"></td>"
      else "<td></td>")
    paste0("<th scope=\"col\"", html_class(class), ">", html_text(column$label), "</th>")
  }, "")
  c(over, paste0("<tr>", paste(heads, collapse = ""), "</tr>"))
}

# Shorter heads stand on one line.
longest_unbroken <- 14L

html_class <- function(class) {
  if (length(class) > 0L) paste0(" class=\"", paste(class, collapse = " "), "\"") else ""
}

# Tables that go on from one another have the same columns.
html_widths <- function(widths) {
  if (!is.null(widths)) paste0("<colgroup>", paste0("<col style=\"width:",
    round(100 * widths / sum(widths), 2L),
    "%\">", collapse = ""), "</colgroup>")
}

# Rows that belong together stay together on paper.
html_groups <- function(sheet) {
  rows <- html_rows(sheet)
  groups <- split(rows, cumsum(c(TRUE, row_group_starts(sheet)[-1L]))[seq_along(rows)])
  unlist(lapply(groups, function(rows) {
    c(if (are_few(rows, sheet)) "<tbody class=\"few\">" else "<tbody>", rows, "</tbody>")
  }), use.names = FALSE)
}

# A group begins after a total, after a blank line, and where totals stand first before one.
row_group_starts <- function(sheet) {
  role <- sheet$role
  n <- length(role)
  if (n < 2L || !any(role %in% c("subtotal", "heading", "blank"))) {
    return(rep(FALSE, max(n, 1L)))
  }
  before <- c("", role[-n])
  line <- role %in% c("line", "others")
  leads <- leads_its_lines(role, line)
  ifelse(role %in% c("total", "blank"), FALSE, ifelse(leads, role == "subtotal" &
    before != "subtotal",
    before %in% c("subtotal", "blank") & role %in% c("line", "others", "heading") |
      role == "heading" & before %in% c("line", "others")))
}

html_rows <- function(sheet) {
  if (length(sheet$role) == 0L) {
    return(paste0("<tr><td colspan=\"", length(sheet$columns), "\">No rows.</td></tr>"))
  }
  cells <- lapply(sheet$columns, html_cells)
  word <- function(where, word) if (is.null(where)) "" else ifelse(where, word, "")
  class <- paste0(sheet$role, word(sheet$mark, " part-way"), word(sheet$page_after, " page-end"),
    word(sheet$gap_after, " gap-end"))
  paste0("<tr class=\"", class, "\">", do.call(paste0, unname(cells)), "</tr>")
}

# A cell that heads its row is a head where it says something.
html_cells <- function(column) {
  text <- html_text(read_text(column))
  long <- if (max(nchar(text), 0L) > longest_unbroken * 2L) " class=\"long\"" else ""
  if (column$align == "left") {
    deep <- nchar(text) - nchar(sub("^ +", "", text))
    indent <- ifelse(deep > 0L, paste0(" style=\"padding-left:", 0.5 + 0.6 * deep, "rem\""), "")
    return(ifelse(trimws(text) == "", "<td></td>",
      paste0("<th scope=\"row\"", long, indent, ">", trimws(text), "</th>")))
  }
  if (!is.null(column$history)) {
    text <- vapply(column$history, html_line, "", label = column$label)
    return(paste0("<td class=\"history\">", text, "</td>"))
  }
  if (column$align == "text") {
    bar <- startsWith(column$name, ".bar_")
    return(paste0("<td", if (bar) " class=\"bar\" aria-hidden=\"true\"" else long, ">",
      text, "</td>"))
  }
  if (!is.null(column$marked)) text <- ifelse(column$marked == "", text,
    paste0("<span class=\"mark ", column$tone, "\">", html_text(column$marked), "</span> ",
      html_text(column$text)))
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
