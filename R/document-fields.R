# The fields of a document: all that can be said of orders, daybooks and tables, each once. From
# this table come the options of the commands, their help and completion, and both ways between
# options and documents; a test holds it against the schema of standing reports and the functions
# of R.
#
# name, of: its key, and the part of a document that holds it: "orders", "book" (the document
#   itself), "report" (the same, of what only pages say), "shown", "closing", "as_known", "trading",
#   "deliver", "lookup", "record", "parameter", "measure" or "block" (a part of its page)
# type:     how options say its value, see field_types()
# meta:     the word for its value in help; help: a line, by the kind of table where they differ, ""
#   where the next field says it
# r:        what says it in R
# option:   how commands name it, NA where they do not have it
# kinds:    of a block, the parts of a page that have it
# values:   the words it is one of
# items:    what lists of the explorer call each value of a look
new_field <- function(name, of, type, meta = "", help = "", r = "",
  option = gsub("_", "-", name, fixed = TRUE), kinds = character(), values = NULL, items = NULL) {
  list(name = name, of = of, type = type, meta = meta, help = help, r = r,
    option = option, kinds = kinds,
    values = values, items = items)
}

# How tables look (plan-look.R), by their names in R.
look_field <- function(name, help, r, items) {
  look <- table_looks()[[name]]
  yes_or_no <- is.logical(look$values)
  new_field(name, "block", if (yes_or_no) "flag" else "choice",
    if (yes_or_no) "" else paste(look$values, collapse = "|"), help, r,
    kinds = look$kinds, values = if (!yes_or_no) look$values, items = items)
}

# What the explorer offers of the looks of a table: by name, words by value.
look_items <- function(kind) {
  fields <- Filter(function(field) !is.null(field$items), fields_of("block", kind))
  stats::setNames(lapply(fields, `[[`, "items"), vapply(fields, `[[`, "", "name"))
}

document_fields <- function() {
  remembered_in(field_tables, "document", function() {
    c(orders_fields(), book_fields(), block_fields(), report_fields(), lookup_fields(),
      record_fields())
  })
}

field_tables <- list2env(list(), parent = emptyenv())

# The fields of parts, or of the tables of a kind: those that options say, or all.
fields_of <- function(parts, kind = NULL, options = TRUE) {
  Filter(function(field) {
    field$of %in% parts && (!options || !is.na(field$option)) &&
      (field$of != "block" || kind %in% field$kinds)
  }, document_fields())
}

orders_fields <- function() {
  field <- function(...) new_field(of = "orders", ...)
  reading <- function(name, ...) field(name, ..., r = paste0("read_orders(", name, " = )"))
  list(
    field("file", type = "orders", "FILE",
      "order lines: .csv(.gz) .tsv .jsonl .parquet .xlsx, '*.csv', - or a database",
      "daybook(orders = )",
      option = "orders"),
    field("files", type = "text", help = "a folder, or a pattern such as orders/*.csv",
      option = NA_character_),
    field("database", type = "text", help = "sqlite:shop.db, or $NAME of the environment",
      option = NA_character_),
    field("date", type = "text", "COLUMN",
      "the column with the date; 'Date + Time' if the time has its own", "daybook(date = )"),
    field("table", type = "text", "T", "", "orders_in(table = )"),
    field("query", type = "text", "SQL", "", "orders_in(query = )"),
    field("key", type = "texts", "K",
      "for a database (--orders sqlite:shop.db): what to read, and its key", "orders_in(key = )"),
    reading("encoding", type = "text", "NAME", "of text, such as windows-1252 (default: detected)"),
    reading("separator", type = "text", "C"),
    reading("quote", type = "text", "C",
      "one character each (default: detected, and the double quote)"),
    reading("skip", type = "count", "N"),
    reading("header", type = "words", "NAMES",
      "how many lines to skip above the header; none, first or its names"),
    reading("drop_lines", type = "texts", "PATTERN"),
    reading("uneven", type = "choice", values = uneven_words, "WORD",
      "lines to leave out; with too many or few cells: fill or drop"),
    reading("widths", type = "words", "N,N"), reading("sheet", type = "text", "SHEET"),
    reading("inside", type = "text", "FILE", "widths of fields; of a workbook; in an archive"),
    reading("decimal", type = "choice", values = decimal_marks, "MARK"),
    reading("thousands", type = "choice", values = names(thousands_marks), "MARK",
      "in amounts (default: as its column shows)"),
    reading("missing", type = "texts", "TEXT", "a text that stands for an unknown value"),
    reading("totals_lines", type = "choice", values = totals_lines_words, "WORD",
      "proven (the default: left out if the lines above prove them) or keep"),
    reading("rename", type = "pairs", "NEW=OLD"),
    reading("types", type = "pairs", values = column_types, "COLUMN=TYPE",
      "rename a column; say what it holds: text, amount or date"),
    reading("zone", type = "text", "ZONE", "the time zone of date-times in text"),
    reading("date_order", type = "choice", values = date_orders, "ORDER",
      paste(date_orders, collapse = " ")),
    field("undated", type = "texts", "TEXT", "a text in the date column that stands for no date",
      "daybook(undated = )"),
    field("currency", type = "text", "COLUMN", r = "daybook(currency = )"),
    field("rates", type = "text", "FILE",
      "the column with the currency; exchange rates for in_currency()", "daybook(rates = )"),
    reading("keep", type = "texts", "", option = NA_character_),
    field("columns", type = "texts", "", option = NA_character_)
  )
}

book_fields <- function() {
  list(
    new_field("calendars", "book", "calendars", "CALENDAR",
      "civil, fiscal:MONTH, week:PATTERN:ENDS, iso, custom:FILE",
      "daybook(calendars = )", "calendar"),
    new_field("week_begins", "book", "text", "WEEKDAY", "the first day of weeks (default: Monday)",
      "civil_calendar(week_begins = )"),
    new_field("language", "book", "text", "CODE",
      "the language of labels of periods (default: en)",
      "civil_calendar(language = )"),
    new_field("closed", "trading", "words", "WEEKDAYS", "weekdays without trading: Saturday,Sunday",
      "trading(closed = )"),
    new_field("holidays", "trading", "texts", "FILE",
      "holidays: a file whose first column holds them, or a day", "trading(holidays = )"),
    new_field("lookups", "book", "lookups", "FILE:KEY",
      "columns to add; COLUMN=KEY:PREFIX_, KEY,KEY@FROM; '\"FILE\", by = KEY, ...'",
      "enrich()", "lookup"),
    new_field("work_out", "book", "expressions", "'X = EXPR'",
      "a new column worked out from others", "work_out()"),
    new_field("records", "book", "records", "RECORD",
      "beside the orders: 'targets = \"targets.csv\", date = month, spread = days'", "alongside()",
      "alongside"),
    new_field("labels", "book", "pairs", "COLUMN=TEXT", "what tables call a column",
      "label_columns()", "label"),
    new_field("sort_keys", "book", "pairs", "COLUMN=KEY",
      "members stand in the order of another column", "sort_key()", "sort-key"),
    new_field("only", "book", "conditions", "'CONDITION'",
      "limit the orders; '\"in words\" = CONDITION' names it", "only()"),
    new_field("as_of", "book", "text", "DATE",
      "see orders up to this day (default: the last order), or 'last month end'", "as_of()"),
    new_field("covered_to", "book", "text", "DATE", "the orders are complete up to this day",
      "covered_to()"),
    new_field("after", "closing", "count", "N", "", "closing(after = )", "closed-after"),
    new_field("on", "closing", "count", "N",
      "months close so many days after their end, or on a day of the next month", "closing(on = )",
      "closed-on"),
    new_field("entered_on", "as_known", "text", "COLUMN",
      "the column with the day each line was entered", "as_known(entered_on = )", "entered-on"),
    new_field("day", "as_known", "text", "DATE", "see only what was entered by this day",
      "as_known(day = )", "known-on"),
    new_field("from", "shown", "text", "DATE", "", "within_dates(from = )"),
    new_field("to", "shown", "text", "DATE", "the first and the last day shown",
      "within_dates(to = )"),
    new_field("latest", "shown", "text", "'N UNIT'", "show the latest periods: '6 month'",
      "within_dates(latest())"),
    new_field("complete", "shown", "flag", "", "show finished periods only",
      "within_dates(complete = )")
  )
}

table_names <- c("rollup", "crosstab", "listing", "headlines")

block_names <- c(table_names, "figure", "changes")

block_fields <- function() {
  field <- function(name, kinds, type, ...) new_field(name, "block", type, ..., kinds = kinds)
  grouped <- c("rollup", "crosstab", "listing")
  list(
    field("by", c("rollup", "figure", "changes"), "axes", "AXES",
      c(rollup = "columns and periods, by commas: region,month",
        figure = "columns and periods of a rollup: month, or depot,month"), "rollup(by = )"),
    field("rows", c("crosstab", "figure"), "axes", "AXES", "", "crosstab(rows = )"),
    field("cols", c("crosstab", "figure"), "axes", "AXES",
      c(crosstab = "what goes down the side and across the top",
        figure = "or the sides of a cross-tab"),
      "crosstab(cols = )"),
    field("groups", "listing", "axes", "AXES", "", "listing(groups = )"),
    field("lines", "listing", "axes", "COLUMNS", "what lines stand under, and what each shows",
      "listing(lines = )"),
    field("show", block_names, "measures", "'NAME = EXPR'",
      c(listing = "a measure; running(sales, along = lines) runs down the lines",
        "a measure, such as 'sales = sum(amount)'"), "rollup(...)"),
    field("per", "listing", "text", "COLUMN",
      "one line for each value of a column, such as order_id", "listing(per = )"),
    field("kind", "figure", "choice", "KIND", values = names(known_figures()),
      paste(names(known_figures()), collapse = " "), "figure(kind = )"),
    field("axis_labels", "figure", "pairs", "AXIS=TEXT", "what stands at the axis x or y",
      "figure(axis_labels = )", "axis-label"),
    field("totals", c("rollup", "listing"), "choice", "WORD", "", "rollup(totals = )",
      values = total_words),
    field("totals", "crosstab", "sides", "WORD", "", "crosstab(totals = )"),
    field("totals_at", c("rollup", "listing"), "choice", "WORD", c(
      listing = "all (default), grand or none; at the end or the start",
      "none (default), grand or all; at the end or the start"), "rollup(totals_at = )",
      values = words_of_ends),
    field("totals_at", "crosstab", "sides", "WORD",
      "none, grand or all; end or start; or rows=all,cols=none", "crosstab(totals_at = )"),
    look_field("measures_at", "several measures side by side, or one under the other",
      "crosstab(measures_at = )",
      c(cols = "figures side by side", rows = "figures one under the other")),
    look_field("layout", "groups in columns, or as headings", "listing(layout = )",
      c(columns = "groups in columns", indented = "groups as headings")),
    look_field("after", "what follows a group of the first level", "listing(after = )",
      c(nothing = "groups close together", blank = "a blank line after each group",
        page = "a page for each group")),
    look_field("number", "number the lines within their group", "listing(number = )",
      c("TRUE" = "numbered lines", "FALSE" = "lines without numbers")),
    look_field("empty", "groups without orders too", "listing(empty = )",
      c("TRUE" = "groups without orders too", "FALSE" = "groups with orders only")),
    look_field("zeros", "how figures of zero stand in tables", "rollup(zeros = )",
      c(shown = "zeros as 0", blank = "zeros left blank")),
    field("sort", c(grouped, "figure"), "rules", "RULE",
      "largest_first(sales), smallest_first(), by_key(column), in_order()", "rollup(sort = )"),
    field("keep", c(grouped, "figure"), "rules", "RULE",
      "keep_top(10, sales), the others as one line; keep_where(sales > 1000)",
      "rollup(keep = )"),
    field("members", c("rollup", "crosstab"), "choice", "shown|seen", values = member_words_known,
      "the members of the dates shown, or of all a measure sees", "rollup(members = )"),
    field("against", "headlines", "comparisons", "UNIT",
      "compare with one of these before: year; or 'unpaid = share(sales)'",
      "headlines(against = )"),
    field("history", "headlines", "text", "UNIT",
      "the small line shows the last 13 of these (default month; none)", "headlines(history = )"),
    field("since", "changes", "text", help = "last build, or a day", option = NA_character_),
    field("label", block_names, "text", help = "what stands above it", option = NA_character_),
    field("only", setdiff(block_names, "changes"), "conditions", help = "conditions of its own",
      option = NA_character_),
    field("shown", setdiff(block_names, "changes"), "part", help = "dates of its own",
      option = NA_character_)
  )
}

# Which pages of a build are written.
delivery_words <- c("all", "changed")

# What only a page says, and the parts of it that options say in other ways.
report_fields <- function() {
  field <- function(name, of, type, help = "", values = NULL) {
    new_field(name, of, type, help = help, option = NA_character_, values = values)
  }
  list(
    field("drystack", "report", "version", "version of this form"),
    field("title", "report", "text"), field("subtitle", "report", "text"),
    field("orders", "report", "part"), field("parameters", "report", "parts_by_name"),
    field("as_known", "report", "part"), field("trading", "report", "part"),
    field("shown", "report", "part"), field("closing", "report", "part"),
    field("measures", "report", "parts_by_name"),
    field("notes", "report", "choice", values = notes_words),
    field("paper", "report", "choice", values = paper_words),
    field("orientation", "report", "choice", values = orientation_words),
    field("contents", "report", "flag", "begin with a list of its parts"),
    field("footnotes", "report", "texts"),
    field("outputs", "report", "choices", values = names(bundle_writers())),
    field("expect", "report", "expressions", "expectations its measures must meet"),
    field("deliver", "report", "part"),
    field("page", "report", "blocks"),
    field("each", "deliver", "text", "a column: a page for each of its members"),
    field("key", "deliver", "text", "the column that identifies them"),
    field("recipients", "deliver", "texts", "only these, by key or by name"),
    field("only", "deliver", "choice", values = delivery_words,
      "leave pages alone that would come out the same"),
    field("keep_going", "deliver", "flag", "if a page fails, write the others"),
    field("at_once", "deliver", "count", "how many pages to make at the same time"),
    field("keep_builds", "deliver", "count", "how many builds to keep for comparison"),
    field("kind", "parameter", "choice", values = parameter_kinds),
    field("default", "parameter", "value"), field("ask", "parameter", "text", "what it asks for"),
    field("allowed", "parameter", "value"), field("unit", "parameter", "text", "of a period"),
    field("show", "measure", "expression"), field("label", "measure", "text"),
    field("format", "measure", "text"), field("description", "measure", "text"),
    field("total", "measure", "text"), field("bar", "measure", "flag"),
    field("history", "measure", "text"), field("marks", "measure", "expressions")
  )
}

# A record beside the orders: where it is and how it is read as orders are, and what it stands for.
record_fields <- function() {
  field <- function(name, type, help = "") {
    new_field(name, "record", type, help = help, option = NA_character_)
  }
  c(
    list(field("file", "text"), field("database", "text"),
      field("lines", "value", "or its lines themselves: [{month: 2026-07, target: 240000}]"),
      field("date", "text", "its column with days or periods"),
      field("per", "text", "what each line stands for: month, fiscal$quarter or day"),
      field("by", "expressions", "columns of the orders: those of the record that are the same"),
      field("spread", "texts", paste(spread_words, collapse = ", ")),
      field("shape", "expression", "the amount of the orders by which last year spreads"),
      field("regardless", "texts", "columns that it does not depend on")),
    fields_as_of_orders("record", c("table", "query", "key", "undated", reading_names()))
  )
}

# A lookup: its file and how it is read as orders are, and its keys.
lookup_fields <- function() {
  field <- function(name, type, help = "") {
    new_field(name, "lookup", type, help = help, option = NA_character_)
  }
  c(
    list(field("file", "text"), field("by", "texts", "the column of the orders, or several"),
      field("key", "texts", "the columns of the lookup, where their names differ"),
      field("from", "text", "its column with the day from which a row is valid"),
      field("prefix", "text", "what its columns begin with")),
    fields_as_of_orders("lookup", reading_names())
  )
}

reading_names <- function() setdiff(names(new_reading()), "keep")

fields_as_of_orders <- function(of, names) {
  lapply(Filter(function(field) field$name %in% names, orders_fields()), function(one) {
    new_field(one$name, of, one$type, values = one$values, option = NA_character_)
  })
}

# What arguments are called on a surface, by their names in R; those that are named alike in several
# functions, and said otherwise, are left out.
argument_names <- function(surface) {
  fields <- Filter(function(field) {
    grepl(paste0("(", field$name, " = "), field$r, fixed = TRUE) && !is.na(field$option) &&
      !field$name %in% c("after", "on", "date", "key", "keep")
  }, document_fields())
  words <- vapply(fields, function(field) {
    switch(surface, shell = paste0("--", field$option), report = paste0("\"", field$name, "\""),
      page = gsub("_", " ", field$name, fixed = TRUE))
  }, "")
  stats::setNames(words, vapply(fields, `[[`, "", "name"))
}

# The line of help of a field, for a kind of table.
field_help <- function(field, kind = NULL) {
  if (is.null(names(field$help))) field$help else c(field$help[intersect(kind, names(field$help))],
    utils::tail(field$help, 1L))[[1L]]
}
