# What is answered to plain requests: the page once, its files, the order lines behind a figure as CSV.

answered_request <- function(app, request) {
  allowed <- guarded(request, app$guard)
  if (allowed == "no") {
    return(plain_response(403L, paste("This explorer answers only to the browser it was opened in:",
      "use the address that was told when it began.")))
  }
  path <- request$PATH_INFO
  if (allowed == "token") {
    return(shiny::httpResponse(302L, "text/plain; charset=utf-8", "", headers = c(safe_headers(), list(
      Location = "/", "Set-Cookie" = paste0(app$guard$cookie, "=", app$guard$token,
        "; HttpOnly; SameSite=Lax; Path=/")
    ))))
  }
  if (path == "/") {
    return(shiny::httpResponse(200L, "text/html; charset=utf-8", paste(explorer_page(), collapse = "\n"),
      safe_headers()))
  }
  if (startsWith(path, "/lib/")) {
    return(library_response(app$files, substring(path, 6L)))
  }
  if (startsWith(path, "/lines/")) {
    return(csv_response(app, substring(path, 8L)))
  }
  plain_response(404L, "There is nothing here.")
}

# Nothing of others is loaded, nothing written into the page runs, and no other page may show this one.
# (Shiny's own script makes functions from text.)
safe_headers <- function() {
  list(
    "Content-Security-Policy" = paste(
      "default-src 'none'; script-src 'self' 'unsafe-eval'; style-src 'self' 'unsafe-inline';",
      "img-src 'self' data:; connect-src 'self'; font-src 'self' data:;",
      "frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
    ),
    "X-Content-Type-Options" = "nosniff", "Referrer-Policy" = "no-referrer", "Cache-Control" = "no-store"
  )
}

plain_response <- function(status, text) {
  shiny::httpResponse(status, "text/plain; charset=utf-8", text,
    safe_headers())
}

# The files of the page, by plain names: ours, and those of the packages it stands on.
library_files <- function() {
  theme <- bslib::bs_theme_dependencies(bslib::bs_theme(version = 5))
  bootstrap <- Filter(function(one) one$name == "bootstrap", theme)[[1L]]
  jquery <- Filter(function(one) one$name == "jquery", theme)[[1L]]
  ours <- function(name) system.file("explore", name, package = "drystack", mustWork = TRUE)
  c(
    "bootstrap.css" = file.path(bootstrap$src$file, "bootstrap.min.css"),
    "jquery.js" = file.path(jquery$src$file, jquery$script[[1L]]),
    "shiny.js" = system.file("www", "shared", "shiny.min.js", package = "shiny", mustWork = TRUE),
    "explore.css" = ours("explore.css"), "talk.js" = ours("talk.js"), "menu.js" = ours("menu.js"),
    "table.js" = ours("table.js"), "panels.js" = ours("panels.js"),
    "page.css" = system.file("page", "drystack.css", package = "drystack", mustWork = TRUE)
  )
}

library_response <- function(files, name) {
  if (!name %in% names(files)) {
    return(plain_response(404L, "There is nothing here."))
  }
  type <- if (endsWith(name, ".css")) "text/css; charset=utf-8" else "text/javascript; charset=utf-8"
  bytes <- readBin(files[[name]], "raw", file.size(files[[name]]))
  shiny::httpResponse(200L, type, bytes, safe_headers())
}

csv_response <- function(app, id) {
  window <- if (nchar(id) > 0L) app$windows[[utils::URLdecode(id)]]
  placed <- if (!is.null(window)) rlang::try_fetch(placed_in(window), drystack_error = function(e) NULL)
  if (is.null(placed)) {
    return(plain_response(404L, "No figure is open in this window."))
  }
  lines <- lines_at_places(placed, seq_along(placed$rows), placed$table)
  file <- tempfile(fileext = ".csv")
  on.exit(unlink(file))
  write_document(sheet_document(data_sheet("Order lines", "", character(), lines)), file)
  headers <- c(safe_headers(), list("Content-Disposition" = "attachment; filename=\"order-lines.csv\""))
  shiny::httpResponse(200L, "text/csv; charset=utf-8", readBin(file, "raw", file.size(file)), headers)
}

explorer_page <- function() {
  readLines(system.file("explore", "explore.html", package = "drystack", mustWork = TRUE), encoding = "UTF-8")
}
