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

# Figures that are only spoken of, put in where they are: R and commands show all they are given.
spoken_out <- function(ask) {
  hidden <- Filter(function(m) m$hidden, ask$measures)
  if (length(hidden) == 0L) {
    return(ask)
  }
  meant <- list()
  for (m in hidden) {
    expr <- read_expression(m$text, "show")$expr
    meant[[m$name]] <- do.call(substitute, list(expr, meant))
  }
  put_in <- function(text) deparse1(do.call(substitute, list(read_expression(text, "show")$expr, meant)))
  ask$measures <- lapply(Filter(function(m) !m$hidden, ask$measures), function(m) {
    m$text <- put_in(m$text)
    m
  })
  for (rule in c("sort", "keep")) ask[[rule]] <- lapply(ask[[rule]], put_in)
  ask
}

# The daybook in the keys of a standing report; of orders without a file only what was said of them.
base_said <- function(seen) {
  book <- seen$base$book
  saved_book(book, getwd(), NULL)
}

explored_yaml <- function(seen) {
  part <- seen$table
  if (is.null(part)) stop_asked(seen)
  said <- standing_of(part, getwd(), NULL, NULL)
  check_no_braces(said)
  yaml_text(said)
}

stop_asked <- function(seen) rlang::cnd_signal(seen$error)
