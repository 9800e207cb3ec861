# What the browser is sent of an ask: pieces of the page, already escaped.

most_rows_drawn <- 500L

# The sentence, the table with its notes, and what is told of both.
drawn_ask <- function(seen, rows = most_rows_drawn, report = "") {
  phrases <- explored_sentence(seen)
  list(
    sentence = sentence_html(phrases), title = sentence_text(phrases),
    address = address_of(seen$ask, report),
    error = if (!is.null(seen$error)) error_html(seen$error),
      table = if (is.null(seen$error)) table_html(seen, rows),
    figure = is.null(seen$error) && wants_figure(seen)
  )
}

wants_figure <- function(seen) {
  seen$ask$kind == "table" && seen$ask$figure != "none" &&
    any(seen$table$role %in% c("line", "others")) &&
    any(vapply(known_figures(), function(one) one$fits(seen$table), NA))
}

# What is asked, then on a line of its own how it looks.
sentence_html <- function(phrases) {
  look <- vapply(phrases, function(phrase) isTRUE(phrase$look), NA)
  html <- vapply(phrases, phrase_html, "")
  paste0(paste(html[!look], collapse = ""), "<span class=\"look\">",
    paste(html[look], collapse = ""), "</span>")
}

phrase_html <- function(phrase) {
  before <- if (!is.null(phrase$before)) phrase_html(phrase$before) else ""
  parts <- paste(vapply(phrase$parts, part_html, ""), collapse = paste0("<span class=\"join\">",
    html_text(phrase$join), "</span>"))
  lead <- if (nzchar(phrase$lead)) paste0("<span class=\"before\">",
    html_text(phrase$lead), "</span> ")
    else ""
  plus <- if (!is.null(phrase$plus)) paste0(
    " <button type=\"button\" class=\"part plus\" data-menu=\"", phrase$plus$menu,
      "\" data-at=\"0\" aria-label=\"",
    html_attribute(paste("Add", phrase$plus$text)), "\" aria-haspopup=\"dialog\">+</button>"
  ) else ""
  paste0(before, "<span class=\"phrase\">", lead, parts, plus, "</span> ")
}

part_html <- function(part) {
  mark <- if (nzchar(part$mark)) paste0(" <span class=\"told\">",
    html_text(shown_text(part$mark)), "</span>")
    else ""
  text <- shown_text(part$text)
  paste0(
    "<button type=\"button\" class=\"part", if (part$quiet) " quiet", "\" data-menu=\"", part$menu,
      "\" data-at=\"", part$at,
    "\" aria-haspopup=\"dialog\" aria-label=\"",
    html_attribute(paste0(part$says, ": ", text, ". Change it")), "\">",
    html_text(text), "</button>", mark
  )
}

sentence_text <- function(phrases) {
  words <- vapply(phrases, function(phrase) {
    paste(phrase$lead, paste(vapply(phrase$parts, `[[`, "", "text"), collapse = phrase$join))
  }, "")
  sentence_case(trimws(paste(trimws(words), collapse = " \u00b7 ")))
}

# An error in its parts: what is wrong, where, how to mend it.
# advice: FALSE where what follows offers the ways to mend it.
error_html <- function(error, advice = TRUE) {
  # The page breaks lines itself.
  rlang::local_options(cli.width = 10000L)
  said <- strsplit(rlang::cnd_message(error), "\n", fixed = TRUE)[[1L]]
  if (!advice) said <- said[!startsWith(said, cli::symbol$arrow_right)]
  first <- paste0("<p class=\"wrong\">", html_text(said[1L]), "</p>")
  paste0(first, paste0("<p>", html_text(said[-1L]), "</p>", collapse = "")[length(said) > 1L])
}

table_html <- function(seen, rows) {
  sheet <- as_sheet(seen$table)
  n <- length(sheet$role)
  if (length(sheet$columns) > most_columns_drawn) {
    return(too_wide_html(sheet))
  }
  paste(c(
    html_body(first_rows(sheet, rows)),
    if (n > rows) paste0("<p class=\"more\"><button type=\"button\" class=\"more-rows\">",
      format_count(n - rows),
      " more rows</button></p>"),
    html_paragraphs(fact_line(sheet$facts), "facts"),
    html_notes(c(sheet$notes, sheet$about$text), "div")
  ), collapse = "\n")
}

most_columns_drawn <- 120L

too_wide_html <- function(sheet) {
  paste0("<p class=\"wrong\">", format_count(length(sheet$columns)),
    " columns are too many to read.</p>",
    "<p>Put fewer across, or <button type=\"button\" class=\"turn\">turn it</button>: ",
    "what runs across goes down.</p>")
}

first_rows <- function(sheet, n) {
  if (length(sheet$role) <= n || identical(sheet$layout, "headlines")) {
    return(sheet)
  }
  sheet_rows(sheet, seq_len(n))
}

# The figure of an ask as a drawing in the page, or why there is none.
drawn_figure <- function(seen, width, height) {
  rlang::try_fetch(drawing_in_page(seen, width, height),
    drystack_error = function(e) list(wrong = error_html(e)))
}

drawing_in_page <- function(seen, width, height) {
  plot <- draw_figure(seen$table, explored_figure_kind(seen$table, seen$ask$figure))
  # The sentence and the notes under the table say the rest.
  alt <- shown_text(as.character(plot$labels$alt))
  # Rows of cells and panels stand closer than in a report.
  tall <- 0.6 * 96 * (attr(plot, "drystack")$height %||% 0)
  list(src = plot_uri(plot + ggplot2::labs(subtitle = NULL, caption = NULL), width,
    max(height, tall)),
    alt = alt)
}

plot_uri <- function(plot, width, height) {
  check_packages("ragg", "A .png", "demo", "output")
  file <- tempfile(fileext = ".png")
  on.exit(unlink(file))
  ragg::agg_png(file, width, height, units = "px", res = 96)
  draw_on_device(function() ggplot2::ggplotGrob(plot))
  paste0("data:image/png;base64,", gsub("\n", "", jsonlite::base64_enc(readBin(file, "raw",
    file.size(file)))))
}
