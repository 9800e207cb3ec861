# An explorer and a browser to look at it with, and hands: keys and a mouse, nothing else.

# An explorer of its own process; list(url: its first address, port, pid, folder). `begin`: R code that opens
# another, but for its port.
explorer_of <- function(args = character(), env = parent.frame(), begin = NULL) {
  told <- withr::local_tempfile(.local_envir = env)
  port <- drystack:::kernel_free_port("127.0.0.1")
  folder <- withr::local_tempdir(.local_envir = env)
  words <- if (is.null(begin)) {
    c("-e", shQuote("drystack::run_command()"), "explore", args, "--no-open", "--port", port, "--folder",
      shQuote(folder))
  } else {
    c("-e", shQuote(paste0(begin, port, ")")))
  }
  command <- paste("exec", shQuote(file.path(R.home("bin"), "Rscript")), paste(words, collapse = " "),
    "> /dev/null 2>", shQuote(told), "& echo $!")
  pid <- as.integer(system(paste0("sh -c ", shQuote(command)), intern = TRUE)[1L])
  withr::defer(tools::pskill(pid), envir = env)
  until <- Sys.time() + 120
  while (Sys.time() < until && !any(grepl("token=", readLines(told, warn = FALSE)))) Sys.sleep(0.1)
  lines <- readLines(told, warn = FALSE)
  list(url = sub("^.*(http[^ ]*)$", "\\1", grep("token=", lines, value = TRUE)), port = port, pid = pid,
    folder = folder)
}

browser_running <- new.env()

browser <- function() {
  if (is.null(browser_running$chrome)) {
    chromote::set_chrome_args(c("--headless", "--no-sandbox", "--disable-gpu",
      "--force-prefers-reduced-motion"))
    browser_running$chrome <- chromote::Chromote$new()
  }
  browser_running$chrome
}

# A page of a browser; what goes wrong in it is kept in `page$faults`.
page_at <- function(url, env = parent.frame(), width = 1280, height = 800) {
  session <- browser()$new_session(width = width, height = height)
  page <- new.env()
  page$session <- session
  page$faults <- character()
  session$Runtime$enable()
  session$Runtime$exceptionThrown(callback_ = function(m) {
    page$faults <- c(page$faults, paste(m$exceptionDetails$text, m$exceptionDetails$exception$description))
  })
  session$Page$navigate(url)
  withr::defer(try(session$close(), silent = TRUE), envir = env)
  page
}

js <- function(page, code) {
  answer <- page$session$Runtime$evaluate(code, returnByValue = TRUE, awaitPromise = TRUE)
  if (!is.null(answer$exceptionDetails)) stop("in the page: ", answer$exceptionDetails$exception$description)
  answer$result$value
}

wait_for <- function(page, code, seconds = 15) {
  until <- Sys.time() + seconds
  while (Sys.time() < until) {
    if (isTRUE(js(page, paste0("Boolean(", code, ")")))) {
      return(invisible(TRUE))
    }
    Sys.sleep(0.03)
  }
  stop("never came: ", code, "\n", js(page, "document.body.innerText.slice(0, 800)"))
}

is_drawn <- paste("document.querySelector('#sheet table, #sheet .headlines') &&",
  "!document.getElementById('sheet').classList.contains('waiting')")

# Keys by their names; anything else is typed as text.
keys <- c(Enter = 13L, Escape = 27L, Tab = 9L, ArrowDown = 40L, ArrowUp = 38L, ArrowRight = 39L,
  ArrowLeft = 37L)

press <- function(page, key, modifiers = 0L) {
  event <- list(key = key, code = key, windowsVirtualKeyCode = keys[[key]], modifiers = modifiers)
  rlang::exec(page$session$Input$dispatchKeyEvent, type = "keyDown", !!!event,
    !!!if (key == "Enter") list(text = "\r"))
  rlang::exec(page$session$Input$dispatchKeyEvent, type = "keyUp", !!!event)
}

type_text <- function(page, text) page$session$Input$insertText(text = text)

click_at <- function(page, selector) {
  box <- js(page, paste0("(() => { const one = ", selector, "; one.scrollIntoView({block: 'center'}); ",
    "const r = one.getBoundingClientRect(); ",
    "return [r.left + Math.min(r.width / 2, 60), r.top + r.height / 2]; })()"))
  at <- list(x = box[[1L]], y = box[[2L]], button = "left", clickCount = 1L)
  rlang::exec(page$session$Input$dispatchMouseEvent, type = "mousePressed", !!!at)
  rlang::exec(page$session$Input$dispatchMouseEvent, type = "mouseReleased", !!!at)
}

# A button beside the table, by how its text begins.
button_selector <- function(text) {
  sprintf("[...document.querySelectorAll('#panel button')].find((b) => b.textContent.startsWith('%s'))", text)
}

part_selector <- function(menu,
  at) {
  sprintf("document.querySelector('.part[data-menu=\"%s\"][data-at=\"%d\"]')", menu, at)
}

# By keyboard: Tab until the part has the focus.
walk_to <- function(page, menu, at) {
  js(page, "document.querySelector('.skip').focus()")
  for (i in 1:80) {
    press(page, "Tab")
    if (isTRUE(js(page, paste0("document.activeElement === ", part_selector(menu, at))))) {
      return(invisible())
    }
  }
  stop("Tab does not lead to the part ", menu, " ", at)
}

open_part <- function(page, hand, menu, at) {
  if (hand == "keyboard") {
    walk_to(page, menu, at)
    press(page, "Enter")
  } else {
    click_at(page, part_selector(menu, at))
  }
  wait_for(page, "!document.getElementById('menu').hidden && document.activeElement.id === 'menu-search'")
}

item_selector <- function(label) {
  sprintf(paste("[...document.querySelectorAll('#menu .item')]",
    ".find((i) => i.querySelector('.label').textContent === %s)"),
    jsonlite::toJSON(label, auto_unbox = TRUE))
}

# Chooses one item of the list that is open: the arrow to it and Enter, or a click.
choose_item <- function(page, hand, label) {
  wait_for(page, item_selector(label))
  if (hand == "mouse") {
    return(click_at(page, item_selector(label)))
  }
  here <- paste0(item_selector(label), ".classList.contains('here')")
  for (i in 1:220) {
    if (isTRUE(js(page, here))) {
      return(press(page, "Enter"))
    }
    press(page, "ArrowDown")
  }
  stop("the arrows do not lead to ", label)
}

# One change of the sentence: a part, then items one after the other, or a text that is typed.
change <- function(page, hand, menu, at, items = character(), typed = NULL, members = NULL) {
  before <- js(page, "explorer.drawn")
  open_part(page, hand, menu, at)
  for (label in items) choose_item(page, hand, label)
  if (!is.null(members)) {
    for (label in members$of) choose_item(page, hand, label)
    if (hand == "mouse") click_at(page, "document.getElementById('menu-only')") else press(page, "Enter",
      modifiers = 2L)
  }
  if (!is.null(typed)) {
    # At once: Enter waits for the list of what is typed.
    type_text(page, typed)
    press(page, "Enter")
  }
  wait_for(page, paste0("explorer.drawn !== ", before, " && ", is_drawn))
}

# The texts of the table's body, row by row.
cells_shown <- function(page) {
  text <- js(page, paste("JSON.stringify([...document.querySelectorAll('#sheet tbody tr')]",
    ".map((row) => [...row.children].map((cell) => cell.textContent.trim())))"))
  jsonlite::fromJSON(text, simplifyMatrix = FALSE)
}

cells_of <- function(table) {
  sheet <- drystack:::as_sheet(table)
  texts <- lapply(sheet$columns, function(column) trimws(read_text(column)))
  lapply(seq_along(sheet$role), function(i) vapply(texts, `[`, "", i))
}
