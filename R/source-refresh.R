# What is new of the orders whose states are kept, folded into parts of their own: of files each
# file, of a database the lines past the last key, or those entered since.

#' @rdname keep_states
#' @export
refresh <- function(path, all = FALSE) {
  own_setting()
  check_text(path, "path")
  check_flag(all, "all")
  read_manifest(path)
  within_states(path, {
    kept <- sound_states(read_manifest(path), path)
    if (all) kept$parts <- list()
    refreshed(kept, path)
  })
}

# One at a time writes into a folder of states; the others wait, and say so. The work is a promise
# that is kept once the folder is locked.
within_states <- function(path, work) {
  lock <- states_lock(path)
  on.exit(kernel_give_back_lock(lock))
  force(work)
}

states_lock <- function(path) {
  file <- file.path(path.expand(path), ".lock")
  most <- states_patience()
  begun <- proc.time()[["elapsed"]]
  told <- FALSE
  repeat {
    lock <- or_cannot_write(path, kernel_lock_file(file))
    waited <- proc.time()[["elapsed"]] - begun
    if (!is.null(lock)) {
      return(lock)
    }
    if (waited > most) {
      raise("states", c(paste0("Another process has been writing the states in ", quoted(path),
        " for more than {most} second{?s}."),
        ">" = paste0("Try again when it has ended, or wait: {.code ",
          "options(drystack.states_patience = 3600)}.")))
    }
    if (!told && waited > 1) {
      told <- TRUE
      rlang::inform(paste0("Waiting for another process that writes the states in ", path, "."))
    }
    Sys.sleep(0.1)
  }
}

# Seconds that one waits for another to have written.
states_patience <- function() {
  check_whole(getOption("drystack.states_patience", 600L),
    "options(drystack.states_patience)", 0L, 86400L)
}

# States without the parts that cannot be read any more: these are folded anew. Of a database one
# part says where the next begins, so that all are.
sound_states <- function(kept, path) {
  is_sound <- vapply(kept$parts, function(part) !is.null(rows_of_part_of_states(part, path)), NA)
  kept$damaged <- vapply(kept$parts[!is_sound], `[[`, "", "part")
  kept$parts <- if (is.null(kept$orders$database) || all(is_sound)) kept$parts[is_sound] else list()
  kept
}

# Folds what is new or changed, and names all parts anew: a data frame that says what was added.
refreshed <- function(kept, path) {
  news <- if (is.null(kept$orders$database)) news_of_files(kept, path)
    else if (is.null(kept$entered)) news_past_key(kept, path)
    else news_entered(kept, path)
  told <- with_damaged(news$told, kept$damaged)
  kept$damaged <- NULL
  kept$parts <- news$parts
  if (!is.null(news$asked)) {
    kept$unlike <- unlike_orders(kept, news$asked, path)
    kept$compared <- format(Sys.time(), "%Y-%m-%d %H:%M")
    told <- rbind(told, told_unlike(kept$unlike))
  }
  write_manifest(kept, path)
  told
}

# Where the orders of a database are others than the states, as when older lines were changed,
# removed or stamped anew: list(days: how many, first, lines: how many more or fewer are there),
# NULL where none is. One query counts and adds up all lines by day.
unlike_orders <- function(kept, asked, path) {
  by_day <- function(rows) {
    merged_rows(rows[setdiff(names(rows), paste0("by", seq_along(kept$by)))], 0L,
      names(kept$amounts))
  }
  there <- by_day(partial_rows(asked$engine, list(), asked$amounts))
  rows <- lapply(kept$parts, rows_of_part_of_states, path = path)
  here <- if (length(rows) > 0L) by_day(joined_rows(rows, kept)) else there[0L, , drop = FALSE]
  days <- unique(c(there$day, here$day))
  differ <- Reduce(`|`, lapply(c("n", paste0(names(kept$amounts), "_sum", recycle0 = TRUE)),
    function(name) {
      values <- lapply(list(there, here), function(rows) {
        value <- as.numeric(rows[[name]])[match(days, rows$day)]
        ifelse(is.na(value), 0, value)
      })
      abs(values[[1L]] - values[[2L]]) > 1e-9 * (abs(values[[1L]]) + abs(values[[2L]]))
    }))
  if (any(differ)) list(days = sum(differ), first = format(
    as_day_date(min(days[differ], na.rm = TRUE))),
    lines = sum(there$n) - sum(here$n))
}

told_unlike <- function(unlike) {
  if (is.null(unlike)) {
    return(news_told())
  }
  news_told(paste0("orders of ", count_words(unlike$days, "day"), " from ", unlike$first, " on"),
    "not as kept: refresh(all = TRUE) folds them anew", unlike$lines)
}

# What was damaged and is folded anew is neither new nor changed.
with_damaged <- function(told, damaged) {
  damaged <- as.character(damaged)
  told$what[told$part %in% c(damaged, basename(damaged))] <- "damaged, folded anew"
  lost <- setdiff(basename(damaged), basename(told$part))
  rbind(told, news_told(lost, rep("damaged, folded anew", length(lost)), rep(0, length(lost))))
}

news_told <- function(part = character(), what = character(), lines = numeric()) {
  data.frame(part = part, what = what, lines = lines)
}

news_of_files <- function(kept, path) {
  now <- file_parts(kept)
  names_of <- function(parts) vapply(parts, `[[`, "", "part")
  before <- stats::setNames(kept$parts, names_of(kept$parts))
  is_same <- vapply(now, function(part) identical(before[[part$part]]$stamp, part$stamp), NA)
  gone <- setdiff(names(before), names_of(now))
  added <- parts_of_files(now[!is_same], kept, path)
  is_new <- vapply(now[!is_same], function(part) is.null(before[[part$part]]), NA)
  lines <- function(parts) vapply(unname(parts), function(part) as.numeric(part$lines), 0)
  told <- news_told(
    part = short_names(c(names_of(now[!is_same]), gone)),
    what = c(ifelse(is_new, "new", "changed"), rep("gone", length(gone))),
    lines = c(lines(added), -lines(before[gone]))
  )
  list(parts = c(lapply(now[is_same], function(part) before[[part$part]]), added),
    told = told[told$lines != 0 | told$what != "new", , drop = FALSE])
}

# Files by their names alone, where these tell them apart.
short_names <- function(parts) if (anyDuplicated(basename(parts)) > 0L) parts else basename(parts)

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

# Parts of files, as many at once as is worth while.
parts_of_files <- function(parts, kept, path) {
  one <- function(i) part_of_file(parts[[i]], kept, path)
  at_once <- if (length(parts) > 1L) processes_at_once(
    file.size(vapply(parts, `[[`, "", "file"))) else 1L
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

part_of_file <- function(part, kept, path) {
  opened <- unless_header_alone(orders_as_needed(part$file, reading_again(kept), function(names) {
    columns_spoken_of(names, c(kept$date, kept$by, lapply(kept$amounts, `[[`, "text")))
  }), part$file)
  if (inherits(opened, "drystack_header_alone")) {
    check_same_columns(opened, list(path = kept$orders$path, names = unlist(kept$columns)))
    return(c(part[c("part", "stamp")], list(told = list(opened$told), lines = 0)))
  }
  asked <- orders_asked(opened, kept)
  rows <- partial_rows(asked$engine, asked$by, asked$amounts)
  told <- unique(c(asked$told, told_of_columns(asked$engine)))
  written_part(rows, c(part[c("part", "stamp")], list(told = as.list(told))), path)
}

# Of a database the lines whose key is greater than any before.
news_past_key <- function(kept, path) {
  last <- last_of_parts(kept)
  asked <- orders_asked(orders_again(kept), kept)
  found <- partial_rows_past(asked$engine, asked$by, asked$amounts, last)
  name <- paste0("after ", last %||% "the beginning")
  if (nrow(found$rows) == 0L) {
    return(list(parts = kept$parts, told = news_told(), asked = asked))
  }
  added <- written_part(found$rows, list(part = name, stamp = "new", last = found$last,
    told = as.list(asked$told)), path)
  list(parts = c(kept$parts, list(added)), told = news_told(name, "new",
    added$lines), asked = asked)
}

# The greatest key that was seen, or the day from which lines are folded again; NULL before
# the first.
last_of_parts <- function(kept) {
  if (length(kept$parts) > 0L) max(vapply(kept$parts, function(part) as.numeric(part$last), 0))
}

# Of a database whose lines have the day they were entered: what was entered before the last of
# these days is folded once; to that day lines may still come, so it is folded again each time.
news_entered <- function(kept, path) {
  is_open <- vapply(kept$parts, function(part) identical(part$stamp, "open"), NA)
  open <- kept$parts[is_open]
  # Where the lines of the last day were all removed there is no such part.
  from <- last_of_parts(kept)
  asked <- orders_asked(orders_again(kept), kept)
  entered <- entered_column(asked$engine, kept$entered)
  last <- max(last_day_of(asked$engine, entered), from)
  fold <- function(stamp, name, from, to) {
    rows <- partial_rows_entered(asked$engine, asked$by, asked$amounts, entered, from, to)
    part <- list(part = name, stamp = stamp, last = last, told = as.list(asked$told))
    if (nrow(rows) > 0L) list(written_part(rows, part, path))
  }
  day <- function(day) format(as_day_date(day))
  added <- c(
    if (is.null(from) || from < last) fold("closed",
      paste("entered before", day(last)), from, last),
    fold("open", paste("entered from", day(last), "on"), last, NULL)
  )
  lines <- function(parts) sum(vapply(parts, function(part) as.numeric(part$lines), 0))
  more <- lines(added) - lines(open)
  name <- if (is.null(from)) "all orders" else paste("entered from", day(from), "on")
  list(parts = c(kept$parts[!is_open], added), asked = asked,
    told = if (more == 0) news_told() else news_told(name, if (more > 0) "new" else "gone", more))
}

# Orders with the columns and amounts that are kept of them: list(engine, by, amounts; told: what is
# said of reading them).
orders_asked <- function(opened, kept) {
  taken <- taken_orders(opened)
  engine <- as_engine(taken, list(name = kept$date, order = unlist(kept$reading$date_order),
    undated = as.character(unlist(kept$undated))))
  ids <- source_ids(engine, taken, unlist(kept$columns))
  vocabulary <- new_vocabulary(columns = ids)
  amounts <- lapply(kept$amounts, function(amount) {
    list(tree = parse_row(kept_expression(amount$text), vocabulary), text = amount$text,
      needs = kept_needs)
  })
  list(engine = engine, by = ids[unlist(kept$by)], amounts = amounts,
    told = c(taken$reading$told, engine$told))
}

# The expression of an amount, as it was written; it is read by the row language alone.
kept_expression <- function(text) {
  rlang::try_fetch(parse(text = text, keep.source = FALSE)[[1L]], error = function(e) {
    raise("states", c("An amount of the states is not an expression.", "x" = "It is {.val {text}}.",
      ">" = "Keep them again with {.fn keep_states}."))
  })
}

# The rows of a part in a file of their own: the part with its file and lines.
written_part <- function(rows, part, path) {
  name <- paste0("states-", rlang::hash(list(part, Sys.time())), ".parquet")
  write_whole(file.path(path, name), function(aside) nanoparquet::write_parquet(rows, aside))
  c(part, list(rows = name, lines = sum(rows$n)))
}

write_manifest <- function(kept, path) {
  before <- parts_listed(path)
  write_whole(manifest_file(path), function(aside) {
    write_text_lines(jsonlite::toJSON(kept, auto_unbox = TRUE, digits = NA, null = "null",
      pretty = 1), aside)
  })
  # Who read the list before may still open its parts: they are removed the next time.
  named <- c(unlist(lapply(kept$parts, `[[`, "rows")), before)
  unlink(file.path(path, setdiff(list.files(path, "^states-.*[.]parquet$"), named)))
}

# The files that the list in a folder names, where it has one.
parts_listed <- function(path) {
  kept <- rlang::try_fetch(read_manifest(path), drystack_error = function(e) NULL)
  unlist(lapply(kept$parts, `[[`, "rows"))
}
