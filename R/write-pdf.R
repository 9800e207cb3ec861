# The PDF writer: the HTML page printed by Chromium, with page numbers.

write_pdf_file <- function(document, path) {
  browser <- find_browser()
  folder <- tempfile("drystack-print-")
  dir.create(folder)
  html <- file.path(folder, "page.html")
  write_html_file(printed_document(document), html)
  printing <- begun_printing(browser, html, path.expand(path))
  function() {
    on.exit({
      kernel_end_program(printing)
      unlink(folder, recursive = TRUE)
    })
    kernel_await_program(printing, seconds_to_print)
    if (!file.exists(path) || file.size(path) == 0) {
      raise("output", c(
        "Chromium printed no PDF.", "x" = paste0("It was run as ", quoted(browser), "."),
        ">" = "Write .html and print that."
      ))
    }
  }
}

seconds_to_print <- 60

# The browser works while R does other things, and ends when R does, however that comes about.
begun_printing <- function(browser, html, path) {
  kernel_start_program(c(
    browser, "--headless", "--no-sandbox", "--disable-gpu", "--no-first-run",
    "--disable-background-networking", "--disable-component-update",
    "--disable-sync", "--no-pdf-header-footer", paste0("--user-data-dir=",
      file.path(dirname(html), "profile")), paste0("--print-to-pdf=", path), paste0("file://", html)
  ))
}

# How many characters fit side by side.
paper_width <- c(portrait = 105L, landscape = 155L)

printed_document <- function(document) {
  fit <- function(block) {
    if (block$kind != "beside") {
      return(blocks_that_fit(block, document$orientation))
    }
    block$blocks <- unlist(lapply(block$blocks, blocks_that_fit, "portrait"), recursive = FALSE)
    list(block)
  }
  document$blocks <- unlist(lapply(document$blocks, fit), recursive = FALSE)
  document
}

# A table wider than the paper turns the page where it fits so, else it is cut into parts that fit, each
# with the columns that head its rows. A listing has a table for each of its outermost groups, so that
# every page says which one goes on.
blocks_that_fit <- function(block, orientation) {
  if (block$kind != "table" || identical(block$sheet$layout, "headlines")) {
    return(list(block))
  }
  sheet <- block$sheet
  sheet$columns <- lapply(sheet$columns, with_head_lines)
  if (length(column_blocks(sheet, paper_width[[orientation]])) == 1L) {
    return(list(block))
  }
  if (orientation == "portrait" && length(column_blocks(sheet, paper_width[["landscape"]])) == 1L) {
    block$turned <- TRUE
    return(list(block))
  }
  parts <- column_blocks(sheet, paper_width[[orientation]])
  lapply(seq_along(parts), function(i) {
    part <- block
    part$sheet$columns <- block$sheet$columns[parts[[i]]]
    part$sheet$facts <- c(if (i == 1L) sheet$facts, block_label(sheet, parts, i))
    if (i > 1L) part$label <- ""
    if (i < length(parts)) part$sheet$notes <- character()
    part
  })
}

# The browser that prints: options(drystack.browser = ), else the first that is installed.
find_browser <- function() {
  known <- Sys.which(c(
    getOption("drystack.browser", character()), "chromium-headless-shell",
    "chromium", "chromium-browser", "google-chrome", "chrome"
  ))
  found <- known[nzchar(known)]
  if (length(found) == 0L) {
    raise("output", c(
      "A PDF needs Chromium, which is not installed.",
      ">" = "Install it, name it in {.code options(drystack.browser = )}, or write .html and print that."
    ))
  }
  found[[1L]]
}
