# Members that a record beside the orders, or the orders, have alone.

# Members that only the record, or only the orders, have on the dates shown: by record and axis
# list(axis, theirs, ours: their places).
members_apart <- function(folded, ask, plan) {
  lapply(stats::setNames(plan$records, vapply(plan$records,
    function(key) plan$jobs[[key]]$record, "")), function(key) {
      axes <- setdiff(names(dimension_axes(ask)), folded$jobs[[key]]$lacking)
      if (!is.null(plan$jobs[[key]]$spread)) axes <- setdiff(axes, names(folded$jobs[[key]]$added))
      lapply(stats::setNames(axes, axes), function(axis) {
        seen <- lapply(c(key, plan$base), function(one) {
          unique(folded$jobs[[one]]$places[[axis]][shown_groups(one, folded, plan)])
        })
        list(theirs = setdiff(seen[[1L]], seen[[2L]]), ours = setdiff(seen[[2L]], seen[[1L]]))
      })
    })
}

apart_notes <- function(record, table) {
  apart <- table$apart[[record$name]]
  unlist(lapply(names(apart), function(axis) {
    of_record <- Filter(function(m) is_of_record(m$tree, record$name), table$ask$measures)
    of_orders <- Filter(function(m) {
      is_additive(m$tree) && !tree_any(m$tree, function(one) one$kind == "of")
    }, table$ask$measures)
    c(apart_note(apart[[axis]]$theirs, axis, of_record, table, c(record$name, "orders")),
      apart_note(apart[[axis]]$ours, axis, of_orders, table, c("orders", record$name)))
  }))
}

# "1 member of depot has targets and no orders: Newtown (target 585,212.10)."
apart_note <- function(places, axis, measures, table, has) {
  rows <- table$rows
  here <- rows$ranks[[axis]] %in% places & rows$role == "line"
  if (!any(here)) {
    return(NULL)
  }
  names <- unique(as.character(rows$axes[[axis]][here]))
  sums <- vapply(utils::head(measures, 1L), function(m) {
    paste0(" (", m$label, " ", sum_words(sum(as.numeric(rows$figures[[m$name]][here]),
      na.rm = TRUE)), ")")
  }, "")
  paste0(count_words(length(names), "member"), " of ", labels_of(axis, table$ask$axes),
    if (length(names) == 1L) " has " else " have ", has[1L], " and no ", has[2L], ": ",
    examples_of(names), sums, ".")
}

sum_words <- function(x) {
  format(round(x, 2), nsmall = if (round(x) == round(x, 2)) 0L else 2L, big.mark = ",")
}

is_of_record <- function(tree, name) {
  if (tree$kind == "named") is_of_record(tree$child, name) else tree$kind == "of" &&
    tree$record == name
}
