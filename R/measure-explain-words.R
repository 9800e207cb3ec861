# What a node does, in words, as a step of an explanation.

narrowed_words <- function(tree) {
  if (!is.null(tree$condition)) paste("only orders where", tree_text(tree$condition))
  else if (!is.null(tree$date)) paste("dated by", tree$date$name)
  else drop_words(tree$drop)
}

rank_words <- function(tree) {
  paste0("its place among the figures, ", tree$from, " first", if (length(tree$within) > 0L)
    paste0(", for each ", joined_words(tree$within)))
}

days_left_words <- function(tree) {
  paste0(kind_of_days_left(tree), " from the cell's last day to the end of the ",
    tree$options$unit$unit %||% "period")
}

days_left_in_words <- function(tree, faces) paste(kind_of_days_left(tree), "left")

kind_of_days_left <- function(tree) if (tree$options$trading) "trading days" else "days"

occurrences_words <- function(tree) {
  paste0("how often the cell's days or periods came round up to where the orders end",
    if (!is.null(tree$options$unit)) paste0(", counted by ", tree$options$unit$unit))
}

effect_words <- function(tree) {
  over <- plain_words(tree$over$column)
  both <- paste0("of each ", over, " with lines now and before")
  switch(tree$part,
    new = paste("what", over, "members fetch that had no lines before"),
    gone = paste("less what", over, "members fetched that have no lines now"),
    change = paste("the difference", both),
    price = paste0(both, ", its figure now less its quantity now at its own price of before"),
    volume = paste0(both, ", its quantity more or less, at the mean price of before of all of ",
      "them"),
    mix = paste0(both, ", its quantity more or less, at what its own price of before is over ",
      "that mean")
  )
}

along_words <- function(tree) {
  within <- tree$within
  paste0("added up along ", tree$axis, " in the order shown",
    if (tree$from == "end") ", from the last",
    if (is.null(within)) "" else if (length(within) == 0L) ", over the whole table"
    else paste(", within each", joined_words(within)))
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

outlook_words <- function(options, until = "the cell's last day") {
  paste0("what is known to ", until, ", and for the rest of the ",
    options$unit$unit %||% "period", " ",
    switch(options$by, days = "as much a day as so far",
      "trading days" = "as much a trading day as so far",
      "last year" = "as much more as a year before"))
}
