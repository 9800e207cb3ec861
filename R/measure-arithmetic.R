# Arithmetic between figures. Division by zero or by unknown is unknown, never infinite.
measure_functions <- made_once(function() {
  list(
    "+" = function(x, y) if (missing(y)) x else finite(x + y),
    "-" = function(x, y) if (missing(y)) -x else finite(x - y),
    "*" = function(x, y) finite(x * y),
    "/" = function(x, y) finite(x / y),
    "^" = function(x, y) finite(x^y),
    "<" = function(x, y) (x < y) + 0, "<=" = function(x, y) (x <= y) + 0,
    ">" = function(x, y) (x > y) + 0, ">=" = function(x, y) (x >= y) + 0,
    "==" = function(x, y) (x == y) + 0, "!=" = function(x, y) (x != y) + 0,
    "&" = function(x, y) (x & y) + 0, "|" = function(x, y) (x | y) + 0, "!" = function(x) (!x) + 0,
    "abs" = function(m) abs(m),
    "round" = function(m, digits = 0) round(m, digits),
    "or_zero" = function(m) or_else(m, 0),
    "if_known" = function(m, `else`) or_else(m, `else`),
    "least" = function(...) pmin(...),
    "greatest" = function(...) pmax(...)
  )
})

# What only the parser makes: growth on a base that is zero or negative says nothing and is unknown.
growth_of <- function(now, base) {
  base[!is.na(base) & base <= 0] <- NA
  finite(now / base - 1)
}
