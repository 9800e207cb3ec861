# The parameters of a standing report: their values from --set, a question in a terminal, or their
# default; each of its kind, and what of it goes into expressions and texts.
#
parameter_kinds <- c("date", "text", "number", "choice", "period", "list")

# A value is list(kind, value): a Date, a text, a number, texts, or NULL where it has none.

parameter_values <- function(document, set, book_facts, ask = NULL) {
  declared <- document$said$parameters
  unknown <- setdiff(names(set), c(names(declared), "as_of"))
  if (length(unknown) > 0L) {
    raise_key(document, list("parameters"), paste0("There is no parameter ",
      quoted(unknown[1L]), "."), {
        near <- nearest_word(unknown[1L], c(names(declared), "as_of"))
        if (is.null(near)) paste0(
          "There are: ", words_of(c(names(declared), "as_of"), 20L), "."
        ) else paste0("Did you mean ", quoted(near), "?")
      })
  }
  values <- list()
  for (name in names(declared)) {
    one <- declared[[name]]
    read <- function(said) parameter_value(said, name, one, document, book_facts)
    given <- if (name %in% names(set)) set[[name]] else one$default
    value <- if (is.null(given) && !is.null(ask)) answered(function() ask(name, one),
      read) else read(given)
    values[[name]] <- list(kind = one$kind, value = value)
  }
  as_of <- set$as_of %||% values$as_of$value %||% document$said$as_of %||% "last order"
  values$as_of <- list(kind = "date", value = date_said(as_of, "as_of", document, book_facts))
  values
}

# A question is put again until its answer will do.
answered <- function(ask, read) {
  repeat {
    wrong <- NULL
    value <- rlang::try_fetch(read(ask()), drystack_error = function(e) wrong <<- e)
    if (is.null(wrong)) {
      return(value)
    }
    writeLines(rlang::cnd_header(wrong), stderr())
  }
}

parameter_value <- function(said, name, declared, document, facts) {
  if (is.null(said) || identical(said, "")) {
    return(NULL)
  }
  wrong <- function(must) {
    what <- paste0("The parameter ", quoted(name), " must be ", must, ", not ",
      value_words(said), ".")
    raise_key(document, list("parameters", name), what)
  }
  value <- switch(declared$kind,
    date = date_said(said, name, document, facts),
    number = number_said(said, wrong),
    list = trimws(unlist(strsplit(as.character(unlist(said)), ",", fixed = TRUE))),
    period = period_said(said, declared$unit %||% "month", facts, wrong),
    one_text_said(said, wrong)
  )
  check_allowed(value, unlist(declared$allowed), wrong)
  value
}

number_said <- function(said, wrong) {
  value <- suppressWarnings(as.numeric(said))
  if (length(value) != 1L || is.na(value)) wrong("a number")
  value
}

one_text_said <- function(said, wrong) {
  if (length(said) != 1L || is.na(said)) wrong("one text")
  as.character(said)
}

period_said <- function(said, unit, facts, wrong) {
  text <- one_text_said(said, wrong)
  own <- period_of_day_words(text, facts)
  if (!is.null(own) && period_unit(own) == unit) {
    return(own)
  }
  rlang::try_fetch(as_period(text, !!unit, facts$calendar), drystack_error = function(e) {
    like <- format(as_period(as_day_date(facts$last), !!unit, facts$calendar), "key")
    wrong(paste0("a ", unit, " such as ", like, " or \"last ", unit, "\""))
  })
}

# Two numbers are limits; anything else is a list of what is allowed.
check_allowed <- function(value, allowed, wrong) {
  if (is.null(allowed) || is_period(value)) {
    return(invisible())
  }
  if (is.numeric(value) && is.numeric(allowed) && length(allowed) == 2L) {
    if (value < allowed[1L] || value > allowed[2L])
      wrong(paste("from", allowed[1L], "to", allowed[2L]))
    return(invisible())
  }
  if (!all(as.character(value) %in% as.character(allowed)))
    wrong(paste("one of", words_of(allowed, 20L)))
}

# Dates as people say them, against the orders that were read and the day it is.
date_said <- function(said, name, document, facts) {
  if (inherits(said, "Date")) {
    return(said)
  }
  text <- trimws(as.character(said))
  day <- if (length(text) == 1L) days_of_words(text, facts)[2L] %||% iso_days(text)
  if (length(day) != 1L || is.na(day)) {
    raise_key(document, list(name), paste0(key_words(list(name)), " must be a date, not ",
      value_words(said), "."), paste0("Write \"2026-08-31\", or ",
        paste0("\"", utils::head(day_word_examples, -1L), "\"", collapse = ", "), " or \"",
        utils::tail(day_word_examples, 1L), "\"."))
  }
  as_day_date(day)
}

# An expression with its parameters put in as constants; NULL where one has no value, so that
# its condition is left out.
filled_expression <- function(text, values, document, path) {
  constant <- function(value) value_text(if (inherits(value, "Date")) format(value) else value)
  with_values(as.character(text), values, document, path,
    function(value) constant(parameter_key(value)))
}

# A word such as a date, with its parameters as they are written in a report;
# NULL where one has no value.
filled_words <- function(text, values, document, path) {
  with_values(text, values, document, path, function(value) as.character(parameter_key(value))[1L])
}

with_values <- function(text, values, document, path, write) {
  if (!isTRUE(document$braces)) {
    return(text)
  }
  for (name in unique(braced_names(text))) {
    if (!name %in% names(values)) raise_unknown_brace(name, values, document, path)
    if (is.null(values[[name]]$value)) {
      return(NULL)
    }
  }
  filled_braces(text, function(name) write(values[[name]]$value))
}

# A limit of the days shown: of a parameter that is a period its first day or its last.
filled_limit <- function(text, values, document, path, edge) {
  name <- braced_names(text)
  value <- if (length(name) == 1L && identical(text, paste0("{", name, "}"))) values[[name]]$value
  if (is_period(value)) format(edge(value)) else filled_words(text, values, document, path)
}

parameter_key <- function(value) if (is_period(value)) format(value, "key") else value

braced <- "\\{[A-Za-z][A-Za-z0-9_.]*\\}"

braced_names <- function(text) gsub("[{}]", "", unlist(regmatches(text, gregexpr(braced, text))))

# All at once, so that braces within a value stay what they are.
filled_braces <- function(text, write) {
  at <- gregexpr(braced, text)
  regmatches(text, at) <- lapply(regmatches(text, at), function(found) {
    vapply(gsub("[{}]", "", found), write, "", USE.NAMES = FALSE)
  })
  text
}

raise_unknown_brace <- function(name, known, document, path) {
  near <- nearest_word(name, names(known))
  raise_key(document, path, paste0("{{", name, "}} is not a parameter."), if (is.null(near)) {
    paste0("There are: ", words_of(names(known), 20L), ".")
  } else {
    paste0("Did you mean ", quoted(near), "?")
  })
}

# A text with its parameters, and the figures named, as people read them.
filled_text <- function(text, values, document, path, figures = list()) {
  if (!isTRUE(document$braces)) {
    return(text)
  }
  filled_braces(text, function(name) {
    if (name %in% names(figures)) {
      return(figures[[name]]())
    }
    if (!name %in% names(values)) raise_unknown_brace(name, c(values, figures), document, path)
    parameter_words(values[[name]]$value)
  })
}

parameter_words <- function(value) {
  if (is.null(value)) "all"
  else if (inherits(value, "Date")) day_words(as.integer(value))
  else if (is_period(value)) format(value, "long")
  else if (is.numeric(value)) format_by(value, plain())
  else joined_words(as.character(value))
}
