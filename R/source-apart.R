# Reading with a package that a damaged file can end or hang: in a process of its own, with limits
# of time and memory. When that process dies, the file is at fault and this one goes on. Where the
# system cannot be forked safely it is read here.

# read: a function that gives orders; bytes: what is known of the size of what it reads.
read_apart <- function(read, path, bytes) {
  if (!forks_safely()) {
    return(read())
  }
  if (is_apart()) {
    return(read_within_limits(read, path, bytes))
  }
  process <- begin_apart(function() read_within_limits(read, path, bytes))
  on.exit(end_apart(process))
  # The time of work is limited in the process itself: a machine that has other things to do is
  # no damage.
  outcome <- outcome_apart(process, 20 * reading_seconds(bytes))
  if (is.null(outcome)) raise_endless(path)
  # What the package says of a file that it took for another, or that led it astray, says nothing
  # to people.
  if (!outcome$done) raise_damaged(path)
  taken_over(process$handed)
}

read_within_limits <- function(read, path, bytes) {
  # The package that reads takes some memory whatever the file: with less, a good one would
  # seem damaged.
  kernel_limit_process(min(3e8 + 40 * bytes, max(allowed_memory(), 2e8)), reading_seconds(bytes))
  on.exit(kernel_lift_limits())
  rlang::try_fetch(read(), error = function(e) raise_damaged(path))
}

reading_seconds <- function(bytes) ceiling(8 + bytes / 4e6)

raise_damaged <- function(path) raise_unreadable(path, "it is damaged, or not what its ending says")

raise_endless <- function(path) {
  raise_unreadable(path, "reading it takes too long: it is damaged, or made to do harm")
}
