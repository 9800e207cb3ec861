# What a build for recipients wrote, for programs: NAME.manifest.json beside its pages. From it the
# next build knows which pages stand as they would be made again.

manifest_form <- 1L

manifest_path <- function(out, name) file.path(out, paste0(name, ".manifest.json"))

# NULL where there is none, or it cannot be read.
kept_manifest <- function(out, name) {
  path <- manifest_path(out, name)
  kept <- if (file.exists(path)) rlang::try_fetch(jsonlite::fromJSON(path, simplifyVector = FALSE),
    error = function(e) NULL)
  if (is.list(kept) && identical(kept$form, manifest_form) && is.list(kept$pages)) kept
}

keep_manifest <- function(built, outcomes, recipients, run) {
  one <- jsonlite::unbox
  number <- function(x) one(if (length(x) == 0L || is.na(x)) NA_real_ else x)
  pages <- lapply(Filter(function(outcome) is.null(outcome$error), outcomes), function(outcome) {
    list(
      key = one(outcome$recipient$key), name = one(outcome$recipient$name),
      lines = number(outcome$recipient$lines), amount = number(outcome$recipient$amount),
      changed = one(length(outcome$written) > 0L), content = one(outcome$content),
      as_of = one(format(as_day_date(outcome$as_of))), warnings = outcome$warnings,
      files = Map(function(file, sum) {
        list(file = one(file), format = one(file_ending(file)), sum = one(sum))
      },
        unname(outcome$files), unname(outcome$sums)) |> unname()
    )
  })
  if (!is.null(run$options$delivery$recipients))
    pages <- c(pages, pages_of_others(pages, run$manifest))
  manifest <- list(
    form = one(manifest_form), report = one(basename(run$document$file)),
    built = one(format(run$options$today)), at = one(
      format(Sys.time(), "%Y-%m-%dT%H:%M:%SZ", tz = "UTC")),
    version = one(as.character(utils::packageVersion("drystack"))),
    pages = pages, failures = lapply(built$failures, lapply, one),
    without_recipient = lapply(recipients$nobody, number), told = built$told
  )
  write_whole(manifest_path(run$out, run$name), function(aside) {
    write_text_lines(jsonlite::toJSON(manifest, pretty = 1, na = "null", digits = NA), aside)
  })
}

# Where some pages are built, those of the others are what they were.
pages_of_others <- function(pages, before) {
  keys <- vapply(pages, `[[`, "", "key")
  others <- Filter(function(page) !page$key %in% keys, before$pages)
  lapply(others, function(page) {
    page["amount"] <- list(page$amount %||% NA_real_)
    page$changed <- FALSE
    rapply(page, jsonlite::unbox, how = "replace")
  })
}

# What a page says, apart from the day it was made on.
content_sum <- function(bundle, page, run) {
  bundle$about <- setdiff(bundle$about, made_on(page$made))
  bundle$told <- NULL
  bundle$blocks <- lapply(flat_blocks(bundle), function(block) {
    if (block$kind == "figure") block$drawing <- drawing_content(block$drawing)
    if (block$kind == "table") block$sheet <- sheet_content(block$sheet)
    block
  })
  rlang::hash(list(bundle, run$document$lines, run$formats,
    as.character(utils::packageVersion("drystack"))))
}

# The texts and numbers of a sheet, and what a figure is drawn from; what is told of the orders
# stands in the bundle, where it is shown.
sheet_content <- function(sheet) {
  sheet[c("about", "told")] <- NULL
  rapply(sheet, function(x) if (is.function(x)) deparse(x) else x, how = "replace")
}

drawing_content <- function(drawing) {
  table <- drawing$table
  list(drawing$title, drawing$alt(), table$figures, lapply(table$axes, as.character), table$role,
    table$part_way,
    table$restated)
}

# The files of a page that are up to date; NULL where they do not.
unchanged_files <- function(variant, content, run) {
  if (!run$options$delivery$changed_only || is.null(variant$recipient)) {
    return(NULL)
  }
  before <- Filter(function(page) {
    identical(page$key, variant$recipient$key) && identical(page$content, content)
  }, run$manifest$pages)
  for (page in before) {
    files <- vapply(page$files, `[[`, "", "file")
    sums <- vapply(page$files, `[[`, "", "sum")
    if (identical(file_sums(file.path(run$out, files)), sums)) {
      return(files)
    }
  }
}
