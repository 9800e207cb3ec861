# The functions of the row language: what each does with whole columns. A division by zero
# is unknown. Arithmetic is that of doubles: whole numbers of R have 32 bits, and a product
# of two of them may not fit.

row_functions <- made_once(function() {
  list(
    "+" = function(x, y) if (missing(y)) x else x + y,
    "-" = function(x, y) if (missing(y)) -x else x - y,
    "*" = function(x, y) x * y,
    "/" = function(x, y) finite(x / y),
    "^" = function(x, y) finite(x^y),
    "%%" = function(x, y) finite(x %% y),
    "%/%" = function(x, y) finite(x %/% y),
    "abs" = function(x) abs(x),
    "round" = function(x, digits = 0) round(x, digits),
    "least" = function(...) pmin(...),
    "greatest" = function(...) pmax(...),
    "as_amount" = as_amount,
    "where_known" = function(x, y) {
      replace(rep_len(x, max(length(x), length(y))), !is.finite(y), NA)
    },
    "or_zero" = function(x) or_else(x, 0),
    "if_known" = function(x, `else`) or_else(x, `else`),
    "<" = compare(`<`), "<=" = compare(`<=`), ">" = compare(`>`), ">=" = compare(`>=`),
    "==" = compare(`==`), "!=" = compare(`!=`),
    "%in%" = is_one_of,
    "is.na" = function(x) is.na(without_int64(x)),
    "&" = function(x, y) as_condition(x) & as_condition(y),
    "|" = function(x, y) as_condition(x) | as_condition(y),
    "!" = function(x) !as_condition(x),
    "ifelse" = function(condition, yes, no) either(as_condition(condition), yes, no),
    "toupper" = function(x) toupper(as_plain(x)),
    "tolower" = function(x) tolower(as_plain(x)),
    "trimws" = function(x) kernel_trimmed(as.character(as_plain(x))),
    "one_spelling" = one_spelling,
    "substr" = function(x, from, to) substr(as_plain(x), from, to),
    "startsWith" = function(x, y) startsWith(as.character(as_plain(x)), y),
    "endsWith" = function(x, y) endsWith(as.character(as_plain(x)), y),
    "paste" = function(...) paste(...),
    "hour_of" = hour_of
  )
})

# Functions whose arguments must be amounts, so that text is caught with its rows named.
row_arithmetic <- c(
  "+", "-", "*", "/", "^", "%%", "%/%", "abs", "round", "least", "greatest", "or_zero"
)

# Those that take 64-bit whole numbers as they are; all others see them as doubles.
keeps_whole_numbers <- c("as_amount", "is.na")

either <- function(test, yes, no) {
  n <- max(length(test), length(yes), length(no))
  out <- rep_len(as_plain(no), n)
  hit <- which(rep_len(test, n))
  out[hit] <- rep_len(as_plain(yes), n)[hit]
  out
}

# Factors count by their labels.
as_plain <- function(x) if (is.factor(x)) levels(x)[x] else x

as_amount <- function(x) if (inherits(x, "Date")) as.numeric(x) else x

as_condition <- function(x) {
  if (!is.logical(x)) {
    raise("expression", c(
      "{.code &}, {.code |}, {.code !} and {.code ifelse()} take conditions.",
      "x" = "This is {type_words(x)}.",
      ">" = "Compare it with something, for example {.code amount > 0}."
    ))
  }
  x
}
