# The same asks of the same orders, wherever they are: in memory, in a file read as needed, in files
# read one at a time, in a database. (Servers are asked by tests/servers.)

# Orders in several forms: by name what daybook() takes.
forms_of_orders <- function(orders, folder, env) {
  part <- sort(sample(3L, nrow(orders), TRUE))
  for (i in unique(part)) {
    own <- orders[part == i, , drop = FALSE]
    nanoparquet::write_parquet(own, file.path(folder, sprintf("part%d.parquet", i)))
    utils::write.csv(own, file.path(folder, sprintf("part%d.csv", i)), row.names = FALSE, na = "")
  }
  utils::write.csv(orders, file.path(folder, "whole.txt"), row.names = FALSE, na = "")
  list(
    memory = orders, file = file.path(folder, "whole.txt"), parquet = file.path(folder, "*.parquet"),
    files = file.path(folder, "*.csv"), database = sqlite_orders(orders, env)
  )
}

# With so little memory each file is worked on in a process of its own; some asks need more.
expect_same_apart <- function(files, trial, whole, seed) {
  few <- list(drystack.memory = 1e6, drystack.threads = 2L)
  there <- withr::with_options(few, asked_of_trial(files, trial))
  if (identical(there, "drystack_error_memory")) return(invisible())
  expect_identical(there, whole, info = paste("apart, seed", seed))
}

test_that("random asks give the same tables on every engine", {
  folder <- withr::local_tempdir()
  answered <- 0L
  withr::local_preserve_seed()
  for (seed in seq_len(trials(300L))) {
    trial <- plain_trial(seed)
    forms <- forms_of_orders(trial$orders, folder, environment())
    whole <- asked_of_trial(forms$memory, trial)
    answered <- answered + is.list(whole)
    # Reading Parquet takes a process for each file: a few asks show it.
    for (name in c("file", "files", if (seed %% 20L == 1L) "parquet")) {
      expect_identical(asked_of_trial(forms[[name]], trial),
        whole, info = paste(name, "of seed", seed))
    }
    if (seed %% 10L == 1L) expect_same_apart(forms$files, trial, whole, seed)
    expect_equal(asked_of_trial(forms$database, trial), whole, tolerance = 1e-12,
      info = paste("database of seed", seed))
  }
  expect_gt(answered, trials(300L) / 2)
})
