# What an ask becomes: the same in R, as a command, and as a standing report.
#
# Each is text, or a line that says why there is none.

explored_texts <- function(seen) {
  texts <- list(r = explored_r, command = explored_command, report = explored_yaml)
  lapply(texts, function(write) {
    rlang::try_fetch(paste(write(seen), collapse = "\n"), drystack_error = function(e) {
      paste("#", strsplit(paste(rlang::cnd_message(e)), "\n", fixed = TRUE)[[1L]], collapse = "\n")
    })
  })
}

# The table that is seen as a document.
explored_document <- function(seen) {
  if (is.null(seen$table)) rlang::cnd_signal(seen$error)
  document_of(seen$table, getwd(), NULL, NULL)
}

explored_command <- function(seen) {
  command_of_document(explored_document(seen), names(seen$book$columns))
}

# Of orders without a file R says only what the sentence adds to the daybook.
explored_r <- function(seen) {
  said <- rlang::try_fetch(explored_document(seen),
    drystack_error_standing = function(e) added_by_ask(seen))
  lines <- r_of_document(said, names(seen$book$columns))
  drawn <- seen$ask$kind == "table" && figure_fits(seen$ask$figure, seen$table)
  if (drawn) lines[2L] <- r_call("figure", c(lines[2L],
    paste("kind =", value_text(seen$ask$figure))))
  lines
}

added_by_ask <- function(seen) {
  ask <- seen$ask
  own <- function(keys) Filter(nzchar, ask[keys])
  leads <- ask$calendar
  if (nzchar(leads) && !leads %in% names(seen$base$book$calendars)) {
    raise("standing", c(paste0("A calendar that the daybook does not have cannot be added in R ",
      "afterwards."),
      ">" = paste0("Give it to {.fn daybook}: {.code calendars = ",
        braces_kept(r_calendar(leads)), "}.")))
  }
  closing <- lapply(own(c("closed_after", "closed_on")), as.numeric)
  names(closing) <- sub("^closed_", "", names(closing))
  said <- c(list(work_out = ask$work_out, leads = if (nzchar(leads))
    leads, only = as.list(ask$only),
    closing = closing, shown = c(own(c("latest", "from", "to")), if (ask$complete)
      list(complete = TRUE)),
    measures = saved_measures(list(seen$table))), own(c("as_of", "covered_to")))
  said$page <- list(saved_block(seen$table, "", seen$table, seen$book))
  said
}

explored_yaml <- function(seen) {
  said <- explored_document(seen)
  check_no_braces(said)
  yaml_text(said)
}
