# The aggregates: how orders in a cell become one figure. A new one is a function here or in a file
# of its own, listed in aggregates().
#
# takes: the names of its arguments; those in `constants` are numbers, the
#   others expressions of columns
# needs: the states it is finished from: "sum", "moments", "extremes",
#   "rows"; none for counts of lines
# finish: from a leaf_cell() (see resolve-leaf.R) to figures, a matrix of groups by cells. A cell
#   before the record is unknown in every state, and so in its figure
# reads: what its argument must be: "amount", "ordered" (a date too) or "any"
# position: TRUE where it picks a row by date and input order instead of merging values
# repeated: FALSE where it does not matter how often a value is there

new_aggregate <- function(needs, finish, takes = "x", constants = character(), optional = FALSE,
  reads = "amount", position = FALSE, code_refused = FALSE, repeated = TRUE) {
  list(
    needs = needs, finish = finish, takes = takes, constants = constants,
    optional = optional, reads = reads,
    position = position, code_refused = code_refused, repeated = repeated
  )
}

aggregates <- made_once(function() {
  list(
    sum = aggregate_sum(), count = aggregate_count(), distinct = aggregate_distinct(),
    mean = aggregate_mean(), median = aggregate_median(), quantile = aggregate_quantile(),
    min = aggregate_min(), max = aggregate_max(), sd = aggregate_sd(),
    var = aggregate_var(), first = aggregate_first(), last = aggregate_last(),
    most_common = aggregate_most_common()
  )
})

aggregate_sum <- function() {
  new_aggregate("sum", function(cell) cell$within_doubles(cell$sum()), code_refused = TRUE)
}

# Order lines, or the lines where the argument is known, whatever its type.
aggregate_count <- function() {
  new_aggregate(character(), function(cell) cell$known(), optional = TRUE, reads = "any")
}

aggregate_mean <- function() {
  new_aggregate("sum", function(cell) cell$within_doubles(cell$sum()) / some(cell$known()),
    code_refused = TRUE)
}

aggregate_min <- function() {
  new_aggregate("extremes", function(cell) cell$faced(cell$extreme("least")), reads = "ordered")
}

aggregate_max <- function() {
  new_aggregate("extremes", function(cell) cell$faced(cell$extreme("greatest")), reads = "ordered")
}

# Of one value it is unknown, as in R.
aggregate_var <- function() {
  new_aggregate("moments", function(cell) cell$within_doubles(cell$variance()))
}

aggregate_sd <- function() {
  new_aggregate("moments", function(cell) sqrt(cell$within_doubles(cell$variance())))
}

aggregate_median <- function() {
  new_aggregate("rows", function(cell) {
    unknown_face_of(cell$given("median") %||% cell$quantile(0.5))
  })
}

aggregate_quantile <- function() {
  new_aggregate("rows", function(cell) unknown_face_of(cell$quantile(cell$constants$p)),
    c("x", "p"), "p")
}

aggregate_distinct <- function() {
  new_aggregate("rows", function(cell) {
    cell$given("distinct") %||% kernel_count_distinct(cell$sorted("codes"), cell$first, cell$end,
      length(cell$codes()$members), thread_count())
  }, reads = "any", repeated = FALSE)
}

# Of several the smallest.
aggregate_most_common <- function() {
  new_aggregate("rows", function(cell) {
    codes <- cell$codes()
    found <- kernel_most_common(cell$sorted("codes"), cell$first, cell$end, codes$place,
      thread_count())
    with_face(unknown_face_of(found), function(code) codes$values[code])
  }, reads = "any")
}

# By date, then input order, among the lines where the argument is known.
aggregate_first <- function() aggregate_end("least")

aggregate_last <- function() aggregate_end("greatest")

aggregate_end <- function(end) {
  new_aggregate("extremes", function(cell) picked(cell, end), reads = "any", position = TRUE)
}

picked <- function(cell, end) {
  row <- cell$extreme(end) %% 2^32
  values <- cell$values()
  if (is.numeric(values) && !is.object(values)) {
    return(matrix(as.numeric(values[row]), nrow(row), ncol(row)))
  }
  with_face(row, function(row) plain_values(vctrs::vec_slice(values, row)))
}

# Rows as numbers that order by day, then row: exact in a double. `before`: rows that stand before.
positions <- function(days, values, before) {
  at <- (floor(as.numeric(days)) - first_known_day) * 2^32 + before + seq_along(days)
  at[is.na(values)] <- NA
  at
}

# None is not a number of values to divide by.
some <- function(n) {
  n[!is.na(n) & n == 0] <- NA
  n
}

unknown_face_of <- function(m) {
  m[is.nan(m)] <- NA
  m
}

# A figure that stands for something else than its number: `face` turns numbers into what is shown.
with_face <- function(m, face) {
  attr(m, "face") <- face
  m
}
