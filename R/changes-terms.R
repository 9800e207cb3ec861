# Terms: what a table is asked by, apart from the order lines, in the words of a standing report, so
# that it can be asked of other lines, and some of it put into other terms.
#
# said:    keys of a standing report, without parameters; block: list(kind, said) of its page
# as_of:   the as-of date; shown: the first and last day shown, no first day where nobody
# asked for one
# calendars, lookups, records: as they are made, where they are not read from what is said
# document:  where messages say it stands

new_terms <- function(said, block, as_of, shown, calendars = NULL, lookups = NULL, records = NULL,
  document = list()) {
  list(said = said, block = block, as_of = as_of, shown = shown, calendars = calendars,
    lookups = lookups,
    records = records, document = document)
}

# The terms of a table in R.
terms_of_table <- function(table) {
  book <- table_book(table)
  kind <- table$kind
  block <- saved_block(table, "", table, book)[[kind]]
  said <- list(
    orders = list(date = date_said_again(book)), lookups = lapply(book$lookups, lookup_said),
    work_out = as.list(book$made$worked_out), records = lapply(book$records, record_said),
    only = as.list(condition_said(Filter(function(one) !isTRUE(one$known), book$scope))),
      covered_to = if (!is.null(book$covered)) format(as_day_date(book$covered)),
      closing = book$closing,
    sort_keys = book$sort_keys, labels = book$labels, measures = saved_measures(list(table))
  )
  said <- Filter(function(v) length(v) > 0L, said)
  new_terms(said, list(kind = kind, said = block), book$as_of, days_asked(table),
    book$calendars, lapply(book$lookups, lookup_table, book = book),
    lapply(book$records, record_table))
}

# The days a table was asked for: open to the beginning where nobody said it, so that an order line
# entered since before the first one is seen.
days_asked <- function(table) {
  c(if (is.null(shown_limits(table_book(table))$from)) NA_integer_ else table$shown$first,
    table$shown$last)
}

lookup_said <- function(lookup) {
  said <- list(file = lookup$name, by = lookup$by, key = lookup$theirs)
  if (nzchar(lookup$prefix)) said$prefix <- lookup$prefix
  said$from <- lookup$from
  said
}

# A lookup as a table again.
lookup_table <- function(lookup, book) {
  engine <- engine_of(book)
  whole <- get(lookup$id, envir = engine$meanings)$table
  if (!is.null(whole)) {
    return(whole)
  }
  columns <- c(list(get(lookup$id, envir = engine$meanings)$keys),
    lapply(lookup$columns, function(name) {
      get(book$columns[[name]], envir = engine$meanings)$values
    }))
  names <- substring(lookup$columns, nchar(lookup$prefix) + 1L)
  structure(stats::setNames(columns, c(lookup$theirs, names)), class = "data.frame",
    row.names = seq_along(columns[[1L]]))
}

# The lines of a record as a table again, by the names they had; of very many none.
record_table <- function(record) {
  engine <- engine_of(record$book)
  if (engine$rows > largest_lookup) {
    return(NULL)
  }
  ids <- record$book$columns[record$book$made$names]
  columns <- Map(function(name, id) line_values(engine, column_node(name, id)), names(ids), ids)
  names <- names(columns)
  names(columns) <- record$made$columns %||% names
  columns[[match(record$book$date, names)]] <- as_day_date(as.integer(line_days(engine)))
  structure(columns, class = "data.frame", row.names = seq_len(engine$rows))
}

# The table of some terms over some order lines. Totals of all are always there.
table_of_terms <- function(terms, lines) {
  from <- terms$document
  document <- new_document(terms$said, from$file %||% "report", from$lines, from$where,
    from$folder %||% ".", isTRUE(from$braces))
  values <- function(book) list(as_of = list(kind = "date", value = as_day_date(terms$as_of)))
  options <- list(outside = TRUE, calendars = terms$calendars, lookups = terms$lookups,
    records = terms$records)
  # Dates that are the terms' own are not those of the report.
  document$said$shown <- NULL
  book <- filled_book(lines, document, values, options)$book
  from <- terms$shown[1L]
  book <- within_dates(book, if (!is.na(from)) as_day_date(from),
    as_day_date(max(terms$shown, na.rm = TRUE)))
  block <- terms$block$said
  block[c("keep", "sort", "shown")] <- NULL
  document$said$measures <- lapply(document$said$measures, function(one) {
    if (is.list(one)) one[c("bar", "history", "marks")] <- NULL
    one
  })
  if (identical(block[["totals"]] %||% "none", "none")) block$totals <- "grand"
  document_block(terms$block$kind, block, document, book, values(book), list("page", 1L))
}

# What can be said otherwise in new terms, in the order in which it is put in. Of each: its words;
# same, whether two terms agree in it; put, the first terms with it as the second have it; told,
# what differs, before and now.
term_parts <- function() {
  list(
    new_term_part("a later as-of date", keys = "covered_to", fields = "as_of",
      told = function(a, b) {
        dates <- c(a$as_of, b$as_of)
        if (dates[1L] == dates[2L]) before_and_now("covered to", a$said$covered_to,
          b$said$covered_to)
          else before_and_now("as of", day_words(dates[1L]), day_words(dates[2L]))
      }),
    new_term_part("another lookup", keys = "lookups", fields = "lookups", same = function(a, b) {
      identical(a$said$lookups, b$said$lookups) && same_tables(a$lookups, b$lookups)
    }, told = lookups_told),
    new_term_part("another record beside the orders", keys = "records", fields = "records",
      same = function(a, b) {
        identical(a$said$records, b$said$records) && same_tables(a$records, b$records)
      }, told = records_told),
    new_term_part("columns worked out otherwise", keys = "work_out", told = function(a, b) {
      named_told(a$said$work_out, b$said$work_out)
    }),
    new_term_part("other conditions", keys = "only", block = "only", told = function(a, b) {
      texts <- lapply(list(a, b), function(one) {
        conditions_texts(c(one$said$only, one$block$said$only))
      })
      gone <- setdiff(texts[[1L]], texts[[2L]])
      came <- setdiff(texts[[2L]], texts[[1L]])
      c(if (length(gone) > 0L) paste("no longer:", paste(gone, collapse = "; ")),
        if (length(came) > 0L) paste("now also:", paste(came, collapse = "; ")))
    }),
    new_term_part("another calendar", keys = "calendars", fields = "calendars",
      same = function(a, b) {
        identical(lapply(a$calendars, `[[`, "id"), lapply(b$calendars, `[[`, "id"))
      }, told = function(a, b) {
        words <- function(one) joined_words(vapply(one$calendars, function(one) one$words$long, ""))
        before_and_now("", words(a), words(b))
      }),
    new_term_part("another measure", keys = "measures", told = function(a, b) {
      shown <- function(one) lapply(one$said$measures, function(m) if (is.list(m)) m$show else m)
      named_told(shown(a), shown(b))
    })
  )
}

# keys: of what is said; fields: of the terms; block: keys of the block.
new_term_part <- function(words, keys, told, fields = character(),
  block = character(), same = NULL) {
  list(
    words = words, told = told,
    same = same %||% function(a, b) {
      identical(a$said[keys], b$said[keys]) && identical(a[fields], b[fields]) &&
        identical(a$block$said[block], b$block$said[block])
    },
    put = function(a, b) {
      a[fields] <- b[fields]
      a$said[keys] <- b$said[keys]
      a$said <- Filter(Negate(is.null), a$said)
      a$block$said[block] <- b$block$said[block]
      a
    }
  )
}

before_and_now <- function(what, before, now) {
  said <- function(text) {
    if (length(text) == 0L) "nothing" else paste(as.character(unlist(text)), collapse = ", ")
  }
  paste0(if (nzchar(what)) paste0(what, " "), said(before), " before, now ", said(now))
}

conditions_texts <- function(only) {
  vapply(conditions_said(only), function(one) {
    if (nzchar(one$called)) paste0(one$called, " (", one$text, ")") else one$text
  }, "")
}

named_told <- function(before, now) {
  names <- union(names(before), names(now))
  other <- Filter(function(name) !identical(before[[name]], now[[name]]), names)
  vapply(other, function(name) {
    before_and_now(paste0(plain_words(name), ":"), before[[name]], now[[name]])
  }, "")
}

# Which lookups differ, and in how many rows.
lookups_told <- function(a, b) {
  known <- lapply(list(a, b), function(terms) {
    stats::setNames(terms$lookups, vapply(terms$said$lookups, lookup_word, ""))
  })
  unlist(lapply(union(names(known[[1L]]), names(known[[2L]])), function(name) {
    here <- vapply(known, function(one) name %in% names(one), NA)
    if (!all(here)) paste(name, if (here[1L]) "no longer" else "now")
      else rows_told(name, known[[1L]][[name]], known[[2L]][[name]])
  }))
}

# What a lookup is called: by its file, also where R's own text reads that.
lookup_word <- function(lookup) {
  path <- sub("^[[:alnum:]_.:]+\\(\"([^\"]*)\".*$", "\\1", as.character(lookup$file))
  file_stem(basename(path))
}

records_told <- function(a, b) {
  unlist(lapply(union(names(a$said$records), names(b$said$records)), function(name) {
    here <- vapply(list(a, b), function(terms) !is.null(terms$said$records[[name]]), NA)
    if (!all(here)) return(paste(name, if (here[1L]) "no longer" else "now"))
    c(if (!identical(a$said$records[[name]], b$said$records[[name]])) paste(name, "said otherwise"),
      rows_told(name, a$records[[name]], b$records[[name]]))
  }))
}

rows_told <- function(name, before, now) {
  if (same_tables(list(before), list(now))) {
    return(NULL)
  }
  rows <- lapply(list(before, now), function(table) row_keys(lapply(table, as.character), "line"))
  n <- length(union(setdiff(rows[[1L]], rows[[2L]]), setdiff(rows[[2L]], rows[[1L]])))
  paste0(name, ", ", format_count(n), if (n == 1L) " row that is" else " rows that are",
    " not in both")
}

same_tables <- function(a, b) {
  length(a) == length(b) && all(vapply(seq_along(a), function(i) {
    is.null(a[[i]]) || is.null(b[[i]]) || identical(lapply(a[[i]], as.character), lapply(b[[i]],
      as.character))
  }, NA))
}

# The terms between two, a step for each part that differs: list(words, table, told). A part that
# makes no sense without the next is put in with it.
terms_between <- function(before, after, try_terms) {
  steps <- list()
  at <- before
  words <- told <- character()
  for (part in term_parts()) {
    if (part$same(at, after)) next
    told <- c(told, paste0(sentence_case(part$words), ": ",
      paste(part$told(at, after), collapse = "; "), "."))
    at <- part$put(at, after)
    words <- c(words, part$words)
    table <- try_terms(at)
    if (!is.null(table)) {
      steps <- c(steps, list(list(words = joined_words(words), table = table, told = told)))
      words <- told <- character()
    }
  }
  if (length(words) > 0L) steps <- c(steps, list(list(words = joined_words(words), table = NULL,
    told = told)))
  steps
}
