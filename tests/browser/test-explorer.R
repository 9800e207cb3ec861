# The explorer in a real browser: what people do by hand ends in the table that R gives.

yard_book <- function() {
  daybook(read_orders(harrowgill_path("orders.csv")), date = ordered_on,
    calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
}

last_year <- function() within_dates(yard_book(), latest(12, month))

# Ten everyday requests: what is changed, and the same in R.
requests <- list(
  regions = list(
    steps = list(list("rows", 1L, items = "region")),
    table = function() rollup(last_year(), by = region, amount = sum(amount))
  ),
  growth = list(
    steps = list(list("measure", 0L, items = c("from amount", "growth of amount on a year before"))),
    table = function() {
      rollup(last_year(), by = month, amount = sum(amount), amount_growth = growth(amount,
        year))
    }
  ),
  quarters_across = list(
    steps = list(list("rows", 1L, items = "depot"), list("cols", 0L, items = "quarter"),
      list("dates", 0L, items = "the last 4 quarters")),
    table = function() {
      crosstab(within_dates(yard_book(), latest(4, quarter)), rows = depot, cols = quarter,
        amount = sum(amount))
    }
  ),
  web_only = list(
    steps = list(list("only", 0L, items = "channel", members = list(of = "web"))),
    table = function() rollup(only(last_year(), channel == "web"), by = month, amount = sum(amount))
  ),
  largest_first = list(
    steps = list(list("rows", 1L, items = "product id"), list("order", 0L,
      items = "largest amount first")),
    table = function() {
      rollup(last_year(), by = product_id, amount = sum(amount),
        sort = list(product_id = largest_first(amount)))
    }
  ),
  totals = list(
    steps = list(list("rows", 0L, items = "channel"), list("totals", 0L, items = "all subtotals, too")),
    table = function() rollup(last_year(), by = c(month, channel), amount = sum(amount), totals = "all")
  ),
  as_of = list(
    steps = list(list("as_of", 0L, typed = "2026-08-31")),
    table = function() rollup(as_of(last_year(), "2026-08-31"), by = month, amount = sum(amount))
  ),
  typed_axis = list(
    steps = list(list("cols", 0L, typed = "channel"), list("dates", 0L, typed = "4 month")),
    table = function() {
      crosstab(within_dates(last_year(), latest(4, month)), rows = month, cols = channel,
        amount = sum(amount))
    }
  ),
  expression = list(
    steps = list(list("measure", 0L, typed = "a_line = sum(amount - discount) / count()")),
    table = function() {
      rollup(last_year(), by = month, amount = sum(amount),
        a_line = sum(amount - discount) / count())
    }
  ),
  top_customers = list(
    steps = list(list("rows", 1L, items = "customer id"), list("order", 0L,
      items = "the top 5 by amount"),
      list("measure", 0L, items = c("from amount", "share of amount in the total"))),
    table = function() {
      rollup(last_year(), by = customer_id, amount = sum(amount),
        amount_share = share(amount),
        keep = list(customer_id = keep_top(5, amount)))
    }
  ),
  calendar_year = list(
    steps = list(list("calendar", 0L, items = "civil year, January to December"), list("rows", 1L,
      items = "quarter"),
      list("dates", 0L, items = "all dates")),
    table = function() rollup(first_calendar(yard_book(), civil), by = quarter, amount = sum(amount))
  )
)

for (hand in c("keyboard", "mouse")) {
  test_that(paste("ten everyday requests by", hand, "end in the tables that R gives"), {
    explorer <- explorer_of()
    for (name in names(requests)) {
      page <- page_at(explorer$url)
      wait_for(page, is_drawn)
      for (step in requests[[name]]$steps) rlang::exec(change, page, hand, !!!step)
      expect_identical(cells_shown(page), cells_of(requests[[name]]$table()), label = name)
      expect_identical(page$faults, character())
      page$session$close()
    }
  })
}

test_that("a figure answers by keyboard: how it came about, its order lines, and by what else", {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  change(page, "keyboard", "rows", 1L, items = "region")
  js(page, "document.querySelector('#sheet tbody td.figure').focus()")
  press(page, "ArrowDown")
  press(page, "Enter")
  wait_for(page, "document.querySelector('#panel .steps')")
  table <- requests$regions$table()
  expect_match(js(page, "document.querySelector('#panel h2').textContent"), "region North", fixed = TRUE)
  expect_match(js(page, "document.querySelector('#panel .steps').textContent"),
    explain(table, 2L, "amount")$steps$words[1L], fixed = TRUE)
  js(page, paste0(button_selector("Order lines"), ".focus()"))
  press(page, "Enter")
  wait_for(page, "document.querySelector('#lines table')")
  lines <- behind(table, 2L, "amount")
  expect_match(js(page, "document.getElementById('lines').textContent"),
    drystack:::counted_lines(nrow(lines)), fixed = TRUE)
  csv <- js(page, "fetch(document.querySelector('#lines a').href).then((r) => r.text())")
  expect_identical(length(strsplit(csv, "\r?\n")[[1L]]), nrow(lines) + 1L)
  # By something else: the member goes into the sentence.
  js(page, paste0(button_selector("Show by"), ".focus()"))
  press(page, "Enter")
  wait_for(page, "!document.getElementById('menu').hidden")
  choose_item(page, "keyboard", "channel")
  wait_for(page, paste0("document.title.includes('region is North') && ", is_drawn))
  expect_identical(cells_shown(page),
    cells_of(rollup(only(last_year(), region == "North"), by = channel, amount = sum(amount))))
})

test_that("what is to be known of a new file is offered beside its first table, and opened by hand", {
  file <- file.path(harrowgill_folder(withr::local_tempdir()), "orders.csv")
  explorer <- explorer_of(c("--orders", shQuote(file), "--date", "ordered_on"))
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  wait_for(page, "byId('open-check').classList.contains('offer')", 30)
  hidden <- function(id) js(page, paste0("getComputedStyle(byId('", id, "')).display === 'none'"))
  found <- nrow(as.data.frame(check(daybook(harrowgill_path("orders.csv"), ordered_on))))
  expect_identical(js(page, "byId('open-check').textContent"),
    paste(found, "things to know before trusting these orders"))
  expect_true(hidden("panel"))
  js(page, "byId('open-check').click()")
  wait_for(page, "document.querySelector('#panel:not([hidden]) tbody')")
  expect_false(hidden("sheet") || hidden("sentence"))
  expect_identical(js(page, "byId('open-check').textContent"), "Check the orders")
  js(page, paste0("(() => { const one = byId('read-date_order'); one.value = 'ymd'; ",
    "one.form.dispatchEvent(new Event('change')); })()"))
  wait_for(page, "explorer.drawn > 1 && byId('read-date_order').value === 'ymd'")
  js(page, "document.querySelector('#panel .panel-head button').click()")
  expect_true(hidden("panel"))
  expect_identical(page$faults, character())
})

test_that("a standing report of the folder is opened, changed and saved where it was", {
  explorer <- explorer_of()
  system2(file.path(R.home("bin"), "Rscript"), c("-e", shQuote("drystack::run_command()"), "demo", "channels",
    "--out", shQuote(explorer$folder)), stdout = FALSE, stderr = FALSE)
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  plain <- cells_shown(page)
  js(page, "byId('open-page').click()")
  wait_for(page, "byId('open-report')")
  js(page, "byId('open-report').form.requestSubmit()")
  wait_for(page, paste0("byId('orders').textContent === 'channels.yml' && ", is_drawn))
  blocks <- as.integer(js(page, "byId('blocks').textContent"))
  expect_gt(blocks, 2L)
  of_report <- cells_shown(page)
  address <- js(page, "location.href")
  other <- page_at(address)
  wait_for(other, paste0("typeof byId === 'function' && byId('orders').textContent === 'channels.yml' && ",
    is_drawn))
  expect_identical(cells_shown(other), of_report)
  js(page, sprintf("act({do: 'drop_block', at: %d})", blocks))
  wait_for(page, sprintf("byId('blocks').textContent === '%d'", blocks - 1L))
  file <- file.path(explorer$folder, "channels.yml")
  before <- readLines(file)
  js(page, "byId('file-save').form.requestSubmit()")
  wait_for(page, "document.querySelector('.written button')")
  expect_identical(readLines(file), before)
  js(page, "document.querySelector('.written button').click()")
  wait_for(page, paste0("[...document.querySelectorAll('.written')]",
    ".some((one) => one.textContent.includes('channels.yml'))"))
  expect_false(identical(readLines(file), before))
  js(page, "byId('undo').click()")
  js(page, "byId('undo').click()")
  wait_for(page, paste0("byId('orders').textContent === 'orders.csv' && ", is_drawn))
  expect_identical(cells_shown(page), plain)
  expect_identical(page$faults, character())
})

test_that("a page is written to its folder, and what cannot be written is told", {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  js(page, "act({do: 'add_block', as: 'table'})")
  js(page, "byId('open-page').click()")
  wait_for(page, "byId('file-write')")
  write <- function(name) {
    js(page, paste0("(() => { for (const one of document.querySelectorAll('.written')) one.textContent = '';",
      " byId('refused').hidden = true; byId('file-write').value = '", name, "';",
      " byId('file-write').form.requestSubmit(); })()"))
    wait_for(page, paste0("!byId('refused').hidden || ",
      "[...document.querySelectorAll('.written')].some((one) => one.textContent)"), 60)
    js(page, "byId('refused').hidden ? 'written' : byId('refused').textContent")
  }
  for (name in c("sales.html", "sales.pdf", "sales.xlsx")) {
    expect_identical(write(name), "written", info = name)
    expect_gt(file.size(file.path(explorer$folder, name)), 1000, label = name)
  }
  for (name in c("../sales.html", "sales.exe")) expect_match(write(name), "cannot be the name of a file", info = name)
  dir.create(file.path(explorer$folder, "taken.html"))
  expect_match(write("taken.html"), "taken.html")
  expect_setequal(list.files(explorer$folder, all.files = TRUE, no.. = TRUE),
    c("sales.html", "sales.pdf", "sales.xlsx", "taken.html"))
})

test_that("back, forward, a bookmark and a reload bring an ask back; a broken address is told", {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  first <- cells_shown(page)
  change(page, "mouse", "rows", 1L, items = "region")
  second <- cells_shown(page)
  address <- js(page, "location.href")
  js(page, "history.back()")
  wait_for(page, paste0("document.title.includes('by month') && ", is_drawn))
  expect_identical(cells_shown(page), first)
  js(page, "history.forward()")
  wait_for(page, paste0("document.title.includes('by region') && ", is_drawn))
  other <- page_at(address)
  wait_for(other, is_drawn)
  expect_identical(cells_shown(other), second)
  change(page, "mouse", "totals", 0L, items = "a grand total")
  js(page, "location.reload()")
  Sys.sleep(0.3)
  wait_for(page, paste0("typeof is !== 'x' && ", is_drawn))
  expect_false(js(page, "document.getElementById('undo').disabled"))
  broken <- page_at(sub("#.*$", "#bm90IGFuIGFzaw", address))
  wait_for(broken, "document.getElementById('refused') && !document.getElementById('refused').hidden")
  expect_match(js(broken, "document.getElementById('refused').textContent"), "holds no question")
})

test_that("the state outlives a socket that is lost", {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  change(page, "mouse", "rows", 1L, items = "region")
  before <- cells_shown(page)
  drawn <- js(page, "explorer.drawn")
  js(page, "explorer.socket.close()")
  wait_for(page, "!byId('lost').hidden", 30)
  wait_for(page, paste0("byId('lost').hidden && explorer.drawn !== ", drawn), 30)
  change(page, "mouse", "totals", 0L, items = "a grand total")
  expect_identical(length(cells_shown(page)), length(before) + 1L)
  expect_false(js(page, "document.getElementById('undo').disabled"))
})

test_that("nobody without the cookie is answered, whatever is asked for", {
  explorer <- explorer_of()
  root <- sub("\\?.*$", "", explorer$url)
  status <- function(path, headers = character()) {
    handle <- curl::new_handle(followlocation = FALSE)
    curl::handle_setheaders(handle, .list = as.list(headers))
    curl::curl_fetch_memory(paste0(root, path), handle = handle)$status_code
  }
  token <- sub("^.*token=", "", explorer$url)
  for (path in c("", "lib/talk.js", "lines/x", "session/x/y", "..%2f..%2fetc/passwd", "?token=wrong",
    paste0("?token=", substr(token, 1L, 47L)))) {
    expect_identical(status(path), 403L, label = path)
  }
  handle <- curl::new_handle(followlocation = FALSE)
  first <- curl::parse_headers(curl::curl_fetch_memory(paste0(root, "?token=", token),
    handle = handle)$headers)
  expect_match(first[1L], "302")
  said <- function(form) {
    sub(form, "\\1", grep(form, first, value = TRUE, ignore.case = TRUE), ignore.case = TRUE)
  }
  cookie <- c(Cookie = said("^set-cookie: ([^;]*);.*$"))
  key <- said("^location: /#key=([0-9a-f]+)$")
  expect_identical(status("", cookie), 200L)
  expect_identical(status("lib/talk.js", cookie), 200L)
  for (path in c("lib/..%2f..%2fDESCRIPTION", "lines/%", "lines/%00", "lines/x", "websocket/")) {
    expect_identical(status(path, cookie), 404L, label = path)
  }
  # A name of others that leads here.
  expect_identical(status("", c(cookie, Host = "evil.example:80")), 403L)
  # A page of others cannot speak to it, nor can one that has the cookie and not the key.
  socket <- function(..., first = key, wait = 1) {
    heard <- new.env()
    ws <- websocket::WebSocket$new(paste0(sub("^http", "ws", root), "talk"), headers = list(...),
      autoConnect = FALSE)
    ws$onMessage(function(event) heard$text <- c(heard$text, event$data))
    ws$onOpen(function(event) {
      ws$send(jsonlite::toJSON(list(key = first), auto_unbox = TRUE))
      ws$send("{\"window\":\"w\",\"n\":1,\"do\":\"hello\",\"address\":\"\"}")
    })
    ws$connect()
    until <- Sys.time() + wait
    while (Sys.time() < until && !any(grepl("\"drawn\"", heard$text))) later::run_now(0.1)
    ws$close()
    any(grepl("\"drawn\"", heard$text))
  }
  host <- sub("/$", "", root)
  expect_true(socket(Cookie = cookie[[1L]], Origin = host, wait = 20))
  expect_false(socket(Cookie = cookie[[1L]], Origin = host, first = token))
  expect_false(socket(Cookie = cookie[[1L]], Origin = host, first = ""))
  expect_false(socket(Cookie = cookie[[1L]], Origin = "http://evil.example"))
  expect_false(socket(Origin = host))
  expect_false(socket(Cookie = paste0("drystack_", explorer$port, "=wrong"), Origin = host))
})

test_that("a page says when its explorer has ended, and what no longer works is grey", {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  tools::pskill(explorer$pid)
  wait_for(page, "!byId('lost').hidden && document.body.classList.contains('lost')", 30)
  expect_match(js(page, "byId('lost').textContent"), "does not answer")
  expect_identical(page$faults, character())
})

test_that("markup in names, members and addresses is text", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:3, amount = 1:4,
    who = c("<img src=x onerror=document.title='pwned'>", "<script>document.title='pwned'</script>",
      "\"quoted'", "&amp;"))
  file <- withr::local_tempfile(fileext = ".csv")
  names(orders)[3L] <- "<b>who</b>"
  write.csv(orders, file, row.names = FALSE)
  explorer <- explorer_of(c("--orders", shQuote(file), "--date", "on"))
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  js(page, "byId('open-check').click()")
  wait_for(page, "document.querySelector('#panel:not([hidden]) tbody')")
  expect_identical(js(page, "document.querySelectorAll('#panel img, #panel b').length"), 0L)
  js(page, "document.querySelector('#panel .panel-head button').click()")
  wait_for(page, is_drawn)
  change(page, "mouse", "rows", 1L, items = "<b>who</b>")
  open_part(page, "mouse", "only", 0L)
  choose_item(page, "mouse", "<b>who</b>")
  wait_for(page, "document.getElementById('menu-only')")
  Sys.sleep(0.3)
  expect_false(grepl("pwned", js(page, "document.title"), fixed = TRUE))
  expect_identical(js(page,
    "document.querySelectorAll('#sheet img, #menu img, #sheet b, #sentence b').length"), 0L)
})

test_that("it keeps nobody out: no serious finding of axe, light or dark, wide or narrow", {
  axe <- paste(readLines(Sys.getenv("DRYSTACK_TEST_AXE"), warn = FALSE), collapse = "\n")
  explorer <- explorer_of()
  look <- function(page, where) {
    js(page, paste0(axe, "\n;0"))
    found <- jsonlite::fromJSON(js(page, paste0("axe.run().then((r) => JSON.stringify(r.violations",
      ".filter((v) => ['serious', 'critical'].includes(v.impact)).map((v) => v.id + ': ' + ",
      "v.nodes.map((n) => n.html.slice(0, 120)).join(' | '))))")))
    expect_identical(as.character(found), character(), label = where)
  }
  for (scheme in c("light", "dark")) {
    for (width in c(1280L, 400L)) {
      page <- page_at(explorer$url, width = width)
      page$session$Emulation$setEmulatedMedia(features = list(list(name = "prefers-color-scheme",
        value = scheme)))
      wait_for(page, is_drawn)
      where <- paste(scheme, width)
      look(page, where)
      click_at(page, "document.querySelector('#sheet tbody td.figure')")
      wait_for(page, "document.querySelector('#panel .steps')")
      look(page, paste(where, "explained"))
      open_part(page, "mouse", "only", 0L)
      choose_item(page, "mouse", "channel")
      wait_for(page, "document.getElementById('menu-only')")
      look(page, paste(where, "members"))
      page$session$close()
    }
  }
})

test_that("twenty windows at once ask without an error and without growing", {
  explorer <- explorer_of()
  here <- environment()
  pages <- lapply(1:20, function(i) page_at(explorer$url, here))
  for (page in pages) wait_for(page, is_drawn, 60)
  memory <- function() {
    lines <- readLines(paste0("/proc/", explorer$pid, "/status"))
    as.numeric(gsub("[^0-9]", "", grep("^VmRSS", lines, value = TRUE))) / 1024
  }
  axes <- c("region", "month", "depot", "quarter", "channel", "product_id")
  asked <- 0L
  ask_all <- function(until) {
    while (Sys.time() < until) {
      for (page in pages) {
        axis <- axes[asked %% length(axes) + 1L]
        js(page, sprintf("act({do: 'set_axis', side: 'rows', at: 1, axis: '%s'})", axis))
        asked <<- asked + 1L
      }
      Sys.sleep(0.2)
    }
    for (page in pages) wait_for(page, is_drawn, 60)
  }
  seconds <- as.numeric(Sys.getenv("DRYSTACK_TEST_WINDOWS", "60"))
  ask_all(Sys.time() + seconds / 2)
  settled <- memory()
  ask_all(Sys.time() + seconds / 2)
  expect_gt(asked, 100L)
  expect_lt(memory() - settled, 60)
  for (page in pages) {
    expect_identical(page$faults, character())
    expect_true(js(page, "document.getElementById('refused').hidden"))
  }
})

test_that("what is shown is copied and saved by one act each", {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  links <- js(page, "JSON.stringify([...document.querySelectorAll('#take a')].map((one) => one.textContent))")
  expect_identical(jsonlite::fromJSON(links), c("CSV", "xlsx", "PNG", "SVG"))
  statuses <- js(page, paste("Promise.all([...document.querySelectorAll('#take a')]",
    ".map((one) => fetch(one.href).then((got) => got.status))).then((all) => all.join())"))
  expect_identical(statuses, "200,200,200,200")
  js(page, "navigator.clipboard.writeText = (text) => { window.taken = text; return Promise.resolve(); }")
  click_at(page, "document.querySelector('#take button')")
  wait_for(page, "window.taken")
  expect_match(js(page, "window.taken"), "^Month\tAmount\n")
  wait_for(page, "document.querySelector('#take button').textContent === 'Copied'")
})

test_that("the blocks of a page stand one a line, are moved by keys, and have their acts in a menu", {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  wait_for(page, is_drawn)
  js(page, "document.getElementById('open-page').click()")
  wait_for(page, button_selector("Add the table"))
  for (what in c("Add the table", "Add the figure")) {
    js(page, paste0(button_selector(what), ".click()"))
    wait_for(page, paste0("document.querySelectorAll('.block').length === ",
      if (what == "Add the table") 1L else 2L))
  }
  kinds <- "[...document.querySelectorAll('.block .what')].map((one) => one.textContent).join()"
  expect_identical(js(page, kinds), "a table,a figure")
  heights <- js(page, "Math.max(...[...document.querySelectorAll('.block')].map((one) => one.offsetHeight))")
  expect_lt(heights, 45)
  js(page, "document.querySelectorAll('.block > input')[1].focus()")
  press(page, "ArrowUp", 1L)
  wait_for(page, paste0(kinds, " === 'a figure,a table'"))
  js(page, "document.querySelectorAll('.block summary')[0].click()")
  js(page, paste0(button_selector("Remove"), ".click()"))
  wait_for(page, paste0(kinds, " === 'a table'"))
  expect_identical(js(page, kinds), "a table")
})

test_that("orders that cannot be opened are asked about, by mouse and by keys", {
  dates <- as.Date(paste0(c("2024-11-", "2025-01-"), rep(sprintf("%02d", 2:12), each = 2L)))
  orders <- withr::local_tempfile(lines = c("Date,Net", paste0(format(dates, "%d/%m/%Y"), ",10")), fileext = ".csv")
  page <- page_at(explorer_of(c("--orders", shQuote(orders)))$url)
  wait_for(page, "document.querySelectorAll('.ways button').length === 2")
  click_at(page, "document.querySelector('.ways button')")
  wait_for(page, is_drawn)
  expect_match(js(page, "document.querySelector('#sheet').innerText"), "2024-11 Nov")
  click_at(page, "document.querySelector('#undo')")
  wait_for(page, "document.querySelectorAll('.ways button').length === 2")
  js(page, "document.querySelectorAll('.ways button')[1].focus()")
  press(page, "Enter")
  wait_for(page, is_drawn)
  expect_match(js(page, "document.querySelector('#sheet').innerText"), "2025-12 Dec")
  expect_identical(page$faults, character())
})
