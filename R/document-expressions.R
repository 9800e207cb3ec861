# Expressions as texts: read with R's parser and never evaluated.

# The expressions of an option such as --show: text, read with R's parser and never evaluated.
read_expressions <- function(text, option) {
  read <- lapply(text, read_expression, option = option)
  stats::setNames(lapply(read, function(r) said(r$expr)), vapply(read, `[[`, "", "name"))
}

longest_expression <- 10000L

read_expression <- function(text, option) {
  if (nchar(text) > longest_expression) {
    raise(
      "expression", c(
        "An expression is too long.",
        "x" = paste0(option_prefix(option),
          "It has {nchar(text)} characters; {longest_expression} are read.")
      )
    )
  }
  parsed <- rlang::try_fetch(
    parse(text = text, keep.source = FALSE),
    error = function(e) {
      raise("expression", c(
        paste0(option_prefix(option), quoted(text), " is not a complete expression."),
        "x" = braces_kept(strsplit(conditionMessage(e), "\n", fixed = TRUE)[[1L]][1L]),
        ">" = advise_backticks(text)
      ))
    }
  )
  if (length(parsed) != 1L) {
    raise("expression", c(
      paste0(option_prefix(option), quoted(text), " is not one expression."),
      "x" = "It holds {length(parsed)}.",
      ">" = if (surface$name == "shell") "Repeat the option for each." else "Say each by itself."
    ))
  }
  expr <- parsed[[1L]]
  if (!rlang::is_call(expr, "=", n = 2L)) {
    return(list(name = "", expr = expr))
  }
  if (!rlang::is_symbol(expr[[2L]]) && !rlang::is_string(expr[[2L]])) {
    raise("expression", c(paste0(option_prefix(option), quoted(text),
      " has no name before its \"=\"."),
      ">" = "Write a name, \"=\" and an expression: {.code sales = sum(amount)}."))
  }
  list(name = as.character(expr[[2L]]), expr = expr[[3L]])
}

# "month, region" as expressions: columns by their exact name, else a word, `calendar$unit`, or
# axis(region, label = "Sales region").
read_axis_words <- function(text, columns) {
  lapply(split_axis_words(text), function(word) {
    said(if (word %in% columns) word else read_expression(word, "by")$expr)
  })
}

# By the commas that stand in no brackets and no quotes.
split_axis_words <- function(text) {
  quoted <- "`(?:[^`\\\\]|\\\\.)*`|\"(?:[^\"\\\\]|\\\\.)*\""
  pieces <- paste0("(", quoted, "|(\\((?:[^()\"`]|", quoted, "|(?2))*\\))|[^,`\"(])+")
  words <- trimws(regmatches(text, gregexpr(pieces, text, perl = TRUE))[[1L]])
  words[nzchar(words)]
}

axis_said <- function(word, book) {
  said(if (word %in% names(book$columns)) word else read_expression(as.character(word), "by")$expr)
}

# What a block shows: names of measures of the report, and "name = expression" of its own:
# list(name, own: the expression's text, or NULL).
shown_items <- function(said, measures) {
  lapply(as.character(unlist(said$show)), function(text) {
    if (trimws(text) %in% names(measures)) {
      return(list(name = trimws(text)))
    }
    read <- read_expression(text, "show")
    if (read$name != "") {
      return(list(name = read$name, own = sub(own_name, "", text, perl = TRUE)))
    }
    if (rlang::is_symbol(read$expr) && length(measures) > 0L) {
      return(list(name = rlang::as_string(read$expr)))
    }
    list(name = said_label(said(read$expr)), own = text, unnamed = TRUE)
  })
}

own_name <- "^\\s*(`(?:[^`\\\\]|\\\\.)*`|[^=`]+?)\\s*=(?!=)"

# Those of the measures whose names stand in some texts, or in the measures that do.
spoken_of <- function(measures, texts) {
  texts_of <- lapply(measures, function(one) if (is.list(one)) one$show else one)
  known <- character()
  repeat {
    found <- intersect(names(measures), unlist(lapply(texts, names_in)))
    if (all(found %in% known)) {
      return(measures[names(measures) %in% known])
    }
    known <- union(known, found)
    texts <- as.character(unlist(texts_of[known]))
  }
}

# The names a text may speak of: itself, and those in the expression it is.
names_in <- function(text) {
  parsed <- rlang::try_fetch(parse(text = text, keep.source = FALSE), error = function(e) NULL)
  words <- if (is.null(parsed)) regmatches(text, gregexpr("[[:alpha:].][[:alnum:]._]*", text))[[1L]]
    else all.names(parsed)
  c(trimws(text), words)
}

# What a constant as it is written stands for; dates are calls, which are read by hand.
eval_constant <- function(text) {
  expr <- read_expression(text, "only")$expr
  if (is_date_text(expr)) as.Date(expr[[2L]]) else if (is.call(expr)) text else expr
}

# A name for a measure that no column, period or reserved word has: letters, digits, underscores.
plain_name <- function(text) {
  name <- gsub("^_+|_+$", "", gsub("[^A-Za-z0-9]+", "_", tolower(text)))
  name <- if (grepl("^[a-z]", name)) name else paste0("figure_", name)
  sub("_+$", "", name)
}

is_date_text <- function(expr) rlang::is_call(expr, "as.Date", n = 1L) && is.character(expr[[2L]])

words_by_comma <- function(text) {
  if (is.null(text)) character() else trimws(unlist(strsplit(text, ",", fixed = TRUE)))
}

words_by_comma_or_null <- function(text) if (!is.null(text)) words_by_comma(text)

# "net=Net sales" as c(net = "Net sales").
pairs_said <- function(texts, name) {
  if (is.null(texts)) {
    return(NULL)
  }
  if (!all(grepl("^[^=]+=.+$", texts))) {
    bad <- texts[!grepl("^[^=]+=.+$", texts)][1L]
    raise("argument", paste0(option_prefix(name), quoted(bad),
      " is not two names with = between them."))
  }
  stats::setNames(trimws(sub("^[^=]+=", "", texts)), trimws(sub("=.*$", "", texts)))
}

# Names of several words stand in backticks, which is what most often lacks.
advise_backticks <- function(text) {
  bare <- gsub("\"[^\"]*\"|'[^']*'|`[^`]*`", "", text)
  name <- regmatches(bare, regexpr(
    "[[:alpha:].][[:alnum:]._]*( +[[:alpha:].][[:alnum:]._]*)+", bare))
  if (length(name) == 0L) "Check brackets, quotes and commas."
  else paste0("A name of several words stands in backticks: ",
    braces_kept(paste0("`", name, "`")), ".")
}

r_value <- function(value) {
  if (is.list(value) || !is.null(names(value)) || length(value) > 1L) {
    names <- names(value)
    texts <- vapply(value, value_text, "")
    if (!is.null(names)) texts <- paste(vapply(names, name_text, ""), "=", texts)
    return(arguments_text("c", texts))
  }
  value_text(value)
}
