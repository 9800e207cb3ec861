# Measures as the keys of a standing report.

# All measures the tables show or speak of, in order; of one name one meaning.
saved_measures <- function(tables) {
  saved <- list()
  for (x in Filter(Negate(is.null), tables)) {
    known <- x$ask$known
    for (name in names(known)) {
      one <- saved_measure(known[[name]], known)
      if (!is.null(saved[[name]]) && !identical(saved[[name]], one)) {
        raise(
          "standing",
          c(paste0("Two tables have different measures named ", quoted(name), "."),
            ">" = "Give one of them another name.")
        )
      }
      saved[[name]] <- one
    }
  }
  saved
}

saved_measure <- function(m, known) {
  check_saved_texts(stats::setNames(list(tree_text(m$tree)), m$name))
  if (has_custom(m$tree)) raise_custom(m$name)
  own_format <- !is.null(m$format) && !identical(m$format, inherited_format(m$tree, known))
  saved <- list(
    show = tree_text(m$tree), label = if (m$labelled) m$label,
    format = if (own_format) format_text(m$format), description = m$description,
    total = if (!is.null(m$total)) paste0("of_shown(", m$total, ")"), marks = marks_text(m$marks),
    bar = if (m$bar) TRUE, history = if (!is.null(m$history)) rlang::as_label(m$history$expr)
  )
  saved <- Filter(Negate(is.null), saved)
  if (length(saved) == 1L) saved$show else saved
}

has_custom <- function(tree) {
  tree_any(tree, function(one) {
    one$kind == "custom" || (one$kind == "aggregate" && identical(one$fn, "custom"))
  })
}

raise_custom <- function(name) {
  raise(
    "standing",
    c(
      paste0(quoted(name), " calls an R function, which a standing report cannot hold."),
      ">" = "Say it in the words of the measure language."
    )
  )
}

format_text <- function(format) {
  fn <- format$kind
  usual <- formals(get(fn, envir = asNamespace("drystack")))
  given <- lapply(names(usual), function(key) if (key == "symbol") format$symbol else format[[key]])
  names(given) <- names(usual)
  defaults <- lapply(usual, eval, envir = asNamespace("drystack"))
  changed <- Filter(
    function(key) {
      !identical(given[[key]], defaults[[key]]) && !isTRUE(all.equal(given[[key]], defaults[[key]]))
    }, names(given)
  )
  arguments_text(fn, vapply(changed, function(key) paste(key, "=", value_text(given[[key]])), ""))
}
