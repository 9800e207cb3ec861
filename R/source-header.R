# Where the header of delimited text is: the first line as wide as most whose cells look like names.
# Lines above it are titles; a second line of names below it names the columns; where no line has
# names, and the first is like those below it, nobody guesses.

found_header <- function(bytes, path, reading) {
  quote <- reading$quote %||% "\""
  sampled <- sampled_text(bytes, reading, quote)
  records <- sampled$records
  check_width(path, max(lengths(lapply(records, `[[`, "texts"))))
  if (sampled$width == 1L) check_fields(records, path, reading)
  settled <- settled_header(records, sampled$width, reading, path)
  at <- settled$at
  begins <- if (at == 0L) list("next" = past_lines(bytes, reading$skip %||% 0L),
    line = (reading$skip %||% 0) + 1)
    else records[[at]]
  if (at > 0L) check_header(settled$names, begins$fault, path)
  header <- new_header(settled$names, sampled$separator, quote, begins[["next"]], begins$line,
    line = begins$line - 1, titles = titles_of(records[seq_len(settled$first - 1L)]))
  header$two <- settled$at > settled$first
  header$spaced <- at > 0L && are_spaced(records[[settled$first]]$texts)
  header$lines_below <- settled$lines_below
  header
}

# Lines of one length without a separator are fields whose width has to be given.
check_fields <- function(records, path, reading) {
  lines <- vapply(records, function(record) record$texts[1L], "")
  if (length(lines) > 2L && nchar(lines[1L]) > 20L &&
    length(unique(nchar(lines))) == 1L && all(grepl(" ", lines))) {
    raise_widths(lines[1L], 1L, path, reading)
  }
}

# list(names; at: the record below which the others begin, 0 where none is a header; first: the
# first record that is no title).
settled_header <- function(records, width, reading, path) {
  if (identical(reading$header, "none")) {
    return(list(names = paste0("column_", seq_len(width)), at = 0L, first = 1L))
  }
  if (!is.null(reading$header) && !identical(reading$header, "first")) {
    check_names_given(reading$header, width, path)
    return(list(names = reading$header, at = 0L, first = 1L))
  }
  said <- !is.null(reading$skip) || !is.null(reading$header)
  first <- if (said) 1L else header_place(records, width)
  names <- kernel_trimmed(records[[first]]$texts)
  cells <- lapply(records[-seq_len(first)], function(record) kernel_trimmed(record$texts))
  if (!said && all_like_orders(names, cells)) raise_no_header(names, path, reading)
  at <- first + (!said && is_second_header(names, cells))
  if (at > first) names <- joined_names(names, cells[[1L]])
  list(names = with_end_cell(names, cells), at = at, first = first,
    lines_below = lines_below_headers(names, cells[seq_along(cells) > at - first]))
}

# Most records have one cell more that is always empty: a separator ends each line.
with_end_cell <- function(names, cells) {
  wider <- cells[lengths(cells) == length(names) + 1L]
  ended <- vapply(wider, function(texts) !nzchar(texts[length(texts)]), NA)
  if (length(wider) > 0.5 * length(cells) && all(ended)) c(names, "") else names
}

# Whether the first line has numbers and dates wherever the lines below it have them. Years may
# be names.
all_like_orders <- function(names, cells) {
  cells <- cells[lengths(cells) == length(names)]
  if (length(cells) == 0L) {
    return(FALSE)
  }
  below <- matrix(unlist(cells), length(names))
  filled <- below != ""
  mostly <- function(is) {
    some <- rowSums(filled)
    some > 0 & rowSums(filled & matrix(is(below), nrow(below))) > 0.9 * some
  }
  kinds <- ifelse(mostly(is_date_cell), "date", ifelse(mostly(is_number_cell), "number", ""))
  typed <- kinds != "" & nzchar(names)
  alike <- ifelse(kinds == "date", is_date_cell(names), is_number_cell(names))
  years <- grepl("^(19|20)[0-9]{2}$", names)
  any(typed) && all(alike[typed]) && !all(years[typed]) &&
    (any(kinds == "date") || sum(typed) > 1L || any(grepl("[.,]", names[typed])))
}

raise_no_header <- function(names, path, reading) {
  raise("file", c(
    paste0("The first line of ", quoted(path), " looks like the lines below it: it has no names."),
    "x" = paste0("It reads ", quoted(paste(utils::head(names, 8L), collapse = ", ")), "."),
    ">" = paste0("Say so, and columns are called column_1 and so on: ",
      reading_command(path, reading, header = "none"), "; or give names: ",
      option_said("header", "date,customer,net"), "; or say that these are names: ",
      option_said("header", "first"), ".")
  ))
}

check_names_given <- function(names, width, path) {
  if (length(names) != width) {
    raise("argument", c(
      paste0(argument_said("header"), " names ", count_words(length(names), "column", ""), "; ",
        quoted(path), " has ", width, "."),
      ">" = "Name each column, or say {.val none}."
    ))
  }
}

# A line of names below one of groups of columns: each cell of it has a name, where those above are
# empty or stand over several, and some columns below hold numbers or dates.
is_second_header <- function(names, cells) {
  if (length(cells) < 2L || length(cells[[1L]]) != length(names)) {
    return(FALSE)
  }
  groups <- !all(nzchar(names)) || anyDuplicated(names) > 0L
  second <- cells[[1L]]
  if (!groups || !all(nzchar(second)) || !all(like_names(second))) {
    return(FALSE)
  }
  rest <- Filter(function(texts) length(texts) == length(names), cells[-1L])
  typed <- vapply(seq_along(names), function(i) {
    below <- vapply(rest, `[`, "", i)
    below <- below[nzchar(below)]
    length(below) > 0L && mean(is_number_cell(below) | is_date_cell(below)) > 0.8
  }, NA)
  any(typed) && !any(is_number_cell(second[typed]) | is_date_cell(second[typed]))
}

# The names of the second line; those that stand there twice with the name of their group.
joined_names <- function(groups, names) {
  filled <- which(nzchar(groups))
  over <- c("", groups[filled])[findInterval(seq_along(groups), filled) + 1L]
  twice <- names %in% names[duplicated(names)] & nzchar(over)
  ifelse(twice, paste(over, names), names)
}

titles_of <- function(records) {
  titles <- vapply(records, function(record) {
    paste(record$texts[nzchar(record$texts)], collapse = " ")
  }, "")
  Filter(nzchar, titles)
}

# The first records, cut by the separator that cuts most of them alike, and into more cells than
# another: a decimal comma may stand once in each.
sampled_text <- function(bytes, reading, quote) {
  from <- past_lines(bytes, reading$skip %||% 0L)
  tried <- reading$separator %||% ordered_separators(bytes)
  cut <- lapply(tried, function(separator) first_records(bytes, from, separator, quote))
  fit <- vapply(cut, function(records) {
    widths <- widths_of(records)
    width <- common_width(widths)
    if (width < 2L) 0 else mean(widths == width) * log(width)
  }, 0)
  best <- which.max(fit)
  list(separator = tried[best], records = cut[[best]], width = common_width(widths_of(cut[[best]])))
}

# How many cells records have; lines that are drawn between them have none.
widths_of <- function(records) {
  texts <- lapply(records, `[[`, "texts")
  drawn <- vapply(texts, function(cells) !any(grepl("[^-=_+]", cells)), NA)
  lengths(if (all(drawn)) texts else texts[!drawn])
}

# The one of the first line first: of equal fits it counts.
ordered_separators <- function(bytes) unique(c(likely_separator(bytes), delimited_separators))

common_width <- function(widths) {
  counts <- tabulate(widths)
  max(which(counts == max(counts)))
}

# More columns than are read end them: what follows costs time and changes nothing.
first_records <- function(bytes, from, separator, quote) {
  kernel_first_records(bytes, if (from < length(bytes)) from else 0, separator, quote,
    sampled_records, most_read_columns)
}

# The byte at which the text goes on after some lines.
past_lines <- function(bytes, lines) {
  if (lines == 0L) {
    return(0)
  }
  ends <- which(bytes == as.raw(10L))
  if (length(ends) < lines) {
    raise("file", c("The file has fewer lines than {.arg skip} leaves out.",
      "x" = "It is {lines}; the file has {length(ends)}."))
  }
  ends[lines]
}

header_place <- function(records, width) {
  texts <- lapply(records, function(record) kernel_trimmed(record$texts))
  wide <- texts[lengths(texts) == width]
  # A separator ends each line but the header.
  ended <- width > 2L && all(vapply(wide, function(cells) !nzchar(cells[width]), NA))
  # All cells at once: a pattern takes longer to be read than to be looked for.
  cells <- unlist(texts)
  of <- rep(seq_along(texts), lengths(texts))[nzchar(cells)]
  nameless <- of[!like_names(cells[nzchar(cells)])]
  fits <- lengths(texts) %in% c(width, if (ended) width - 1L) & !seq_along(texts) %in% nameless &
    tabulate(of, length(texts)) >= max(1, 0.6 * width)
  place <- which(fits)[1L]
  if (is.na(place)) {
    return(1L)
  }
  below_notes <- header_below_notes(texts, which(fits))
  if (!is.na(below_notes)) {
    return(below_notes)
  }
  above <- seq_len(place - 1L)
  # Titles have few cells. A line of many would be lost: then the first is the header, as it stands.
  known <- vapply(texts[above], function(cells) sum(nzchar(cells)), 1L)
  if (any(known > max(1, 0.5 * width))) 1L else place
}

# Where notes stand above in as many cells: the last line of names before the first with numbers or
# dates, more than one below the first that could be it. Each of its cells has a name of its own.
header_below_notes <- function(texts, places) {
  if (max(places) <= places[1L] + 1L) {
    return(NA_integer_)
  }
  typed <- which(vapply(texts, function(cells) {
    any(is_number_cell(cells) | is_date_cell(cells))
  }, NA))[1L]
  last <- max(c(places[places < typed], 0L), na.rm = TRUE)
  if (is.na(typed) || last <= places[1L] + 1L) {
    return(NA_integer_)
  }
  names <- texts[[last]]
  whole <- all(nzchar(names)) && anyDuplicated(names) == 0L && !any(is_unknown_word(names))
  # The texts of an order line stand in others too.
  again <- vapply(texts[-last], function(cells) {
    length(cells) == length(names) && any(cells == names)
  }, NA)
  below <- Filter(function(cells) length(cells) == length(names), texts[-seq_len(last)])
  typed_columns <- vapply(seq_along(names), function(i) {
    cells <- vapply(below, `[`, "", i)
    cells <- cells[nzchar(cells)]
    length(cells) > 0L && mean(is_number_cell(cells) | is_date_cell(cells)) > 0.8
  }, NA)
  # An order line has a date or an amount, where others have both.
  if (whole && !any(again) && sum(typed_columns) > 1L) last else NA_integer_
}
