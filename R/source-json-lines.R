# JSON lines: one flat object a line.

read_json_lines <- function(path, reading) {
  bytes <- text_bytes(read_bytes(path), path)
  lines <- text_lines(bytes)
  here <- which(grepl("[^[:space:]]", lines))
  if (length(here) == 0L) {
    raise("file", c(paste0("The file ", quoted(path), " is empty."),
      ">" = "It should hold objects."))
  }
  check_json_lines(lines, here, path)
  array <- paste0("[", paste(lines[here], collapse = ","), "]")
  check_keys_once(jsonlite::fromJSON(array, simplifyVector = FALSE), here, path)
  orders <- jsonlite::fromJSON(array, bigint_as_char = TRUE)
  nested <- names(orders)[!vapply(orders, is.atomic, NA)]
  if (length(nested) > 0L) {
    raise("file", c(
      paste0("The file ", quoted(path), " holds nested values: {examples_of(nested)}."),
      ">" = "Each line must be one flat object."
    ))
  }
  told <- new_telling(path)
  if (length(here) > 1L && ends_within_line(bytes)) told$add(open_end_words)
  raw <- texts_of_frame(as.data.frame(orders, optional = TRUE))
  refined_orders(c(raw, list(lines = here)), path, reading, told)
}

# Readers differ in which of two values under one key they take.
check_keys_once <- function(objects, here, path) {
  twice <- vapply(objects, function(object) anyDuplicated(names(object)) > 0L, NA)
  if (any(twice)) {
    raise("file", c(
      paste0("The file ", quoted(path), " has an object with the same key twice."),
      "x" = "See line {here[twice][1]}.", ">" = "Give each value a key of its own."
    ))
  }
}

# Each line must be an object by itself: a file that was cut ends in the middle of one.
check_json_lines <- function(lines, here, path) {
  whole <- vapply(lines[here], function(line) {
    grepl("^\\s*\\{", line) && isTRUE(as.logical(jsonlite::validate(line)))
  }, NA, USE.NAMES = FALSE)
  if (!all(whole)) {
    odd <- here[!whole]
    raise("file", c(
      paste0("The file ", quoted(path), " has lines that are not JSON objects."),
      "x" = paste0("Line {odd[1]}{if (length(odd) > 1L) paste0('; ', length(odd) - 1L, ' more ",
        "such lines')}."),
      ">" = "Each line is one object; look for a line that was cut off."
    ))
  }
}
