# The same asks of the same orders, wherever they are: in memory, in a file read as needed, in files
# read one at a time, in one file cut into parts.

# Orders in several forms: by name what daybook() takes.
forms_of_orders <- function(orders, folder) {
  part <- sort(sample(3L, nrow(orders), TRUE))
  for (i in unique(part)) {
    own <- orders[part == i, , drop = FALSE]
    nanoparquet::write_parquet(own, file.path(folder, sprintf("part%d.parquet", i)))
    utils::write.csv(own, file.path(folder, sprintf("part%d.csv", i)), row.names = FALSE, na = "")
  }
  utils::write.csv(orders, file.path(folder, "whole.txt"), row.names = FALSE, na = "")
  list(
    memory = orders, file = file.path(folder, "whole.txt"), parquet = file.path(folder, "*.parquet"),
    files = file.path(folder, "*.csv")
  )
}

# What an ask gives: the figures, the notes and its order lines, or the error.
asked_of <- function(form, ask, world, request) {
  rlang::try_fetch({
    table <- make_table(request, plain_book(ask, world, form))
    list(
      data = as.data.frame(table, shape = "long"), notes = Filter(function(note) !grepl("^Reading", note),
        table_notes(table)), facts = table_facts(table)
    )
  }, drystack_error = function(e) class(e)[1L])
}

test_that("random asks give the same tables on every engine", {
  folder <- withr::local_tempdir()
  answered <- 0L
  for (seed in seq_len(trials(300L))) {
    withr::local_seed(seed)
    ask <- plain_ask()
    orders <- plain_orders(seed)
    orders$amount[!is.finite(orders$amount)] <- NA
    world <- c(ask$world, list(orders = orders))
    request <- plain_request(ask, lapply(1:2, function(i) plain_measure(ask, world)))
    forms <- forms_of_orders(orders, folder)
    whole <- asked_of(forms$memory, ask, world, request)
    answered <- answered + is.list(whole)
    # Reading Parquet takes a process for each file: a few asks show it.
    for (name in c("file", "files", if (seed %% 20L == 1L) "parquet")) {
      expect_identical(asked_of(forms[[name]], ask, world, request),
        whole, info = paste(name, "of seed", seed))
    }
  }
  expect_gt(answered, trials(300L) / 2)
})
