# What a session of R has set (locale, options) changes neither a figure nor a word of ours:
# every exported function that works out, reads, writes or shows something first asks for our own
# setting, which ends with it.

#
# ours: whether it is set; ends: what is still to be done when it ends; tables: those that stand in
# databases meanwhile; asked: how many statements were numbered
session <- list2env(list(ours = FALSE, ends = list()), parent = emptyenv())

# Done when the exported function that is under way ends.
at_session_end <- function(what) session$ends <- c(session$ends, list(what))

own_setting <- function(env = parent.frame()) {
  if (session$ours) {
    return(invisible())
  }
  before <- list(
    text = Sys.getlocale("LC_CTYPE"), order = Sys.getlocale("LC_COLLATE"),
    options = options(digits = 7L, OutDec = ".", scipen = 0L, encoding = "native.enc",
      stringsAsFactors = FALSE)
  )
  set_locale("LC_CTYPE", utf8_locale(before$text))
  set_locale("LC_COLLATE", "C")
  session$ours <- TRUE
  at_end(env, function() {
    for (what in session$ends) what()
    session$ends <- list()
    set_locale("LC_CTYPE", before$text)
    set_locale("LC_COLLATE", before$order)
    options(before$options)
    session$ours <- FALSE
  })
  invisible()
}

at_end <- function(env, what) do.call(on.exit, list(as.call(list(what)), TRUE, FALSE), envir = env)

set_locale <- function(category, name) suppressWarnings(Sys.setlocale(category, name))

# UTF-8 with the rules of no language; where a machine has no such locale, that of the session.
utf8_locale <- function(current) {
  if (is.null(session$utf8)) {
    found <- Filter(function(name) set_locale("LC_CTYPE", name) != "",
      c("C.UTF-8", "C.utf8", "en_US.UTF-8", "UTF-8"))
    session$utf8 <- c(found, current)[1L]
  }
  session$utf8
}
