# The explorer's folder: its files by plain names, and the reports that are there.

# Names of files: no folders, no leading dots.
file_in_folder <- function(folder, name, endings) {
  check_text(name, "file")
  ending <- tolower(file_ending(name))
  if (!grepl("^[[:alnum:] _-][[:alnum:] ._-]*$", name) || !ending %in% endings) {
    raise("output", c(paste0(quoted(name), " cannot be the name of a file here."),
      ">" = paste0("Letters, digits, blanks, dots and hyphens, and at the end {.or {paste0('.', ",
        "endings)}}.")))
  }
  check_no_link(file.path(folder, name))
}

# A link may lead out of the folder.
check_no_link <- function(path) {
  if (!Sys.readlink(path) %in% c("", NA)) {
    raise("output", c(paste0(quoted(basename(path)),
      " is a link to another file: the explorer does not follow it."),
      ">" = "Name a file of the folder itself."))
  }
  path
}

free_name <- function(path) {
  stem <- file_stem(basename(path))
  names <- paste0(stem, "-", 2:1000, ".", file_ending(path))
  names[!file.exists(file.path(dirname(path), names))][1L]
}

report_endings <- c("yml", "yaml")

most_reports_told <- 100L

reports_in <- function(folder) {
  names <- list.files(folder)
  utils::head(names[tolower(file_ending(names)) %in% report_endings], most_reports_told)
}
