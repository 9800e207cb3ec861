# Every error of the package is a condition of one family: `drystack_error_<what>` under
# `drystack_error`. `message` says what is wrong, then where ("x" or "i"), then how to mend it
# (">"). Names and values within it are shown as text, whatever they hold.
raise <- function(what, message, ..., .envir = parent.frame()) {
  before <- options(cli.num_colors = 1L)
  on.exit(options(before))
  message[] <- shown_text(vapply(message, formatted_part, "", envir = .envir))
  class <- c(paste0("drystack_error_", what), "drystack_error")
  rlang::abort(message, ..., class = class, call = NULL, use_cli_format = TRUE,
    trace = trace_to_door())
}

# The calls that led to the package: those within it say nothing to who made a mistake, and take
# long to be told.
trace_to_door <- function() {
  own <- topenv()
  doors <- Position(function(i) identical(topenv(environment(sys.function(i))), own),
    seq_len(sys.nframe()))
  rlang::trace_back(bottom = sys.frame(doors))
}

formatted_part <- function(part, envir) {
  if (grepl("[{}]", part)) cli::format_inline(part, .envir = envir) else part
}

# R asks for the message of every condition that is raised, also of those that are caught: it is put
# together without the lines being broken, which takes ten times as long.
#' @export
conditionMessage.drystack_error <- function(c) {
  if (is.null(c$parent)) rlang::format_error_bullets(c(c$message, c$body)) else NextMethod()
}

# A handler for the errors of others: those of the package go on as they are.
unless_ours <- function(handle) {
  function(e) if (inherits(e, "drystack_error")) rlang::zap() else handle(e)
}

# Up to five examples as one phrase, with what is left out counted.
examples_of <- function(x, most = 5L) {
  shown <- encodeString(as.character(utils::head(x, most)), quote = "\"")
  phrase <- paste(shown, collapse = ", ")
  if (length(x) > most) phrase <- paste0(phrase, " and ", length(x) - most, " more")
  phrase
}

# Row numbers as one phrase.
rows_of <- function(rows, most = 5L) {
  phrase <- paste(utils::head(rows, most), collapse = ", ")
  if (length(rows) > most) phrase <- paste0(phrase, " and ", length(rows) - most, " more")
  paste(if (length(rows) == 1L) "row" else "rows", phrase)
}
