# The pages of a build: each is made and written aside, here or in a process of its own; then all
# that were made are moved into place.

handed_out <- function(variants, run, set) {
  aside <- folder_aside(run$out)
  on.exit(unlink(aside, recursive = TRUE))
  run$manifest <- kept_manifest(run$out, run$name)
  outcomes <- made_pages(variants$pages, run, aside)
  failed <- vapply(outcomes, function(one) !is.null(one$error), NA)
  if (any(failed) && !run$options$delivery$keep_going) raise_of_page(outcomes[[which(failed)[1L]]])
  if (all(failed)) raise_all_failed(outcomes)
  made <- outcomes[!failed]
  move_all(unlist(lapply(made, `[[`, "written")), aside, run$out)
  for (one in made) if (!is.null(one$told_aside))
    keep_told(file.path(aside, one$told_aside), run$out,
    paste0(run$name, one$ending), run$options$delivery$keep_builds)
  built <- new_build(made, outcomes[failed], run, variants$recipients)
  if (!is.null(variants$recipients)) {
    told <- c(variants$recipients$told, gone_words(variants$recipients$all,
      run$options$delivery$key, run))
    built$told <- c(built$told, told)
    keep_endings(variants$pages, run$options$delivery$key, run$out, run$name)
    keep_manifest(built, outcomes, variants$recipients, run)
  }
  built
}

# What became of each page: see made_page().
made_pages <- function(pages, run, aside) {
  at_once <- if (forks_orders(pages[[1L]]$built$book)) min(run$options$delivery$at_once,
    length(pages)) else 1L
  made <- function(places, step = function() NULL) {
    with_printer(lapply(places, function(i) {
      step()
      outcome_of_page(pages[[i]], i, run, aside)
    }))
  }
  if (at_once < 2L) {
    return(made(seq_along(pages), build_progress(length(pages))))
  }
  # The first is made here: what it reads and loads is there for all processes.
  outcomes <- c(made(1L), vector("list", length(pages) - 1L))
  others <- seq_along(pages)[-1L]
  pieces <- unname(split(others, sort(rep_len(seq_len(4L * at_once), length(others)))))
  in_processes(length(pieces), at_once, function(piece) made(pieces[[piece]]),
    function(found, piece) outcomes[pieces[[piece]]] <<- found, function(piece) {
      raise("output", "A process that made pages has died: is there memory enough?")
    })
  outcomes
}

# A connection is not shared with other processes.
forks_orders <- function(book) forks_safely() && !inherits(engine_of(book), "drystack_database")

# What became of a page, its error too where it is one of ours.
outcome_of_page <- function(page, i, run, aside) {
  made <- rlang::try_fetch(made_page(page, i, run, aside), drystack_error = function(e) {
    list(error = without_calls(e), why = rlang::cnd_message(e))
  })
  c(made, page[c("ending", "recipient")])
}

# list(files, written: those that are not left as they stand; content, sums, told_aside, and what a
# build tells of its pages)
made_page <- function(variant, i, run, aside) {
  run$options$earlier <- earlier_build(run$document, run$out,
    paste0(run$name, variant$ending), variant$owner)
  page <- standing_page(run$document, variant, run$options)
  bundle <- as_bundle(page$page)
  content <- if (!is.null(variant$recipient)) content_sum(bundle, page$page, run)
  files <- unchanged_files(variant, content, run)
  written <- if (is.null(files)) write_page(bundle, run, variant$ending, aside)
  stem <- told_of_page(run, variant, page, file.path(aside, paste0("told-", i)))
  list(
    files = files %||% written, written = written, content = content,
    sums = file_sums(if (is.null(files)) file.path(aside, written) else file.path(run$out, files)),
    told_aside = if (!is.null(stem)) paste0("told-", i),
    told_at = if (!is.null(stem)) file.path(told_folder(run$out,
      paste0(run$name, variant$ending)), stem),
    warnings = as.character(page$warnings), told = page$told,
    rows = sum(vapply(page$tables, function(table) length(table$role), 1L)),
    notes = unique(c(bundle$told, unlist(lapply(page$changes, function(x) all_notes(x$own))))),
    as_of = variant$built$book$as_of,
    values = lapply(page$values, function(v) parameter_words(v$value)),
    said_changed = unlist(lapply(page$changes, format, width = 100L))
  )
}

# The error of a page, with whose it is.
raise_of_page <- function(outcome) {
  error <- outcome$error
  if (!is.null(outcome$recipient)) error$body <- c(error$body, "i" = paste0("This is the page of ",
    recipient_words(outcome$recipient), "."))
  rlang::cnd_signal(error)
}

raise_all_failed <- function(outcomes) {
  if (length(outcomes) == 1L) raise_of_page(outcomes[[1L]])
  raise("standing", c("No page could be made; nothing was written.",
    "x" = braces_kept(first_line_of(outcomes[[1L]]$why))))
}

first_line_of <- function(text) strsplit(text, "\n", fixed = TRUE)[[1L]][1L]

new_build <- function(made, failed, run, recipients) {
  of <- function(field) unlist(lapply(made, `[[`, field))
  warnings <- unlist(lapply(made, function(one) {
    if (is.null(one$recipient)) one$warnings else paste0(one$recipient$name, ": ", one$warnings,
      recycle0 = TRUE)
  }))
  structure(
    list(
      files = file.path(run$out, of("files")), changed = TRUE, parameters = made[[1L]]$values,
      rows = sum(of("rows")), notes = unique(of("notes")),
      warnings = as.character(unique(warnings)),
      said_changed = made[[1L]]$said_changed %||% character(),
      told = as.character(unique(of("told"))),
      told_at = of("told_at"), tie_out = !any(startsWith(as.character(of("warnings")), "tie-out")),
      unchanged = file.path(run$out, setdiff(of("files"), of("written"))),
      failures = lapply(failed, function(one) {
        c(one$recipient[c("key", "name")], list(why = first_line_of(one$why)))
      })
    ),
    class = "drystack_build"
  )
}
