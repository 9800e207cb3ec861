# How much of the machine one piece of work may take: threads, processes, memory.

# How many threads the fold may use: options(drystack.threads = ), else what the
# machine has, eight at most.
thread_count <- function() {
  asked <- getOption("drystack.threads")
  if (is.null(asked)) {
    return(max(1L, min(kernel_cores(), 8L)))
  }
  check_whole(asked, "options(drystack.threads)", 1L, 256L)
}

# Systems other than Linux have libraries that do not outlive a fork, and so do
# the windows of some editors.
forks_safely <- function() Sys.info()[["sysname"]] == "Linux" && .Platform$GUI != "RStudio"

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
