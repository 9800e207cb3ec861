# The first worksheet of a workbook. Its parts are read in memory; nothing is unpacked.

read_xlsx_file <- function(path) {
  check_archive(path)
  orders <- suppressWarnings(readxl::read_xlsx(path, sheet = 1L, guess_max = Inf, .name_repair = "minimal", progress = FALSE))
  orders <- as.data.frame(orders, optional = TRUE)
  orders[] <- lapply(orders, plain_sheet_column)
  with_types(orders)
}

# A workbook is an archive of parts: each must be there whole.
check_archive <- function(path) {
  parts <- utils::unzip(path, list = TRUE)
  sheets <- grep("^xl/worksheets/[^/]*[.]xml$", parts$Name, value = TRUE)
  for (part in sheets) {
    end <- utils::tail(part_bytes(path, part, parts$Length[match(part, parts$Name)]), 200L)
    if (!grepl("</([A-Za-z0-9]+:)?worksheet>\\s*$", rawToChar(end[end != 0]), useBytes = TRUE)) {
      raise("file", c(
        paste0("The workbook ", quoted(path), " is cut off: its part ", quoted(part), " does not end as it should."),
        ">" = "Save the workbook again."
      ))
    }
  }
}

part_bytes <- function(path, part, length) {
  connection <- unz(path, part, open = "rb")
  on.exit(close(connection))
  readBin(connection, "raw", length)
}

# Date cells come as date-times at midnight.
plain_sheet_column <- function(x) {
  if (inherits(x, "POSIXct") && all(as.numeric(x) %% 86400 == 0, na.rm = TRUE)) as.Date(x) else x
}
