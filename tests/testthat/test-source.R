test_that("columns become what they plainly are", {
  orders <- read_orders(written(
    "on,code,whole,number,flag,text,none", "2026-01-31,007,1,1.5,TRUE,a,",
    "2026-02-01,012,2,-2e3,FALSE,\"b, c\",", ",100,,.5,,,"
  ))
  expect_identical(orders$on, as.Date(c("2026-01-31", "2026-02-01", NA)))
  expect_identical(orders$code, c("007", "012", "100"))
  expect_identical(orders$whole, c(1L, 2L, NA))
  expect_identical(orders$number, c(1.5, -2000, 0.5))
  expect_identical(orders$flag, c(TRUE, FALSE, NA))
  expect_identical(orders$text, c("a", "b, c", NA))
  expect_identical(orders$none, c(NA, NA, NA))
})

test_that("what is not plainly a date or a number stays text", {
  orders <- read_orders(written("a,b,c,d", "2026-02-30,31/01/2026,0x1F,T", "2026-01-01,01/02/2026,10,F"))
  expect_identical(vapply(orders, class, ""), c(a = "character",
    b = "character", c = "character", d = "character"))
})

test_that("separators are found from the header, and a byte order mark is no part of a name", {
  expect_identical(read_orders(written("a;b", "1;\"x;y\""))$b, "x;y")
  expect_identical(read_orders(written("a\tb", "1\t2"))$b, 2L)
  expect_named(read_orders(written("\ufeffa,b", "1,2")), c("a", "b"))
})

test_that("a gzip-compressed file reads as the plain one", {
  path <- withr::local_tempfile(fileext = ".csv.gz")
  connection <- gzfile(path, "w")
  writeLines(c("a,b", "1,x"), connection)
  close(connection)
  expect_identical(read_orders(path), structure(data.frame(a = 1L, b = "x"), path = path))
})

test_that("a bad file is an error that says where", {
  expect_raised(read_orders("nowhere.csv"), "file", "There is no file \"nowhere.csv\"")
  expect_raised(read_orders(sub("orders", "ordres", harrowgill_path())), "file", "Did you mean", "orders.csv")
  expect_raised(read_orders(tempdir()), "file", "is a folder, not a file", "files: folder")
  expect_raised(read_orders(written(character())), "file", "is empty")
  expect_raised(read_orders(written("a,b")), "file", "a header but no records")
  expect_raised(read_orders(written("a,b", "1,2", "1,2,3", "4")), "file", "Line 3 has 3 cells; 1 more")
})

test_that("the demo orders are as described, defects included", {
  yard <- harrowgill()
  orders <- yard$orders
  expect_named(yard, c("orders", "customers", "products", "depots", "targets"))
  expect_identical(range(orders$ordered_on, na.rm = TRUE), as.Date(c("2023-01-03", "2026-09-18")))
  expect_identical(sum(is.na(orders$ordered_on)), 9L)
  expect_identical(sum(is.na(orders$amount)), 6L)
  expect_identical(sum(is.na(orders$region)), 11L)
  expect_identical(sum(orders$amount == 0, na.rm = TRUE), 5L)
  expect_identical(sum(!orders$depot %in% yard$depots$depot), 14L)
  expect_identical(sum(duplicated(orders)), 5L)
  expect_identical(sum(orders$quantity == 4000L), 1L)
  expect_length(setdiff(orders$customer_id, yard$customers$customer_id), 4L)
  expect_length(setdiff(orders$product_id, yard$products$product_id), 0L)
  expect_identical(orders$ordered_on[nrow(orders)], as.Date("2026-06-30"))
  expect_true(any(orders$amount < 0, na.rm = TRUE))
  expect_identical(min(orders$ordered_on[orders$depot == "Eskholme"],
    na.rm = TRUE) >= as.Date("2024-10-07"), TRUE)
  size <- sum(file.size(vapply(c("orders.csv", "customers.csv", "products.csv", "depots.csv"),
    harrowgill_path, "")))
  expect_lt(size, 4e5)
  expect_raised(harrowgill_path("order.csv"), "argument", "Did you mean \"orders.csv\"?")
  folder <- yard_folder(c("monthly", "depot"))
  expect_setequal(list.files(folder), c(demo_data, "monthly.yml", "depot.yml"))
  expect_identical(readLines(file.path(folder, "orders.csv")), readLines(harrowgill_path("orders.csv")))
  own <- file.path(folder, "depot.yml")
  cat("# mine\n", file = own)
  expect_raised(harrowgill_folder(folder, "depot"), "output", "There is another \"depot.yml\"", "`out`")
  expect_identical(readLines(own), "# mine")
  expect_identical(harrowgill_folder(folder), folder)
  expect_raised(harrowgill_folder(own), "output", "Cannot make the folder")
  expect_raised(harrowgill_folder(folder, "depots"), "argument", "Did you mean \"depot\"?")
})

test_that("JSON lines, Parquet, xlsx and tab-separated files give the orders that CSV gives", {
  orders <- read_orders(harrowgill_path("orders.csv"))[1:200, ]
  attr(orders, "path") <- NULL
  folder <- withr::local_tempdir()
  path <- function(ending) file.path(folder, paste0("orders.", ending))
  jsonlite::stream_out(orders, file(path("jsonl")), verbose = FALSE)
  nanoparquet::write_parquet(orders, path("parquet"))
  openxlsx::write.xlsx(orders, path("xlsx"))
  utils::write.table(orders, path("tsv"), sep = "\t", row.names = FALSE, na = "", qmethod = "double")
  same <- function(read) {
    for (name in names(orders)) expect_equal(read[[name]], orders[[name]], ignore_attr = TRUE, label = name)
  }
  for (ending in c("jsonl", "parquet", "xlsx", "tsv")) same(read_orders(path(ending)))
  writeLines("{\"a\": {\"b\": 1}}", path("ndjson"))
  expect_raised(read_orders(path("ndjson")), "file", "nested")
  writeLines("no parquet", path("parquet"))
  expect_raised(read_orders(path("parquet")), "file", "cannot be read")
  expect_raised(read_orders(path("missing.xlsx")), "file", "no file")
})
