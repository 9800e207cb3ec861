# A daybook as the keys of a standing report.

saved_book <- function(book, folder, orders) {
  reading <- saved_orders(book, folder, orders)
  reading <- c(reading, list(date = date_said_again(book), date_order = book$made$date_order,
    currency = if (book$one_currency) "none" else book$currency, rates = saved_rates(book, folder)))
  reading <- utils::modifyList(reading, saved_reading(book$made$reading))
  if (length(book$made$undated) > 0L) reading$undated <- as.list(book$made$undated)
  reading$columns <- as.list(book$made$names)
  worked_out <- as.list(book$made$worked_out)
  check_saved_texts(worked_out)
  saved <- c(list(
    orders = Filter(Negate(is.null), reading),
    lookups = unname(lapply(book$lookups, saved_lookup, folder = folder))
  ), said_calendars(book$calendars), list(
    as_of = if (book$as_of != book$last) format(as_day_date(book$as_of)),
    covered_to = if (!is.null(book$covered)) format(as_day_date(book$covered)),
    work_out = worked_out, records = lapply(book$records, saved_record, folder = folder),
    only = as.list(condition_said(Filter(function(one) !isTRUE(one$known), book$scope))),
    as_known = book$known, shown = saved_shown(book),
    closing = Filter(Negate(is.null), book$closing %||% list()), sort_keys = book$sort_keys,
    labels = book$labels
  ))
  Filter(function(v) length(v) > 0L, saved)
}

# Where the orders are, as the keys of a report say it.
saved_orders <- function(book, folder, orders) {
  database <- book$made$database
  path <- orders %||% database$text %||% book$made$path
  if (is.null(path)) {
    raise(
      "standing", c("The orders were not read from a file.",
        ">" = "Read them with {.fn read_orders}, or name the file: {.arg orders}.")
    )
  }
  if (is_database_text(path)) {
    named <- if (startsWith(path, "sqlite:")) paste0("sqlite:",
      relative_path(sub("^sqlite:(//)?", "", path), folder))
      else path
    return(Filter(Negate(is.null), c(list(database = named),
      database[c("table", "query", "key", "zone")])))
  }
  several <- in_parts(path) && !identical(files_meant(path), path)
  stats::setNames(list(relative_path(path, folder)), if (several) "files" else "file")
}

saved_rates <- function(book, folder) {
  if (is.null(book$rates)) {
    return(NULL)
  }
  if (is.null(book$rates$path)) {
    raise("standing", c("The rates were not read from a file.",
      ">" = "Read them with {.fn read_orders}."))
  }
  said <- names(saved_reading(book$rates$table$reading))
  if (length(said) > 0L) {
    raise("standing", c(paste0("A report reads rates as they stand in their file, without {.arg ",
      said[1L], "}."),
      ">" = "Write them as read_orders() gives them to a file of their own."))
  }
  relative_path(book$rates$path, folder)
}

# What was said of the reading; what was found will be found again.
saved_reading <- function(said) {
  said <- said[!vapply(said, is.null, NA)]
  if (identical(said$totals_lines, "proven")) said$totals_lines <- NULL
  lapply(said, function(values) {
    if (length(values) > 1L || !is.null(names(values))) as.list(values) else values
  })
}

saved_lookup <- function(lookup, folder) {
  if (is.null(lookup$path)) {
    raise(
      "standing", c(paste0("The lookup ", quoted(lookup$name), " was not read from a file."),
        ">" = "Read it with {.fn read_orders}.")
    )
  }
  several <- function(names) if (length(names) > 1L) as.list(names) else names
  saved <- list(file = relative_path(lookup$path, folder), by = several(lookup$by))
  if (!identical(lookup$theirs, lookup$by)) saved$key <- several(lookup$theirs)
  saved$from <- lookup$from
  if (nzchar(lookup$prefix)) saved$prefix <- lookup$prefix
  c(saved, saved_reading(lookup$reading))
}

# Within the folder of the report a path is told from there; of a file of this package by the copy
# that lies there; else in full.
relative_path <- function(path, folder) {
  full <- normalizePath(path, mustWork = FALSE)
  base <- paste0(normalizePath(folder, mustWork = FALSE), "/")
  if (startsWith(full, base)) substr(full, nchar(base) + 1L, nchar(full))
  else if (is_of_package(full) && are_same_files(full,
    file.path(folder, basename(full)))) basename(full)
  else full
}

is_of_package <- function(path) {
  startsWith(path, paste0(normalizePath(system.file(package = "drystack")), "/"))
}

are_same_files <- function(a, b) {
  file.exists(b) && identical(unname(tools::md5sum(a)), unname(tools::md5sum(b)))
}

# Files of this package that a daybook was made from are copied beside its report, which may not
# leave its folder; a file of another content that has the name stays.
copy_package_files <- function(book, folder) {
  paths <- as.character(unlist(c(book$made$path, lapply(book$lookups, `[[`, "path"),
    book$rates$path, lapply(book$records, function(record) record$made$path))))
  paths <- Filter(is_of_package, normalizePath(paths[file.exists(paths)]))
  for (path in unique(paths)) {
    there <- file.path(folder, basename(path))
    if (file.exists(there)) next
    write_whole(there, function(aside) {
      kernel_write_file(path.expand(aside), readBin(path, "raw", file.size(path)))
    })
    rlang::inform(paste0("Copied ", basename(path), " beside the report."),
      class = "drystack_message_copied")
  }
}

# As a report says it again.
saved_record <- function(record, folder) {
  made <- record$made
  place <- if (is.null(made$path) && is.null(made$database)) {
    list(lines = saved_lines(record))
  } else if (!is.null(made$database)) {
    Filter(Negate(is.null), c(list(database = made$database$text),
      made$database[c("table", "query", "key")]))
  } else {
    list(file = relative_path(made$path, folder))
  }
  if (!is.null(place$lines)) {
    said <- record_said(record)[-1L]
    said$per <- made$period
    return(c(place, said))
  }
  reading <- saved_reading(record$book$made$reading)
  undated <- record$book$made$undated
  c(place, record_said(record)[-1L], reading, if (length(undated) > 0L)
    list(undated = as.list(undated)))
}

# What is said of a record beside its lines.
record_said <- function(record) {
  rule <- unique(unlist(record$spread))
  said <- list(
    file = record$name, date = record$made$date, per = record$made$per,
    by = if (length(record$by) > 0L) as.list(record$by),
    spread = if (length(rule) > 0L) several_or_one(as.list(rule)),
    shape = if (!is.null(record$shape)) tree_text(record$shape),
    regardless = if (length(record$regardless) > 0L) several_or_one(as.list(record$regardless))
  )
  Filter(Negate(is.null), said)
}

# A short record that was typed is typed again.
most_typed_lines <- 500L

saved_lines <- function(record) {
  engine <- engine_of(record$book)
  plain <- length(record$book$scope) == 0L && length(record$book$made$worked_out) == 0L
  if (engine$rows > most_typed_lines || !plain) {
    raise("standing", c(paste0("The record ", quoted(record$name), " was not read from a file."),
      ">" = "Give {.fn alongside} the path of its file."))
  }
  ids <- record$book$columns[record$book$made$names]
  columns <- Map(function(name, id) line_values(engine, column_node(name, id)), names(ids), ids)
  names(columns) <- record$made$columns %||% names(columns)
  lapply(seq_len(engine$rows), function(i) {
    one <- lapply(columns, function(values) {
      value <- values[i]
      if (is.numeric(value) && !is.object(value)) value else as.character(value)
    })
    Filter(function(value) !is.na(value), one)
  })
}
