# What CONTRIBUTING.md and docs/design.md tell people to add is added here, from their own text.

own_code <- function() {
  page <- paste(readLines(file.path(source_root(), "docs", "design.md"), encoding = "UTF-8"),
    collapse = "\n")
  spread <- regmatches(page, regexpr("aggregate_spread <- [^`]+", page))
  blocks <- Filter(function(block) block$kind == "r", code_blocks("CONTRIBUTING.md"))
  c(spread, unlist(lapply(blocks, `[[`, "lines")))
}

# The pages' own "add `name = value` to `list()`", as list(name, value, list).
own_entries <- function() {
  page <- paste(readLines(file.path(source_root(), "CONTRIBUTING.md"), encoding = "UTF-8"),
    collapse = " ")
  told <- regmatches(page, gregexpr("[Aa]dd `\\w+ = [^`]+` to `\\w+\\(\\)`", page))[[1L]]
  parts <- regmatches(told, regexec("`(\\w+) = ([^`]+)` to `(\\w+)", told))
  lapply(parts, function(part) list(name = part[2L], value = part[3L], list = part[4L]))
}

local_additions <- function(env = parent.frame()) {
  inside <- new.env(parent = asNamespace("drystack"))
  eval(parse(text = own_code(), keep.source = FALSE), inside)
  entries <- c(own_entries(), list(list(name = "spread", value = "aggregate_spread()",
    list = "aggregates")))
  for (entry in entries) {
    longer <- c(get(entry$list, asNamespace("drystack"))(),
      stats::setNames(list(eval(str2lang(entry$value), inside)), entry$name))
    local_constant(entry$list, local({
      made <- longer
      function() made
    }), env)
  }
  vapply(entries, `[[`, "", "list")
}

brought_table <- function(orders) {
  rollup(daybook(orders, date = sent), by = month, own = sum(amount),
    brought = brought_forward(sum(amount), year), ytd = ytd(sum(amount)),
    spread = spread(amount), span = max(amount) - min(amount))
}

test_that("a lens, an aggregate, a writer and a source are added as the pages tell", {
  expect_setequal(local_additions(), c("aggregates", "lenses", "bundle_writers", "file_readers",
    "forms_by_ending"))
  withr::local_dir(withr::local_tempdir())
  orders <- data.frame(sent = as.Date("2025-01-15") + 30L * 0:11,
    amount = c(10, 2.5, 0, 7, -3, 8, 1, 4, 9, 5, 6, 12))
  table <- brought_table(orders)
  figures <- as.data.frame(table)
  expect_equal(figures$brought[-1L] + figures$own[-1L], figures$ytd[-1L])
  expect_true(is.na(figures$brought[1L]))
  expect_equal(figures$spread, figures$span)
  explained <- paste(format(explain(table, 3L, "brought")), collapse = " ")
  expect_match(explained, "from the first day of the year to the day before the cell's first",
    fixed = TRUE)

  write_report(table, "brought.tsv")
  back <- utils::read.delim("brought.tsv")
  expect_equal(back$ytd, figures$ytd)

  records <- sprintf("sent: %s\namount: %s\n", orders$sent, orders$amount)
  writeLines(records, "orders.fields")
  read <- read_orders("orders.fields")
  expect_equal(read$amount, orders$amount)
  expect_equal(as.data.frame(brought_table(read))$brought, figures$brought)
  writeLines(sub("amount: 7", "amount: seven", records), "damaged.fields")
  expect_error(read_orders("damaged.fields", types = c(amount = "amount")),
    "\"seven\" at row 4", fixed = TRUE,
    class = "drystack_error_amount")

  said <- utils::capture.output(run_command(c("rollup", "--orders", "orders.fields",
    "--date", "sent",
    "--by", "month", "--show", "b = brought_forward(sum(amount), year)", "--out", "said.tsv")))
  expect_equal(utils::read.delim("said.tsv")[[2L]], figures$brought)
})
