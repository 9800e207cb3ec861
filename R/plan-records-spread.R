# The lines of a record spread by a rule: over the days of their periods, and over the members of
# columns that the record does not have. Amounts are divided in whole cents by the largest
# remainders, so that what is spread adds up to what was given in whatever way it is put together.

# Lines as they are spread: list(key; line: of each the line of the record, day, weight; book: of
# these lines; engine; columns: the ids of added columns by those of the orders).
spread_lines <- function(record, rule, lacking, frame) {
  frame <- frame$of_orders %||% frame
  key <- paste("spread", rlang::hash(list(rule, lapply(frame$axes[lacking], `[[`, "column"),
    if (needs_orders(rule)) list(frame$show_first, frame$show_last, frame$as_of,
      vapply(frame$book$scope, `[[`, "", "key")))))
  remembered_in(record$known, key, function() {
    forget_spread(record$known, key)
    lines <- lines_by_day(record, rule)
    if (length(lacking) > 0L) lines <- lines_by_member(lines, record, rule, lacking, frame)
    if ("last year" %in% unlist(rule)) lines <- lines_as_last_year(lines, record, rule,
      lacking, frame)
    with_book(lines, record, key)
  })
  current_lines(record, key)
}

# Of ever other states of a daybook, as by hand in the explorer, the lines spread long ago are
# forgotten: whoever asks for them again makes them again.
most_spread <- 12L

forget_spread <- function(known, key) {
  keys <- c(known$spread, key)
  old <- utils::head(keys, -most_spread)
  rm(list = old, envir = known)
  known$spread <- setdiff(keys, old)
}

needs_orders <- function(rule) !is.null(rule$members) || identical(rule$days, "last year")

# What the record has learned of columns since its lines were spread is known of them too.
current_lines <- function(record, key) {
  lines <- record$known[[key]]
  engine <- engine_of(record$book)
  for (id in setdiff(ls(engine$meanings), ls(lines$engine$meanings))) {
    assign(id, list(kind = "part", of = engine, id = id, rows = lines$line),
      envir = lines$engine$meanings)
  }
  lines
}

most_spread_lines <- 3e7

lines_by_day <- function(record, rule) {
  days <- as.integer(line_days(engine_of(record$book)))
  line <- which(!is.na(days))
  if (is.null(record$per)) {
    return(list(line = line, day = days[line], weight = rep(1, length(line))))
  }
  start <- period_start(days[line], record$per$unit, record$per$calendar)
  if (is.null(rule$days)) {
    return(list(line = line, day = start, weight = rep(1, length(line))))
  }
  count <- period_end(start, record$per$unit, record$per$calendar) - start + 1L
  check_spread_size(sum(as.numeric(count)), record)
  day <- rep(start, count) + sequence(count) - 1L
  weight <- if (rule$days == "trading days") as.numeric(is_open(day, record$per$calendar))
    else rep(1, length(day))
  list(line = rep(line, count), day = day, weight = weight)
}

is_open <- function(days, calendar) open_days(calendar)[days - first_known_day + 1L]

check_spread_size <- function(lines, record) {
  if (lines > most_spread_lines) raise("memory", c(
    paste0("The record ", quoted(record$name), " has too many lines to be spread."),
    "x" = "They would be {format_count(lines)}.",
    ">" = "Give it as totals by period and the columns that tables have."))
}

# The columns that a record shares with the orders: by the names of the record the ids of both.
shared_columns <- function(record, book) {
  facts <- column_facts(record$book)
  own <- setdiff(facts$name[facts$kind %in% c("dimension", "condition")], record$book$date)
  named <- stats::setNames(own, own)
  named[unname(record$by)] <- names(record$by)
  named <- named[named %in% names(book$columns) & names(named) %in% own]
  lapply(stats::setNames(names(named), names(named)), function(name) {
    list(ours = book$columns[[named[[name]]]], theirs = record$book$columns[[name]],
      name = named[[name]])
  })
}

# Each line for every member that the orders of its own members have on the dates shown.
lines_by_member <- function(lines, record, rule, lacking, frame) {
  shared <- shared_columns(record, frame$book)
  occurring <- occurring_members(shared, frame$axes[lacking], frame)
  own <- texts_of_lines(shared, record)
  known <- match_texts(own, occurring$shared, engine_of(record$book)$rows, occurring$count)
  groups <- match_texts(occurring$shared, occurring$shared, occurring$count, occurring$count)
  places <- split(seq_len(occurring$count), factor(groups,
    levels = seq_len(max(occurring$count, 1L))))
  of_line <- places[ifelse(is.na(known), length(places) + 1L, known)][lines$line]
  of_line[lengths(of_line) == 0L] <- NA_integer_
  count <- lengths(of_line)
  check_spread_size(sum(as.numeric(count)), record)
  place <- unlist(of_line, use.names = FALSE)
  again <- rep(seq_along(lines$line), count)
  c(lapply(lines[c("line", "day", "weight")], `[`, again),
    list(members = lapply(occurring$lacking, `[`, place)))
}

# The shared columns as axes over the orders, whose names are those of no other.
shared_axes <- function(shared) {
  axes <- Map(function(one, name) dimension_axis(paste("shared", name), one$ours),
    shared, names(shared))
  stats::setNames(axes, vapply(axes, `[[`, "", "name"))
}

# The members of the orders on the dates shown: list(shared, lacking: columns of texts, count).
occurring_members <- function(shared, axes, frame) {
  ours <- shared_axes(shared)
  found <- fold_by(c(ours, axes), interval_cells(frame$show_first, frame$show_last),
    node("aggregate", fn = "count", args = list()), frame)
  here <- which(found$figures[, 1L] > 0)
  texts <- lapply(found$members, `[`, here)
  lacking <- lapply(texts[names(axes)], function(text) replace(text, text == none_label, NA))
  list(shared = unname(texts[names(ours)]), lacking = lacking, count = length(here))
}

# A count or sum of the orders by some dimensions and the cells of one row of time: list(members:
# columns of texts; figures: a matrix of groups by cells).
fold_by <- function(axes, cells, tree, frame) {
  book <- frame$book
  engine <- engine_of(book)
  job <- new_job(book)
  days <- days_of_leaf(list(cells = cells, job = job), frame)
  leaf <- leaf_node(tree, list(cells = cells, job = job, along = NULL), days)
  planned <- plan_jobs(list(leaf), job, frame)[[job$key]]
  dimensions <- lapply(axes, members, engine = engine)
  folded <- fold(engine, planned, dimensions, book)
  first <- match(leaf$from, planned$spans$cuts) - 1L
  end <- match(leaf$to + 1L, planned$spans$cuts) - 1L
  state <- if (is.null(leaf$amount)) folded$lines else folded$states[[leaf$amount]]$sum
  merged <- kernel_finish(kernel_merge_spans(state, first, end),
    if (is.null(leaf$amount)) "count" else "sum")
  list(members = Map(function(places, d) c(d$members, none_label)[places],
    folded$places[names(axes)], dimensions),
    figures = matrix(as.numeric(merged), folded$count))
}

# The members of each line of a record, a column of texts for each column shared.
texts_of_lines <- function(shared, record) {
  unname(lapply(shared, function(one) {
    values <- line_values(engine_of(record$book), column_node(one$name, one$theirs))
    or_none(member_text(plain_values(values)))
  }))
}

# The first row of a table that is alike each row; without columns all rows are.
match_texts <- function(rows, table, n, n_table) {
  if (length(table) == 0L) {
    return(rep(if (n_table > 0L) 1L else NA_integer_, n))
  }
  codes <- Map(function(row, own) {
    known <- unique(c(as.character(row), as.character(own)))
    list(match(as.character(row), known), match(as.character(own), known))
  }, rows, table)
  match_rows(lapply(codes, `[[`, 1L), lapply(codes, `[[`, 2L), n, n_table)
}

or_none <- function(texts) replace(texts, is.na(texts), none_label)

# By what the orders of a year before were: of the same members, on the matching days. What had no
# orders then keeps its plain weights.
lines_as_last_year <- function(lines, record, rule, lacking, frame) {
  shared <- shared_columns(record, frame$book)
  by_day <- identical(rule$days, "last year")
  per <- record$per %||% list(unit = "day", calendar = frame$book$calendars[[1L]])
  before <- days_a_year_before(lines$day, if (by_day) "day" else per$unit, per$calendar)
  by_member <- identical(rule$members, "last year") && length(lacking) > 0L
  shape <- shape_of_orders(shared, frame$axes[if (by_member) lacking else character()],
    if (by_day) "day" else per$unit, per$calendar, record, frame)
  own <- c(lapply(texts_of_lines(shared, record), `[`, lines$line),
    if (by_member) unname(lapply(lines$members, or_none)), list(before))
  at <- match_texts(own, shape$keys, length(before), length(shape$amount))
  found <- pmax(ifelse(is.na(at), 0, shape$amount[at]), 0)
  total <- stats::ave(found, lines$line, FUN = sum)
  lines$weight <- ifelse(total > 0, found, lines$weight)
  lines
}

days_a_year_before <- function(days, unit, calendar) {
  distinct <- unique(days)
  cells <- period_cells(distinct, period_end(distinct, unit, calendar), unit, calendar, distinct,
    period_end(distinct, unit, calendar))
  as.integer(shift_cells(cells, "year", 1L, calendar)$from)[match(days, distinct)]
}

# The shape's amount of the orders by members and days (or periods): list(keys, amount).
shape_of_orders <- function(shared, axes, unit, calendar, record, frame) {
  ours <- shared_axes(shared)
  first <- period_start(frame$book_first, unit, calendar)
  starts <- period_starts_between(list(unit = unit, calendar = calendar), first, frame$as_of)
  cells <- interval_cells(starts, period_end(starts, unit, calendar))
  found <- fold_by(c(ours, axes), cells, node("aggregate", fn = "sum",
    args = list(record$shape)), frame)
  groups <- nrow(found$figures)
  list(keys = c(unname(lapply(found$members, rep, times = length(starts))),
    list(rep(starts, each = groups))),
    amount = as.vector(found$figures))
}

with_book <- function(lines, record, key) {
  whole <- engine_of(record$book)
  engine <- orders_part(whole, lines$line)
  engine$days <- as.integer(lines$day)
  columns <- character()
  for (i in seq_along(lines$members)) {
    id <- paste("member", i)
    assign(id, list(kind = "source", values = lines$members[[i]]), envir = engine$meanings)
    columns[[names(lines$members)[i]]] <- id
  }
  book <- record$book
  book$engine <- hold_engine(engine)
  book$rows <- length(lines$line)
  c(lines, list(key = key, book = book, engine = engine, columns = columns, whole = whole))
}

# What an amount of the record's lines becomes over the lines as they are spread: a column
# of theirs.
spread_amount <- function(lines, tree) {
  id <- paste("amount", tree_key(tree))
  if (!exists(id, envir = lines$engine$meanings, inherits = FALSE)) {
    amounts <- check_amount(line_values(lines$whole, tree), tree)
    if (tree$kind == "column") check_not_code(amounts, tree$name)
    assign(id, list(kind = "source", values = divided(as.numeric(amounts), lines$line,
      lines$weight)),
      envir = lines$engine$meanings)
  }
  column_node(tree_text(tree), id)
}

# Amounts divided by weights over the places of each line, which follow one another: whole cents
# (ten-thousandths where an amount has them) to the largest remainders, the first of equal ones;
# what is finer stays with the last.
divided <- function(amounts, line, weight) {
  amount <- amounts[line]
  total <- stats::ave(weight, line, FUN = sum)
  plain <- total == 0
  weight[plain] <- 1
  total[plain] <- stats::ave(weight, line, FUN = sum)[plain]
  size <- abs(amount)
  units <- ifelse(is_nearly_whole(size * 100), 100, 10000)
  whole <- ifelse(is_nearly_whole(size * units), round(size * units), trunc(size * units))
  share <- whole * weight / total
  base <- floor(share + 1e-9)
  left <- whole - stats::ave(base, line, FUN = sum)
  order <- order(line, base - share, seq_along(line), method = "radix")
  rank <- integer(length(line))
  rank[order] <- sequence(rle(line)$lengths)
  parts <- (base + (rank <= left)) / units
  finer <- size - whole / units
  last <- c(line[-1L] != line[-length(line)], TRUE)[seq_along(line)]
  rest <- which(last & finer > 1e-12)
  parts[rest] <- parts[rest] + finer[rest]
  sign(amount) * parts
}
