# What a build was made from, kept beside its files: where nothing has changed, they
# stand and are not made again.

input_stamp <- function(document, set, formats, recipients, compare, options) {
  rlang::hash(list(
    document$lines, if (is_elsewhere(document, options$outside))
      tempfile(), input_sums(input_files(document, options$outside)),
    lapply(set, as.character), formats, recipients, compare, options$strict, options$changes,
      if (moves_with_today(document, set))
        as.character(options$today), as.character(utils::packageVersion("drystack"))
  ))
}

# The files that a report reads, once they are known to be where a report may read.
input_files <- function(document, outside) {
  said <- document$said
  lookups <- lapply(seq_along(said$lookups), function(i) {
    list(path = said$lookups[[i]]$file, at = list("lookups", i))
  })
  records <- lapply(names(Filter(function(one) !is.null(one$file), said$records)), function(name) {
    list(path = said$records[[name]]$file, at = list("records", name))
  })
  tables <- lapply(grep("^custom:", unlist(said$calendars), value = TRUE), function(word) {
    list(path = sub("^custom:", "", word), at = list("calendars"))
  })
  at <- list("orders", orders_key(document))
  orders <- if (at[[2L]] != "database") said$orders[[at[[2L]]]]
  databases <- lapply(databases_said(document), function(one) {
    list(path = database_files(one, outside), at = list("orders", "database"))
  })
  rates <- if (!is.null(said$orders$rates)) list(
    list(path = said$orders$rates, at = list("orders", "rates")))
  files <- c(list(list(path = orders, at = at)), databases, lookups, records, rates, unname(tables))
  unlist(lapply(Filter(function(file) length(file$path) == 1L, files), function(file) {
    full <- path.expand(inner_path(as.character(file$path), document, file$at, outside))
    at_line(document, file$at, {
      meant <- if (identical(file$at, list("orders", "files"))) files_meant(full) else full
      for (one in meant) check_file(one)
    })
    meant
  }))
}

# Whether orders, or a record beside them, lie in a database of which it cannot be told whether it
# has changed.
is_elsewhere <- function(document, outside) {
  any(vapply(databases_said(document), function(one) is.null(database_files(one, outside)), NA))
}

# What comes through a pipe can be read once only, and is taken as new.
input_sums <- function(files) {
  vapply(files, function(file) {
    if (kernel_file_kind(file) == "file") unname(tools::md5sum(file)) else tempfile()
  }, "")
}

# Whether the day of building changes what comes out.
moves_with_today <- function(document, set) {
  blocks <- lapply(document$said$page, function(block) {
    lapply(block, function(said) if (is.list(said)) said$shown)
  })
  texts <- c(unlist(set), unlist(document$said[c("parameters", "as_of", "covered_to",
    "shown", "as_known")]), unlist(blocks))
  moves_by_day(as.character(texts)) || length(document$said[c("expect",
    "closing")] |> unlist()) > 0L
}

stamp_file <- function(out, name) file.path(out, paste0(".", name, ".built.json"))

keep_stamp <- function(built, columns, out, name, stamp) {
  write_whole(stamp_file(out, name), function(aside) {
    kept <- c(list(stamp = stamp, columns = columns, sums = file_sums(built$files)), unclass(built))
    write_text_lines(jsonlite::toJSON(kept, auto_unbox = TRUE, pretty = 1), aside)
  })
}

# What the build before left, or NULL.
kept_stamp <- function(out, name) {
  file <- stamp_file(out, name)
  if (file.exists(file)) rlang::try_fetch(jsonlite::fromJSON(file), error = function(e) NULL)
}

# Each file as it stands, "" where there is none.
file_sums <- function(files) {
  vapply(path.expand(as.character(files)), function(file) {
    if (kernel_file_kind(file) == "file") unname(tools::md5sum(file)) else ""
  }, "", USE.NAMES = FALSE)
}

stood_before <- function(out, name, stamp) {
  kept <- kept_stamp(out, name)
  if (!identical(kept$stamp, stamp) || !identical(kept$sums, file_sums(kept$files))) {
    return(NULL)
  }
  kept$stamp <- kept$columns <- kept$sums <- NULL
  kept$changed <- FALSE
  for (field in c("warnings", "told", "said_changed",
    "unchanged")) kept[[field]] <- as.character(unlist(kept[[field]]))
  structure(kept, class = "drystack_build")
}
