# Where a build meets what earlier builds told: the only place from which it calls the comparison
# of orders.

# A page that says what changed.
with_changes <- function(document) {
  page <- flat_page(document)
  rollups <- Filter(function(block) {
    block$kind == "rollup" && length(unlist(block$said$by)) > 0L
  }, page)
  if (!says_changes(document) && length(rollups) > 0L) {
    first <- rollups[[1L]]$said
    document$said$page <- c(document$said$page, list(
      list(changes = list(by = first$by, show = first$show))))
  }
  document
}

says_changes <- function(document) any(vapply(flat_page(document), `[[`, "", "kind") == "changes")

# The earlier build that the page speaks of, NULL where it speaks of none.
earlier_build <- function(document, out, name, owner) {
  said <- Filter(function(block) block$kind == "changes", flat_page(document))
  if (length(said) > 0L) told_since(out, name, changes_since(said[[1L]]$said, document,
    said[[1L]]$path), owner)
}

changes_since <- function(said, document, path) {
  since <- as.character(said$since %||% "last build")
  if (since != "last build" && is.na(iso_days(since))) {
    raise_key(document, path, paste0("\"since\" must be a date, not ", value_words(since), "."),
      "Write \"last build\", or a day such as \"2026-09-01\".")
  }
  since
}

# Where the page says what changed, restated periods are marked in all its tables.
marked_parts <- function(parts, document, earlier) {
  if (is.null(earlier$told)) {
    return(parts)
  }
  told <- earlier$told
  found <- restated_periods(told, flat_parts(parts), iso_days(told$as_of))
  lapply(parts, with_restated, found = found, since = paste("on", day_words(iso_days(told$built))))
}

# The block that says what changed, of a report that is being built.
changed_part <- function(said, path, page, earlier) {
  changes_block(said, path, page,
    earlier %||% list(why = "Nothing is compared here: the report is not being built."))
}

# What a build keeps of a page for those after it. Of pages for recipients only those that say what
# changed are compared the next time.
told_of_page <- function(run, variant, page, folder) {
  if (is.null(variant$owner) || says_changes(run$document)) {
    made <- list(document = run$document, book = variant$built$book, values = variant$built$values,
      owner = variant$owner)
    write_told(made, page$tables, folder, run$options$today)
  }
}
