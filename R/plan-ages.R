# Axes of ages, such as the months since the first order (measure-row-ages.R). An age that no order
# could have reached by the as-of date is unknown, and not 0.

# The ages at the date of an order, by the names of their axes.
age_axes <- function(ask, book) {
  engine <- engine_of(book)
  ages <- lapply(dimension_axes(ask), function(axis) {
    age <- if (axis$kind == "dimension" && !is.null(axis$column)) age_of_column(axis$column, engine)
    if (identical(age$to$id, book$columns[[book$date]])) age
  })
  Filter(Negate(is.null), ages)
}

age_of_column <- function(id, engine) {
  meaning <- if (!id %in% c(names(engine$each), each_tables(engine))) engine$meanings[[id]]
  if (identical(meaning$kind, "worked_out")) age_of_tree(meaning$tree, engine)
}

# Of bands of an age (`lowest`, the least age of each by its label) only those are unreached that
# begin after the as-of date.
age_of_tree <- function(tree, engine) {
  if (tree$kind == "column") {
    return(age_of_column(tree$id, engine))
  }
  if (!identical(tree$fn, "banded")) {
    return(tree$age)
  }
  age <- age_of_tree(tree$args[[1L]], engine)
  bands <- tree$constants
  if (!is.null(age)) c(age, list(lowest = stats::setNames(c(-Inf, ceiling(bands$limits)),
    bands$labels)))
}

# The first day that ages count from, of all orders of the cell whatever their ages.
trace_first_days <- function(level, frame, job) {
  here <- names(frame$axes)[level$keeps]
  lapply(frame$ages[intersect(names(frame$ages), here)], function(age) {
    first <- node("aggregate", fn = "min", args = list(age$from), quiet = TRUE)
    first <- node("overall", fn = "overall", child = first,
      within = setdiff(here, names(frame$ages)),
      parent = NULL)
    trace_measure(first, new_tracing(level, job), frame)
  })
}
