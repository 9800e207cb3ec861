# The xlsx writer: a worksheet for each table, with real numbers under number formats, frozen heads,
# widths that fit, outline levels of groups, and heads that are printed on every page. Texts and
# figures of a page stand on a worksheet of their own.

write_xlsx_file <- function(document, path) {
  workbook <- openxlsx::createWorkbook(title = document$title)
  openxlsx::modifyBaseFont(workbook, fontSize = 10, fontName = "Calibri")
  tables <- table_blocks(document)
  others <- Filter(function(block) block$kind != "table", document$blocks)
  names <- worksheet_names(vapply(tables, function(block) {
    if (block$label == "") block$sheet$title else block$label
  }, ""))
  for (i in seq_along(tables)) xlsx_table(workbook, names[i], document, tables[[i]]$sheet)
  function() {
    if (length(others) > 0L) xlsx_others(workbook, worksheet_names(c(names, "Page"))[length(names) + 1L],
      document, others)
    openxlsx::saveWorkbook(workbook, path, overwrite = TRUE)
  }
}

# At most 31 characters, without those that worksheets may not have, each once.
worksheet_names <- function(labels) {
  names <- trimws(substr(gsub("[][\\\\/?*:'&<>\"]", " ", shown_text(labels)), 1L, 28L))
  names[names == ""] <- "Table"
  lower <- make.unique(tolower(names), sep = " ")
  ifelse(duplicated(tolower(names)), paste0(names, substr(lower, nchar(names) + 1L, 31L)), names)
}

xlsx_table <- function(workbook, name, document, sheet) {
  openxlsx::addWorksheet(workbook, name, gridLines = FALSE)
  above <- c(document$title, if (sheet$title != document$title) sheet$title,
    document$subtitle, document$facts, sheet$facts)
  openxlsx::writeData(workbook, name, above, colNames = FALSE)
  openxlsx::addStyle(workbook, name, openxlsx::createStyle(textDecoration = "bold", fontSize = 13),
    rows = 1L, cols = 1L)
  depth <- length(head_spans(sheet$columns))
  head <- length(above) + 2L
  xlsx_heads(workbook, name, sheet, head, depth)
  first <- head + depth + 1L
  xlsx_body(workbook, name, sheet, first)
  rows <- length(sheet$role)
  notes <- c(sheet$notes, document$notes)
  if (length(notes) > 0L) openxlsx::writeData(workbook, name, notes,
    startRow = first + rows + 1L, colNames = FALSE)
  lead <- sum(vapply(sheet$columns, function(column) column$align == "left", NA))
  openxlsx::freezePane(workbook, name, firstActiveRow = first, firstActiveCol = lead + 1L)
  widths <- vapply(sheet$columns, column_width, 1L) + 3
  openxlsx::setColWidths(workbook, name, seq_along(sheet$columns), pmin(pmax(widths, 6), 60))
  openxlsx::pageSetup(
    workbook, name, orientation = if (sum(widths) > 90) "landscape" else "portrait",
    fitToWidth = TRUE, fitToHeight = FALSE, paperSize = 9,
    printTitleRows = head:(first - 1L)
  )
  xlsx_outline(workbook, name, sheet, first)
}

xlsx_heads <- function(workbook, name, sheet, head, depth) {
  for (level in seq_len(depth)) {
    spans <- head_spans(sheet$columns)[[level]]
    last <- cumsum(spans$length)
    for (i in which(spans$label != "")) {
      cols <- seq(to = last[i], length.out = spans$length[i])
      openxlsx::writeData(workbook, name, spans$label[i], startRow = head + level - 1L,
        startCol = cols[1L], colNames = FALSE)
      if (length(cols) > 1L) openxlsx::mergeCells(workbook, name, cols = cols, rows = head + level - 1L)
    }
  }
  labels <- as.list(vapply(sheet$columns, `[[`, "", "label"))
  openxlsx::writeData(workbook, name, as.data.frame(labels, col.names = seq_along(labels)),
    startRow = head + depth, colNames = FALSE)
  style <- function(...) openxlsx::createStyle(textDecoration = "bold", fontColour = "#33424D", ...)
  cols <- seq_along(sheet$columns)
  for (level in seq_len(depth)) openxlsx::addStyle(workbook, name,
    style(halign = "center"), head + level - 1L, cols)
  right <- vapply(sheet$columns, function(column) column$align == "right", NA)
  if (any(right)) openxlsx::addStyle(workbook, name, style(halign = "right", border = "bottom"),
    head + depth, cols[right])
  if (any(!right)) openxlsx::addStyle(workbook, name, style(border = "bottom"), head + depth, cols[!right])
}

xlsx_body <- function(workbook, name, sheet, first) {
  if (length(sheet$role) == 0L) {
    return(invisible())
  }
  values <- lapply(sheet$columns, function(column) if (is_real(column)) column$raw else column$text)
  data <- structure(values, names = seq_along(values), row.names = seq_along(sheet$role),
    class = "data.frame")
  openxlsx::writeData(workbook, name, data, startRow = first, colNames = FALSE, keepNA = FALSE)
  xlsx_styles(workbook, name, sheet, first)
}

# Numbers and dates, as opposed to what is shown as text.
is_real <- function(column) {
  column$align != "left" && !is.character(column$raw) && !is.factor(column$raw) && !is.logical(column$raw)
}

# Each look that occurs is one style of the workbook: the library's time
# goes by the number of styles.
xlsx_styles <- function(workbook, name, sheet, first) {
  codes <- vapply(sheet$columns, xlsx_codes, character(length(sheet$role)))
  dim(codes) <- c(length(sheet$role), length(sheet$columns))
  bold <- sheet$role %in% c("subtotal", "total", "heading")
  looks <- paste(codes, bold, sheet$role == "total", sep = "\r")
  dim(looks) <- dim(codes)
  for (look in setdiff(unique(c(looks)), "\rFALSE\rFALSE")) {
    at <- which(looks == look, arr.ind = TRUE)
    code <- codes[at[1L, , drop = FALSE]]
    style <- openxlsx::createStyle(
      numFmt = if (code == "") "GENERAL" else code, halign = if (code != "") "right",
      textDecoration = if (bold[at[1L]]) "bold", border = if (sheet$role[at[1L]] == "total") "top"
    )
    openxlsx::addStyle(workbook, name, style, first + at[, 1L] - 1L, at[, 2L])
  }
}

# The number formats of a column's cells: one for all, or one for each row; ""
# where there is no number.
xlsx_codes <- function(column) {
  rows <- seq_along(column$raw)
  if (!is_real(column) || !is.numeric(column$raw)) {
    return(character(length(rows)))
  }
  if (is.list(column$format) && !inherits(column$format, "drystack_format")) {
    return(vapply(rows, function(i) xlsx_code(column$format[[i]], column$raw[i]), ""))
  }
  rep(xlsx_code(column$format, column$raw), length(rows))
}

# A format as the number format of a cell.
xlsx_code <- function(format, values) {
  format <- format %||% default_format()
  known <- values[!is.na(values)]
  digits <- format$digits %||% if (format$kind == "plain") NULL
    else if (length(known) == 0L) 0L else fitting_digits(known)
  if (is.null(digits)) {
    return("General")
  }
  decimals <- if (digits > 0L) paste0(".", strrep("0", digits)) else ""
  symbol <- if (nzchar(format$symbol)) paste0("\"", gsub("\"", "", format$symbol), "\"") else ""
  if (format$kind == "compact") {
    # Number formats know two conditions: thousands and millions are shortened,
    # what lies below them is not.
    return(paste0(
      "[>=1000000]", symbol, "0", decimals, ",,\"M\";[>=1000]",
      symbol, "0", decimals, ",\"k\";", symbol, "General"
    ))
  }
  body <- switch(format$kind,
    percentage = paste0("#,##0", decimals, "%"),
    paste0(symbol, if (nzchar(format$thousands)) "#,##0" else "0", decimals)
  )
  below <- if (format$negative == "brackets") paste0("(", body, ")") else paste0("-", body)
  zero <- if (is.null(format$zero)) body else paste0("\"", format$zero, "\"")
  paste(if (format$sign) paste0("+", body) else body, below, zero, sep = ";")
}

xlsx_outline <- function(workbook, name, sheet, first) {
  if (is.null(sheet$level) || max(sheet$level) == 0L) {
    return(invisible())
  }
  deep <- which(sheet$role %in% c("line", "heading", "subtotal") &
    sheet$level > as.integer(sheet$role == "subtotal"))
  # Levels within levels need a newer openxlsx than some systems have; there all groups have one.
  for (level in sort(unique(sheet$level[deep]))) {
    rows <- first + deep[sheet$level[deep] == level] - 1L
    if ("level" %in% names(formals(openxlsx::groupRows))) {
      openxlsx::groupRows(workbook, name, rows, level = level)
    } else {
      openxlsx::groupRows(workbook, name, rows)
    }
  }
  breaks <- which(sheet$page_after)
  for (row in breaks) openxlsx::pageBreak(workbook, name, first + row - 1L, type = "row")
}

# Texts and figures of a page, one under the other.
xlsx_others <- function(workbook, name, document, blocks) {
  openxlsx::addWorksheet(workbook, name, gridLines = FALSE)
  openxlsx::writeData(workbook, name, c(document$title, document$subtitle, document$facts), colNames = FALSE)
  openxlsx::pageSetup(workbook, name, orientation = "landscape", fitToWidth = TRUE,
    fitToHeight = FALSE, paperSize = 9)
  row <- 3L + length(c(document$title, document$subtitle, document$facts))
  for (block in blocks) {
    if (block$label != "") {
      openxlsx::writeData(workbook, name, block$label, startRow = row, colNames = FALSE)
      row <- row + 1L
    }
    if (block$kind == "text") {
      openxlsx::writeData(workbook, name, block$text, startRow = row, colNames = FALSE)
      row <- row + length(block$text) + 1L
    } else {
      # The workbook reads the picture when it is saved: it is left in the session's own folder.
      file <- tempfile(fileext = ".png")
      writeBin(block$drawing$png(), file)
      openxlsx::insertImage(workbook, name, file, width = 8, height = 5, startRow = row)
      row <- row + 27L
    }
  }
}
