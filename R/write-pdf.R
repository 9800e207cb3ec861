# The PDF writer: the HTML page printed by Chromium, with page numbers.

write_pdf_file <- function(document, path) {
  browser <- find_browser()
  folder <- tempfile("drystack-print-")
  dir.create(folder)
  html <- file.path(folder, "page.html")
  document$blocks <- unlist(lapply(document$blocks, blocks_that_fit), recursive = FALSE)
  write_html_file(document, html)
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

# A table wider than paper is cut into parts that fit, each with the columns that head its rows.
paper_width <- 105L

blocks_that_fit <- function(block) {
  if (block$kind != "table" || identical(block$sheet$layout, "headlines")) {
    return(list(block))
  }
  sheet <- block$sheet
  parts <- column_blocks(sheet, paper_width)
  if (length(parts) == 1L) {
    return(list(block))
  }
  lapply(seq_along(parts), function(i) {
    part <- block
    part$sheet$columns <- sheet$columns[parts[[i]]]
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
