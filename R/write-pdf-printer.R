# Chromium as a printer: one for all pages of a build, spoken to over its debugging pipe. What it
# answers goes into a file, message by message with a zero byte after each.

printers <- new.env(parent = emptyenv())

# One printer for all that is printed by some work, begun when the first page asks for it.
with_printer <- function(work) {
  shares <- printers$shares
  printers$shares <- TRUE
  on.exit({
    printers$shares <- shares
    if (is.null(shares)) end_printer(printers$shared)
  })
  work
}

printer_at_hand <- function() {
  if (is.null(printers$shares)) {
    return(new_printer(find_browser()))
  }
  known <- printers$shared
  if (is.null(known) || known$of != Sys.getpid() || known$ended || !known$process$is_alive()) {
    printers$shared <- new_printer(find_browser())
  }
  printers$shared
}

new_printer <- function(browser) {
  printer <- new.env(parent = emptyenv())
  printer$of <- Sys.getpid()
  printer$browser <- browser
  printer$ended <- FALSE
  printer$folder <- tempfile("drystack-printer-")
  dir.create(printer$folder)
  answers <- file.path(printer$folder, "answers")
  file.create(answers)
  # The pipe is what the browser finds as its third and fourth file.
  printer$process <- processx::process$new("sh", c(
    "-c", "exec \"$0\" \"$@\" 3<&0 4>>\"$DRYSTACK_ANSWERS\" < /dev/null", browser,
    "--headless", "--no-sandbox", "--disable-gpu", "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--remote-debugging-pipe",
    paste0("--user-data-dir=", file.path(printer$folder, "profile"))
  ), env = c("current", DRYSTACK_ANSWERS = answers), stdin = "|", cleanup_tree = TRUE,
    supervise = TRUE)
  printer$path <- answers
  printer$begun <- printer$read <- list()
  printer$last <- 0L
  printer
}

end_printer <- function(printer) {
  if (is.null(printer) || printer$ended || printer$of != Sys.getpid()) {
    return(invisible())
  }
  printer$ended <- TRUE
  if (!is.null(printer$answers)) close(printer$answers)
  printer$process$kill_tree()
  unlink(printer$folder, recursive = TRUE)
  if (identical(printers$shared, printer)) printers$shared <- NULL
}

# The bytes of a page of HTML as a PDF.
printed_page <- function(printer, html) {
  if (is.null(printer$session)) {
    printer$answers <- file(printer$path, "rb")
    target <- ask_printer(printer, "Target.createTarget", list(url = "about:blank"))
    printer$session <- ask_printer(printer, "Target.attachToTarget",
      list(targetId = target$targetId,
      flatten = TRUE))$sessionId
    ask_printer(printer, "Page.enable")
  }
  ask_printer(printer, "Page.navigate", list(url = paste0("file://", html)),
    until = "Page.loadEventFired")
  printed <- ask_printer(printer, "Page.printToPDF",
    list(printBackground = TRUE, preferCSSPageSize = TRUE,
    generateTaggedPDF = TRUE))
  jsonlite::base64_dec(printed$data)
}

# Says something and waits for its answer, or for what it brings about.
ask_printer <- function(printer, method, params = NULL, until = NULL) {
  printer$last <- printer$last + 1L
  asked <- Filter(Negate(is.null), list(id = printer$last, method = method, params = params,
    sessionId = printer$session))
  said <- c(charToRaw(as.character(jsonlite::toJSON(asked, auto_unbox = TRUE))), as.raw(0L))
  tryCatch(printer$process$write_input(said), error = function(e) stop("it has ended"))
  repeat {
    answer <- next_answer(printer)
    if (identical(answer$id, asked$id) && !is.null(answer$error)) stop(answer$error$message)
    if (if (is.null(until)) identical(answer$id, asked$id) else identical(answer$method, until)) {
      return(answer$result)
    }
  }
}

next_answer <- function(printer) {
  since <- Sys.time()
  while (length(printer$read) == 0L) {
    bytes <- readBin(printer$answers, "raw", 1e6)
    if (length(bytes) > 0L) take_answers(printer, bytes)
    else if (!printer$process$is_alive()) stop("it has ended")
    else if (difftime(Sys.time(), since, units = "secs") > seconds_to_print) stop(
      "it does not answer")
    else Sys.sleep(0.01)
  }
  answer <- printer$read[[1L]]
  printer$read <- printer$read[-1L]
  jsonlite::fromJSON(rawToChar(answer), simplifyVector = FALSE)
}

# Whole messages go to those that were read, what is begun waits for its end.
take_answers <- function(printer, bytes) {
  ends <- which(bytes == as.raw(0L))
  from <- 1L
  for (end in ends) {
    message <- c(printer$begun, list(bytes[seq_len(end - from) + from - 1L]))
    printer$read <- c(printer$read, list(do.call(c, message)))
    printer$begun <- list()
    from <- end + 1L
  }
  if (from <= length(bytes)) printer$begun <- c(printer$begun, list(bytes[from:length(bytes)]))
}

seconds_to_print <- 60
