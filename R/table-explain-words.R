# What each kind of node does, in words.

node_words <- function(tree) {
  switch(tree$kind,
    call = "",
    lens = lens_words(tree),
    effect = effect_words(tree),
    outlook = outlook_words(tree$options),
    of = paste("of the record", tree$record, "beside the orders"),
    scope = if (!is.null(tree$condition)) paste("only orders where", tree_text(tree$condition))
    else if (!is.null(tree$date)) paste("dated by", tree$date$name)
    else drop_words(tree$drop),
    along = paste0(
      "added up along ", tree$axis, " in the order shown", if (tree$from == "end")
        ", from the last", along_words(tree$within)
    ),
    overall = overall_words(tree),
    of_rows = paste("the", tree$using, "of the figures of the rows", of_rows_words(tree$within)),
    growth = "the change as a part of the base; unknown on a base of zero or below",
    share = "the figure as a part of the whole",
    rank = paste0("its place among the figures, ", tree$from, " first",
      if (length(tree$within) > 0L) paste0(
      ", for each ", joined_words(tree$within)
    )),
    index = paste("with", tree$base, "as 100"),
    day = c(as_of = "as of which the table is", first = "the cell's first day",
      last = "its last")[[tree$fn]],
    days_left = paste0(if (tree$options$trading) "trading days" else "days",
      " from the cell's last day to the end of the ",
      tree$options$unit$unit %||% "period"),
    occurrences = paste0("how often the cell's days or periods came round up to where the orders end",
      if (!is.null(tree$options$unit)) paste0(", counted by ", tree$options$unit$unit))
  )
}

effect_words <- function(tree) {
  over <- plain_words(tree$over$column)
  both <- paste0("of each ", over, " with lines now and before")
  switch(tree$part,
    new = paste("what", over, "members fetch that had no lines before"),
    gone = paste("less what", over, "members fetched that have no lines now"),
    change = paste("the difference", both),
    price = paste0(both, ", its figure now less its quantity now at its own price of before"),
    volume = paste0(both, ", its quantity more or less, at the mean price of before of all of them"),
    mix = paste0(both, ", its quantity more or less, at what its own price of before is over that mean")
  )
}

along_words <- function(within) {
  if (is.null(within)) "" else if (length(within) == 0L) ", over the whole table" else paste(
    ", within each", joined_words(within)
  )
}

overall_words <- function(tree) {
  if (!is.null(tree$parent)) "for the group the row is in"
  else if (length(tree$within) == 0L) "for the whole table"
  else paste("for each", joined_words(tree$within))
}

drop_words <- function(drop) {
  if (drop$all) {
    return("without any condition and without limits of dates")
  }
  columns <- c(drop$columns, if (drop$dates && length(drop$columns) == 0L) "dates")
  paste0("without the conditions on ", joined_words(columns), if (drop$dates)
    " and without limits of dates")
}
