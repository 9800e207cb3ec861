# The files of a build: all are written aside first, then all moved into place.

# A folder aside of where files go.
folder_aside <- function(folder) {
  if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE, recursive = TRUE)) {
    raise("output", c(paste0("Cannot make the folder ", quoted(folder), "."),
      ">" = paste0("Name another: ", argument_said("out"), ".")))
  }
  clear_aside(folder)
  aside <- file_aside(folder)
  if (!dir.create(aside, showWarnings = FALSE)) {
    raise("output", c(paste0("Cannot write to the folder ", quoted(folder), "."),
      ">" = paste0("Name another: ", argument_said("out"), ".")))
  }
  aside
}

# The files of a page, aside; their names.
write_page <- function(bundle, run, ending, aside) {
  files <- page_files(bundle, paste0(run$name, ending), run$formats)
  check_free(file.path(run$out, names(files)))
  write_files(files, aside)
  names(files)
}

move_all <- function(names, aside, folder) {
  paths <- file.path(folder, names)
  for (name in names) or_cannot_write(file.path(folder, name),
    check_written(file.path(aside, name)))
  for (i in seq_along(names)) {
    or_cannot_write(paths[i], move_into_place(file.path(aside, names[i]), target_of(paths[i])))
  }
}

check_free <- function(paths) {
  taken <- paths[dir.exists(paths)]
  if (length(taken) > 0L) raise("output", paste0(quoted(taken[1L]), " is a folder, not a file."))
}

# What is written for a page: by the name of its file list(format, bundle).
page_files <- function(bundle, stem, formats) {
  whole <- function(format) {
    stats::setNames(list(list(format = format, bundle = bundle)), paste0(stem, ".", format))
  }
  unlist(lapply(formats, function(format) {
    if (format %in% table_formats && length(table_blocks(bundle)) > 1L)
      table_files(bundle, stem, format) else whole(format)
  }), recursive = FALSE)
}

# A file for each table, named by its label.
table_files <- function(bundle, stem, format) {
  tables <- table_blocks(bundle)
  labels <- vapply(tables, function(block) {
    if (block$label == "") block$sheet$title else block$label
  }, "")
  files <- lapply(tables, function(block) {
    one <- bundle
    one$blocks <- list(block)
    list(format = format, bundle = one)
  })
  stats::setNames(files, paste0(stem, "-", make.unique(file_words_or(labels, "table"),
    sep = "-"), ".", format))
}

# All are begun, then all finished.
write_files <- function(files, folder) {
  writers <- bundle_writers()
  files <- files[order(match(vapply(files, `[[`, "", "format"), names(writers)))]
  paths <- file.path(folder, names(files))
  begun <- Map(function(file, path) {
    or_cannot_write(path, writers[[file$format]](file$bundle, path))
  }, files, paths)
  Map(function(one, path) or_cannot_write(path, finish_file(one)), begun, paths)
}
