# Cyclic parts cut the days of a cell: a Monday's figure is of Mondays only. What a group's own days
# are is a mask over the known days, the same for all groups with the same parts.

# The parts a level keeps, and for each group which combination of them it has: list(ids, masks),
# NULL where it keeps none.
group_days <- function(at) {
  remembered_in(at$seen, "own days", function() {
    cyclic <- Filter(is_cyclic_axis, at$ask$axes[at$kept])
    cyclic <- Filter(function(axis) axis$part != "hour_of_day", cyclic)
    if (length(cyclic) == 0L || at$count == 0L) {
      return(list(ids = NULL))
    }
    places <- at$places[names(cyclic)]
    first <- first_of_rows(places, at$count)
    masks <- lapply(first, function(group) {
      own <- lapply(cyclic, function(axis) {
        days_of_place(axis, places[[axis$name]][group], at$folded$dimensions[[axis$name]])
      })
      Reduce(`&`, own)
    })
    list(ids = match_rows(places, lapply(places, `[`, first), at$count,
      length(first)), masks = masks)
  })
}

# The days of the member at one place; of members put together those of all that
# have no place of their own.
days_of_place <- function(axis, place, dimension) {
  place_of_day <- dimension$place[part_table(axis$part, axis$calendar)]
  if (place %in% dimension$others) !place_of_day %in% dimension$alone else place_of_day %in% place
}

# For each group and interval, how many days of its own lie there; `open` counts
# only those in a mask of days.
own_day_counts <- function(days, from, to, open = TRUE) {
  counts <- vapply(days$masks, function(mask) count_days(mask & open, from, to),
    numeric(length(from)))
  t(matrix(counts, length(from)))[days$ids, , drop = FALSE]
}

count_days <- function(mask, from, to) {
  before <- c(0, cumsum(mask))
  at <- function(day) {
    before[pmin(pmax(day, first_known_day), last_known_day + 1L) - first_known_day + 1L]
  }
  at(to + 1L) - at(from)
}

# A figure is unknown where none of a group's own days lies in the part of the
# cell that the record holds.
unknown_without_days <- function(result, leaf, at) {
  days <- group_days(at)
  if (is.null(days$ids)) {
    return(result)
  }
  from <- pmax(leaf$from, leaf$job$first)
  none <- own_day_counts(days, from, leaf$to) == 0
  result[none] <- NA
  result
}
