# What a build was made from, kept beside its files: where nothing has changed, they stand and are not made again.

input_stamp <- function(source, set, formats, each, compare, options) {
  rlang::hash(list(
    source$lines, unname(tools::md5sum(input_files(source))), lapply(set, as.character), formats, each, compare, options$strict,
    if (moves_with_today(source, set)) as.character(options$today), as.character(utils::packageVersion("drystack"))
  ))
}

# The files that a report reads.
input_files <- function(source) {
  tables <- grep("^custom:", unlist(source$said$calendars), value = TRUE)
  full_path(c(
    source$said$orders$file, vapply(source$said$lookups, function(one) as.character(one$file), ""), sub("^custom:", "", tables)
  ), source)
}

# Whether the day of building changes what comes out.
moves_with_today <- function(source, set) {
  texts <- tolower(c(unlist(set), unlist(source$said[c("parameters", "as_of")])))
  any(texts %in% c("today", "yesterday", "last month end", "last closed month")) || length(source$said$expect) > 0L
}

stamp_file <- function(out, name) file.path(out, paste0(".", name, ".built.json"))

keep_stamp <- function(built, columns, out, name, stamp) {
  write_whole(stamp_file(out, name), function(aside) {
    kept <- c(list(stamp = stamp, columns = columns), unclass(built))
    write_text_lines(jsonlite::toJSON(kept, auto_unbox = TRUE, pretty = 1), aside)
  })
}

# What the build before left, or NULL.
kept_stamp <- function(out, name) {
  file <- stamp_file(out, name)
  if (file.exists(file)) rlang::try_fetch(jsonlite::fromJSON(file), error = function(e) NULL)
}

stood_before <- function(out, name, stamp) {
  kept <- kept_stamp(out, name)
  if (!identical(kept$stamp, stamp) || !all(file.exists(kept$files))) {
    return(NULL)
  }
  kept$stamp <- kept$columns <- NULL
  kept$changed <- FALSE
  kept$warnings <- as.character(unlist(kept$warnings))
  structure(kept, class = "drystack_build")
}
