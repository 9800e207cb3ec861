# How much memory one piece of work may take.

# A quarter of the machine's, unless options(drystack.memory = ) says otherwise.
default_memory <- function() min(max(kernel_memory() / 4, 5e8), 1e12)

allowed_memory <- function() {
  allowed <- getOption("drystack.memory", default_memory())
  if (!is_number(allowed) || allowed <= 0) raise("argument",
    "{.code options(drystack.memory = )} must be a number of bytes.")
  allowed
}

is_number <- function(x) is.numeric(x) && length(x) == 1L && !is.na(x)

format_bytes <- function(bytes) {
  if (bytes >= 1e9) paste(format(round(bytes / 1e9, 1)), "GB")
  else paste(format_count(ceiling(bytes / 1e6)), "MB")
}
