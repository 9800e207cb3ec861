# Differences of figures.

# The difference of two figures as decimals have it: what binary arithmetic leaves is cut off.
clean_difference <- function(a, b) {
  clean_to(ifelse(is.na(a) & is.na(b), 0, a - b), pmax(abs(a), abs(b), 1))
}

# To the digits that figures of a size have.
clean_to <- function(x, size) {
  if (length(x) == 0L) x else round(x, pmax(12L - ceiling(log10(ifelse(is.na(size), 1, size))), 2L))
}
