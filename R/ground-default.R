# The default for what was not given.
`%||%` <- function(x, default) if (is.null(x)) default else x
