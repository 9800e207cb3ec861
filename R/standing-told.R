# What builds of a report told, kept beside its stamp: the figures of its tables, the report itself, the
# values it was built with, its lookups and, where the orders have a key, the order lines by the columns it
# reads. A folder of its own holds the latest builds; what is kept is data: text and columns, no R objects.

told_form <- 1L

most_told <- 13L

told_folder <- function(out, name) file.path(out, paste0(".", name, ".told"))

# Kept under the day and second it was built.
keep_told <- function(source, built, tables, out, name, today) {
  folder <- told_folder(out, name)
  if (!dir.exists(folder)) dir.create(folder, showWarnings = FALSE)
  stem <- file.path(folder, paste0(format(as_day_date(today)), "-", format(Sys.time(), "%H%M%OS3")))
  key <- unlist(source$said$orders$key)
  lines <- kept_lines(built$book, source$said, key)
  if (!is.null(lines)) {
    write_whole(paste0(stem, ".parquet"), function(aside) {
      nanoparquet::write_parquet(lines, aside, compression = "zstd")
    })
  }
  told <- list(
    form = told_form, built = format(as_day_date(today)), as_of = format(as_day_date(built$book$as_of)),
    report = source$lines, set = said_again(built$values), read = built$book$rows, key = key,
    lookups = lapply(built$book$lookups, function(lookup) as.list(lookup_table(lookup, built$book))),
    tables = lapply(Filter(is_comparable, tables), told_table)
  )
  write_whole(paste0(stem, ".json"), function(aside) {
    write_text_lines(jsonlite::toJSON(told, auto_unbox = TRUE, null = "null", na = "string", digits = NA), aside)
  })
  clear_told(folder)
  stem
}

is_comparable <- function(table) inherits(table, "drystack_table") && table$kind %in% c("rollup", "crosstab")

# Of very many builds the latest are kept.
clear_told <- function(folder) {
  stems <- told_stems(folder)
  old <- utils::head(stems, max(length(stems) - most_told, 0L))
  unlink(paste0(rep(old, each = 2L), c(".json", ".parquet")))
}

told_stems <- function(folder) {
  sub("[.]json$", "", sort(list.files(folder, "^[0-9-]+[.0-9]*[.]json$", full.names = TRUE), method = "radix"))
}

# The columns that the report reads, of orders in memory; of others none are kept.
kept_lines <- function(book, said, key) {
  if (is.null(key) || !inherits(engine_of(book), "drystack_frame")) {
    return(NULL)
  }
  for (name in key) check_column(name, book$made$names)
  said$orders$columns <- NULL
  lines <- lines_of_book(book)
  lines <- lines[union(key, columns_spoken_of(names(lines), said))]
  ids <- row_ids(lapply(lines[key], function(x) both_coded(x, x[0L])), nrow(lines))
  check_key_once(ids, lines, key, "of the report")
  lines
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
  axes <- lapply(table$axes, function(values) if (is_period(values)) format(values, "key") else as.character(values))
  figures <- lapply(Filter(is.numeric, table$figures), function(values) number_in_full(as.numeric(values)))
  list(kind = table$kind, axes = axes, role = table$role, figures = figures,
    shown = format(as_day_date(c(table$shown$first, table$shown$last))))
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

# The build that a page is compared with: the last, or the last on or before a day. list(told) or
# list(why): why there is none.
told_since <- function(out, name, since) {
  stems <- told_stems(told_folder(out, name))
  if (!identical(since, "last build")) {
    day <- as_day_date(iso_days(since))
    stems <- stems[substr(basename(stems), 1L, 10L) <= format(day)]
  }
  if (length(stems) == 0L) {
    return(list(why = if (identical(since, "last build")) "No earlier build of this report is known: nothing can be compared yet." # nolint
      else paste0("No build of this report on or before ", day_words(iso_days(since)), " is known.")))
  }
  told <- read_told(utils::tail(stems, 1L))
  if (is.null(told)) list(why = paste0("What the build of ", substr(basename(utils::tail(stems, 1L)), 1L, 10L),
    " told is damaged or of another version: nothing can be compared.")) else list(told = told)
}

# The order lines of an earlier build, NULL where none were kept or they cannot be read.
told_lines <- function(told) {
  file <- paste0(told$stem, ".parquet")
  if (!file.exists(file)) {
    return(NULL)
  }
  rlang::try_fetch(as.data.frame(read_orders(file)), error = function(e) NULL)
}

# Its report, as it was read then.
told_source <- function(told, folder) {
  file <- tempfile(fileext = ".yml")
  on.exit(unlink(file))
  write_text_lines(as.character(told$report), file)
  rlang::try_fetch({
    source <- read_standing(file)
    source$folder <- folder
    source
  }, drystack_error = function(e) NULL)
}
