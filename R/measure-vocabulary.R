# What an expression may name: the scope of the parser.
#
# columns:     the ids of the columns, by name
# env:         where R values may be looked for; NULL where none may be, as on the command line
# measures:    the trees of the measures before it, by name
# calendars:   the calendars of the daybook, by name
# axes, cols:  the names of the axes of the table, and of those that run across
# date:        the name of the daybook's date column
# function_id: gives an R function the id by which it is told from others

new_vocabulary <- function(columns = character(), env = NULL, measures = list(), calendars = list(),
  axes = character(), cols = character(), date = NULL, function_id = NULL, rates = NULL) {
  list(
    columns = columns, env = env, measures = measures, calendars = calendars,
    axes = axes, cols = cols, date = date, function_id = function_id, rates = rates
  )
}
