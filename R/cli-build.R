# drystack build

build_options <- function() {
  list(
    option("as-of", "DATE", "2026-08-31, last month end, last order, last closed month, today"),
    option("set", "NAME=VALUE", "the value of a parameter", many = TRUE),
    option("out", "FOLDER", "where to write (default: here)"),
    option("format", "ENDINGS", "html,xlsx,... (default: what the report says)", many = TRUE),
    option("each", "COLUMN", "one report for each member of a column"),
    option("key", "COLUMN", "the column that identifies them; files are named by it"),
    option("recipients", "NAMES", "only these, by key or name, separated by commas", many = TRUE),
    option("only", "all|changed", "changed: leave pages alone that would come out the same"),
    flag("keep-going", "if a page fails, write the others and exit with 3"),
    option("at-once", "N", "how many pages to make at the same time"),
    option("keep-builds", "N", "how many builds to keep for comparison (default 13)"),
    option("compare", "CALENDAR", "build by another of its calendars as well"),
    flag("strict", "an expectation that is not met is an error; nothing is written"),
    flag("changes", "say what changed since the last build, and why"),
    flag("watch", "build again whenever the report or its files change, until stopped"),
    flag("json", "print a summary for programs: files, rows, notes, warnings, tie-out"),
    option("log", "text|json", "text (default) or json, one object per line, on standard error"),
    flag("allow-outside", "paths may lead out of the folder of the report")
  )
}

command_build <- function(args) {
  named <- length(args) > 0L && !startsWith(args[1L], "-")
  values <- read_options(if (named) args[-1L] else args, build_options(), "build")
  if (is.null(values)) {
    return(writeLines(build_help()))
  }
  if (!named) raise_usage("The standing report to build is missing.", "build")
  set <- c(assigned(values$set), if (!is.null(values[["as-of"]])) list(as_of = values[["as-of"]]))
  build <- function() {
    if (isatty(stderr())) tell("building ", args[1L], " ...")
    build_report(
      args[1L], set, values$out %||% ".", words_by_comma_or_null(values$format), values$each,
      values$compare, !is.null(values$strict),
      !is.null(values[["allow-outside"]]), changes = !is.null(values$changes), key = values$key,
      recipients = words_by_comma_or_null(values$recipients), only = values$only,
      keep_going = if (!is.null(values[["keep-going"]])) TRUE,
      at_once = number_or_null(values, "at-once"),
      keep_builds = number_or_null(values, "keep-builds")
    )
  }
  log <- check_choice(values$log %||% "text", c("text", "json"), "log")
  tell <- function(built) {
    if (!is.null(values$changes) && is.null(values$json)) writeLines(shown_text(built$said_changed))
    tell_build(built, !is.null(values$json), log)
    if (length(built$failures) > 0L) 3L else 0L
  }
  if (is.null(values$watch)) {
    return(tell(build()))
  }
  tell("watching ", args[1L], " and the files it reads; Ctrl-C stops")
  watch_report(args[1L], build, tell)
}

# 'depot=Skelby' as a value by its name.
assigned <- function(texts) {
  parts <- regmatches(texts, regexpr("=", texts), invert = TRUE)
  if (any(lengths(parts) != 2L)) {
    raise(
      "argument",
      c(paste0("--set ", quoted(texts[lengths(parts) != 2L][1L]), " gives no value."),
        ">" = "Write {.val depot=Skelby}.")
    )
  }
  stats::setNames(lapply(parts, function(part) trimws(part[2L])),
    vapply(parts, function(part) trimws(part[1L]), ""))
}

tell_build <- function(built, json, log = "text") {
  if (json) writeLines(jsonlite::toJSON(unclass(built), auto_unbox = TRUE, pretty = TRUE))
  if (log == "json") writeLines(build_events(built), stderr())
  else if (!json) writeLines(shown_text(format(built)), stderr())
}

# One JSON object for each thing that happened.
build_events <- function(built) {
  at <- format(Sys.time(), "%Y-%m-%dT%H:%M:%SZ", tz = "UTC")
  event <- function(what, ...) {
    as.character(jsonlite::toJSON(list(at = at, event = what, ...), auto_unbox = TRUE))
  }
  of <- function(what, key, texts) {
    vapply(texts, function(text) { do.call(event,
      c(list(what), stats::setNames(list(text), key))) }, "", USE.NAMES = FALSE)
  }
  left <- built$files %in% built$unchanged | !built$changed
  c(
    of("wrote", "file", built$files[!left]), of("unchanged", "file", built$files[left]),
    of("told", "text", built$told), of("attention", "text", built$warnings),
    vapply(built$failures, function(one) do.call(event, c(list("failed"), one)), ""),
    event("done", files = length(built$files), written = sum(!left),
      failed = length(built$failures))
  )
}

number_or_null <- function(values, option) {
  if (!is.null(values[[option]])) number_of_option(values[[option]], option)
}

# Looks at the report and what it reads each second. `rounds` is for tests: a watch
# goes on until it is stopped.
watch_report <- function(file, build, tell, rounds = Inf, wait = 1) {
  seen <- NULL
  while (rounds > 0) {
    now <- file_times(file)
    if (!identical(now, seen)) {
      seen <- now
      rlang::try_fetch(tell(build()), drystack_error = function(e) say_failure(e, 1L))
    }
    rounds <- rounds - 1
    if (rounds > 0) Sys.sleep(wait)
  }
}

# While the report cannot be read, it alone is looked at.
file_times <- function(file) {
  read <- rlang::try_fetch(input_files(read_standing(file), outside = TRUE),
    drystack_error = function(e) character())
  file.info(c(file, read))[c("size", "mtime")]
}

build_help <- function() {
  c(
    "drystack build: build a standing report again",
    "",
    "  drystack build REPORT.yml [options]",
    "",
    option_lines(build_options()),
    "",
    paste0("A report that has not changed, nor its orders, is not built again. --save of other ",
      "commands writes one."),
    "Example (drystack demo --out demo writes this report and its orders):",
    "  drystack build demo/monthly.yml --as-of 2026-08-31 --set depot=Skelby --out out"
  )
}
