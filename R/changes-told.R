# What builds of a report told, kept beside its stamp: the figures of its tables, the report itself,
# the values it was built with, its lookups and what changes-kept.R keeps of its orders. A folder of
# its own holds the latest builds; what is kept is data (JSON, Parquet), no R objects.

told_form <- 3L

most_told <- 13L

told_folder <- function(out, name) file.path(out, paste0(".", name, ".told"))

# Written aside, under the day and second it was built. page: list(document, book, values; owner:
# whose it is, NULL where it is for all).
write_told <- function(page, tables, folder, today) {
  if (!dir.exists(folder)) dir.create(folder, showWarnings = FALSE)
  stem <- file.path(folder, paste0(format(as_day_date(today)), "-", format(Sys.time(), "%H%M%OS3")))
  kept <- kept_of_orders(page, tables)
  columns <- frame_of_orders(kept)
  if (length(columns) > 0L) {
    write_whole(paste0(stem, ".parquet"), function(aside) write_orders_told(columns, aside))
  }
  book <- page$book
  told <- list(
    form = told_form, owner = page$owner, built = format(as_day_date(today)),
    as_of = format(as_day_date(book$as_of)),
    report = page$document$lines, set = said_again(page$values), read = book$rows,
    orders = said_of_orders(kept),
    lookups = lapply(book$lookups, kept_lookup, book = book),
    records = lapply(book$records, kept_record),
    tables = lapply(Filter(is_comparable, tables), told_table)
  )
  write_whole(paste0(stem, ".json"), function(aside) {
    write_text_lines(jsonlite::toJSON(told, auto_unbox = TRUE, null = "null",
      na = "null", digits = NA), aside)
  })
  basename(stem)
}

# What was written aside is moved to where the next build looks for it; the figures last, as they
# tell that there is such a build.
keep_told <- function(aside, out, name, most) {
  folder <- told_folder(out, name)
  if (!dir.exists(folder)) dir.create(folder, showWarnings = FALSE)
  files <- list.files(aside)
  files <- files[order(grepl("[.]json$", files))]
  for (file in files) or_cannot_write(file.path(folder, file),
    move_into_place(file.path(aside, file), file.path(folder, file)))
  clear_told(folder, most)
}

# Large ones are not kept: that they have changed is then not told apart.
largest_lookup <- 20000L

kept_lookup <- function(lookup, book) {
  table <- lookup_table(lookup, book)
  if (nrow(table) <= largest_lookup) as.list(table) else list()
}

kept_record <- function(record) {
  if (record$book$rows <= largest_lookup) as.list(record_table(record)) else list()
}

is_comparable <- function(table) {
  inherits(table, "drystack_table") && table$kind %in% c("rollup", "crosstab")
}

# Of very many builds the latest are kept.
clear_told <- function(folder, most) {
  stems <- told_stems(folder)
  old <- utils::head(stems, max(length(stems) - most, 0L))
  files <- list.files(folder)
  unlink(file.path(folder, files[file_stem(files) %in% basename(old)]))
}

# In the order of their times; the folder's own name may be in any script.
told_stems <- function(folder) {
  names <- sort(list.files(folder, "^[0-9-]+[.0-9]*[.]json$"), method = "radix")
  if (length(names) > 0L) file.path(folder, sub("[.]json$", "", names)) else character()
}

# Values as --set says them.
said_again <- function(values) {
  texts <- lapply(values, function(one) {
    if (!is.null(one$value)) paste(as.character(parameter_key(one$value)), collapse = ",")
  })
  Filter(Negate(is.null), texts)
}

# A table as it was told: its members by key, its roles, its figures in full.
told_table <- function(table) {
  axes <- lapply(table$axes, member_keys)
  figures <- lapply(Filter(is.numeric, table$figures),
    function(values) number_in_full(as.numeric(values)))
  list(kind = table$kind, axes = axes, role = table$role, figures = figures,
    conditions = length(table_book(table)$scope),
    shown = format(as_day_date(c(table$shown$first, table$shown$last))),
    open = is.na(days_asked(table)[1L]))
}

# What a build told, read again; NULL where it cannot be read, or is of another form.
read_told <- function(stem) {
  told <- rlang::try_fetch(
    jsonlite::fromJSON(paste0(stem, ".json"), simplifyDataFrame = FALSE, simplifyMatrix = FALSE),
    error = function(e) NULL
  )
  whole <- is.list(told) && identical(as.integer(told$form), told_form) &&
    all(c("built", "as_of", "report", "tables") %in% names(told)) && is.character(told$report) &&
    !is.na(iso_days(as.character(told$built))) && !is.na(iso_days(as.character(told$as_of)))
  if (!isTRUE(whole)) {
    return(NULL)
  }
  told$stem <- stem
  told
}

# The build that a page is compared with: the last, or the last on or before a day, of those that
# were for the same member. list(told) or list(why): why there is none.
told_since <- function(out, name, since, owner = NULL) {
  stems <- told_stems(told_folder(out, name))
  none <- "No earlier build of this report is known: nothing can be compared yet."
  if (!identical(since, "last build")) {
    day <- iso_days(since)
    stems <- stems[substr(basename(stems), 1L, 10L) <= format(as_day_date(day))]
    none <- paste0("No build of this report on or before ", day_words(day), " is known.")
  }
  for (stem in rev(stems)) {
    told <- read_told(stem)
    if (is.null(told)) {
      return(list(why = paste0("What the build of ",
        day_words(iso_days(substr(basename(stem), 1L, 10L))),
        " told is damaged or of another version: nothing can be compared.")))
    }
    if (identical(told$owner, owner)) {
      return(list(told = told))
    }
  }
  list(why = none)
}

# Its report, as it was read then.
told_source <- function(told, folder) {
  file <- tempfile(fileext = ".yml")
  on.exit(unlink(file))
  write_text_lines(as.character(told$report), file)
  rlang::try_fetch({
    document <- read_standing(file)
    document$folder <- folder
    document
  }, drystack_error = function(e) NULL)
}
