# What acts take, each checked.

act_text <- function(act, key, default = NULL) {
  value <- act[[key]] %||% default
  if (!is.character(value) || length(value) != 1L || is.na(value) ||
    nchar(value) > longest_expression) {
    raise("act", paste0("The act needs one text under ", quoted(key), "."))
  }
  value
}

act_texts <- function(act, key) {
  value <- unlist(act[[key]]) %||% character()
  if (!is.character(value) || anyNA(value) || length(value) > most_members_said) {
    raise("act", c(paste0("The act needs texts under ", quoted(key), "."),
      "i" = "At most {most_members_said}."))
  }
  value
}

most_members_said <- 2000L

act_at <- function(act, n, key = "at") {
  value <- suppressWarnings(as.numeric(act[[key]]))
  if (length(value) != 1L || is.na(value) || value != round(value) || value < 1 || value > n) {
    raise("act", paste0("There is no place ", quoted(
      paste(unlist(act[[key]]), collapse = " ")), " in it."))
  }
  as.integer(value)
}

act_side <- function(act) check_choice(act_text(act, "side"), c("rows", "cols", "lines"), "side")

# A list without names where it is empty, as one that was read from an address.
plain_list <- function(x) if (length(x) == 0L) list() else x

is_one_text <- function(x) is.character(x) && length(x) == 1L && !is.na(x)
