#' Keep states of orders, and answer from them
#'
#' If you ask about the same orders again and again, fold them once into small files, by day and by
#' the columns you ask about. A daybook of these files answers what it can without reading the
#' orders: sums, counts, means, extremes and spread of the kept amounts, by date, by the kept
#' columns and by columns worked out from them. For anything else (`behind()`, distinct counts,
#' other columns) it reads the orders as before.
#'
#' @param book A daybook of orders in files, or in a database that was named by text and has a
#'   numeric key of one column (or see `entered`). Its conditions and worked-out columns do not
#'   matter: the states are of all its orders.
#' @param path A folder. `keep_states()` makes it, or replaces the states in it.
#' @param by Columns of the orders: `c(depot, status)`; without it, days alone. The fewer
#'   combinations occur on a day, the smaller the states.
#' @param ... The amounts: columns and expressions of columns, `amount, amount - discount`.
#' @param entered For orders in a database without a numeric key: the column with the day or time
#'   each line was entered, such as `entered_on`.
#' @param all `TRUE`: fold all orders again, not only new ones.
#' @return `keep_states()` and `kept_states()`: orders as [daybook()] takes them. `refresh()`: what
#'   was added, a data frame with `part`, `what` (`new`, `changed`, `gone`, `damaged, folded anew`,
#'   or `not as kept`) and `lines`.
#' @section What is refreshed: `refresh()` reads files that are new or differ in size or time. From
#'   a database it reads lines whose key is greater than any before or, with `entered`, those of the
#'   last day seen and of all later days. Lines changed, removed or restamped in the database are
#'   detected by one query that compares counts and sums by day; every table of the states reports
#'   them until `refresh(path, all = TRUE)` folds all orders again. New states are written beside
#'   the old and listed in `states.json` last, so an interrupted refresh leaves the old ones in
#'   place. One process at a time writes into a folder while others wait. Damaged parts are folded
#'   again, and reported.
#' @section Errors: `drystack_error_states` for a folder without states, damaged ones or those of
#'   another version, for a folder that another process writes for longer than
#'   `options(drystack.states_patience = )` seconds (600), for orders that came from no file, for a
#'   database without a key of numbers, and for lines that do not say when they were entered;
#'   `drystack_error_date` where `entered` holds no days;
#'   `drystack_error_column` for a column that the orders do not have themselves;
#'   `drystack_error_output` where the folder cannot be written.
#' @seealso [daybook()] takes the folder as orders; [read_orders()] reads files each time.
#' @examples
#' book <- daybook(harrowgill_path("orders.csv"), date = ordered_on)
#' folder <- file.path(tempdir(), "states")
#' kept <- keep_states(book, folder, by = c(depot, status), amount)
#' daybook(kept, date = ordered_on) |>
#'   only(status != "cancelled") |>
#'   rollup(by = c(depot, year), sales = sum(amount))
#' refresh(folder)
#' @export
keep_states <- function(book, path, by, ..., entered = NULL) {
  own_setting()
  check_names_whole(sys.call(), c("book", "path", "by", "entered"))
  check_daybook(book)
  check_text(path, "path")
  entered <- rlang::enquo(entered)
  states_kept(book, path, said_axes(rlang::enquo(by)), said_dots(...),
    if (!rlang::quo_is_null(entered)) column_word(entered, unlist(book$made$names), "entered"))
}

# How the orders were read, as JSON can hold it.
kept_reading <- function(made) {
  reading <- made$reading
  reading$date_order <- made$date_order
  for (part in c("rename", "types")) reading[[part]] <- if (!is.null(reading[[part]]))
    as.list(reading[[part]])
  Filter(Negate(is.null), reading)
}

# The columns and amounts as they were said; entered: the name of a column, or NULL.
states_kept <- function(book, path, by, amounts, entered = NULL) {
  axes <- read_axes(by, book)
  amounts <- lapply(amounts, function(said) parse_row(said$expr, book_vocabulary(book, said$env)))
  kept <- list(
    drystack = states_version, orders = kept_orders_of(book), date = book$date,
    reading = kept_reading(book$made),
    timed = holds_times(book), undated = as.list(book$made$undated),
    columns = as.list(book$made$names),
    by = as.list(vapply(unname(axes), own_column, "", book = book)),
    amounts = kept_amounts(amounts, book),
    parts = list()
  )
  kept$entered <- entered
  if (!is.null(entered)) check_entered(kept)
  check_apart(path, kept$orders$path)
  or_cannot_write(path, dir.create(path, showWarnings = FALSE, recursive = TRUE))
  within_states(path, refreshed(kept, path))
  kept_states(path)
}

# Among the orders, states would be taken for orders.
check_apart <- function(path, orders) {
  folders <- if (!is.null(orders)) normalizePath(dirname(files_meant(orders)))
  if (normalizePath(path, mustWork = FALSE) %in% folders) {
    raise("states", c("States are kept in a folder of their own.", "x" = paste0(quoted(path),
      " holds the orders."),
      ">" = "Name another, for example {.val states}."))
  }
}

# Files are told apart by their size and time, whatever they hold.
check_entered <- function(kept) {
  check_column(kept$entered, unlist(kept$columns))
  if (is.null(kept$orders$database)) {
    raise("argument", c("{.arg entered} says what is new in a database: these orders are files.",
      ">" = "Leave it out: new and changed files are seen by themselves."))
  }
}

states_version <- 1L

# Whether the dates of orders have times, of which states know the days alone.
holds_times <- function(book) {
  if (!is.null(book$hours)) {
    return(TRUE)
  }
  some <- column_kind(engine_of(book), column_node(book$date, book$made$columns[[book$date]]))
  inherits(some, "POSIXct")
}

own_column <- function(axis, book) {
  if (axis$kind != "dimension" || !axis$name %in% book$made$names) {
    raise("column", c(paste0("States are kept by columns of the orders: ",
      quoted(axis$name), " is none."),
      ">" = paste0("Columns: ", words_of(book$made$names), ".")))
  }
  axis$name
}

# The amounts as they are kept: by a name of its own the text of each.
kept_amounts <- function(trees, book) {
  for (tree in trees) {
    for (name in setdiff(columns_of(tree), book$made$names)) own_column(
      list(kind = "dimension", name = name), book)
  }
  texts <- lapply(unname(trees), function(tree) {
    list(text = tree_text(tree),
      needs = as.list(kept_needs))
  })
  stats::setNames(texts, paste0("a", seq_along(texts), recycle0 = TRUE))
}

# Where orders are, so that they are found again in another session.
kept_orders_of <- function(book) {
  database <- book$made$database
  if (!is.null(database$text)) {
    return(c(list(database = database$text), database[c("table", "query", "key", "zone")]))
  }
  if (is.null(book$made$path)) {
    raise("states", c("States are kept of orders in files, or in a database that is named by text.",
      ">" = "Give {.fn daybook} the path of the file."))
  }
  list(path = absolute_path(book$made$path))
}

# A path, or a pattern, that means the same wherever it is read.
absolute_path <- function(path) {
  if (file.exists(path)) normalizePath(path)
  else if (grepl("^([/~]|[A-Za-z]:)", path)) path.expand(path)
  else file.path(getwd(), path)
}

#' @rdname keep_states
#' @export
kept_states <- function(path) {
  own_setting()
  check_text(path, "path")
  kept <- whole_states(path)
  kept$path <- path
  kept$by <- unlist(kept$by)
  kept$names <- unlist(kept$columns)
  kept$amounts <- lapply(kept$amounts, function(amount) {
    list(text = amount$text,
      needs = unlist(amount$needs))
  })
  kept$told <- c(told_of_kept(kept), stale_words(kept), compared_words(kept))
  kept$open <- function() taken_orders(orders_again(kept))
  structure(list(kept), class = "drystack_kept_states")
}

# What was said when the parts were read is true of their states.
told_of_kept <- function(kept) {
  told <- lapply(kept$parts, function(part) list(path = part$part, told = unlist(part$told)))
  is_one <- length(told) == 1L || !is.null(kept$orders$database)
  if (is_one) unique(unlist(lapply(told, `[[`, "told"))) else told_of_files(told)
}

# Files that are no longer as they were when their states were kept.
stale_words <- function(kept) {
  if (!is.null(kept$orders$database)) {
    return(NULL)
  }
  now <- rlang::try_fetch(file_parts(kept), drystack_error = function(e) list())
  stamps <- function(parts) sort(vapply(parts, function(part) paste(part$part, part$stamp), ""))
  if (!identical(stamps(now), stamps(kept$parts))) {
    "the orders have changed since their states were kept: refresh() folds what is new"
  }
}

# Since when the states of a database are known to be its orders, and where they are not.
compared_words <- function(kept) {
  if (!is.null(kept$unlike)) paste0("the database has other orders than the states on ",
    count_words(kept$unlike$days, "day"), ", from ", kept$unlike$first, " on",
    if (kept$unlike$lines != 0) paste0(" (", counted_lines(abs(kept$unlike$lines)),
      if (kept$unlike$lines > 0) " more there)" else " fewer there)"),
        ": refresh(all = TRUE) folds them anew")
  else if (!is.null(kept$compared)) paste0("states as of ", kept$compared,
    ", when they were the orders of the database")
}

#' @export
names.drystack_kept_states <- function(x) unclass(x)[[1L]]$names

#' @export
print.drystack_kept_states <- function(x, ...) {
  kept <- unclass(x)[[1L]]
  cat("States of ", format_count(sum(kept$rows$n)), " order lines, by ",
    joined_words(c(kept$date, kept$by)), "\n", sep = "")
  invisible(x)
}

manifest_file <- function(path) file.path(path, "states.json")

holds_states <- function(path) path != "-" && dir.exists(path) && file.exists(manifest_file(path))

read_manifest <- function(path) {
  if (!holds_states(path)) {
    raise("states", c(paste0("There are no states in ", quoted(path), "."),
      ">" = "Keep some with {.fn keep_states}."))
  }
  kept <- rlang::try_fetch(jsonlite::fromJSON(manifest_file(path), simplifyVector = FALSE),
    error = function(e) list())
  if (!identical(as.integer(kept$drystack), states_version) || is.null(kept$by)) {
    raise("states", c(paste0("The states in ", quoted(path),
      " are damaged, or of another version."),
      ">" = "Keep them again with {.fn keep_states}."))
  }
  kept
}

# The states of a folder with their rows. While they are read they may be written anew: then they
# are read again.
whole_states <- function(path) {
  repeat {
    kept <- read_manifest(path)
    rows <- lapply(kept$parts, rows_of_part_of_states, path = path)
    damaged <- which(vapply(rows, is.null, NA))
    if (length(damaged) == 0L) {
      kept$rows <- joined_rows(rows, kept)
      if (is.null(kept$rows)) raise("states", c(paste0("The states in ", quoted(path),
        " hold no order lines."), ">" = "{.fn refresh} folds them when the files have some."))
      return(kept)
    }
    if (identical(parts_listed(path), unlist(lapply(kept$parts, `[[`, "rows")))) {
      raise("states", c(paste0("The states in ", quoted(
        file.path(path, kept$parts[[damaged[1L]]]$rows)),
        " are damaged."), ">" = "{.fn refresh} folds them anew."))
    }
  }
}

# The rows of a part, NULL where it is damaged. A file without order lines has none.
rows_of_part_of_states <- function(part, path) {
  if (is.null(part$rows) && identical(as.numeric(part$lines), 0)) {
    return(data.frame())
  }
  file <- file.path(path, part$rows %||% "")
  rows <- rlang::try_fetch(as.data.frame(nanoparquet::read_parquet(file)), error = function(e) NULL)
  if (!is.null(rows) && identical(sum(rows$n), as.numeric(part$lines))) rows
}

joined_rows <- function(rows, kept) {
  rows <- Filter(nrow, rows)
  columns <- paste0("by", seq_along(kept$by), recycle0 = TRUE)
  texts <- Filter(function(name) {
    any(vapply(rows, function(part) is.character(part[[name]]), NA))
  }, columns)
  do.call(rbind, lapply(rows, function(part) {
    part[texts] <- lapply(part[texts], as_texts)
    part
  }))
}

# The orders that states were made of.
orders_again <- function(kept) {
  if (!is.null(kept$orders$database)) {
    return(do.call(orders_in, c(list(kept$orders$database),
      Filter(Negate(is.null), lapply(kept$orders[
      c("table", "query", "key", "zone")], unlist)))))
  }
  orders_as_needed(kept$orders$path, reading_again(kept), wanted = function(names) character())
}

reading_again <- function(kept) {
  said <- lapply(kept$reading[intersect(names(kept$reading), names(new_reading()))], unlist)
  do.call(checked_reading, said)
}
