# How an option is said where the user is: as an argument in R, an option on the command line, a key
# in a standing report, plain words on a page ("R", "shell", "report", "page").

surface <- list2env(list(name = "R"), parent = emptyenv())

# Until the calling function ends.
on_surface <- function(name, env = parent.frame()) {
  before <- surface$name
  surface$name <- name
  at_end(env, function() surface$name <- before)
}

# How an option is named before what it was given: `--only`; elsewhere the place is told otherwise.
option_prefix <- function(name) {
  if (surface$name == "shell") paste0("--", gsub("_", "-", name, fixed = TRUE), " ") else ""
}

# An option of pairs: `types = c(shipped = "date")`, `--types shipped=date` or `types: {shipped: date}`.
pair_said <- function(name, key, value) {
  pair <- paste0(key, "=", value)
  switch(surface$name,
    R = paste0(name, " = c(", name_text(key), " = ", encodeString(value, quote = "\""), ")"),
    shell = paste0("--", name, " ", if (grepl("^[[:alnum:]_=-]+$", pair)) pair else shQuote(pair, "sh")),
    report = paste0(name, ": {", key, ": ", value, "} (under orders)"),
    page = paste0(name, " of ", key, ": ", value)
  )
}

# `decimal = ","`, `--decimal ,` or `decimal: ","` under orders.
option_said <- function(name, value) {
  dashed <- gsub("_", "-", name, fixed = TRUE)
  plain <- grepl("^[[:alnum:]_:-]+$", value)
  switch(surface$name,
    R = paste0(name, " = ", encodeString(value, quote = "\"")),
    shell = paste0("--", dashed, " ", if (plain) value else shQuote(value, "sh")),
    report = paste0(name, ": ", if (plain) value else encodeString(value, quote = "\""), " (under orders)"),
    page = paste0(gsub("_", " ", name, fixed = TRUE), ": ", value)
  )
}
