# What is shown, taken along: the table as a file or as text for the clipboard, the figure as
# a picture.

taken_formats <- c(csv = "text/csv; charset=utf-8",
  xlsx = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  tsv = "text/tab-separated-values; charset=utf-8", png = "image/png", svg = "image/svg+xml")

# The answer to /shown/WINDOW/FORMAT.
taken_response <- function(app, path) {
  words <- strsplit(path, "/", fixed = TRUE)[[1L]]
  known <- length(words) == 2L && is_window_id(words[1L]) && words[2L] %in% names(taken_formats)
  seen <- if (known) app$windows[[words[1L]]]$seen
  if (is.null(seen$table)) {
    return(plain_response(404L, "No table is shown in this window."))
  }
  format <- words[2L]
  taken <- rlang::try_fetch(taken_bytes(seen, format), drystack_error = function(e) e)
  if (inherits(taken, "drystack_error")) {
    return(plain_response(404L, rlang::cnd_message(taken)))
  }
  response(200L, taken_formats[[format]], taken, list(
    "Content-Disposition" = paste0("attachment; filename=\"", taken_name(seen), ".", format, "\"")
  ))
}

taken_bytes <- function(seen, format) {
  if (format == "tsv") {
    return(charToRaw(paste0(enc2utf8(tab_lines(as_sheet(seen$table))), "\n", collapse = "")))
  }
  drawn <- format %in% c("png", "svg")
  what <- seen$table
  if (drawn) what <- draw_figure(what, explored_figure_kind(what, seen$ask$figure))
  file <- tempfile(fileext = paste0(".", format))
  on.exit(unlink(file))
  write_report(what, file)
  readBin(file, "raw", file.size(file))
}

# Letters, digits and hyphens of its title.
taken_name <- function(seen) {
  words <- gsub("[^a-z0-9]+", "-", tolower(table_title(seen$table)))
  words <- gsub("^-+|-+$", "", substr(words, 1L, 60L))
  if (nzchar(words)) words else "table"
}

# A sheet with its heads, numbers in full, a tab between cells.
tab_lines <- function(sheet) {
  plain <- function(text) gsub("[\t\r\n]+", " ", shown_text(text))
  heads <- vapply(sheet$columns, function(column) {
    words <- c(column$heads, column$label)
    plain(paste(words[nzchar(words)], collapse = " "))
  }, "")
  cells <- lapply(sheet$columns, function(column) {
    text <- if (!is_real(column)) plain(trimws(column$text))
      else if (is.numeric(column$raw) && !inherits(column$raw, "Date")) number_in_full(
        as.numeric(column$raw))
      else as.character(column$raw)
    replace(text, is.na(column$raw) & is_real(column), "")
  })
  c(paste(heads, collapse = "\t"), do.call(paste, c(unname(cells), sep = "\t")))
}
