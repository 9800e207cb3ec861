# The tests, block by block: each call of test_that(), with what stands outside of the blocks of its file.

test_blocks <- function(folder) {
  files <- list.files(folder, "^test-.*[.]R$")
  # What these start in programs of their own sees no change.
  files <- setdiff(files, c("test-cli-program.R", "test-attached.R", "test-layers.R", "test-readme.R"))
  unlist(lapply(files, function(file) {
    said <- parse(file.path(folder, file), keep.source = FALSE)
    is_block <- vapply(said, function(one) is.call(one) && identical(one[[1L]], quote(test_that)), NA)
    lapply(which(is_block), function(i) {
      list(file = file, name = paste0(sub("^test-(.*)[.]R$", "\\1", file), ": ", said[[i]][[2L]]), block = said[[i]],
        before = as.list(said[!is_block]))
    })
  }), recursive = FALSE)
}

helpers_of <- function(folder, space) {
  env <- new.env(parent = space)
  for (file in list.files(folder, "^helper.*[.]R$", full.names = TRUE)) sys.source(file, env)
  env
}

# Whether a block passes: TRUE, or FALSE where it fails, ends in an error or holds nothing that was expected.
passes <- function(one, helpers, folder) {
  reporter <- testthat::SilentReporter$new()
  testthat:::local_teardown_env()
  snapshots <- testthat:::local_snapshotter(file.path(folder, "_snaps"))
  both <- testthat::MultiReporter$new(reporters = list(reporter, snapshots))
  env <- new.env(parent = helpers)
  rlang::try_fetch({
    testthat::with_reporter(both, {
      both$start_file(one$file)
      for (said in one$before) eval(said, env)
      eval(one$block, env)
    })
    seen <- reporter$expectations()
    !any(vapply(seen, inherits, NA, c("expectation_failure", "expectation_error")))
  }, error = function(e) FALSE)
}
