# The gate before the explorer: what it lets through, by the heads of requests and from a raw socket.

guard_of <- function(port = 4001) new_guard("127.0.0.1", port)

head_of <- function(..., target = "/", method = "GET", host = "127.0.0.1:4001") {
  paste0(method, " ", target, " HTTP/1.1\r\n", if (!is.null(host)) paste0("Host: ", host, "\r\n"),
    paste0(c(...), "\r\n", collapse = "", recycle0 = TRUE))
}

refusal <- function(guard, head) {
  kernel_gate_refusal(head, own_hosts(guard), cookie_said(guard), guard$token, talk_path)
}

test_that("a request is let through by its cookie or the first token, from where the explorer listens", {
  guard <- guard_of()
  cookie <- paste0("Cookie: other=1; ", cookie_said(guard))
  through <- function(...) refusal(guard, head_of(...))
  expect_identical(through(cookie), 0L)
  expect_identical(through(target = paste0("/?token=", guard$token)), 0L)
  expect_identical(through(cookie, host = "localhost:4001"), 0L)
  for (head in list(head_of(), head_of("Cookie: drystack_4001="), head_of(target = "/?token="),
    head_of(target = paste0("/?token=", substr(guard$token, 1L, 47L))),
    head_of(cookie, host = "evil.example"),
    head_of(cookie, host = NULL), head_of(cookie, "Host: evil.example"), head_of(cookie, "Cookie: other=2"),
    head_of(paste0("Cookie: ", guard$cookie, "=", guard$token)),
    head_of(paste0("Cookie: ", guard$cookie, "=", guard$key)),
    head_of(target = paste0("/?x=token=", guard$token)))) {
    expect_identical(refusal(guard, head), 403L, info = head)
  }
  expect_identical(through(cookie, method = "POST"), 405L)
  expect_identical(through(cookie, "Content-Length: 60000000"), 413L)
  expect_identical(through(cookie, "Transfer-Encoding: chunked"), 413L)
  for (odd in c("", "\r\n", "GET\r\n", "GET / HTTP/1.1\r\nno field\r\n",
    "GET / HTTP/1.1\r\n folded: x\r\n")) {
    expect_true(refusal(guard, odd) >= 400L, info = odd)
  }
})

test_that("a socket is opened by the page alone: cookie, host, origin and path", {
  guard <- guard_of()
  cookie <- paste0("Cookie: ", cookie_said(guard))
  own <- "Origin: http://127.0.0.1:4001"
  up <- "Upgrade: websocket"
  expect_identical(refusal(guard, head_of(cookie, own, up, target = "/talk")), 0L)
  for (head in list(head_of(own, up, target = "/talk"), head_of(cookie, up, target = "/talk"),
    head_of(cookie, "Origin: http://127.0.0.1:4002", up, target = "/talk"),
    head_of(cookie, "Origin: http://localhost:4001", up, target = "/talk"),
    head_of(cookie, "Origin: null", up, target = "/talk"), head_of(cookie, own, own, up, target = "/talk"),
    head_of(cookie, own, up, target = "/websocket/"),
    head_of(own, up, target = paste0("/talk?token=", guard$token)))) {
    expect_identical(refusal(guard, head), 403L, info = head)
  }
})

test_that("secrets differ from each other and from time to time", {
  secrets <- unlist(lapply(1:3, function(i) guard_of()[c("token", "value", "key")]))
  expect_false(anyDuplicated(secrets) > 0L)
  expect_true(all(nchar(secrets) == 48L))
})

test_that("the first thing a socket says must be the key", {
  guard <- guard_of()
  expect_true(says_key(paste0("{\"key\":\"", guard$key, "\"}"), guard))
  for (wrong in c("", "{}", "[]", "null", guard$key, "{\"key\":\"\"}", "{\"key\":1}", "{\"key\":null}",
    paste0("{\"key\":\"", guard$token, "\"}"), paste0("{\"key\":\"", guard$value, "\"}"),
    paste0("{\"key\":\"", guard$key, "\",\"more\":\"", strrep("x", most_first), "\"}"))) {
    expect_false(says_key(wrong, guard), info = wrong)
  }
})

# What comes back to some bytes, until the other side has ended; speaks to no R.
answer_to <- function(port, bytes) {
  connection <- socketConnection("127.0.0.1", port, open = "r+b", blocking = TRUE, timeout = 20)
  on.exit(close(connection))
  writeBin(charToRaw(bytes), connection)
  told <- raw()
  repeat {
    part <- readBin(connection, "raw", 4096L)
    if (length(part) == 0L) break
    told <- c(told, part)
  }
  rawToChar(told)
}

test_that("strangers are refused before anything behind the gate hears of them, however many they are", {
  port <- kernel_free_port("127.0.0.1")
  guard <- new_guard("127.0.0.1", port)
  host <- paste0("127.0.0.1:", port)
  gate <- begin_gate(guard, tempfile())
  withr::defer(kernel_close_gate(gate))
  upgrade <- c("Upgrade: websocket", "Connection: Upgrade", "Sec-WebSocket-Key: MDEyMzQ1Njc4OWFiY2RlZg==",
    "Sec-WebSocket-Version: 13")
  ask <- function(...) paste0(head_of(..., host = host), "\r\n")
  for (bytes in c(ask(), ask(upgrade, target = "/talk"), ask(upgrade, target = "/websocket/"),
    ask("Content-Length: 5", method = "POST", target = "/session/x/upload/y"))) {
    told <- answer_to(port, bytes)
    expect_match(told, "^HTTP/1.1 403 Forbidden\r\n", info = bytes)
    expect_no_match(told, "101 Switching", info = bytes)
  }
  expect_match(answer_to(port, paste0("GET / HTTP/1.1\r\nX: ", strrep("x", 20000L))), "^HTTP/1.1 431")
  # Some say nothing, some half a head: the page is answered beside them (here by nobody: 503).
  strangers <- lapply(1:100, function(i) {
    connection <- socketConnection("127.0.0.1", port, open = "r+b", blocking = TRUE)
    if (i %% 2L == 0L) writeBin(charToRaw("GET / HTTP/1.1\r\nHost: "), connection)
    connection
  })
  withr::defer(lapply(strangers, close))
  told <- answer_to(port, ask(paste0("Cookie: ", cookie_said(guard))))
  expect_match(told, "^HTTP/1.1 503")
})

test_that("an address or a typed word opens no file, and a link is not followed", {
  expect_error(explored_calendars("custom:/etc/passwd", list()), class = "drystack_error_calendar")
  folder <- withr::local_tempdir()
  writeLines("secret", file.path(folder, "inner.yml"))
  file.symlink(file.path(folder, "inner.yml"), file.path(folder, "link.yml"))
  file.symlink("/nowhere/at/all", file.path(folder, "dangling.html"))
  expect_error(file_in_folder(folder, "link.yml", "yml"), class = "drystack_error_output")
  expect_error(file_in_folder(folder, "dangling.html", "html"), class = "drystack_error_output")
  expect_identical(file_in_folder(folder, "inner.yml", "yml"), file.path(folder, "inner.yml"))
})

test_that("a file that is there is replaced only where that is said", {
  folder <- withr::local_tempdir()
  writeLines("before", file.path(folder, "page.html"))
  heard <- list()
  window <- list(session = list(send = function(kind, what) heard <<- c(heard, list(c(kind = kind, what)))))
  app <- list(folder = folder)
  said <- list(file = "page.html", do = "write")
  expect_null(place_to_write(app, window, said, "html"))
  expect_identical(heard[[1L]]$kind, "exists")
  expect_identical(heard[[1L]]$free, "page-2.html")
  expect_identical(place_to_write(app, window, c(said, list(replace = TRUE)), "html"),
    file.path(folder, "page.html"))
})

test_that("begun again with the same orders an explorer takes its address back, and no one else's", {
  withr::local_envvar(R_USER_DATA_DIR = withr::local_tempdir())
  folder <- withr::local_tempdir()
  begin <- function(path = "orders.csv", port = NULL, at = folder) {
    opened_gate(list(path = path), port, "127.0.0.1", at, tempfile("inner", fileext = ".socket"))
  }
  first <- begin()
  # While it stands, another of the same orders has an address of its own.
  beside <- begin()
  expect_false(beside$guard$port == first$guard$port)
  kernel_close_gate(beside$gate)
  kernel_close_gate(first$gate)
  again <- begin()
  expect_identical(again$guard[c("address", "value", "key")], first$guard[c("address", "value", "key")])
  kernel_close_gate(again$gate)
  other <- begin("other.csv")
  expect_false(other$guard$token == first$guard$token)
  kernel_close_gate(other$gate)
  expect_false(any(grepl(first$guard$token, list.files(folder))))
  file <- address_file(list(path = "orders.csv"), folder)
  expect_identical(as.character(file.mode(file)), "600")
  # What others could read, or what is damaged, is not taken.
  Sys.chmod(file, "644", use_umask = FALSE)
  expect_null(kept_guard(file, "127.0.0.1"))
  Sys.chmod(file, "600", use_umask = FALSE)
  expect_null(kept_guard(file, "0.0.0.0"))
  writeLines("{\"port\": 80}", file)
  expect_null(kept_guard(file, "127.0.0.1"))
  writeLines("not JSON", file)
  expect_null(kept_guard(file, "127.0.0.1"))
})
