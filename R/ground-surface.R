# How an option is said where the user is: as an argument in R, an option on the command line, a key
# in a standing report, plain words on a page ("R", "shell", "report", "page").

# names: a function that gives what arguments are called there, by their names in R; errors alone
# need it.
surface <- list2env(list(name = "R", names = character), parent = emptyenv())

# Until the calling function ends.
on_surface <- function(name, names = character, env = parent.frame()) {
  before <- mget(c("name", "names"), envir = surface)
  list2env(list(name = name, names = names), envir = surface)
  at_end(env, function() list2env(before, envir = surface))
}

# An argument as the person sees it: `totals_at`, --totals-at, "totals_at" of a report.
argument_said <- function(name) {
  said <- surface$names()
  if (name %in% names(said)) said[[name]] else paste0("{.arg ", name, "}")
}

# How an option is named before what it was given: `--only`; elsewhere the place is told otherwise.
option_prefix <- function(name) {
  if (surface$name == "shell") paste0("--", gsub("_", "-", name, fixed = TRUE), " ") else ""
}

# An option of pairs: `types = c(shipped = "date")`, `--types shipped=date` or
# `types: {shipped: date}`.
pair_said <- function(name, key, value) {
  pair <- paste0(key, "=", value)
  switch(surface$name,
    R = paste0(name, " = c(", name_text(key), " = ", encodeString(value, quote = "\""), ")"),
    shell = paste0("--", name, " ", if (grepl("^[[:alnum:]_=-]+$",
      pair)) pair else shQuote(pair, "sh")),
    report = paste0(name, ": {", key, ": ", value, "} (under orders)"),
    page = paste0(name, " of ", key, ": ", value)
  )
}

# A condition as it would be said: only(paid), `--only paid`, `only: paid`.
condition_to_say <- function(text) {
  switch(surface$name, R = paste0("only(", text, ")"), shell = option_said("only", text),
    report = paste0("only: ", encodeString(text, quote = "'")), page = text)
}

# `decimal = ","`, `--decimal ,` or `decimal: ","` under orders.
option_said <- function(name, value) {
  dashed <- gsub("_", "-", name, fixed = TRUE)
  plain <- grepl("^[[:alnum:]_:-]+$", value)
  switch(surface$name,
    R = paste0(name, " = ", encodeString(value, quote = "\"")),
    shell = paste0("--", dashed, " ", if (plain) value else shQuote(value, "sh")),
    report = paste0(name, ": ", if (plain) value else encodeString(value, quote = "\""),
      " (under orders)"),
    page = paste0(gsub("_", " ", name, fixed = TRUE), ": ", value)
  )
}

# The same of what R takes as code.
code_said <- function(name, code) {
  switch(surface$name,
    R = paste(name, "=", code),
    shell = paste0("--", gsub("_", "-", name, fixed = TRUE), " ", shQuote(code, "sh")),
    report = paste0(name, ": ", encodeString(code, quote = "\"")),
    page = paste0(name, ": ", code)
  )
}

# A column worked out: work_out(depot = ...), `--work-out 'depot = ...'`,
# `work_out: {depot: "..."}`.
work_out_said <- function(name, code) {
  pair <- paste(name_text(name), "=", code)
  switch(surface$name,
    R = paste0("work_out(", pair, ")"),
    shell = paste("--work-out", shQuote(pair, "sh")),
    report = paste0("work_out: {", name, ": ", encodeString(code, quote = "\""), "}"),
    page = pair
  )
}
