# The engine for orders in memory: for each job one pass turns the orders into states, one for each group and span.
#
# The result is list(jobs, dimensions, groups):
# dimensions: the members of each dimension axis
# jobs:       for each job its states (lines, and for each amount missing, sum, square, least, greatest as wanted;
# groups by
#             spans), the places of its groups among the members of each dimension (one beyond the last for missing),
#             decimals
#             (places of decimal amounts, 2 or 4, NA for other numbers), per_unit (how many of what a sum counts make
#             one; 0 where
#             it is the sum itself), values (the amounts as they are) and cells (of rows)
# codes:      remembers codes of values that several leaves count

fold_frame <- function(book, ask, plan) {
  dimensions <- ask_dimensions(ask, book)
  entities <- entity_codes(plan, book)
  check_memory(memory_needed(plan, dimensions, entities, book))
  list(
    dimensions = dimensions, jobs = lapply(
      plan$jobs, fold_job, book = book, dimensions = dimensions, entities = entities
    ),
    book = book, codes = new.env(parent = emptyenv())
  )
}

# The dimensions of an ask, their members in the order of a list or a key where one is said.
ask_dimensions <- function(ask, book) {
  lapply(dimension_axes(ask), function(axis) {
    coded <- dimension_codes(axis_source(axis, book), axis$name)
    given_order(coded, axis, ask$sort[[axis$name]], book)
  })
}

# The columns whose values some job keeps apart.
entity_codes <- function(plan, book) {
  names <- unique(as.character(unlist(lapply(plan$jobs, `[[`, "entity"))))
  stats::setNames(lapply(names, function(name) dimension_codes(book$columns[[name]], name)), names)
}

fold_job <- function(job, book, dimensions, entities) {
  if (!is.null(job$entity)) dimensions <- c(dimensions, list(.entity = entities[[job$entity]]))
  joint <- joint_codes(dimensions, job$spans$count)
  days <- job_days(job, book)
  values <- lapply(job$amounts, amount_values, book = book)
  amounts <- Map(fold_values, values, job$amounts, MoreArgs = list(days = days))
  wants <- function(state) unname(vapply(job$amounts, function(a) state %in% a$needs, logical(1L)))
  folded <- kernel_fold(
    days, job$spans$cuts[1L], job$spans$of_day, job$spans$count, joint$codes, joint$levels, job_mask(job, book),
    unname(amounts), wants("sum"), wants("square"), wants("range"), job$rows, thread_count(),
    getOption("drystack.progress"), getOption("drystack.progress_after", 2)
  )
  names(folded$columns) <- names(job$amounts)
  found <- only_occurring(c(list(lines = folded$lines), folded$columns), joint, dimensions)
  found$decimals <- stats::setNames(folded$decimals, names(job$amounts))
  found$per_unit <- stats::setNames(folded$per_unit, names(job$amounts))
  found$values <- values
  found$quiet <- vapply(job$amounts, function(a) a$quiet || a$position, logical(1L))
  found$cells <- folded$cells
  found
}

# One logical for each row of a job's scope, or NULL for all. Conditions of lenses are worked out here.
job_mask <- function(job, book) {
  scope <- lapply(job$scope, function(condition) {
    if (is.null(condition$tree)) condition else add_condition(book, condition$tree)$scope[[length(book$scope) + 1L]]
  })
  if (job$date != book$date && book$as_of < book$last) {
    # Read off another date, an order may still be one that is not seen yet.
    scope <- c(scope, list(list(met = !is.na(book$days) & book$days <= book$as_of)))
  }
  scope_mask(scope)
}

job_days <- function(job, book) {
  if (job$date == book$date) book$days else read_days(book$columns[[job$date]], job$date)
}

# The column of a dimension; a cyclic part is read off the dates.
axis_source <- function(axis, book) {
  if (!is_cyclic_axis(axis)) {
    return(book$columns[[axis$column]])
  }
  if (axis$part == "hour_of_day") {
    return(hour_factor(book$columns[[book$date]]))
  }
  part_factor(book$days, axis$part, axis$calendar)
}

dimension_axes <- function(ask) Filter(Negate(is_period_axis), ask$axes)

# Groups without a single order line in any span are no groups of the table; without dimensions there is one.
only_occurring <- function(folded, joint, dimensions) {
  occurs <- rowSums(folded$lines$a) > 0 | length(dimensions) == 0L
  places <- Map(function(codes, d) c(d$place, length(d$members) + 1L)[codes[occurs]], joint$members, dimensions)
  # In the order of the members, so that nothing merged from groups depends on which row came first.
  order <- if (length(places) == 0L) 1L else do.call(base::order, c(unname(places), method = "radix"))
  groups <- which(occurs)[order]
  keep <- function(m) if (identical(groups, seq_len(nrow(m)))) m else m[groups, , drop = FALSE]
  states <- list(lines = list(a = keep(folded$lines$a)))
  for (amount in setdiff(names(folded), "lines")) {
    states[[amount]] <- lapply(folded[[amount]], lapply, keep)
  }
  places <- stats::setNames(lapply(places, `[`, order), names(dimensions))
  list(states = states, places = places, groups = groups, n_raw = length(occurs))
}

# The values of an aggregate's argument, one for each order line.
amount_values <- function(amount, book) {
  values <- row_values(amount$tree, book$columns, book$rows)
  if (length(values) == 1L) values <- rep_len(values, book$rows)
  if (amount$position) {
    return(values)
  }
  if ("amount" %in% amount$reads) check_amount(values, amount$tree)
  if ("ordered" %in% amount$reads && !inherits(values, c("Date", "POSIXct"))) check_amount(values, amount$tree)
  if (amount$code_refused && amount$tree$kind == "column") check_not_code(values, amount$tree$name)
  values
}

# As the kernel takes them: numbers; of other values only whether they are known, or where they stand.
fold_values <- function(values, amount, days) {
  if (amount$position) {
    return(positions(days, values))
  }
  if (is.factor(values) || !(is.numeric(values) || is.logical(values) || inherits(values, c("Date", "POSIXct")))) {
    return(ifelse(is.na(values), NA, TRUE))
  }
  values
}

check_amount <- function(values, tree) {
  if (inherits(values, "integer64")) {
    return(values)
  }
  if (!(is.numeric(values) || is.logical(values)) || is.factor(values) || inherits(values, "Date")) {
    raise_not_amount(values, tree)
  }
  values
}

# Whole numbers under a name that codes have, or different on nearly every line with one length, are no amounts.
check_not_code <- function(values, name) {
  if (!looks_like_code(values, name)) {
    return()
  }
  raise("amount", c(
    paste0(quoted(name), " looks like a code, not an amount: adding it up means nothing."),
    "x" = "Its values: {examples_of(utils::head(unique(values), 5))}.",
    ">" = paste0("Count it with {.code distinct(", braces_kept(name_text(name)), ")}; if it is an amount all the same, say ",
                 "{.code sum(as_amount(", braces_kept(name_text(name)), "))}.")
  ))
}

looks_like_code <- function(values, name) {
  if (!is.numeric(values) || is.object(values)) {
    return(FALSE)
  }
  known <- utils::head(values, 10000L)
  known <- known[!is.na(known)]
  if (length(known) == 0L || any(known != round(known)) || any(known < 0)) {
    return(FALSE)
  }
  named <- grepl("(^|[_. ])(id|ids|no|nr|num|code|codes|key|ref|sku|ean|postcode|zip)$", name, ignore.case = TRUE)
  different <- length(known) >= 100L && length(unique(known)) > 0.95 * length(known) && min(known) >= 1000
  named || (different && length(unique(nchar(format_plain(known)))) == 1L)
}
