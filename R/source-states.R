#' Keep states of orders, and ask these instead
#'
#' Orders that are asked again and again are folded once by day and by the columns that asks speak of,
#' into small files. A daybook of them answers what they can answer (sums, counts, means, extremes and
#' spread of the kept amounts, by the date, by the kept columns and by what is worked out of these, in
#' their scope) without reading orders; all else it asks of the orders as before: `behind()`, distinct
#' counts, other columns.
#'
#' @param book A daybook of orders in files, or in a database that was named by text and has one column
#'   of numbers as its key. What was worked out or limited in it does not matter: the states are those of
#'   all its orders.
#' @param path A folder. `keep_states()` makes it, or replaces the states in it.
#' @param by Columns of the orders: `c(depot, status)`. The fewer combinations of them there are on a day,
#'   the smaller are the states.
#' @param ... The amounts: columns and expressions of columns, `amount, amount - discount`.
#' @return `keep_states()` and `kept_states()`: orders as [daybook()] takes them. `refresh()`: what was
#'   added, a data frame with `part`, `what` (`new`, `changed` or `gone`) and `lines`.
#' @section What is refreshed: `refresh()` reads the files that are new or have another size or time, and
#'   of a database the lines whose key is greater than any before; lines that were changed there are not
#'   seen. States are written aside and named last in `states.json`: when it is ended at any moment, the
#'   states before still stand.
#' @section Errors: `drystack_error_states` for a folder without states, damaged ones or those of another
#'   version, and for orders that came from no file; `drystack_error_column` for a column that the orders
#'   do not have themselves; `drystack_error_output` where the folder cannot be written.
#' @examples
#' book <- daybook(harrowgill_path("orders.csv"), date = ordered_on)
#' folder <- file.path(tempdir(), "states")
#' kept <- keep_states(book, folder, by = c(depot, status), amount)
#' daybook(kept, date = ordered_on) |>
#'   only(status != "cancelled") |>
#'   rollup(by = c(depot, year), sales = sum(amount))
#' refresh(folder)
#' @export
keep_states <- function(book, path, by, ...) {
  own_setting()
  check_names_whole(sys.call(), c("book", "path", "by"))
  check_daybook(book)
  check_text(path, "path")
  states_kept(book, path, said_axes(rlang::enquo(by)), said_dots(...))
}

# The columns and amounts as they were said.
states_kept <- function(book, path, by, amounts) {
  axes <- read_axes(by, book)
  amounts <- lapply(amounts, function(said) parse_row(said$expr, book_vocabulary(book, said$env)))
  kept <- list(
    drystack = states_version, orders = kept_orders_of(book), date = book$date,
    reading = Filter(Negate(is.null), c(book$made$reading, list(date_order = book$made$date_order))),
    timed = holds_times(book), undated = as.list(book$made$undated), columns = as.list(book$made$names),
    by = as.list(vapply(unname(axes), own_column, "", book = book)), amounts = kept_amounts(amounts, book),
    parts = list()
  )
  check_apart(path, kept$orders$path)
  or_cannot_write(path, dir.create(path, showWarnings = FALSE, recursive = TRUE))
  refreshed(kept, path)
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

states_version <- 1L

# Whether the dates of orders have times, of which states know the days alone.
holds_times <- function(book) {
  some <- column_kind(engine_of(book), column_node(book$date, book$made$columns[[book$date]]))
  inherits(some, "POSIXct")
}

own_column <- function(axis, book) {
  if (axis$kind != "dimension" || !axis$name %in% book$made$names) {
    raise("column", c(paste0("States are kept by columns of the orders: ", quoted(axis$name), " is none."),
      ">" = paste0("Columns: ", words_of(book$made$names), ".")))
  }
  axis$name
}

# The amounts as they are kept: by a name of its own the text of each.
kept_amounts <- function(trees, book) {
  for (tree in trees) {
    for (name in setdiff(columns_of(tree), book$made$names)) own_column(list(kind = "dimension", name = name),
      book)
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
  kept <- read_manifest(path)
  kept$rows <- rows_of_states(kept, path)
  kept$path <- path
  kept$by <- unlist(kept$by)
  kept$names <- unlist(kept$columns)
  kept$amounts <- lapply(kept$amounts, function(amount) {
    list(text = amount$text,
      needs = unlist(amount$needs))
  })
  kept$told <- stale_words(kept)
  kept$open <- function() taken_orders(orders_again(kept))
  structure(list(kept), class = "drystack_kept_states")
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

#' @export
names.drystack_kept_states <- function(x) unclass(x)[[1L]]$names

#' @export
print.drystack_kept_states <- function(x, ...) {
  kept <- unclass(x)[[1L]]
  cat("States of ", format_count(sum(kept$rows$n)), " order lines, by ", joined_words(c(kept$date, kept$by)),
    "\n", sep = "")
  invisible(x)
}

#' @rdname keep_states
#' @export
refresh <- function(path) {
  own_setting()
  check_text(path, "path")
  refreshed(read_manifest(path), path)
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
    raise("states", c(paste0("The states in ", quoted(path), " are damaged, or of another version."),
      ">" = "Keep them again with {.fn keep_states}."))
  }
  kept
}

# The rows of all parts: a part that is damaged is an error that names it.
rows_of_states <- function(kept, path) {
  rows <- lapply(kept$parts, function(part) {
    file <- file.path(path, part$rows)
    rows <- rlang::try_fetch(as.data.frame(nanoparquet::read_parquet(file)), error = function(e) NULL)
    if (is.null(rows) || !identical(sum(rows$n), as.numeric(part$lines))) {
      raise("states", c(paste0("The states in ", quoted(file), " are damaged."),
        ">" = "Keep them again with {.fn keep_states}."))
    }
    rows
  })
  columns <- paste0("by", seq_along(kept$by), recycle0 = TRUE)
  texts <- Filter(function(name) any(vapply(rows, function(part) is.character(part[[name]]), NA)), columns)
  do.call(rbind, lapply(rows, function(part) {
    part[texts] <- lapply(part[texts], as_texts)
    part
  }))
}

# The orders that states were made of.
orders_again <- function(kept) {
  if (!is.null(kept$orders$database)) {
    return(do.call(orders_in, c(list(kept$orders$database), Filter(Negate(is.null), lapply(kept$orders[
      c("table", "query", "key", "zone")], unlist)))))
  }
  orders_as_needed(kept$orders$path, reading_again(kept), wanted = function(names) character())
}

reading_again <- function(kept) {
  said <- lapply(kept$reading[intersect(names(kept$reading), names(new_reading()))], unlist)
  do.call(checked_reading, said)
}

# Folds what is new or changed, and names all parts anew: a data frame that says what was added.
refreshed <- function(kept, path) {
  now <- if (is.null(kept$orders$database)) file_parts(kept) else database_parts(kept)
  before <- stats::setNames(kept$parts, vapply(kept$parts, `[[`, "", "part"))
  is_same <- vapply(now, function(part) identical(before[[part$part]]$stamp, part$stamp), NA)
  gone <- if (is.null(kept$orders$database)) setdiff(names(before), vapply(now, `[[`, "", "part"))
  added <- kept_parts(now[!is_same], kept, path)
  told <- data.frame(
    part = short_names(c(vapply(now[!is_same], `[[`, "", "part"), gone)),
    what = c(ifelse(vapply(now[!is_same], function(part) is.null(before[[part$part]]), NA), "new", "changed"),
      rep("gone", length(gone))),
    lines = c(vapply(added, function(part) part$lines, 0), vapply(unname(before[gone]),
      function(part) -part$lines, 0))
  )
  kept$parts <- if (is.null(kept$orders$database)) c(lapply(now[is_same], function(part) before[[part$part]]),
    added)
    else c(unname(before), Filter(function(part) part$lines > 0, added))
  write_manifest(kept, path)
  told[told$lines != 0 | told$what != "new", , drop = FALSE]
}

# Files by their names alone, where these tell them apart.
short_names <- function(parts) if (anyDuplicated(basename(parts)) > 0L) parts else basename(parts)

write_manifest <- function(kept, path) {
  write_whole(manifest_file(path), function(aside) {
    write_text_lines(jsonlite::toJSON(kept, auto_unbox = TRUE, digits = NA, null = "null", pretty = 1), aside)
  })
  named <- vapply(kept$parts, `[[`, "", "rows")
  unlink(file.path(path, setdiff(list.files(path, "^states-.*[.]parquet$"), named)))
}

# Each file by its size and time.
file_parts <- function(kept) {
  files <- files_meant(kept$orders$path)
  lapply(files, function(file) {
    check_file(file)
    known <- file.info(file)
    list(part = file, file = file, stamp = paste(format(known$size, scientific = FALSE),
      format(as.numeric(known$mtime), digits = 20L)))
  })
}

# Of a database the lines past the last key.
database_parts <- function(kept) {
  last <- if (length(kept$parts) > 0L) max(vapply(kept$parts, function(part) as.numeric(part$last), 0))
  list(list(part = paste0("after ", last %||% "the beginning"), stamp = "new", past = last))
}

# The expression of an amount, as it was written; it is read by the row language alone.
kept_expression <- function(text) {
  rlang::try_fetch(parse(text = text, keep.source = FALSE)[[1L]], error = function(e) {
    raise("states", c("An amount of the states is no expression.", "x" = "It is {.val {text}}.",
      ">" = "Keep them again with {.fn keep_states}."))
  })
}

# One part folded and written: its rows, lines and stamp.
# Parts of files, as many at once as is worth while.
kept_parts <- function(parts, kept, path) {
  one <- function(i) kept_part(parts[[i]], kept, path)
  at_once <- if (length(parts) > 1L) processes_at_once(file.size(vapply(parts, `[[`, "", "file"))) else 1L
  if (at_once < 2L) {
    return(lapply(seq_along(parts), one))
  }
  each <- max(1L, thread_count() %/% at_once)
  done <- vector("list", length(parts))
  in_processes(length(parts), at_once, function(i) {
    rlang::local_options(drystack.threads = each)
    one(i)
  }, function(part, i) done[[i]] <<- part, function(i) raise_ended(parts[[i]]$file))
  done
}

kept_part <- function(part, kept, path) {
  opened <- if (is.null(part$file)) orders_again(kept)
    else orders_as_needed(part$file, reading_again(kept), wanted = function(names) {
      columns_spoken_of(names, c(kept$date, kept$by, lapply(kept$amounts, `[[`, "text")))
    })
  taken <- taken_orders(opened)
  engine <- as_engine(taken, list(name = kept$date, order = unlist(kept$reading$date_order),
    undated = as.character(unlist(kept$undated))))
  ids <- vapply(stats::setNames(nm = unlist(kept$columns)), function(name) {
    new_meaning(engine,
      taken$meaning(name))
  }, "")
  vocabulary <- new_vocabulary(columns = ids)
  amounts <- lapply(kept$amounts, function(amount) {
    list(tree = parse_row(kept_expression(amount$text), vocabulary), text = amount$text, needs = kept_needs)
  })
  found <- if (is.null(part$file)) partial_rows_past(engine, ids[unlist(kept$by)], amounts, part$past)
    else list(rows = partial_rows(engine, ids[unlist(kept$by)], amounts))
  name <- paste0("states-", rlang::hash(list(part$part, part$stamp, Sys.time())), ".parquet")
  write_whole(file.path(path, name), function(aside) nanoparquet::write_parquet(found$rows, aside))
  Filter(Negate(is.null), list(part = part$part, stamp = part$stamp, rows = name, lines = sum(found$rows$n),
    last = found$last))
}
