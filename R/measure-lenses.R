# Lenses on time: each turns the cells it is given into others, and its measure is worked out there.
# A new one is a function here, listed in lenses().
#
# takes:   the names of its arguments after the measure
# options: reads them, as said, into options
# move:    turns cells into cells; see period-cells.R for what cells are
# words:   what it does, from its options and its unit, for explain()
# label:   what it makes of a measure called `of`; without one such a measure goes by its name

lenses <- made_once(function() {
  list(
    ytd = lens_so_far("year"), htd = lens_so_far("half"), qtd = lens_so_far("quarter"),
    mtd = lens_so_far("month"), wtd = lens_so_far("week"), so_far = lens_so_far(NULL),
    current = lens_current(), whole = lens_whole(), prior = lens_prior(), running = lens_running(),
      moving = lens_moving()
  )
})

# From the start of the period of a unit that holds the cell's last day. `fixed` is
# the unit of the short words.
lens_so_far <- function(fixed) {
  list(
    takes = if (is.null(fixed)) c("unit", "calendar") else "calendar",
    options = function(args, vocabulary) {
      list(unit = period_option(if (is.null(fixed)) args$unit else as.name(fixed),
        args$calendar, vocabulary, "so_far"))
    },
    move = function(cells, options, frame) {
      unit <- options$unit %||% raise_no_unit("so_far")
      so_far_cells(cells, unit$unit, unit$calendar)
    },
    words = function(options, unit) {
      paste("from the first day of the", unit, "to the last day of the cell")
    },
    label = so_far_label
  )
}

# The whole period that holds the cell's last day, up to the as-of date.
lens_current <- function() {
  list(
    takes = c("unit", "calendar"),
    options = function(args, vocabulary) {
      list(unit = period_option(args$unit, args$calendar, vocabulary, "current"))
    },
    move = function(cells, options, frame) {
      unit <- options$unit %||% frame$grain %||% raise_no_unit("current")
      cells <- so_far_cells(cells, unit$unit, unit$calendar)
      cells$to <- pmin(cells$end, frame$as_of)
      cells
    },
    words = function(options, unit) paste("the whole", unit, "that holds the cell's last day"),
    label = current_label
  )
}

# The whole period that holds the cell's last day, of a record beside the orders its days after the
# as-of date too.
lens_whole <- function() {
  list(
    takes = c("unit", "calendar"),
    options = function(args, vocabulary) {
      list(unit = period_option(args$unit, args$calendar, vocabulary, "whole"))
    },
    move = function(cells, options, frame) {
      unit <- options$unit %||% frame$grain %||% raise_no_unit("whole")
      cells <- so_far_cells(cells, unit$unit, unit$calendar)
      cells$to <- cells$end
      cells$beyond <- TRUE
      cells
    },
    words = function(options, unit) {
      paste("the whole", unit, "that holds the cell's last day, to its end")
    },
    label = current_label
  )
}

# n periods of a unit earlier; the unit is the grain of the table when none is said.
lens_prior <- function() {
  list(
    takes = c("unit", "n", "match", "trading", "sold", "calendar"),
    options = function(args, vocabulary) {
      list(
        unit = period_option(args$unit, args$calendar, vocabulary, "prior"),
        n = whole_option(args$n, 1L, "prior"),
        match = word_option(args$match, c("position", "weekday"), "match", "prior"),
        trading = flag_option(args$trading, "trading", "prior"),
        sold = flag_option(args$sold, "sold", "prior")
      )
    },
    move = function(cells, options, frame) {
      unit <- options$unit %||% frame$grain %||% raise_no_unit("prior")
      if (goes_by_some_days(options)) {
        check_day_unit(unit, cells, "prior", options)
        return(shift_trading(cells, options$n, days_gone_by(options, unit, frame)))
      }
      if (options$match == "weekday") {
        return(shift_weekdays(cells, unit$unit, options$n))
      }
      shift_cells(cells, unit$unit, options$n, unit$calendar)
    },
    words = prior_words, label = prior_label
  )
}

# From the first day shown, or that of the record, to the cell's last, or from its first to the last
# shown; with a unit it starts again.
lens_running <- function() {
  list(
    takes = c("restart", "from", "calendar"),
    options = function(args, vocabulary) {
      unit <- period_option(args$restart, args$calendar, vocabulary, "running")
      from <- word_option(args$from, c("start", "end", "record"), "from", "running")
      if (from == "record" && !is.null(unit)) raise("expression",
        "{.fn running} over the whole record never begins again: leave {.arg restart} out.")
      list(unit = unit, from = from)
    },
    move = function(cells, options, frame) {
      unit <- options$unit
      if (options$from == "record") {
        return(interval_cells(known_with(rep(frame$first, length(cells$from)), cells), cells$to))
      }
      if (options$from == "start") {
        start <- if (!is.null(unit)) period_start(cells$to, unit$unit,
          unit$calendar) else frame$show_first
        return(interval_cells(known_with(pmax(start, frame$show_first), cells), cells$to))
      }
      end <- if (!is.null(unit)) period_end(cells$from, unit$unit,
        unit$calendar) else frame$show_last
      interval_cells(cells$from, known_with(pmin(end, frame$show_last), cells))
    },
    words = running_words, label = running_label
  )
}

# The n periods of a unit up to the cell's last day, their orders together.
lens_moving <- function() {
  list(
    takes = c("n", "unit", "using", "partial", "trading", "sold", "calendar"),
    options = function(args, vocabulary) {
      n <- whole_option(args$n, NULL, "moving")
      if (is.null(n) || n < 1L) {
        raise("expression", c("{.fn moving} needs a number of periods.",
          ">" = "For example {.code moving(sales, 3)}."))
      }
      list(
        n = n, unit = period_option(args$unit, args$calendar, vocabulary, "moving"),
        using = using_option(args$using, "moving"),
        partial = flag_option(args$partial, "partial", "moving"),
        trading = flag_option(args$trading, "trading", "moving"),
        sold = flag_option(args$sold, "sold", "moving")
      )
    },
    move = function(cells, options, frame) moving_cells(cells, options, frame),
    words = moving_words, label = moving_label
  )
}

moving_unit <- function(options, frame) options$unit %||% frame$grain %||% raise_no_unit("moving")

# A window whose first period ends before the first order is unknown, unless part of one will do.
moving_cells <- function(cells, options, frame) {
  unit <- moving_unit(options, frame)
  if (goes_by_some_days(options)) {
    return(moving_trading(cells, options, unit, frame))
  }
  own <- period_start(cells$to, unit$unit, unit$calendar)
  from <- shift_periods(own, unit$unit, unit$unit, options$n - 1L, unit$calendar)
  # A window may begin before the table of a custom calendar does.
  if (options$partial) from[is.na(from) & !is.na(own)] <- calendar_grid(
    unit$calendar)[[unit$unit]]$starts[1L]
  early <- !options$partial & period_end(from, unit$unit, unit$calendar) < frame$first
  from[early] <- NA_integer_
  interval_cells(from, known_with(cells$to, list(from = from)))
}

moving_trading <- function(cells, options, unit, frame) {
  check_day_unit(unit, cells, "moving", options)
  from <- trading_window(cells$to, options$n, days_gone_by(options, unit, frame))
  from[!options$partial & from < frame$first] <- NA_integer_
  interval_cells(from, known_with(cells$to, list(from = from)))
}

# Whether a lens goes by trading days, or by days with orders, alone.
goes_by_some_days <- function(options) isTRUE(options$trading) || isTRUE(options$sold)

days_gone_by <- function(options, unit, frame) {
  if (options$sold) frame$sold_days() else trading_day_list(unit$calendar)
}

# Such days stand beside days, not beside longer periods.
check_day_unit <- function(unit, cells, lens, options) {
  if (options$trading && options$sold) raise("expression",
    "{.fn {lens}} goes by trading days or by days with orders: say {.arg trading} or {.arg sold}.")
  if (unit$unit != "day" || !(cells$unit %||% "day") == "day") {
    option <- if (options$sold) "sold" else "trading"
    raise("expression", c(
      "{.arg {option}} of {.fn {lens}} goes by days.",
      ">" = paste0("Ask by day: ", lens, "(sales, ", if (lens == "prior") "day" else "5, day",
        ", ", option, " = TRUE).")
    ))
  }
}

# The periods of the window one by one, the latest last: what `using =` combines.
moving_parts <- function(cells, options, frame) {
  unit <- moving_unit(options, frame)
  whole <- moving_cells(cells, options, frame)
  if (goes_by_some_days(options)) {
    open <- days_gone_by(options, unit, frame)
    return(lapply(rev(seq_len(options$n)), function(back) {
      day <- trading_window(cells$to, back, open)
      day[is.na(whole$from)] <- NA_integer_
      period_cells(day, day, "day", unit$calendar, day, day)
    }))
  }
  lapply(rev(seq_len(options$n)) - 1L, function(back) {
    start <- shift_periods(period_start(cells$to, unit$unit, unit$calendar),
      unit$unit, unit$unit, back, unit$calendar)
    start[is.na(whole$from)] <- NA_integer_
    end <- period_end(start, unit$unit, unit$calendar)
    period_cells(
      start, if (back == 0L) known_with(cells$to, list(from = start)) else end,
      unit$unit, unit$calendar, start, end
    )
  })
}

# A cell that is unknown stays so.
known_with <- function(days, cells) {
  days <- rep_len(days, length(cells$from))
  days[is.na(cells$from)] <- NA_integer_
  days
}

raise_no_unit <- function(lens, example = "sales, year") {
  raise("expression", c(
    "{.fn {lens}} needs a unit: the table has no period to take it from.",
    ">" = "Say it, for example {.code {lens}({example})}."
  ))
}

# A unit said as `year`, `"year"` or `civil$year`, with the calendar apart where that is said too.
period_option <- function(said, calendar, vocabulary, lens) {
  if (is.null(said)) {
    return(NULL)
  }
  found <- period_of_words(said, vocabulary$calendars)
  if (is.null(found)) {
    raise("expression", c(
      paste0("{.fn {lens}} takes a unit of time, not ", quoted(rlang::as_label(said)), "."),
      advise_word(rlang::as_label(said), period_units, "units")
    ))
  }
  if (!is.null(calendar)) found$calendar_name <- calendar_word(calendar, vocabulary$calendars)
  found$calendar <- vocabulary$calendars[[found$calendar_name]]
  check_unit(found$unit, found$calendar)
  found
}

# What a word says of time: list(unit, calendar_name), or NULL when it is no unit.
period_of_words <- function(said, calendars, known = period_units) {
  if (rlang::is_call(said, "$")) {
    calendar <- calendar_word(said[[2L]], calendars)
    unit <- as.character(said[[3L]])
  } else {
    calendar <- names(calendars)[1L]
    unit <- if (is.character(said) || rlang::is_symbol(said)) as.character(said) else ""
    parts <- strsplit(unit, "$", fixed = TRUE)[[1L]]
    if (length(parts) == 2L) {
      calendar <- calendar_word(parts[1L], calendars)
      unit <- parts[2L]
    }
  }
  if (!unit %in% known) {
    return(NULL)
  }
  list(unit = unit, calendar_name = calendar)
}

calendar_word <- function(said, calendars) {
  name <- if (rlang::is_symbol(said) || is.character(said)) as.character(
    said) else rlang::as_label(said)
  if (!name %in% names(calendars)) {
    raise("calendar", c(
      paste0("The daybook has no calendar ", quoted(name), "."),
      advise_word(name, names(calendars), "calendars")
    ))
  }
  name
}

whole_option <- function(said, default, lens) {
  if (is.null(said)) {
    return(default)
  }
  value <- if (rlang::is_call(said, "-", 1L)) -1 * unsigned(said[[2L]]) else unsigned(said)
  if (is.na(value) || value != round(value)) {
    raise("expression", c(
      paste0("The number of periods of {.fn {lens}} must be a whole number."),
      "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
    ))
  }
  as.integer(value)
}

word_option <- function(said, choices, name, lens) {
  if (is.null(said)) {
    return(choices[1L])
  }
  word <- if (is.character(said) || rlang::is_symbol(said)) as.character(said) else ""
  if (!word %in% choices) {
    raise("expression", c(
      "{.arg {name}} of {.fn {lens}} is {.or {.val {choices}}}.",
      "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
    ))
  }
  word
}

flag_option <- function(said, name, lens) {
  if (is.null(said)) {
    return(FALSE)
  }
  if (!rlang::is_bool(said)) {
    raise(
      "expression", c(
        "{.arg {name}} of {.fn {lens}} is TRUE or FALSE.",
        "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
      )
    )
  }
  said
}

using_option <- function(said, fn) {
  if (is.null(said)) {
    return(NULL)
  }
  word_option(said, names(combiners()), "using", fn)
}

unsigned <- function(said) if (is.numeric(said) && length(said) == 1L) said else NA_real_
