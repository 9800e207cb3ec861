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
