# Reading the words of a command with optparse: options that may be repeated are gathered,
# unknown ones get a suggestion.

# `options` is a list of option(); gives a list of values by name, or NULL where help is asked for.
read_options <- function(args, options, help) {
  if (any(args %in% c("--help", "-h"))) {
    return(NULL)
  }
  check_known_options(args, options)
  # Each option costs the parser a millisecond: those that are not said are left out.
  words <- sub("=.*$", "", args)
  parsed <- Filter(function(o) paste0("--", o$name) %in% words, options)
  parser <- optparse::OptionParser(option_list = lapply(parsed, as_optparse),
    add_help_option = FALSE)
  flags <- paste0("--", vapply(Filter(is_flag, options), `[[`, "", "name"))
  said <- lapply(option_chunks(args, options), parse_chunk, parser = parser, flags = flags,
    stray = function(word) raise_stray(word, options, help), help = help)
  values <- list()
  for (o in options) {
    found <- unlist(lapply(said, `[[`, o$name), use.names = FALSE)
    if (length(found) > 1L && !o$many) raise_usage(
      paste0("The option --", o$name, " is given twice."), help)
    if (is.null(found) && o$required) raise_usage(
      paste0("The option --", o$name, " is missing."), help)
    values[o$name] <- list(found)
  }
  values
}

# optparse keeps the last of a repeated option, so each is parsed on its own.
option_chunks <- function(args, options) {
  begins <- sub("=.*$", "", args) %in% paste0("--", vapply(options, `[[`, "", "name"))
  is_value <- c(FALSE, utils::head(args, -1L) %in% valued_names(options))[seq_along(args)]
  unname(split(args, cumsum(begins & !is_value)))
}

# The options, as written, that take the word after them.
valued_names <- function(options) {
  paste0("--", vapply(Filter(Negate(is_flag), options), `[[`, "", "name"))
}

parse_chunk <- function(chunk, parser, flags, stray, help) {
  if (length(chunk) == 1L && startsWith(chunk, "--") && !chunk %in% flags &&
    !grepl("=", chunk, fixed = TRUE)) {
    raise_usage(paste0("The option ", chunk, " needs a value."), help)
  }
  parsed <- rlang::try_fetch(
    suppressWarnings(optparse::parse_args(parser, args = chunk, positional_arguments = TRUE)),
    error = function(e) {
      raise_usage(paste0("The option ", quoted(chunk[1L]), " cannot be read",
        if (length(chunk) > 1L) paste0(" with ", quoted(chunk[2L])), "."), help)
    }
  )
  if (length(parsed$args) > 0L) stray(parsed$args[1L])
  parsed$options
}

# A word that no option takes; files are often named without one.
raise_stray <- function(word, options, help) {
  takes_orders <- "orders" %in% vapply(options, `[[`, "", "name")
  raise_usage(c(paste0("Nothing is known to do with ", quoted(word), "."),
    ">" = if (takes_orders && file.exists(word)) paste0("If it holds the orders, say {.code ",
      "--orders ", braces_kept(shQuote(word, "sh")), "}.")), help)
}

option <- function(name, meta, what, required = FALSE, many = FALSE) {
  list(name = name, meta = meta, what = what, required = required, many = many)
}

# An option without a value: there or not.
flag <- function(name, what) option(name, "", what)

is_flag <- function(option) option$meta == ""

as_optparse <- function(option) {
  if (is_flag(option)) {
    return(optparse::make_option(paste0("--", option$name), action = "store_true",
      dest = option$name))
  }
  optparse::make_option(paste0("--", option$name), type = "character",
    dest = option$name, metavar = option$meta)
}

# Long options in full only, so that a command means the same when options are added.
check_known_options <- function(args, options) {
  names <- paste0("--", vapply(options, `[[`, "", "name"))
  said <- sub("=.*$", "", args[startsWith(args, "--")])
  values <- args[c(FALSE, utils::head(args, -1L) %in% valued_names(options))]
  unknown <- setdiff(said, c(names, values))
  if (length(unknown) > 0L) {
    raise(
      "usage", c(paste0("There is no option ", quoted(unknown[1L]), "."),
        advise_word(unknown[1L], names, "options"))
    )
  }
}

raise_usage <- function(message, help) {
  raise("usage", c(message, "i" = paste0("{.code drystack ", help,
    " --help} shows what it takes.")))
}

# One line for each option; those without words of their own stand before the next that has
# some. Dots: may be repeated.
option_lines <- function(options) {
  flags <- trimws(vapply(options, function(o) {
    paste0("--", o$name, " ", o$meta, if (o$many) " ...")
  }, ""))
  what <- vapply(options, `[[`, "", "what")
  line <- cumsum(c(1L, utils::head(what != "", -1L)))
  flags <- vapply(split(flags, line), paste, "", collapse = " ")
  paste0("  ", pad(flags, 32L, "left"), " ", what[what != ""])
}
