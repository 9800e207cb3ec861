# Trees in plain words, as they stand in a sentence: "total amount a year before", "channel is web".
# What has no words of its own is told as it is written. `faces`: what measures are called, by name.

# A name with underscores as spaces.
plain_words <- function(name) trimws(gsub("_+", " ", name))

measure_in_words <- function(tree, faces = character()) {
  kind_of(tree)$words(tree, faces) %||% tree_text(tree)
}

named_in_words <- function(name, faces) {
  if (name %in% names(faces)) faces[[name]] else plain_words(name)
}

constant_figure_in_words <- function(value) {
  trimws(format(value, digits = 15L, big.mark = ",", scientific = 15L))
}

aggregate_in_words <- function(tree, faces) {
  if (!is.null(tree$words)) {
    return(tree$words)
  }
  of <- if (length(tree$args) > 0L) row_in_words(tree$args[[1L]])
  if (tree$fn == "count") {
    return(if (is.null(of)) "order lines" else paste("lines with", of))
  }
  if (tree$fn == "distinct") {
    return(if (tree$args[[1L]]$kind == "column") plural_of_key(
      tree$args[[1L]]$name) else paste("different", of))
  }
  known <- c(sum = "total", mean = "mean", median = "median", min = "least", max = "greatest",
    sd = "standard deviation of", var = "variance of", first = "first", last = "last",
    most_common = "most common")
  if (tree$fn %in% names(known) && !is.null(of)) paste(known[[tree$fn]], of)
}

# The number of different order_id are orders.
plural_of_key <- function(name) {
  stem <- sub("[_. ]?(id|no|nr|number|code|key)$", "", name, ignore.case = TRUE)
  if (stem == name || stem == "") {
    return(paste("different", plain_words(name)))
  }
  word <- plain_words(stem)
  if (grepl("[^aeiou]y$", word)) sub("y$", "ies", word)
  else if (grepl("(s|x|ch|sh)$", word)) paste0(word, "es") else paste0(word, "s")
}

each_in_words <- function(tree, faces) {
  known <- c(mean = "mean", max = "greatest", min = "least", median = "median",
    sum = "sum", sd = "spread")
  if (!tree$fn %in% names(known) || length(tree$said) != 1L) {
    return(NULL)
  }
  paste(known[[tree$fn]], "of", tree$said)
}

# "a year before", "2 quarters before".
before_in_words <- function(options) {
  unit <- if (goes_by_some_days(options)) day_kind(options) else options$unit$unit
  if (options$n == 1L) {
    return(if (is.null(unit)) "a period before" else paste("a", unit, "before"))
  }
  paste(options$n, if (is.null(unit)) "periods" else units_of(unit), "before")
}

# "trading day", "day with orders": what a lens goes by, and several of them.
day_kind <- function(options) if (isTRUE(options$sold)) "day with orders" else "trading day"

units_of <- function(unit) {
  if (unit %in% period_units) unit_plural(unit) else sub(
    "(period|trading day|day(?= with))", "\\1s", unit,
    perl = TRUE)
}

growth_in_words <- function(tree, faces) {
  prior <- tree$args[[2L]]
  if (identical(prior$fn, "prior")) paste("growth of",
    measure_in_words(tree$args[[1L]], faces), "on", before_in_words(prior$options))
}

share_in_words <- function(tree, faces) {
  within <- tree$args[[2L]]$within
  paste0("share of ", measure_in_words(tree$args[[1L]], faces),
    if (length(within) > 0L) paste(" within", joined_words(plain_words(within))))
}

scope_in_words <- function(tree, faces) {
  of <- measure_in_words(tree$child, faces)
  switch(tree$fn,
    only = paste(of, "where", row_in_words(tree$condition)),
    on = paste(of, "by", plain_words(tree$date$name)),
    regardless = paste(of, "whatever the", dropped_in_words(tree$drop))
  )
}

dropped_in_words <- function(drop) {
  if (drop$all) "conditions" else joined_words(
    c(plain_words(drop$columns), if (drop$dates) "dates"))
}

call_in_words <- function(tree, faces) {
  if (tree$fn == "!") {
    return(paste("not", measure_in_words(tree$args[[1L]], faces)))
  }
  if (length(tree$args) != 2L) {
    return(NULL)
  }
  if (identical(tree$args[[2L]]$fn, "prior") && !is.null(tree$text)) {
    return(paste("change of", measure_in_words(tree$args[[1L]], faces), "on",
      before_in_words(tree$args[[2L]]$options)))
  }
  between <- c("-" = "less", "/" = "per", "+" = "and", "*" = "times", "<" = "is below",
    "<=" = "is at most",
    ">" = "is above", ">=" = "is at least", "==" = "is", "!=" = "is not", "&" = "and",
    "|" = "or")[tree$fn]
  parts <- vapply(tree$args, measure_in_words, "", faces = faces)
  if (!is.na(between)) paste(parts[1L], between, parts[2L])
}

# "over all rows", "within each region".
of_rows_words <- function(within) {
  if (length(within) == 0L) "over all rows" else paste("within each",
    joined_words(plain_words(within)))
}

# Conditions and other expressions of columns.
row_in_words <- function(tree) {
  if (!is.null(tree$words)) {
    return(tree$words)
  }
  words <- switch(tree$kind,
    column = plain_words(tree$name),
    value = constant_in_words(tree$value),
    call = row_call_in_words(tree)
  )
  words %||% tree_text(tree)
}

constant_in_words <- function(value) {
  words <- if (is.logical(value)) ifelse(value, "yes", "no")
    else if (inherits(value, "Date")) day_words(as.integer(value)) else as.character(value)
  words[is.na(value)] <- "(none)"
  joined_words(words, "or")
}

row_call_in_words <- function(tree, faces) {
  args <- tree$args
  if (length(args) == 1L) {
    return(switch(tree$fn, is.na = paste(row_in_words(args[[1L]]), "is not known"),
      "!" = negated_in_words(args[[1L]])))
  }
  if (length(args) != 2L) {
    return(NULL)
  }
  between <- c("==" = "is", "!=" = "is not", "%in%" = "is", ">" = "is over", "<" = "is under",
    ">=" = "is at least", "<=" = "is at most", "&" = "and", "|" = "or", "-" = "less",
    "+" = "and", "*" = "times", "/" = "per")[tree$fn]
  if (!is.na(between)) paste(row_in_words(args[[1L]]), between, row_in_words(args[[2L]]))
}

negated_in_words <- function(tree) {
  if (tree$kind == "column") {
    return(paste("not", plain_words(tree$name)))
  }
  if (identical(tree$fn, "is.na")) {
    return(paste(row_in_words(tree$args[[1L]]), "is known"))
  }
  if (!tree$fn %in% c("==", "%in%")) {
    return(NULL)
  }
  paste(row_in_words(tree$args[[1L]]), "is not", row_in_words(tree$args[[2L]]))
}
