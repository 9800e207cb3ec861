# The xlsx writer: a worksheet for each table, with real numbers under number formats, frozen heads,
# widths that fit, a name for its range, outline levels of groups, heads that are printed on every
# page, and the figures that stand with it. A page of several has its contents, texts and what it
# was made from on a worksheet before them.

write_xlsx_file <- function(bundle, path) {
  uncompiled()
  workbook <- openxlsx::createWorkbook(title = bundle$title)
  openxlsx::modifyBaseFont(workbook, fontSize = 10, fontName = "Calibri")
  plan <- xlsx_plan(bundle)
  if (plan$several) openxlsx::addWorksheet(workbook, plan$contents, gridLines = FALSE)
  for (one in plan$sheets) xlsx_table(workbook, one, bundle, plan$several)
  function() {
    uncompiled()
    for (one in plan$sheets) xlsx_figures(workbook, one)
    if (plan$several) xlsx_contents(workbook, plan, bundle)
    openxlsx::saveWorkbook(workbook, path, overwrite = TRUE)
  }
}

# The package makes functions anew for each workbook, and compiling them takes longer than they run:
# until the calling function ends nothing is compiled.
uncompiled <- function(env = parent.frame()) {
  before <- compiler::enableJIT(0L)
  at_end(env, function() compiler::enableJIT(before))
}

# Which worksheets there are: for each its name, the block of its table (NULL: figures alone), and
# the blocks of the figures that stand with it: those beside the table, else those after it.
xlsx_plan <- function(bundle) {
  sheets <- list()
  texts <- list()
  for (block in flat_blocks(bundle)) {
    n <- length(sheets)
    if (block$kind == "table") sheets[[n + 1L]] <- list(table = block,
      label = label_of_table(block))
    else if (block$kind == "text") texts <- c(texts, list(block))
    else if (n > 0L) sheets[[n]]$figures <- c(sheets[[n]]$figures, list(block))
    else sheets[[1L]] <- list(figures = list(block), label = "Figures")
  }
  several <- length(sheets) > 1L || length(texts) > 0L || length(sheets[[1L]]$figures) > 0L
  names <- worksheet_names(c("Contents", vapply(sheets, `[[`, "", "label")))
  sheets <- Map(function(one, name) c(one, name = name), sheets, names[-1L])
  list(several = several, contents = names[1L], sheets = sheets, texts = texts)
}

label_of_table <- function(block) if (block$label == "") block$sheet$title else block$label

# At most 31 characters, without those that worksheets may not have, each once.
worksheet_names <- function(labels) {
  names <- trimws(substr(gsub("[][\\\\/?*:'&<>\"]", " ", shown_text(labels)), 1L, 28L))
  names[names == ""] <- "Table"
  lower <- make.unique(tolower(names), sep = " ")
  ifelse(duplicated(tolower(names)), paste0(names, substr(lower, nchar(names) + 1L, 31L)), names)
}

# A name for the range of a table, as workbooks allow them: no cell address, no spaces.
range_name <- function(worksheet) paste0("table_", gsub("[^A-Za-z0-9]+", "_", worksheet))

xlsx_table <- function(workbook, one, bundle, several) {
  name <- one$name
  openxlsx::addWorksheet(workbook, name, gridLines = FALSE)
  if (is.null(one$table)) {
    return(invisible())
  }
  sheet <- one$table$sheet
  above <- c(if (several) one$label else bundle$title, if (!several) bundle$subtitle,
    fact_line(c(bundle$facts, sheet$facts)))
  xlsx_texts(workbook, name, above, 1L)
  depth <- length(head_spans(sheet$columns))
  head <- length(above) + 2L
  xlsx_heads(workbook, name, sheet, head, depth)
  first <- head + depth + 1L
  xlsx_body(workbook, name, sheet, first)
  rows <- length(sheet$role)
  openxlsx::createNamedRegion(workbook, name, range_name(name),
    rows = (first - 1L):(first + rows - 1L),
    cols = seq_along(sheet$columns))
  widths <- pmin(pmax(vapply(lapply(sheet$columns, with_head_lines), column_width, 1L) + 3, 8), 60)
  notes <- wrap_lines(c(sheet$notes, bundle$notes, if (!several) bundle$about),
    max(sum(widths), 60))
  if (length(notes) > 0L) openxlsx::writeData(workbook, name, notes,
    startRow = first + rows + 1L, colNames = FALSE)
  lead <- sum(vapply(sheet$columns, function(column) column$align == "left", NA))
  openxlsx::freezePane(workbook, name, firstActiveRow = first, firstActiveCol = lead + 1L)
  openxlsx::setColWidths(workbook, name, seq_along(sheet$columns), widths)
  xlsx_print(workbook, name, bundle, wide = sum(widths) > 90 || length(one$figures) > 0L,
    heads = head:(first - 1L))
  xlsx_outline(workbook, name, sheet, first)
}

# On paper: as wide as the page, title and page over and under it.
xlsx_print <- function(workbook, name, bundle, wide, heads = NULL) {
  openxlsx::pageSetup(
    workbook, name, orientation = if (wide) "landscape" else bundle$orientation, fitToWidth = TRUE,
    fitToHeight = FALSE, paperSize = if (bundle$paper == "A4") 9 else 1, printTitleRows = heads
  )
  openxlsx::setHeaderFooter(workbook, name,
    header = c(gsub("&", "&&", substr(bundle$title, 1L, 200L), fixed = TRUE), NA, NA),
    footer = c(NA, NA, "&P / &N"))
}

# The first line is the title of its worksheet.
xlsx_texts <- function(workbook, name, texts, row) {
  openxlsx::writeData(workbook, name, texts, startRow = row, colNames = FALSE)
  openxlsx::addStyle(workbook, name, openxlsx::createStyle(textDecoration = "bold", fontSize = 13,
    fontColour = "#33424D"), rows = row, cols = 1L)
}

xlsx_heads <- function(workbook, name, sheet, head, depth) {
  for (level in seq_len(depth)) {
    spans <- head_spans(sheet$columns)[[level]]
    last <- cumsum(spans$length)
    for (i in which(spans$label != "")) {
      cols <- seq(to = last[i], length.out = spans$length[i])
      openxlsx::writeData(workbook, name, spans$label[i], startRow = head + level - 1L,
        startCol = cols[1L], colNames = FALSE)
      if (length(cols) > 1L) openxlsx::mergeCells(workbook, name, cols = cols,
        rows = head + level - 1L)
    }
  }
  labels <- as.list(vapply(sheet$columns, `[[`, "", "label"))
  openxlsx::writeData(workbook, name, as.data.frame(labels, col.names = seq_along(labels)),
    startRow = head + depth, colNames = FALSE)
  style <- function(...) {
    openxlsx::createStyle(textDecoration = "bold", fontColour = "#33424D",
      valign = "bottom", wrapText = TRUE, ...)
  }
  cols <- seq_along(sheet$columns)
  for (level in seq_len(depth)) openxlsx::addStyle(workbook, name,
    style(halign = "center"), head + level - 1L, cols)
  right <- vapply(sheet$columns, function(column) column$align == "right", NA)
  if (any(right)) openxlsx::addStyle(workbook, name, style(halign = "right", border = "bottom"),
    head + depth, cols[right])
  if (any(!right)) openxlsx::addStyle(workbook, name, style(border = "bottom"),
    head + depth, cols[!right])
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
  column$align != "left" && !is.character(column$raw) && !is.factor(column$raw) &&
    !is.logical(column$raw)
}

# Each look that occurs is one style of the workbook: the library's time
# goes by the number of styles.
xlsx_styles <- function(workbook, name, sheet, first) {
  codes <- vapply(sheet$columns, xlsx_codes, character(length(sheet$role)))
  dim(codes) <- c(length(sheet$role), length(sheet$columns))
  bold <- sheet$role %in% c("subtotal", "total", "heading")
  marked <- vapply(sheet$columns, function(column) column$marked %||% character(length(sheet$role)),
    character(length(sheet$role)))
  looks <- paste(codes, bold, sheet$role == "total", marked, sep = "\r")
  dim(looks) <- dim(codes)
  for (look in setdiff(unique(c(looks)), "\rFALSE\rFALSE\r")) {
    at <- which(looks == look, arr.ind = TRUE)
    code <- marked_code(codes[at[1L, , drop = FALSE]],
      matrix(marked, nrow(codes))[at[1L, , drop = FALSE]])
    style <- openxlsx::createStyle(
      numFmt = if (code == "") "GENERAL" else code, halign = if (code != "") "right",
      textDecoration = if (bold[at[1L]]) "bold", border = if (sheet$role[at[1L]] == "total") "top"
    )
    openxlsx::addStyle(workbook, name, style, first + at[, 1L] - 1L, at[, 2L])
  }
}

# The word of a mark stands before its number.
marked_code <- function(code, word) {
  if (word == "" || code == "") {
    return(code)
  }
  word <- paste0("\"", gsub("\"", "", word), " \"")
  paste0(word, gsub(";", paste0(";", word), if (code ==
    "General") "General" else code, fixed = TRUE))
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

# Figures as pictures to the right of their table, one under the other.
xlsx_figures <- function(workbook, one) {
  row <- 4L
  column <- if (is.null(one$table)) 1L else length(one$table$sheet$columns) + 2L
  for (block in one$figures) {
    if (block$label != "") {
      openxlsx::writeData(workbook, one$name, block$label, startRow = row, startCol = column,
        colNames = FALSE)
      openxlsx::addStyle(workbook, one$name, openxlsx::createStyle(textDecoration = "bold",
        fontColour = "#33424D"), rows = row, cols = column)
    }
    # The workbook reads the picture when it is saved: it is left in the session's own folder.
    file <- tempfile(fileext = ".png")
    writeBin(block$drawing$png(2L), file)
    size <- figure_pixels(file) / 110
    openxlsx::insertImage(workbook, one$name, file, width = size[1L], height = size[2L],
      startRow = row + 1L,
      startCol = column)
    row <- row + 4L + ceiling(size[2L] * 72 / 13)
  }
}

# Width and height stand in the head of a PNG.
figure_pixels <- function(file) {
  head <- as.integer(readBin(file, "raw", 24L)[17:24])
  c(sum(head[1:4] * 256^(3:0)), sum(head[5:8] * 256^(3:0)))
}

# What the workbook holds, its texts, and how it was made.
xlsx_contents <- function(workbook, plan, bundle) {
  name <- plan$contents
  write <- function(texts, row, column = 1L) {
    texts <- wrap_lines(texts, 90L)
    if (length(texts) > 0L) openxlsx::writeData(workbook, name, texts, startRow = row,
      startCol = column,
      colNames = FALSE)
    row + length(texts)
  }
  head <- c(bundle$title, wrap_lines(c(bundle$subtitle, fact_line(bundle$facts)), 90L))
  xlsx_texts(workbook, name, head, 1L)
  row <- length(head) + 2L
  for (one in plan$sheets) {
    write(one$label, row)
    link <- openxlsx::makeHyperlinkString(sheet = one$name, row = 1L, col = 1L, text = "open")
    openxlsx::writeFormula(workbook, name, link, startRow = row, startCol = 2L)
    openxlsx::addStyle(workbook, name, openxlsx::createStyle(fontColour = "#33424D",
      textDecoration = "underline"), rows = row, cols = 2L)
    row <- row + 1L
  }
  for (block in plan$texts) row <- write(c(if (block$label != "")
    block$label, block$text), row + 1L)
  row <- write(bundle$notes, row + 1L)
  write(c(if (length(bundle$about) > 0L) "About these figures", bundle$about), row + 1L)
  openxlsx::setColWidths(workbook, name, 1:2, c(60, 30))
  xlsx_print(workbook, name, bundle, wide = FALSE)
}
