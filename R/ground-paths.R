# Names of files. Base R's package for them takes longer to load than a small table to make.

# What stands behind the last point: "csv", or "".
file_ending <- function(paths) {
  at <- regexpr("[.][[:alnum:]]+$", paths)
  ifelse(at > 0L, substring(paths, at + 1L), "")
}

# A path without its ending.
file_stem <- function(paths) sub("([^.]+)[.][[:alnum:]]+$", "\\1", paths)
