# Orders in several files, or in one that is larger than may be read at once: described as parts,
# which the engine for parts (fold-parts.R) reads one at a time.

# names: of the columns; path: as it was said; wanted: columns that will be asked for
# parts: of each what new_file_part() holds: path; bytes, its size; read, a function of names, and
# of those
#   that are texts, that gives these columns, with what is told of each as the attribute "told"
#   of the list; numbers, those known to be such before they are read
# reading: what was said of it; told: how the files were read, where there is something to tell
new_orders_in_parts <- function(names, parts, path, wanted, reading, told) {
  columns <- list(names = names, parts = parts, path = path, wanted = wanted, reading = reading,
    told = told)
  structure(list(columns), class = "drystack_orders_in_parts")
}

#' @export
names.drystack_orders_in_parts <- function(x) unclass(x)[[1L]]$names

# The files that a path, a pattern such as "orders/*.csv" or a folder means.
files_meant <- function(path) {
  if (dir.exists(path)) {
    files <- list.files(path, full.names = TRUE)
    files <- files[grepl(order_endings, files, ignore.case = TRUE)]
  } else if (file.exists(path) || !grepl("[*?[]", path)) {
    return(path)
  } else {
    files <- Sys.glob(path)
  }
  files <- sort_values(files)
  if (length(files) == 0L) {
    raise("file", c(paste0("No file of orders matches ", quoted(path), "."),
      "i" = paste0("Paths are taken from ", quoted(getwd()), ".")))
  }
  files
}

order_endings <- "[.](csv|tsv|txt|csv[.]gz|tsv[.]gz|jsonl|ndjson|parquet|xlsx|xls|ods|zip)$"

# Whether the orders under a path are read in parts.
in_parts <- function(path) {
  if (path == "-") {
    return(FALSE)
  }
  files <- files_meant(path)
  length(files) > 1L || files != path || is_large_text(files) || is_large_parquet(files)
}

# Text that is larger than may be read at once, and that can be cut.
is_large_text <- function(path) {
  kernel_file_kind(path.expand(path)) == "file" && file.size(path) > most_bytes() &&
    file_form(path) == "text"
}

orders_in_parts <- function(path, reading, wanted) {
  # How far one file is says nothing of all of them.
  rlang::local_options(drystack.progress = NULL)
  paths <- files_meant(path)
  check_said_of_files(paths, reading)
  settled <- said_dates_of_files(paths, reading)
  files <- files_alike(paths, c(reading, list(settled = settled$orders)))
  names <- (first_held(files) %||% files[[1L]])$names
  new_orders_in_parts(names, unlist(lapply(files, `[[`, "parts"), recursive = FALSE),
    path, wanted(names), reading, c(told_of_files(files), settled$told, told_between(files)))
}

files_alike <- function(paths, reading) {
  room <- new.env(parent = emptyenv())
  room$bytes <- most_held()
  files <- lapply(paths, function(path) {
    unless_header_alone(file_in_parts(path, reading, room), path)
  })
  # Where none has order lines it is the error of one such file.
  held <- first_held(files)
  if (is.null(held)) file_in_parts(paths[1L], reading, room)
  for (file in files) check_same_columns(file, held %||% files[[1L]])
  lapply(files, function(file) {
    if (length(file$parts) > 0L) file else header_alone(file$path, file$names)
  })
}

first_held <- function(files) Find(function(file) length(file$parts) > 0L, files)

# In a month without orders an export is a header alone, which among other files is one without
# parts.
unless_header_alone <- function(code, path) {
  rlang::try_fetch(code, drystack_error_file = function(e) {
    if (is.null(e$header)) return(rlang::zap())
    header_alone(path, e$header)
  })
}

header_alone <- function(path, names) {
  structure(list(path = path, names = names, parts = list(),
    told = "a file has a header but no order lines"), class = "drystack_header_alone")
}

# How columns that are said to hold dates are read, as their texts in all files settle it:
# list(orders: by column, told).
said_dates_of_files <- function(paths, reading) {
  dates <- names(reading$types)[reading$types == "date"]
  if (length(dates) == 0L || !is.null(reading$date_order)) {
    return(NULL)
  }
  reading$types[dates] <- "text"
  parts <- unlist(lapply(files_alike(paths, reading), `[[`, "parts"), recursive = FALSE)
  read <- lapply(stats::setNames(nm = dates), function(name) {
    texts <- unlist(lapply(parts, function(part) {
      column <- part$read(name, text = name)[[1L]]
      unique(if (is_coded(column)) column$texts else as.character(column))
    }))
    read_dates(unique(texts[!is_unknown_word(texts)]), name, undated = NULL)
  })
  list(orders = unlist(lapply(read, function(dates) intersect(dates$order, date_orders))),
    told = unlist(lapply(read, `[[`, "told"), use.names = FALSE))
}

# Orders that stand in several files: exports that were saved twice, or whose days overlap.
told_between <- function(files) {
  paths <- vapply(files, `[[`, "", "path")
  same <- same_files(paths)
  copies <- unlist(lapply(same, utils::tail, -1L))
  texts <- Filter(function(file) !is.null(file$text) && !file$path %in% copies, files)
  sizes <- vapply(texts, function(file) file$text$state$size, 0)
  c(
    vapply(same, function(paths) {
      paste0("the files ", words_of(quoted(basename(paths))),
        " hold the same: their amounts are counted more than once")
    }, ""),
    if (length(texts) > 1L && sum(sizes) <= most_compared)
      repeats_between(lapply(texts, function(file) records_of_text(file$text)))
  )
}

records_of_text <- function(file) {
  bytes <- read_or_told(kernel_read_file(path.expand(file$path), file$state$size), file$path)
  list(path = file$path, bytes = utils::tail(bytes, -file$from), line = file$header$next_line)
}

# Those that hold the same bytes, where it is soon known: vectors of paths.
same_files <- function(paths) {
  sizes <- file.size(paths)
  paths <- paths[sizes %in% sizes[duplicated(sizes)] & sizes <= 8 * most_compared]
  sums <- tools::md5sum(path.expand(paths))
  lapply(unique(sums[duplicated(sums)]), function(sum) paths[sums == sum])
}

check_same_columns <- function(file, first) {
  lacking <- setdiff(first$names, file$names)
  more <- setdiff(file$names, first$names)
  if (length(c(lacking, more)) > 0L) {
    raise("column", c(
      "The files do not have the same columns.",
      "x" = paste0(quoted(file$path), " ", if (length(lacking) > 0L) paste0("lacks ",
        quoted(lacking[1L]))
        else paste0("has ", quoted(more[1L])), "; ", quoted(first$path), " ",
        if (length(lacking) > 0L) "has it." else "does not."),
      ">" = "Name files of one export, or rename the column in the file."
    ))
  }
}

# list(path, names, parts) of one file; room: how many bytes of files that are read whole may stay.
file_in_parts <- function(path, reading, room) {
  check_file(path)
  form <- file_form(path)
  if (form == "parquet") {
    return(parquet_in_parts(path, reading))
  }
  text <- if (form == "text") scannable_file(path, reading)
  if (is.null(text)) whole_in_parts(path, reading, room) else text_in_parts(text, reading, room)
}

new_file_part <- function(path, bytes, read, numbers = character()) {
  list(path = path, bytes = bytes, read = read, numbers = numbers)
}

# A file that cannot be cut is one part. Where all of them are small they stay as they are; else
# each is read whole each time, so that only one is in memory.
whole_in_parts <- function(path, reading, room) {
  orders <- orders_in_file(path, reading)
  names <- names(orders)
  told <- attr(orders, "reading")$told
  room$bytes <- room$bytes - as.numeric(utils::object.size(orders))
  if (room$bytes < 0) orders <- NULL
  read <- function(wanted, text) {
    if (!is.null(orders) && all(text %in% names(Filter(is.character, unclass(orders))))) {
      return(unclass(orders)[wanted])
    }
    reading$types <- c(reading$types[setdiff(names(reading$types), text)],
      stats::setNames(rep("text", length(text)), text))
    unclass(orders_in_file(path, reading))[wanted]
  }
  list(path = path, names = names, parts = list(
    new_file_part(path, file.size(path), read)), told = told)
}

text_in_parts <- function(file, reading, room) {
  told <- new_telling(file$path)
  tell_of_form(file, told)
  names <- scanned_names(file, reading, told)
  ends <- part_ends(file)
  starts <- c(file$from, ends[-length(ends)])
  # A file of one part whose text is unusual somewhere is read as any other.
  if (length(ends) == 1L && is.null(scan_columns(file, integer(), NULL, names, reading, told))) {
    return(whole_in_parts(file$path, reading, room))
  }
  tell_of_records(file, told)
  file$points_settled <- made_once(function() have_decimals(file, starts, ends, length(names)))
  part <- function(from, to) {
    force(from)
    force(to)
    new_file_part(file$path, to - from, function(wanted, text) {
      scan_part(file, from, to, names, wanted, text, reading)
    })
  }
  parts <- Map(part, starts, ends)
  kept <- if (is.null(reading$keep)) names else kept_names(names, reading$keep)
  list(path = file$path, names = intersect(names, kept), parts = unname(parts),
    told = told$all(reading)$told, text = file)
}

# Whether some number of a text has a point that can only mark decimals.
have_decimals <- function(file, starts, ends, columns) {
  any(vapply(seq_along(starts), function(i) {
    any(scanned_part(file, starts[i], ends[i], rep(-1L, columns))$decimals %in% TRUE)
  }, NA))
}

# Where the parts of a text end: after the first line end from each multiple of their size on. A
# line end inside a quoted cell is no end of a record: then the part does not fit, and says so.
part_ends <- function(file) {
  size <- file$state$size
  step <- part_bytes()
  near <- if (size - file$from > step) seq(file$from + step, size, by = step) else numeric()
  ends <- vapply(near, function(at) kernel_line_end(path.expand(file$path), at), 0)
  unique(c(ends[ends < size], size))
}

part_bytes <- function() max(2^16, min(2^26, allowed_memory() / 64))

scan_part <- function(file, from, to, names, wanted, text, reading) {
  types <- integer(length(names))
  types[match(wanted, names)] <- -1L
  types[match(intersect(wanted, text), names)] <- 1L
  scanned <- scanned_part(file, from, to, types)
  if (scanned$trouble != "") raise_not_in_parts(file$path, scanned$trouble)
  # Numbers whose points may mark thousands stay text where nothing in the file settles them.
  open <- which(is.na(scanned$decimals) & types == -1L)
  if (length(open) > 0L && !file$points_are_decimal && !any(scanned$decimals, na.rm = TRUE) &&
    !file$points_settled()) {
    return(scan_part(file, from, to, names, wanted, union(text, names[open]), reading))
  }
  told <- list()
  columns <- lapply(stats::setNames(nm = wanted), function(name) {
    place <- match(name, names)
    column <- scanned$columns[[place]]
    own <- new_telling(file$path)
    typed <- if (!name %in% text)
      scanned_column(column, scanned$types[place], name, file$padded[place], reading, own)
    if (file$padded[place] && scanned$types[place] == 1L) tell_padded(list(column), name, own)
    told[[name]] <<- own$all(reading)$told
    typed %||% do.call(new_coded, plain_cells(column, file$padded[place]))
  })
  structure(columns, told = told)
}

raise_not_in_parts <- function(path, trouble) {
  what <- c(
    quotes = "a quote inside a cell, or a cell over several lines",
    width = "a record that does not fit the header", "line ends" = "line ends of two kinds",
    bytes = "bytes that are not UTF-8 text",
    furniture = "a header, a footer or an empty line between the records",
    totals = "what may be a totals line", gaps = "too many different records with empty cells"
  )[[trouble]]
  raise("file", c(
    paste0("The file ", quoted(path), " is read in parts, but has to be read whole."),
    "x" = paste0("It has ", what, "."),
    ">" = "Repair the file, or allow more memory: {.code options(drystack.memory = 64e9)}."
  ))
}
