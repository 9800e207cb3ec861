# How much of a file is read. Orders of text take several times their bytes once they are columns.

most_bytes <- function() allowed_memory() / 4

# What may stay of orders in parts.
most_held <- function() allowed_memory() / 32

seconds_for_pipes <- 5L

check_size <- function(path, bytes) {
  if (bytes > most_bytes()) {
    raise("memory", c(
      paste0("The file ", quoted(path), " is too large to be read at once: {format_bytes(bytes)}."),
      "x" = paste0("{format_bytes(most_bytes())} are allowed, a quarter of {.code ",
        "options(drystack.memory = )}."),
      ">" = "Split it into parts, or allow more: {.code options(drystack.memory = 16e9)}."
    ))
  }
}

# Orders have few columns; what has thousands is something else.
most_read_columns <- 2000L

check_width <- function(path, columns) {
  if (columns > most_read_columns) {
    raise("file", c(
      paste0("The file ", quoted(path),
        " has {format_count(columns)} columns; {format_count(most_read_columns)} are read at ",
          "most."),
      ">" = "Is its header a line of values? Keep the columns of the orders."
    ))
  }
}
