# Packages that only some asks need.

# what: what is asked for; purpose: how the project's own set-up names it; kind: of the error.
check_packages <- function(packages, what, purpose, kind) {
  lacking <- Filter(Negate(rlang::is_installed), packages)
  if (length(lacking) > 0L) {
    raise(kind, c(
      "{what} needs the package{?s} {.pkg {lacking}}.",
      ">" = paste("Install with {.code install.packages(c({examples_of(lacking)}))}, or",
        "{.code tools/setup {purpose}} in the sources.")
    ))
  }
}
