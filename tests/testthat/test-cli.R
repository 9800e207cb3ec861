orders_file <- function(env = parent.frame(), orders = few_orders()) {
  path <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  utils::write.csv(orders, path, row.names = FALSE, na = "")
  path
}

test_that("rollup prints the table that R gives", {
  got <- drystack(
    "rollup", "--orders", orders_file(), "--date", "on", "--calendar", "fiscal:July",
    "--calendar", "civil",
    "--work-out", "double = amount * 2", "--only", "status != \"cancelled\"", "--by",
    "depot, quarter",
    "--show", "sales = sum(double)", "--show", "ytd = ytd(sales)", "--show",
    "civil_ytd = ytd(sales, civil)", "--as-of", "2025-03-31", "--totals", "all"
  )
  expect_identical(got$status, 0L)
  expect_identical(got$err, "")
  book <- daybook(few_orders(), on, calendars = list(fiscal = fiscal_calendar("July"),
    civil = civil_calendar())) |>
    work_out(double = amount * 2) |>
    only(status != "cancelled") |>
    as_of("2025-03-31")
  table <- rollup(
    book, c(depot, quarter), sales = sum(double), ytd = ytd(sales),
    civil_ytd = ytd(sales, civil), totals = "all"
  )
  expect_identical(got$out, format(table, width = 100L))
})

test_that("--out writes files and says so on standard error", {
  folder <- withr::local_tempdir()
  paths <- file.path(folder, c("a.csv", "a.html"))
  got <- drystack(
    "rollup", "--orders", orders_file(), "--date", "on", "--by", "month", "--show",
    "sales = sum(amount)", "--out", paths[1L], paste0("--out=", paths[2L])
  )
  expect_identical(got$status, 0L)
  expect_identical(got$out, character())
  expect_match(got$err, "wrote .*a.csv wrote .*a.html")
  expect_identical(
    utils::read.csv(paths[1L])$sales,
    plain(rollup(daybook(few_orders(), on), month, sales = sum(amount)))$sales
  )
})

test_that("demo writes its files and says how to go on", {
  folder <- withr::local_tempdir()
  got <- drystack("demo", "--out", folder, program = launcher())
  expect_identical(got$status, 0L)
  expect_setequal(list.files(folder), c("sales.html", "sales.csv",
    "sales.png", demo_data, "monthly.yml"))
  expect_match(got$out[1L], "Sales and change by month")
  expect_match(got$err, "To go on: +cd .+ drystack build monthly.yml")
  # It is made again, but not over what someone made of it.
  own <- file.path(folder, "monthly.yml")
  expect_identical(drystack("demo", "--out", folder)$status, 0L)
  cat("# mine\n", file = own, append = TRUE)
  again <- drystack("demo", "--out", folder)
  expect_identical(again$status, 1L)
  expect_match(again$err, "There is another .+monthly.yml.+ It stays. Name another folder with --out.")
  expect_identical(utils::tail(readLines(own), 1L), "# mine")
  to_file <- drystack("build", own, "--as-of", "2026-08-31", "--out",
    file.path(folder, "orders.csv"))
  expect_match(to_file$err, "Cannot make the folder .+ Name another: --out.")
})

said <- function(...) {
  told <- drystack(...)
  told$err <- gsub("\\s+", " ", told$err)
  told
}

test_that("help and version answer on standard output", {
  program <- launcher()
  expect_match(drystack("--version", program = program)$out, "^drystack [0-9.]+$")
  expect_identical(drystack("rollup", "--help", program = program)$out,
    said("rollup", "--help")$out)
  for (words in c(list(character(), "--help"), lapply(names(commands()), c, "--help"))) {
    got <- said(words)
    expect_identical(got$status, 0L)
    expect_lte(length(got$out), 60L)
    expect_lte(max(nchar(got$out)), 110L)
    expect_match(paste(got$out, collapse = "\n"), "drystack")
  }
})

rolled <- function(..., orders = orders_file(parent.frame())) {
  said("rollup", "--orders", orders, "--date", "on", ...)
}

test_that("a mistyped command exits with 2 and the nearest word", {
  expect_identical(
    said("rolup"), list(
      status = 2L, out = character(),
      err = paste(
        "drystack: There is no command \"rolup\". > Did you mean \"rollup\"?",
        "i `drystack --help` lists them."
      )
    )
  )
  expect_match(rolled("--shw", "n = count()")$err, "Did you mean \"--show\"?")
  expect_identical(rolled("--shw", "n = count()")$status, 2L)
  expect_match(rolled()$err, "The option --show is missing")
  expect_match(rolled("--show", "n = count()", "--as-of")$err, "--as-of needs a value")
  expect_match(rolled("--show", "n = count()", "--by", "depot", "--by", "month")$err,
    "--by is given twice")
  expect_match(rolled("--show", "n = count()", "extra")$err,
    "Nothing is known to do with \"extra\"")
  expect_no_match(rolled("--show", "n = count()", "extra")$err, "--orders extra")
  file <- harrowgill_path("targets.csv")
  expect_match(paste(drystack("look", file)$err, collapse = " "),
    "If it holds the orders, say `?--orders")
})

test_that("wrong data or a wrong request exits with 1 and says what, where and how to mend it", {
  cases <- list(
    list(c("--show", "x = sum(amout)"), "Did you mean \"amount\"?"),
    list(c("--show", "x = system(\"true\")"), "\"system\" is not among the known words"),
    list(c("--show", "x = base::sum(amount)"), "cannot be used here"),
    list(c("--show", "x <- sum(amount)"), "\"<-\" is not among"),
    list(c("--show", "x = sum("), "is not a complete expression"),
    list(c("--show", "x = sum(amount); y = 2"), "is not one expression"),
    list(c("--show", "f(x) = sum(amount)"), "has no name before"),
    list(c("--show", paste0("x = ", strrep("1+", 6000L), "1")), "is too long"),
    list(c("--show", paste0("x = ", strrep("(", 3000L), "1", strrep(")", 3000L))), "expression"),
    list(c("--show", "x = sum(depot)"), "\"depot\" is text"),
    list(c("--show", "n = count()", "--by", "deport"), "Did you mean \"depot\"?"),
    list(c("--show", "n = count()", "--only", "custom(identity, amount) > 1"), "for R only"),
    list(c("--show", "n = count()", "--as-of", "2020-01-01"), "before the first order"),
    list(c("--show", "n = count()", "--totals", "rows=all"), "--totals must be one of"),
    list(c("--show", "n = count()", "--as-of", "last closed month"),
      "Say one: `--closed-after 14`"),
    list(c("--show", "n = count()", "--label", "depot"), "--label \"depot\" is not two names"),
    list(c("--show", "n = count()", "--from", "someday"), "--from must be one date"),
    list(c("--show", "n = count()", "--as-of", "31/08/2026"), "must be a date"),
    list(c("--show", "n = count()", "--calendar", "fiscal:Jully"), "Did you mean \"July\"?"),
    list(c("--show", "n = count()", "--calendar", "lunar"), "is not a calendar"),
    list(c("--show", "n = count()", "--calendar", "fiscal:13"), "from 1 to 12"),
    list(c("--show", "n = count()", "--out", "x.docx"), "cannot be written as"),
    list(c("--show", "n = count()", "--out", "/no/such/folder/x.csv"), "There is no folder")
  )
  orders <- orders_file()
  for (case in cases) {
    got <- rolled(case[[1L]], orders = orders)
    expect_identical(got$status, 1L, label = paste(case[[1L]], collapse = " "))
    expect_match(got$err, case[[2L]], fixed = TRUE)
  }
  expect_match(said("rollup", "--orders", "no.csv", "--date", "on", "--show", "n = count()")$err,
    "There is no file")
  expect_match(rolled("--show", "n = count()", "--closed-after", "-3", orders = orders)$err,
    "\"--closed-after\" cannot be read with \"-3\"", fixed = TRUE)
  expect_match(said("rollup", "--orders", orders, "--date", "onn", "--show", "n = count()")$err,
    "Did you mean \"on\"?")
})

test_that("an expression is never evaluated", {
  marker <- withr::local_tempfile()
  attack <- sprintf("file.create(\"%s\")", marker)
  for (option in c("--show", "--only", "--work-out")) {
    rolled("--show", "n = count()", option, paste("x =", attack))
    rolled("--show", "n = count()", option, attack)
  }
  rolled("--show", "n = count()", "--by", attack)
  expect_false(file.exists(marker))
})

test_that("the launcher cannot be put where nothing can", {
  file <- withr::local_tempfile(lines = "x")
  expect_raised(install_command_line(file.path(file, "bin")), "output", "Cannot make the folder")
})

test_that("what a table can be asked about its figures is asked on the command line too", {
  base <- c(
    "--orders", harrowgill_path("orders.csv"), "--date", "ordered_on",
    "--by", "region,year", "--show", "sales = sum(amount)"
  )
  told <- said("rollup", base, "--explain", "2,sales")
  expect_match(paste(told$out, collapse = "\n"), "sales: region Coast, year 2024")
  expect_match(said("rollup", base, "--tie-out")$out[1L], "Ties out: 2 checks")
  expect_match(said("rollup", base, "--explain", "900,sales")$err, "from 1 to")
  expect_match(said("rollup", base, "--explain", "sales")$err, "names no row")
  expect_match(
    said("crosstab", base[1:4], "--rows", "region", "--cols", "region", "--show",
      "n = count()")$err,
    "both down and across"
  )
  expect_identical(said("rollup", base, "--sort", "system(\"id\")")$status, 1L)
  expect_identical(said("rollup", base, "--keep", "keep_top(0, sales)")$status, 1L)
  expect_match(said("look", "--orders", harrowgill_path("orders.csv"))$out[1L],
    "24,291 lines, 13 columns")
  expect_match(said("check", base[1:4], "--today", "2026-09-18")$out[1L], "things to look into")
})

test_that("build, save, format, watch and completion work from the command line", {
  folder <- yard_folder()
  report <- file.path(folder, "monthly.yml")
  out <- file.path(folder, "out")
  got <- said("build", report, "--as-of", "2026-08-31", "--set",
    "depot=Skelby", "--out", out, "--format", "txt,json")
  expect_identical(got$status, 0L)
  expect_match(got$err, "wrote .*monthly.txt wrote .*monthly.json")
  expect_match(
    said("build", report, "--as-of", "2026-08-31", "--set", "depot=Skelby",
      "--out", out, "--format", "txt", "--format", "json")$err,
    "nothing has changed"
  )
  summary <- jsonlite::fromJSON(paste(said("build", report, "--out", out, "--format",
    "txt", "--json")$out,
    collapse = "\n"))
  expect_true(summary$tie_out)
  expect_match(summary$files, "monthly.txt$")
  strict <- said("build", report, "--as-of", "2023-01-05", "--out",
    out, "--format", "txt", "--strict", "--set", "depot=nowhere")
  expect_identical(strict$status, 1L)
  expect_identical(said("build")$status, 2L)
  expect_match(said("build", report, "--set", "depot")$err, "gives no value")
  base <- c(
    "rollup", "--orders", file.path(folder, "orders.csv"), "--date",
    "ordered_on", "--by", "year", "--show", "sales = sum(amount)"
  )
  saved <- said(base, "--save", file.path(folder, "years.yml"), "--format", "csv")
  again <- said("build", file.path(folder, "years.yml"), "--out", out, "--format", "csv")
  expect_identical(again$status, 0L)
  expect_identical(readLines(file.path(out, "years.csv")), saved$out)
  expect_match(said(base, "--format", "docx")$err, "cannot be printed")
  rounds <- 0L
  utils::capture.output(watch_report(report, function() rounds <<- rounds + 1L,
    function(built) built, rounds = 3, wait = 0.01))
  expect_identical(rounds, 1L)
  picture <- file.path(folder, "years.png")
  drawn <- said("figure", base[-1L], "--kind", "periods", "--out",
    picture, "--save", file.path(folder, "drawn.yml"))
  expect_identical(drawn$status, 0L)
  expect_identical(said("build", file.path(folder, "drawn.yml"), "--out", out, "--format",
    "html")$status, 0L)
  expect_match(paste(readLines(file.path(out, "drawn.html")), collapse = ""), "data:image/svg")
  script <- said("--completion", "bash")$out
  expect_true(any(grepl("rollup\\) words=.*--orders", script)))
  expect_match(paste(manual_lines(), collapse = "\n"), ".SH DRYSTACK BUILD", fixed = TRUE)
})

test_that("orders come from standard input too", {
  program <- launcher()
  file <- file.path(yard_folder(), "orders.csv")
  out <- system2(
    "sh",
    c(
      "-c",
      shQuote(
        paste(
          "head -n 50", shQuote(file), "|", shQuote(program),
          "rollup --orders - --date ordered_on --by year --show 'n = count()' --format csv"
        )
      )
    ),
    stdout = TRUE
  )
  expect_identical(out, c("year,n,.role", "2023,49,line"))
})
