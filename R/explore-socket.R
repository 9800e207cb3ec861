# The socket by which the page and R speak: texts of JSON, {kind, what} to the page. The first text
# that comes must be the key; a socket that does not say it in time, or says anything
# else, is closed.
#
# A session is an environment: send (a function of kind and what), known (whether it has
# said the key)

socket_app <- function(app) {
  list(
    call = function(request) {
      rlang::try_fetch(answered_request(app, request), error = function(e) {
        plain_response(500L, "This should not have happened.")
      })
    },
    onWSOpen = function(socket) {
      rlang::try_fetch(open_session(app, socket), error = function(e) socket$close())
    }
  )
}

open_session <- function(app, socket) {
  if (app$unknown >= most_unknown) {
    return(socket$close())
  }
  app$unknown <- app$unknown + 1L
  session <- new.env(parent = emptyenv())
  session$known <- FALSE
  session$send <- function(kind, what) {
    rlang::try_fetch(socket$send(said_as_json(list(kind = kind, what = what))),
      error = function(e) NULL)
  }
  settle <- function(known) {
    if (is.null(session$settled)) app$unknown <- app$unknown - 1L
    session$settled <- TRUE
    session$known <- known
  }
  socket$onMessage(function(binary, text) {
    rlang::try_fetch({
      if (session$known) take_in(app, session, text)
      else if (!binary && says_key(text, app$guard)) settle(TRUE)
      else socket$close()
    }, error = function(e) socket$close())
  })
  socket$onClose(function() {
    settle(FALSE)
    left(app, session)
  })
  later::later(function() if (!session$known) socket$close(), patience_for_key)
}

says_key <- function(text, guard) {
  said <- if (nchar(text, "bytes") <= most_first) rlang::try_fetch(jsonlite::fromJSON(text),
    error = function(e) NULL)
  is.list(said) && is_one_text(said$key) && same_text(said$key, guard$key)
}

said_as_json <- function(x) {
  jsonlite::toJSON(x, auto_unbox = TRUE, null = "null", na = "null", digits = NA,
    dataframe = "columns",
    rownames = FALSE, force = TRUE, keep_vec_names = TRUE)
}
