# Terms: what a table is asked by, apart from the order lines, in the words of a standing report, so that it
# can be asked of other lines, and some of it put into other terms.
#
# said:    keys of a standing report, without parameters; block: list(kind, said) of its page
# as_of:   the as-of date; shown: the first and last day shown
# calendars, lookups: as they are made, where they are not read from what is said
# source:  where messages say it stands

new_terms <- function(said, block, as_of, shown, calendars = NULL, lookups = NULL, source = list()) {
  list(said = said, block = block, as_of = as_of, shown = shown, calendars = calendars, lookups = lookups,
    source = source)
}

# The terms of a table in R.
terms_of_table <- function(table) {
  book <- table_book(table)
  kind <- table$kind
  block <- saved_block(table, "", table, book)[[kind]]
  said <- list(
    orders = list(date = book$date), lookups = lapply(book$lookups, lookup_said),
    work_out = as.list(book$made$worked_out),
    only = as.list(condition_said(Filter(function(one) !isTRUE(one$known), book$scope))),
      covered_to = if (!is.null(book$covered)) format(as_day_date(book$covered)), closing = book$closing,
    sort_keys = book$sort_keys, labels = book$labels, measures = saved_measures(list(table))
  )
  said <- Filter(function(v) length(v) > 0L, said)
  new_terms(said, list(kind = kind, said = block), book$as_of, c(table$shown$first, table$shown$last),
    book$calendars, lapply(book$lookups, lookup_table, book = book))
}

lookup_said <- function(lookup) {
  said <- list(file = lookup$name, by = lookup$by, key = lookup$theirs)
  if (nzchar(lookup$prefix)) said$prefix <- lookup$prefix
  said
}

# A lookup as a table again.
lookup_table <- function(lookup, book) {
  engine <- engine_of(book)
  columns <- c(list(get(lookup$id, envir = engine$meanings)$keys), lapply(lookup$columns, function(name) {
    get(book$columns[[name]], envir = engine$meanings)$values
  }))
  names <- substring(lookup$columns, nchar(lookup$prefix) + 1L)
  structure(stats::setNames(columns, c(lookup$theirs, names)), class = "data.frame",
    row.names = seq_along(columns[[1L]]))
}

# The table of some terms over some order lines. Totals of all are always there.
table_of_terms <- function(terms, lines) {
  source <- c(list(said = terms$said), terms$source)
  source$file <- source$file %||% "report"
  source$folder <- source$folder %||% "."
  values <- function(book) list(as_of = list(kind = "date", value = as_day_date(terms$as_of)))
  options <- list(outside = TRUE, calendars = terms$calendars, lookups = terms$lookups)
  # Dates that are the terms' own are not those of the report.
  source$said$shown <- NULL
  book <- filled_book(lines, source, values, options)$book
  book <- within_dates(book, as_day_date(terms$shown[1L]), as_day_date(max(terms$shown)))
  block <- terms$block$said
  block[c("keep", "sort", "shown")] <- NULL
  source$said$measures <- lapply(source$said$measures, function(one) {
    if (is.list(one)) one[c("bar", "history", "marks")] <- NULL
    one
  })
  if (identical(block$totals %||% "none", "none")) block$totals <- "grand"
  standing_block(terms$block$kind, block, source, book, values(book), list("page", 1L))
}

# What can be said otherwise in new terms, in the order in which it is put in: the words for it, and how.
term_parts <- function() {
  key <- function(names) {
    list(same = function(a, b) identical(a$said[names], b$said[names]), put = function(a, b) {
      a$said[names] <- b$said[names]
      a$said <- Filter(Negate(is.null), a$said)
      a
    })
  }
  field <- function(names) {
    list(same = function(a, b) identical(a[names], b[names]), put = function(a, b) {
      replace(a, names,
        b[names])
    })
  }
  lookups <- list(
    same = function(a, b) identical(a$said$lookups, b$said$lookups) && same_tables(a$lookups, b$lookups),
    put = function(a, b) {
      a$lookups <- b$lookups
      key("lookups")$put(a, b)
    }
  )
  calendars <- list(
    same = function(a, b) identical(lapply(a$calendars, `[[`, "id"), lapply(b$calendars, `[[`, "id")),
    put = function(a, b) key("calendars")$put(field("calendars")$put(a, b), b)
  )
  list(
    "a later as-of date" = list(
      same = function(a, b) identical(a$as_of, b$as_of) && key("covered_to")$same(a, b),
      put = function(a, b) key("covered_to")$put(field("as_of")$put(a, b), b)
    ),
    "another lookup" = lookups, "columns worked out otherwise" = key("work_out"),
    "other conditions" = list(
      same = function(a, b) {
        key("only")$same(a, b) && identical(a$block$said$only, b$block$said$only)
      },
      put = function(a, b) {
        a$block$said$only <- b$block$said$only
        key("only")$put(a, b)
      }
    ),
    "another calendar" = calendars, "another measure" = key("measures")
  )
}

same_tables <- function(a, b) {
  length(a) == length(b) && all(vapply(seq_along(a), function(i) {
    is.null(a[[i]]) || is.null(b[[i]]) || identical(lapply(a[[i]], as.character), lapply(b[[i]],
      as.character))
  }, NA))
}

# The terms between two, a step for each part that differs: list(words, table). A part that makes no sense
# without the next is put in with it.
terms_between <- function(before, after, try_terms) {
  steps <- list()
  at <- before
  words <- character()
  parts <- term_parts()
  for (name in names(parts)) {
    if (parts[[name]]$same(at, after)) next
    at <- parts[[name]]$put(at, after)
    words <- c(words, name)
    table <- try_terms(at)
    if (!is.null(table)) {
      steps <- c(steps, list(list(words = joined_words(words), table = table)))
      words <- character()
    }
  }
  if (length(words) > 0L) steps <- c(steps, list(list(words = joined_words(words), table = NULL)))
  steps
}
