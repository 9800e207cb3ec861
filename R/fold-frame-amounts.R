# The amounts of a job over orders in memory: the values they are worked out of, and
# as the kernel takes them.

# The values of an aggregate's argument, one for each order line. What is no
# finite number is unknown.
amount_values <- function(amount, engine) {
  values <- whole_of_tree(engine, amount$tree)
  if (is.double(values) && !is.object(values) && any(c("any", "ordered") %in% amount$reads))
    values <- finite_values(values)
  if (amount$position) {
    return(values)
  }
  if ("amount" %in% amount$reads) check_amount(values, amount$tree)
  if ("ordered" %in% amount$reads && !inherits(values, c("Date", "POSIXct")))
    check_amount(values, amount$tree)
  if (amount$code_refused && amount$tree$kind == "column") check_not_code(values, amount$tree$name)
  values
}

finite_values <- function(values) {
  if (is.finite(sum(values, na.rm = TRUE))) values else finite(values)
}

# As the kernel takes them: numbers; of other values only whether they are
# known, or where they stand.
fold_values <- function(values, amount, days, before) {
  if (amount$position) {
    return(positions(days, values, before))
  }
  if (is.factor(values) || !(is.numeric(values) || is.logical(values) ||
    inherits(values, c("Date", "POSIXct")))) {
    return(ifelse(is.na(values), NA, TRUE))
  }
  values
}
