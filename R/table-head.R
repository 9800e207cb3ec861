# What stands above a table: its facts and its title.

# What heads a table, each by its kind: the date its figures go to, where the orders end, the
# calendars, the dates shown, the conditions.
table_facts <- function(table) {
  calendars <- vapply(table$calendars, function(calendar) calendar$words$long, "")
  shown <- table$shown
  c(
    as_of = paste("As of", day_words(table$as_of)),
    end = if (table$covered < table$as_of) paste("orders end on", day_words(table$covered)),
    stats::setNames(calendars, rep("calendar", length(calendars))),
    shown = if (shown$limited) paste(day_words(shown$first), "to", day_words(shown$last)),
    stats::setNames(table$scope, rep("only", length(table$scope)))
  )
}

table_title <- function(table) request_title(table$ask)

# What a lens makes of another measure that is shown goes without saying.
told_measures <- function(ask) {
  shown <- names(ask$measures)
  own <- Filter(function(m) !is_of_named(m$tree) || !base_name(m$tree) %in% shown, ask$measures)
  if (length(own) > 0L) own else ask$measures
}

request_title <- function(ask) {
  if (ask$kind == "headlines") {
    return("Headlines")
  }
  if (ask$kind == "listing") {
    groups <- labels_of(names(group_axes(ask)), ask$axes)
    per <- ask$listing$per$name
    return(sentence_case(paste0(
      if (is.null(per)) "order lines" else paste("order lines for each", plain_words(per)),
        if (length(groups) > 0L) paste0(" by ", joined_words(groups))
    )))
  }
  measures <- vapply(told_measures(ask), `[[`, "", "label")
  sides <- lapply(c("rows", "cols"), function(side) {
    joined_words(labels_of(side_axes(ask, side), ask$axes))
  })
  title <- joined_words(measures)
  if (length(sides[[1L]]) > 0L) title <- paste(title, "by", sides[[1L]])
  if (length(sides[[2L]]) > 0L) title <- paste(title, "across", sides[[2L]])
  sentence_case(title)
}
