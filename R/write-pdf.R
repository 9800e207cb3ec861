# The PDF writer: the HTML page printed by Chromium, with page numbers.

write_pdf_file <- function(bundle, path) {
  check_packages("processx", "A PDF", "pdf", "output")
  printer <- printer_at_hand()
  html <- tempfile("page", tmpdir = printer$folder, fileext = ".html")
  rlang::try_fetch(write_html_file(printed_bundle(bundle), html), error = function(e) {
    end_printer(printer)
    rlang::cnd_signal(e)
  })
  function() {
    on.exit(if (is.null(printers$shares)) end_printer(printer) else unlink(html))
    printed <- tryCatch(printed_page(printer, html), error = function(e) {
      end_printer(printer)
      raise("output", c(
        "Chromium printed no PDF.",
        "x" = paste0("It was run as ", quoted(printer$browser), ": ",
          braces_kept(conditionMessage(e)), "."),
        ">" = "Write .html and print that."
      ))
    })
    writeBin(printed, path)
  }
}

# How many characters fit side by side.
paper_width <- c(portrait = 96L, landscape = 145L)

printed_bundle <- function(bundle) {
  fit <- function(block) {
    if (block$kind != "beside") {
      return(blocks_that_fit(block, bundle$orientation))
    }
    block$blocks <- unlist(lapply(block$blocks, blocks_that_fit, "portrait"), recursive = FALSE)
    list(block)
  }
  bundle$blocks <- unlist(lapply(bundle$blocks, fit), recursive = FALSE)
  for (i in seq_along(bundle$blocks)) {
    if (bundle$blocks[[i]]$kind == "table") bundle$blocks[[i]]$sheet$few <- rows_that_fit(bundle, i)
  }
  bundle
}

# How many rows stand on one page; the first part stands under the head.
rows_that_fit <- function(bundle, i) {
  upright <- (bundle$orientation == "portrait") != isTRUE(bundle$blocks[[i]]$turned)
  (if (upright) rows_of_few else 26L) - (if (i == 1L) 8L else 0L)
}

# A table wider than the paper turns the page where it fits so, else it is cut into parts that fit,
# each with the columns that head its rows.
blocks_that_fit <- function(block, orientation) {
  if (block$kind != "table" || identical(block$sheet$layout, "headlines")) {
    return(list(block))
  }
  heads <- lapply(block$sheet$columns, with_head_lines)
  parts <- function(turned) column_blocks(list(columns = heads), paper_width[[turned]])
  block$turned <- orientation == "portrait" && length(parts("portrait")) > 1L &&
    length(parts("landscape")) == 1L
  cut <- if (block$turned) parts("landscape") else parts(orientation)
  blocks <- lapply(seq_along(cut), function(i) columns_of_block(block, cut, i))
  unlist(lapply(blocks, groups_of_block), recursive = FALSE)
}

columns_of_block <- function(block, cut, i) {
  if (length(cut) == 1L) {
    return(block)
  }
  part <- block
  part$sheet$columns <- block$sheet$columns[cut[[i]]]
  part$sheet$facts <- c(if (i == 1L) block$sheet$facts, block_label(block$sheet, cut, i))
  if (i > 1L) part$label <- ""
  if (i < length(cut)) part$sheet$notes <- character()
  part
}

# A table of several pages is a table for each of its outermost groups, so that every page says
# which one goes on.
groups_of_block <- function(block) {
  sheet <- block$sheet
  key <- outermost_groups(sheet)
  if (length(sheet$role) <= rows_of_few || is.null(key)) {
    return(list(block))
  }
  groups <- split(seq_along(key), cumsum(c(TRUE, key[-1L] != key[-length(key)])))
  widths <- column_widths(lapply(sheet$columns, with_head_lines)) + 2L
  lapply(seq_along(groups), function(i) {
    part <- block
    part$sheet <- sheet_rows(sheet, groups[[i]])
    part$sheet[c("goes_on", "widths")] <- list(key[groups[[i]][1L]], widths)
    if (i > 1L) {
      part$label <- ""
      part$sheet$facts <- character()
    }
    if (i < length(groups)) part$sheet$notes <- character()
    part
  })
}

# Which member of its first axis each row belongs to, NULL where there is one axis alone. What
# belongs to none goes with the rows before it.
outermost_groups <- function(sheet) {
  lead <- Filter(function(column) column$align == "left", sheet$columns)
  deep <- max(sheet$level, 0L)
  if (length(lead) == 0L || length(lead) == 1L && deep < 2L) {
    return(NULL)
  }
  key <- if (length(lead) > 1L) as.character(lead[[1L]]$raw)
    else ifelse(sheet$role == "heading" & sheet$level == 1L, trimws(lead[[1L]]$text), NA)
  known <- which(!is.na(key))
  if (length(known) == 0L) {
    return(NULL)
  }
  key[known[pmax(cumsum(!is.na(key)), 1L)]]
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
      ">" = paste("Install it ({.code tools/setup pdf} in the sources), name it in",
        "{.code options(drystack.browser = )}, or write .html and print that.")
    ))
  }
  found[[1L]]
}
