# What messages advise is code that runs, in the words of the surface it is read on.

test_that("code in messages can be read as R, as a key of a report or as a command", {
  root <- source_root()
  # Words of the languages that are no code by themselves.
  words <- c("&", "|", "!", "%in%", "within = ")
  unread <- unlist(lapply(list.files(file.path(root, "R"), full.names = TRUE), function(file) {
    parsed <- utils::getParseData(parse(file, keep.source = TRUE))
    texts <- vapply(parsed$text[parsed$token == "STR_CONST"], function(text) eval(parse(text = text)), "")
    code <- unlist(regmatches(texts, gregexpr("\\{\\.code [^{}]*(\\{[^{}]*\\}[^{}]*)*\\}", texts)))
    code <- gsub("\\{[^{}]*\\}", "x", sub("^\\{\\.code ", "", sub("\\}$", "", code)))
    readable <- vapply(code, function(one) {
      shell <- grepl("^(--|drystack |tools/|iconv |files: )", one)
      shell || one %in% words || !inherits(try(parse(text = one), silent = TRUE), "try-error")
    }, NA)
    code[!readable]
  }))
  expect_identical(as.character(unread), character())
})

test_that("what check() advises for labels, amounts and keys runs where it is read", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:9, shop = c("a", "A ", "a", "b", "b", "B", "c", "a",
    "b", "c"),
    code = c(7, 12, 7, 9, 12, 100, 7, 8, 9, 5), v = c(1:9, -4))
  places <- data.frame(code = c("0007", "0012", "0009"), place = c("x", "y", "z"))
  book <- enrich(daybook(orders, on), places, by = "code")
  found <- check(book)
  advice <- function(check) found$advice[found$check == check]
  mend <- sub("^.* or say (work_out.*)[.]$", "\\1", advice("label variants"))
  mended <- eval(parse(text = paste("book |>", mend)))
  expect_setequal(as.data.frame(rollup(mended, shop, n = count()))$shop, c("a", "b", "c"))
  above <- sub("^.*; (only.*) leaves.*$", "\\1", advice("negative amounts"))
  expect_identical(as.data.frame(rollup(eval(parse(text = paste("book |>", above))), n = count()))$n, 9)
  expect_match(advice("unmatched keys"), "\"7\" for \"0007\".*types = c\\(code = \"text\"\\)")
  expect_match(paste(format(rollup(book, place, s = sum(v)), width = 400L), collapse = " "),
    "another writing: \"12\" for \"0012\"")
  # The other way round: the zeros are those of the orders, and the advice makes the two meet.
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(transform(orders, code = sprintf("%04d", code)), file, row.names = FALSE)
  bare <- transform(places, code = as.integer(code))
  advised <- check(enrich(daybook(file, on), bare, by = "code"))
  types <- sub("^.* by (types = .*)[.]$", "\\1", advised$advice[advised$check == "unmatched keys"])
  read <- eval(parse(text = paste0("read_orders(file, ", types, ")")))
  met <- as.data.frame(rollup(enrich(daybook(read, on), bare, by = "code"), place, n = count()))
  expect_identical(met$n[met$place %in% c("x", "y", "z")], c(3, 2, 2))
  as_text <- orders
  as_text$code <- sprintf("%04d", orders$code)
  expect_no_match(paste(format(rollup(enrich(daybook(as_text, on), places, by = "code"), place,
    s = sum(v))), collapse = " "),
    "another writing")
  on_surface("shell")
  expect_match(check(book)$advice[found$check == "label variants"],
    "--work-out 'shop = one_spelling(shop)'", fixed = TRUE)
  on_surface("report")
  expect_match(check(book)$advice[found$check == "label variants"],
    "work_out: {shop: \"one_spelling(shop)\"}", fixed = TRUE)
})
