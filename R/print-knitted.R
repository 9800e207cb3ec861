# Tables and pages within R Markdown and Quarto.

# In R Markdown and Quarto a table or a page prints as the output needs: HTML with the
# package's style, else Markdown.
#' @exportS3Method knitr::knit_print
knit_print.drystack_table <- function(x, ...) {
  bundle <- as_bundle(x)
  if (knitr::is_html_output()) knit_html(bundle) else knitr::asis_output(
    paste(c("", markdown_lines(bundle), ""), collapse = "\n")
  )
}

#' @exportS3Method knitr::knit_print
knit_print.drystack_report <- knit_print.drystack_table

knit_html <- function(bundle) {
  own_setting()
  body <- c(
    "<div class=\"drystack\">", html_paragraphs(fact_line(bundle$facts), "facts"),
    html_blocks(bundle), html_end(bundle), "</div>"
  )
  style <- paste0("<style>", paste(scoped_style(html_style()), collapse = "\n"), "</style>")
  knitr::asis_output(paste(c("", "```{=html}", style, body, "```", ""), collapse = "\n"))
}

# What a document says of its own tables, and of classes that are called as ours are.
plain_tables <- c(
  paste0("table { display: table; font-size: inherit; width: auto; margin: 0; border: 0; ",
    "background: none; }"),
  paste0("th, td { display: table-cell; margin: 0; border: 0; background: none; box-shadow: ",
    "none; font-size: inherit; }"),
  "tr { background: none; border: 0; }", ".about h2 { border: 0; padding: 0; }",
  ".mark, .label { padding: 0; background: none; font-weight: inherit; text-align: left; }"
)

# The rules of the page, within the tables alone: the document around them keeps its own looks, and
# gives size and background.
scoped_style <- function(lines) {
  lines <- gsub("(?<=[0-9])rem\\b", "em", lines, perl = TRUE)
  lines <- c(plain_tables, sub(" background: var(--paper);", "", lines, fixed = TRUE))
  kept <- grep("^(:root|\\.|table|caption|th|td|thead|tbody|tr|figure)", lines, value = TRUE)
  ifelse(startsWith(kept, ":root"), sub("^:root", ".drystack", kept), vapply(kept, function(line) {
    parts <- strsplit(sub("\\{.*", "", line), ",")[[1L]]
    paste0(paste0(".drystack ", trimws(parts), collapse = ", "), " ", sub("^[^{]*", "", line))
  }, ""))
}
