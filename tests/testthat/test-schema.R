# The validator of JSON Schema, NA where there is none.
validator <- function() {
  python <- Filter(function(path) nzchar(path) && file.exists(path),
    c("/usr/bin/python3", Sys.which("python3")))[1L]
  found <- !is.na(python) && python_says(python, c("-c", shQuote("import jsonschema")),
    stderr = FALSE)$status == 0L
  if (found) python else NA
}

# R's own path to libraries would lead it to another Python's.
python_says <- function(python, args, stderr = TRUE) {
  said <- suppressWarnings(system2(python, args, stdout = TRUE, stderr = stderr, env = "LD_LIBRARY_PATH="))
  list(text = said, status = attr(said, "status") %||% 0L)
}

# What it says of values held against the schema that ships: "" for fitting.
judged <- function(json) {
  script <- c(
    "import json, sys, jsonschema",
    "schema = json.load(open(sys.argv[1]))",
    "jsonschema.Draft202012Validator.check_schema(schema)",
    "judge = jsonschema.Draft202012Validator(schema)",
    "for line in open(sys.argv[2]):",
    "    print('; '.join(fault.message.replace('\\n', ' ') for fault in judge.iter_errors(json.loads(line))))"
  )
  files <- withr::local_tempfile(lines = script)
  values <- withr::local_tempfile(lines = json)
  schema <- system.file("standing", "standing.schema.json", package = "drystack")
  run <- python_says(validator(), c(files, schema, values))
  if (run$status != 0L) stop(paste(run$text, collapse = "\n"))
  run$text
}

as_json <- function(report) jsonlite::toJSON(report, auto_unbox = TRUE, null = "null")

test_that("the schema of standing reports is valid JSON Schema, and judges as the builder does", {
  skip_if(is.na(validator()), "no validator of JSON Schema")
  shipped <- yaml::read_yaml(system.file("extdata", "monthly.yml", package = "drystack"))
  # As the package reads them: a name alone in braces is a parameter.
  said <- vapply(demo_reports(), function(file) as_json(read_standing(file)$said), "")
  expect_identical(judged(said), rep("", length(said)))
  expect_match(readLines(demo_reports()[2L], n = 1L), "$schema=../standing/standing.schema.json",
    fixed = TRUE)
  damages <- list(
    function(x) replace(x, "drystack", 2L),
    function(x) replace(x, "titel", "Sales"),
    function(x) x[names(x) != "page"],
    function(x) replace(x, "page", list(list(list(rollup = list(show = "n"), text = "both")))),
    function(x) replace(x, "outputs", list(c("html", "docx"))),
    function(x) replace(x, "measures", list(list(sales = list(label = "no expression")))),
    function(x) replace(x, "closing", list(list(after = "soon"))),
    function(x) replace(x, "page", list(list(list(rollup = list(show = "n", totals = "some")))))
  )
  folder <- yard_folder()
  expect_match(judged(vapply(damages, function(damage) as_json(damage(shipped)), "")), "[a-z]")
  for (damage in damages) {
    odd <- damage(shipped)
    file <- file.path(folder, "odd.yml")
    yaml::write_yaml(odd, file)
    expect_error(build_report(file, out = file.path(folder, "out")), class = "drystack_error_standing")
  }
})

test_that("the schema that ships is the one that documents are held against", {
  made <- new.env(parent = asNamespace("drystack"))
  sys.source(file.path(source_root(), "tools", "schema.R"), made)
  expect_identical(readLines(document_schema_file()), strsplit(made$schema_text(), "\n")[[1L]])
})
