# Parts of a saved report that are asked for when it is built: its as-of date, the first and the
# last day shown, and the members of a column that its conditions name.

with_parameters <- function(said, asked) {
  if (length(asked) == 0L) {
    return(said)
  }
  for (name in asked) {
    said <- switch(name,
      as_of = with_date_parameter(said, "as_of", said$as_of, function(said, word) {
        replaced_field(said,
          "as_of", word)
      }),
      from = , to = with_limit_parameter(said, name),
      with_member_parameter(said, name)
    )
  }
  in_report_order(said)
}

with_date_parameter <- function(said, name, default, put) {
  said$parameters[[name]] <- list(kind = "date", default = default %||% "last order")
  put(said, paste0("{", name, "}"))
}

with_limit_parameter <- function(said, name) {
  if (is.null(said$shown[[name]])) {
    raise("standing", c(paste0("The report shows no dates ",
      if (name == "from") "from" else "to", " a day."),
      ">" = "Limit the dates shown first."))
  }
  with_date_parameter(said, name, said$shown[[name]], function(said, word) {
    said$shown[[name]] <- word
    said
  })
}

# The members that the first condition on a column names become a text or a list.
with_member_parameter <- function(said, column) {
  limits <- lapply(said$only, limit_said)
  at <- which(vapply(limits, function(limit) identical(limit$column, column), NA))
  if (length(at) == 0L) {
    raise("standing", c(paste0("No condition names members of ", quoted(column), "."),
      ">" = "Limit the orders to one of its members first; that member becomes the parameter."))
  }
  limit <- limits[[at[1L]]]
  if (limit$none) raise("standing", "Missing values cannot be a parameter.")
  values <- vapply(limit$members, function(text) format(eval_constant(text)), "", USE.NAMES = FALSE)
  one <- length(values) == 1L && !limit$except
  name <- plain_name(column)
  said$parameters[[name]] <- if (one) list(kind = "text", default = values)
    else list(kind = "list", default = as.list(values))
  text <- paste(name_text(column), if (one) "==" else "%in%", paste0("{", name, "}"))
  said$only[[at[1L]]] <- if (limit$except) paste0("!(", text, ")") else text
  said
}

# Parameters come before what speaks of them.
in_report_order <- function(said) {
  first <- c("drystack", "title", "subtitle", "orders", "lookups", "records",
    "calendars", "parameters", "as_of")
  said[c(intersect(first, names(said)), setdiff(names(said), first))]
}
