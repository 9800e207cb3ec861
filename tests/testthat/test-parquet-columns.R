# Columns of Parquet files as the kernel reads them, beside the package that reads all forms.

package_reads <- function(path) {
  options <- nanoparquet::parquet_options(class = character(), read_int64_type = "integer64")
  lapply(as.list(nanoparquet::read_parquet(path, options = options)), plain_whole_numbers)
}

kernel_reads <- function(path, groups = seq_along(parquet_facts(path)$rows)) {
  facts <- parquet_facts(path)
  found <- kernel_parquet_columns(path, groups[1L], groups[length(groups)],
    seq_along(facts$names), 2L)
  stats::setNames(lapply(found, function(x) if (!is.null(x)) column_found(x)), facts$names)
}

gaps <- function(x) {
  if (stats::runif(1L) < 0.6) x[stats::runif(length(x)) < sample(c(0.02, 0.4, 1), 1L)] <- NA
  x
}

drawn_column <- function(kind, n) {
  gaps(switch(kind,
    whole = sample.int(sample(c(1, 9, 2e9), 1L), n, TRUE),
    day = as.Date("2024-01-01") + sample.int(900L, n, TRUE),
    number = sample(c(NaN, -Inf, 0, round(stats::rexp(20L, 0.01), 2)), n, TRUE),
    text = sample(paste0(c("", "Moor ", "\u00e9"),
      seq_len(sample(c(1, 3, 40, n + 1), 1L))), n, TRUE),
    time = as.POSIXct("2024-01-01", tz = "UTC") + sample.int(1e7, n, TRUE)
  ))
}

same_column <- function(have, want, what) {
  if (is_coded(have)) {
    first <- unique(have$codes[!is.na(have$codes)])
    expect_identical(first, seq_along(have$texts), info = what)
  }
  have <- expanded(have)
  if (inherits(want, "Date")) want <- expanded(want)
  expect_identical(is.nan(as.numeric(factor(have))), is.nan(as.numeric(factor(want))), info = what)
  if (inherits(want, "POSIXct")) expect_equal(have, want, tolerance = 1e-12, info = what)
  else expect_identical(have, want, info = what)
}

test_that("the kernel reads what the package reads, however a file was written", {
  set.seed(20261202L)
  for (trial in seq_len(trials(150L))) {
    n <- sample(c(1L, 7L, 8L, 9L, 64L, 1000L, 5000L), 1L)
    kinds <- sample(c("whole", "day", "number", "text", "text", "time"), sample.int(6L, 1L), TRUE)
    orders <- as.data.frame(lapply(stats::setNames(kinds, paste0("c", seq_along(kinds))),
      drawn_column, n))
    path <- withr::local_tempfile(fileext = ".parquet")
    nanoparquet::write_parquet(orders, path, compression = sample(c("snappy", "uncompressed"), 1L),
      encoding = list(NULL, "PLAIN", "RLE_DICTIONARY")[[sample.int(3L, 1L)]],
      options = nanoparquet::parquet_options(num_rows_per_row_group = sample(c(10L, 700L, 1e6), 1L),
        write_data_page_version = sample.int(2L, 1L),
        write_arrow_metadata = stats::runif(1L) < 0.7))
    rows <- parquet_facts(path)$rows
    some <- sort(sample.int(length(rows), 2L, TRUE))
    taken <- sum(rows[seq_len(some[1L] - 1L)]) + seq_len(sum(rows[some[1L]:some[2L]]))
    Map(function(have, want, kind) same_column(have, want[taken], paste(trial, kind, n)),
      kernel_reads(path, some[1L]:some[2L]), package_reads(path), kinds)
  }
})

test_that("whole numbers of hundredths are amounts", {
  amounts <- c(1234.56, NA, 0.07, 20)
  for (type in c("INT32", "INT64")) {
    path <- withr::local_tempfile(fileext = ".parquet")
    said <- list("DECIMAL", precision = 9, scale = 2, primitive_type = type)
    nanoparquet::write_parquet(data.frame(amount = amounts), path,
      schema = nanoparquet::parquet_schema(amount = said))
    expect_identical(kernel_reads(path), list(amount = amounts))
  }
})

test_that("what the kernel leaves alone is read by the package", {
  orders <- data.frame(
    size = factor(c("small", "large", "small"), levels = c("large", "small")),
    paid = c(TRUE, NA, FALSE), wait = as.difftime(c(1, 2, 3), units = "secs"), key = c(2^60, 1, 2)
  )
  path <- withr::local_tempfile(fileext = ".parquet")
  nanoparquet::write_parquet(orders, path, schema = nanoparquet::parquet_schema(key = "INT64"))
  expect_identical(lengths(kernel_reads(path)), c(size = 0L, paid = 0L, wait = 0L, key = 0L))
  columns <- stats::setNames(parquet_columns(path, 1:4, parquet_facts(path)), names(orders))
  expect_identical(levels(columns$size), c("large", "small"))
  expect_identical(columns$paid, orders$paid)
  expect_s3_class(columns$wait, "difftime")
  expect_identical(columns$key, package_reads(path)$key)
  packed <- withr::local_tempfile(fileext = ".parquet")
  nanoparquet::write_parquet(data.frame(region = c("Moor", "Dale")), packed, compression = "gzip")
  expect_identical(kernel_reads(packed), list(region = NULL))
  expect_false(parquet_facts(packed)$here)
  expect_identical(read_orders(packed)$region, c("Moor", "Dale"))
})

test_that("however a file is packed, odd orders give the same table or the same error", {
  orders <- few_orders()
  odd <- list(orders[1L, ], orders[0L, ], orders[6:1, ], orders[c(1:6, 1:6), ],
    transform(orders, on = on[2L]),
    transform(orders, amount = NA_real_), transform(orders, on = on[NA]),
    transform(orders, depot = c("", " ", NA)))
  asked <- function(orders, compression) {
    path <- file.path(withr::local_tempdir(), "orders.parquet")
    nanoparquet::write_parquet(orders, path, compression = compression)
    tryCatch(as.data.frame(rollup(daybook(path, on), c(month, depot), s = sum(amount),
      p = prior(s, year))),
      drystack_error = function(e) gsub("\"[^\"]*orders.parquet\"", "", conditionMessage(e)))
  }
  for (orders in odd) expect_identical(asked(orders, "snappy"), asked(orders, "gzip"))
})

test_that("few bytes that say they are many rows are no reason to take much memory", {
  path <- withr::local_tempfile(fileext = ".parquet")
  nanoparquet::write_parquet(data.frame(region = rep("Moor", 1e5)), path,
    encoding = "RLE_DICTIONARY")
  expect_true(is_held_easily(1e5, 1L))
  withr::local_options(drystack.memory = 1e6)
  expect_false(is_held_easily(1e5, 1L))
  expect_false(is_held_easily(2^31, 1L))
})

test_that("a damaged page is told, or the rows are as many as said", {
  set.seed(5L)
  path <- withr::local_tempfile(fileext = ".parquet")
  orders <- data.frame(region = sample(c("Moor", "Dale", NA), 400L, TRUE),
    amount = gaps(sample.int(90L, 400L, TRUE) / 4))
  nanoparquet::write_parquet(orders, path)
  whole <- readBin(path, "raw", file.size(path))
  damaged <- withr::local_tempfile(fileext = ".parquet")
  told <- vapply(seq_len(150L), function(i) {
    at <- sample(c(sample.int(length(whole), 2L), 4L + sample.int(60L, 1L)), 2L)
    writeBin(replace(whole, at, as.raw(sample.int(256L, 2L, TRUE) - 1L)), damaged)
    tryCatch({
      facts <- parquet_facts(damaged)
      columns <- read_or_told(kernel_parquet_columns(damaged, 1L, length(facts$rows),
        1L, 2L), damaged)
      expect_true(all(lengths(lapply(columns, `[[`, "values")) %in% c(0L, sum(facts$rows))))
      FALSE
    }, drystack_error_file = function(e) TRUE)
  }, NA)
  expect_true(any(told) && !all(told))
})
