# The trees that expressions become. Nothing after the parser sees R syntax.
#
# row trees: value, column, call (a function of the row language), custom (an R function)
# measure trees: value, call (arithmetic), growth, share, aggregate (over row trees), each (an
#   aggregate over finer figures), lens (on time), scope (other conditions or another date), along
#   (running over members or periods), day (the as-of date, or one of the cell), index, overall,
#   of_rows and rank (over the table), days_left, outlook, effect, of (a record beside the orders,
#   over whose columns its tree is), occurrences (of parts of time), named (another measure). A tree
#   with `text` was said in other words than it is worked out.
#
# What a tree means is its structure: a column counts by its id, which is another one when a name is
# worked out again, an R function by itself, a constant by its value and type. Texts are only shown.

node <- function(kind, ...) list(kind = kind, ...)

value_node <- function(value) node("value", value = value)
column_node <- function(name, id) node("column", name = name, id = id)
call_node <- function(fn, args) node("call", fn = fn, args = args)

# The names of the columns an expression speaks of, each once.
columns_of <- function(tree) {
  unique(tree_collect(tree, function(one) {
    if (one$kind == "column") one$name else c(one$date$name, one$grain$column)
  }))
}

# The ids of these columns.
ids_of <- function(tree) {
  unique(tree_collect(tree, function(one) {
    if (one$kind == "column") one$id else c(one$date$id, one$grain$id)
  }))
}

# What tells two trees apart.
tree_key <- function(tree) rlang::hash(meaning_of(tree))

meaning_of <- function(tree) {
  switch(tree$kind,
    column = list("column", tree$id),
    of = list("of", tree$record, meaning_of(tree$child)),
    value = list("value", typeof(tree$value), class(tree$value), unclass(tree$value)),
    list(tree$kind, tree$fn, tree$function_id, lapply(tree$constants, meaning_of_constant),
      tree$options, lapply(
        subtrees(tree), meaning_of
      ))
  )
}

meaning_of_constant <- function(constant) if (is_calendar(constant)) constant$id else constant

# An expression in one canonical writing: what errors, explanations and reports show.
tree_text <- function(tree) {
  if (!is.null(tree$text)) {
    return(tree$text)
  }
  kind_of(tree)$text(tree)
}

text_round_child <- function(tree) arguments_text(tree$fn, c(tree_text(tree$child), tree$said))

text_with_options <- function(tree, of) {
  arguments_text(tree$fn, c(of, vapply(tree$options, value_text, "")))
}

value_text <- function(value) {
  text <- if (inherits(value, "Date")) {
    paste0("as.Date(\"", format(value), "\")")
  } else if (is.character(value)) {
    encodeString(value, quote = "\"")
  } else {
    number_text(value)
  }
  if (length(text) == 1L) text else paste0("c(", paste(text, collapse = ", "), ")")
}

# As few digits as give the number back.
number_text <- function(value) {
  known <- !is.na(value)
  text <- rep("NA", length(value))
  text[known] <- format(value[known], digits = 15L, trim = TRUE, scientific = 15L)
  if (is.numeric(value) && !all(as.numeric(text[known]) == value[known]))
    text[known] <- format(value[known], digits = 17L, trim = TRUE, scientific = 15L)
  text
}

arguments_text <- function(fn, args) paste0(fn, "(", paste(args, collapse = ", "), ")")

operators <- c("^", "*", "/", "%%", "%/%", "+", "-", "<", "<=", ">", ">=", "==", "!=",
  "%in%", "&", "|")

call_text <- function(tree) {
  args <- vapply(tree$args, function(arg) {
    text <- tree_text(arg)
    if (arg$kind == "call" && arg$fn %in% operators && tree$fn %in% c(operators, "!"))
      paste0("(", text, ")") else text
  }, "")
  if (tree$fn %in% operators && length(args) == 2L) {
    return(paste(args[1L], tree$fn, args[2L]))
  }
  if (tree$fn %in% c("-", "!")) {
    return(paste0(tree$fn, args[1L]))
  }
  arguments_text(tree$fn, args)
}

deepest_expression <- 100L

check_depth <- function(depth) {
  if (depth > deepest_expression) raise_too_deep("More than {deepest_expression} levels.")
}

raise_too_deep <- function(why) {
  raise("expression", c("An expression is nested too deeply.", "x" = why,
    ">" = "Name a part of it as a measure or a column of its own."))
}

# Reading and answering an expression goes as deep as R's stack allows, which is less where much
# stands on it already.
within_stack <- function(code) {
  tryCatch(code, stackOverflowError = function(e) {
    raise_too_deep("It takes more than R's stack has.")
  })
}

# Code as it was said, in full on one line.
code_text <- function(expr) paste(trimws(deparse(expr, 500L, backtick = TRUE)), collapse = " ")
