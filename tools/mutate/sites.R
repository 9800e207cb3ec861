# The places of R functions that can be changed, and the changes.

# Functions of the core, by the beginnings of their files' names. What speaks to a server is reached by
# make test-servers alone.
core <- "^(calendar|period|ground|measure|daybook|plan|fold|resolve|table|source|changes)-"
of_servers <- "^source-(postgresql|clickhouse)"

core_functions <- function(tree) {
  files <- grep(of_servers, list.files(file.path(tree, "R"), core), value = TRUE, invert = TRUE)
  unlist(lapply(files, function(file) {
    found <- list()
    for (said in parse(file.path(tree, "R", file), keep.source = FALSE)) {
      if (is.call(said) && identical(said[[1L]], quote(`<-`)) && is.name(said[[2L]]) && is.call(said[[3L]]) &&
        identical(said[[3L]][[1L]], quote(`function`))) {
        found <- c(found, list(list(file = file, name = as.character(said[[2L]]), said = said[[3L]])))
      }
    }
    found
  }), recursive = FALSE)
}

others <- c("<" = "<=", "<=" = "<", ">" = ">=", ">=" = ">", "==" = "!=", "!=" = "==", "&&" = "||", "||" = "&&",
  "&" = "|", "|" = "&", "+" = "-", "-" = "+", "*" = "/", "/" = "*", is.null = "nzchar", any = "all", all = "any",
  min = "max", max = "min", pmin = "pmax", pmax = "pmin", union = "intersect", head = "tail", first = "last")

# What stands in texts of errors is not changed, nor what only names things.
left_alone <- c("raise", "paste0", "paste", "quote", "bquote", "UseMethod", "function")

# Every change of an expression: list(path, new, kind).
changes_in <- function(said, path = integer()) {
  if (identical(said, quote(expr = ))) {
    return(list())
  }
  if (is.numeric(said) && length(said) == 1L && !is.na(said)) {
    return(list(list(path = path, new = said + 1L, kind = "constant")))
  }
  if (is.logical(said) && length(said) == 1L && !is.na(said)) {
    return(list(list(path = path, new = !said, kind = "constant")))
  }
  if (!is.call(said)) {
    return(list())
  }
  fn <- if (is.name(said[[1L]])) as.character(said[[1L]]) else ""
  found <- list()
  if (fn %in% names(others) && length(said) >= 2L && !(fn %in% c("+", "-") && length(said) == 2L)) {
    found <- list(list(path = c(path, 1L), new = as.name(others[[fn]]), kind = "operator"))
  }
  if (fn == "if") {
    found <- c(found, list(list(path = c(path, 2L), new = call("!", call("isTRUE", said[[2L]])), kind = "condition")))
    if (length(said) == 3L && returns(said[[3L]])) {
      found <- c(found, list(list(path = path, new = quote(NULL), kind = "early return")))
    }
  }
  named <- which(nzchar(names(said)))
  if (!fn %in% c("list", "c", "structure", "switch", "function", "data.frame", "data_frame", left_alone)) {
    for (i in utils::head(named, 1L)) found <- c(found, list(list(path = path, new = said[-i], kind = "argument")))
  }
  inside <- if (fn %in% c("raise", "UseMethod", "quote")) integer() else if (fn == "function") 3L
    else seq_along(said)[-1L]
  # The last argument of vapply() says the type of what comes back, by any value of it.
  if (fn == "vapply" && length(said) >= 4L && is.atomic(said[[4L]])) inside <- setdiff(inside, 4L)
  c(found, unlist(lapply(inside, function(i) changes_in(said[[i]], c(path, i))), recursive = FALSE))
}

returns <- function(said) {
  is.call(said) && (identical(said[[1L]], quote(return)) || (identical(said[[1L]], quote(`{`)) && length(said) == 2L &&
    is.call(said[[2L]]) && identical(said[[2L]][[1L]], quote(return))))
}

changed <- function(said, change) {
  if (length(change$path) == 0L) change$new else {
    said[[change$path]] <- change$new
    said
  }
}

# The changed place as it was and as it is, on a line each.
told_change <- function(said, change) {
  text <- function(x) paste(trimws(deparse(x, 500L)), collapse = " ")
  # An operator or argument is told with the call it stands in.
  at <- if (change$kind == "operator") utils::head(change$path, -1L) else change$path
  here <- function(x) if (length(at) == 0L) x else x[[at]]
  # What is taken out leaves nothing in its place.
  after <- if (change$kind == "early return") "nothing" else text(here(changed(said, change)))
  c(substr(text(here(said)), 1L, 200L), substr(after, 1L, 200L))
}
