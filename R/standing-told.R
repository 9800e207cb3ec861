# What builds of a report told, kept beside its stamp: the figures of its tables, the report itself, the
# values it was built with, its lookups and, where the orders have a key, the order lines by the columns it
# reads. A folder of its own holds the latest builds; what is kept is data: text and columns, no R objects.

told_form <- 1L

most_told <- 13L

told_folder <- function(out, name) file.path(out, paste0(".", name, ".told"))

# Kept under the day and second it was built.
keep_told <- function(source, variant, tables, out, name, today) {
  built <- variant$built
  folder <- told_folder(out, name)
  if (!dir.exists(folder)) dir.create(folder, showWarnings = FALSE)
  stem <- file.path(folder, paste0(format(as_day_date(today)), "-", format(Sys.time(), "%H%M%OS3")))
  key <- unlist(source$said$orders$key)
  # A report for one member keeps none: there would be as many as members.
  lines <- if (!variant$private) kept_lines(built$book, source$said, key)
  columns <- lapply(lines, packed_column)
  if (!is.null(lines)) {
    write_whole(paste0(stem, ".lines"), function(aside) {
      bytes <- unlist(lapply(columns, function(one) c(one$unknown, one$bytes)), use.names = FALSE)
      kernel_write_file(path.expand(aside), bytes)
    })
  }
  told <- list(
    form = told_form, built = format(as_day_date(today)), as_of = format(as_day_date(built$book$as_of)),
    report = source$lines, set = said_again(built$values), read = built$book$rows, key = key,
    columns = lapply(columns, function(one) {
      list(kind = one$kind, n = one$n, texts = I(as.character(one$texts)), scale = one$scale,
        unknown = length(one$unknown), bytes = length(one$bytes))
    }),
    lookups = lapply(built$book$lookups, kept_lookup, book = built$book),
    tables = lapply(Filter(is_comparable, tables), told_table)
  )
  write_whole(paste0(stem, ".json"), function(aside) {
    write_text_lines(jsonlite::toJSON(told, auto_unbox = TRUE, null = "null", na = "null", digits = NA),
      aside)
  })
  clear_told(folder)
  stem
}

# Large ones are not kept: that they have changed is then not told apart.
largest_lookup <- 20000L

kept_lookup <- function(lookup, book) {
  table <- lookup_table(lookup, book)
  if (nrow(table) <= largest_lookup) as.list(table) else list()
}

is_comparable <- function(table) inherits(table, "drystack_table") && table$kind %in% c("rollup", "crosstab")

# Of very many builds the latest are kept.
clear_told <- function(folder) {
  stems <- told_stems(folder)
  old <- utils::head(stems, max(length(stems) - most_told, 0L))
  unlink(paste0(rep(old, each = 2L), c(".json", ".lines")))
}

told_stems <- function(folder) {
  sub("[.]json$", "", sort(list.files(folder, "^[0-9-]+[.0-9]*[.]json$", full.names = TRUE),
    method = "radix"))
}

# The columns that the report reads, of orders in memory; of others none are kept.
kept_lines <- function(book, said, key) {
  if (is.null(key) || !inherits(engine_of(book), "drystack_frame")) {
    return(NULL)
  }
  for (name in key) check_column(name, book$made$names)
  said$orders$columns <- NULL
  lines <- lines_of_book(book, union(key, columns_spoken_of(book$made$names, said)))
  check_key_told(lines, key)
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
  axes <- lapply(table$axes, member_keys)
  figures <- lapply(Filter(is.numeric, table$figures), function(values) number_in_full(as.numeric(values)))
  list(kind = table$kind, axes = axes, role = table$role, figures = figures,
    conditions = length(table_book(table)$scope),
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
  none <- "No earlier build of this report is known: nothing can be compared yet."
  if (!identical(since, "last build")) {
    day <- iso_days(since)
    stems <- stems[substr(basename(stems), 1L, 10L) <= format(as_day_date(day))]
    none <- paste0("No build of this report on or before ", day_words(day), " is known.")
  }
  if (length(stems) == 0L) {
    return(list(why = none))
  }
  last <- utils::tail(stems, 1L)
  told <- read_told(last)
  if (!is.null(told)) {
    return(list(told = told))
  }
  list(why = paste0("What the build of ", day_words(iso_days(substr(basename(last), 1L, 10L))),
    " told is damaged or of another version: nothing can be compared."))
}

# The order lines of an earlier build, NULL where none were kept or they cannot be read.
told_lines <- function(told) {
  file <- paste0(told$stem, ".lines")
  if (!file.exists(file) || length(told$columns) == 0L) {
    return(NULL)
  }
  rlang::try_fetch({
    bytes <- kernel_read_file(path.expand(file), file.size(file))
    ends <- cumsum(unlist(lapply(told$columns, function(one) c(one$unknown, one$bytes))))
    if (ends[length(ends)] != length(bytes)) stop("the order lines are cut off")
    starts <- c(0, ends[-length(ends)])
    part <- function(i) if (ends[i] > starts[i]) bytes[(starts[i] + 1):ends[i]]
    columns <- lapply(seq_along(told$columns), function(i) {
      one <- told$columns[[i]]
      one$texts <- as.character(unlist(one$texts))
      one["unknown"] <- list(part(2L * i - 1L))
      one$bytes <- part(2L * i) %||% raw()
      unpacked_column(one)
    })
    structure(stats::setNames(columns, names(told$columns)), class = "data.frame",
      row.names = seq_along(columns[[1L]]))
  }, error = function(e) NULL)
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
