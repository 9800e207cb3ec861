# What is answered to plain requests: the page once, its files, the order lines behind a figure
# as CSV, what is shown as a file.

answered_request <- function(app, request) {
  path <- request$PATH_INFO
  if (brings_token(request, app$guard)) {
    return(response(302L, "text/plain; charset=utf-8", "", list(
      Location = paste0("/#key=", app$guard$key),
      "Set-Cookie" = paste0(cookie_said(app$guard),
        "; HttpOnly; SameSite=Strict; Path=/; Max-Age=7776000")
    )))
  }
  if (path == "/") {
    return(response(200L, "text/html; charset=utf-8", paste(explorer_page(), collapse = "\n")))
  }
  if (startsWith(path, "/lib/")) {
    return(library_response(app$files, substring(path, 6L)))
  }
  if (startsWith(path, "/lines/")) {
    return(csv_response(app, substring(path, 8L)))
  }
  if (startsWith(path, "/shown/")) {
    return(taken_response(app, substring(path, 8L)))
  }
  plain_response(404L, "There is nothing here.")
}

# Nothing of others is loaded, nothing written into the page runs, and no other page may show
# this one.
safe_headers <- function() {
  list(
    "Content-Security-Policy" = paste(
      "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline';",
      "img-src 'self' data:; connect-src 'self'; font-src 'self' data:;",
      "frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
    ),
    "X-Content-Type-Options" = "nosniff", "Referrer-Policy" = "no-referrer",
    "Cache-Control" = "no-store"
  )
}

response <- function(status, type, body, headers = list()) {
  list(status = status, headers = c(safe_headers(), list("Content-Type" = type),
    headers), body = body)
}

plain_response <- function(status, text) response(status, "text/plain; charset=utf-8", text)

# The files of the page, by plain names.
library_files <- function() {
  explore <- c("explore.css", "talk.js", "menu.js", "table.js", "panels.js")
  file <- function(folder, name) system.file(folder, name, package = "drystack", mustWork = TRUE)
  c(vapply(stats::setNames(nm = explore), file, "", folder = "explore"),
    "page.css" = file("page", "drystack.css"))
}

library_response <- function(files, name) {
  if (!name %in% names(files)) {
    return(plain_response(404L, "There is nothing here."))
  }
  type <- if (endsWith(name, ".css")) "text/css; charset=utf-8" else paste0("text/javascript; ",
    "charset=utf-8")
  bytes <- readBin(files[[name]], "raw", file.size(files[[name]]))
  response(200L, type, bytes)
}

csv_response <- function(app, id) {
  window <- if (is_window_id(id)) app$windows[[id]]
  placed <- if (!is.null(window)) rlang::try_fetch(placed_in(window),
    drystack_error = function(e) NULL)
  if (is.null(placed)) {
    return(plain_response(404L, "No figure is open in this window."))
  }
  lines <- lines_at_places(placed, seq_along(placed$rows), placed$table)
  file <- tempfile(fileext = ".csv")
  on.exit(unlink(file))
  write_bundle(sheet_bundle(data_sheet("Order lines", "", character(), lines)), file)
  response(200L, "text/csv; charset=utf-8", readBin(file, "raw", file.size(file)),
    list("Content-Disposition" = "attachment; filename=\"order-lines.csv\""))
}

explorer_page <- function() {
  readLines(system.file("explore", "explore.html", package = "drystack", mustWork = TRUE),
    encoding = "UTF-8")
}
