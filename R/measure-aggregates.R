# The aggregates: how orders in a cell become one figure.
#
# An aggregate names the states it needs of its argument and finishes them into figures. `needs` are words of
# state_kinds; `finish` takes the merged states (matrices of groups by intervals) and gives a matrix. A cell
# before the record has missing states and so an unknown figure.

new_aggregate <- function(needs, finish, optional = FALSE, of_amounts = TRUE) {
  list(needs = needs, finish = finish, optional = optional, of_amounts = of_amounts)
}

aggregates <- function() {
  list(
    sum = aggregate_sum(),
    count = aggregate_count(),
    mean = aggregate_mean(),
    min = aggregate_min(),
    max = aggregate_max()
  )
}

aggregate_sum <- function() new_aggregate("sum", sum_of)

# Decimal amounts (cents) have a decimal sum: it is known to the last digit, and the binary fractions of the amounts
# are rounded off. Beyond 2^50 last places a double cannot tell them apart.
sum_of <- function(states) {
  sum <- states$sum$a
  if (is.na(states$decimals)) {
    return(sum)
  }
  unit <- 10^states$decimals
  places <- round(sum * unit + states$sum$b * unit)
  exact <- !is.na(places) & abs(places) < 2^50
  sum[exact] <- places[exact] / unit
  sum
}

# Order lines, or the lines where the argument is known, whatever its type.
aggregate_count <- function() {
  new_aggregate(character(), known_lines, optional = TRUE, of_amounts = FALSE)
}

aggregate_mean <- function() {
  new_aggregate("sum", function(states) {
    known <- known_lines(states)
    known[!is.na(known) & known == 0] <- NA
    sum_of(states) / known
  })
}

aggregate_min <- function() new_aggregate("range", function(states) finite(states$least$a))

aggregate_max <- function() new_aggregate("range", function(states) finite(states$greatest$a))

known_lines <- function(states) {
  if (is.null(states$missing)) states$lines$a else states$lines$a - states$missing$a
}
