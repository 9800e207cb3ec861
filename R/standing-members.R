# Which file is whose: a report for each member of a column names its files by the member. What a
# member's file is called is kept beside the files, so that the member keeps it and nobody else
# takes it, whoever has orders this time.

# The endings of the names of some members' files; `after` are endings that follow them.
member_endings <- function(members, column, out, name, after = character()) {
  all <- all_endings(out, name)
  known <- all[all$column == column, , drop = FALSE]
  endings <- known$ending[match(members, known$member)]
  open <- which(is.na(endings))
  plain <- file_words(members[open])
  others <- c(all$ending, plain)
  clashes <- vapply(plain, function(one) {
    sum(others == one) > 1L || any(one == outer(others, after, paste, sep = "-"))
  }, NA)
  marked <- clashes | plain == "" | nchar(plain) > longest_ending
  hashes <- vapply(members[open], function(member) {
    substr(rlang::hash(enc2utf8(member)), 1L, 8L)
  }, "")
  plain[marked] <- sub("^-", "", paste0(substr(plain[marked], 1L, longest_ending), "-",
    hashes[marked]))
  endings[open] <- plain
  endings
}

longest_ending <- 60L

# Names of files: letters and digits of any script, and hyphens.
file_words <- function(text) {
  words <- gsub("(*UCP)[^\\p{L}\\p{M}\\p{N}]+", "-", tolower(enc2utf8(text)), perl = TRUE)
  gsub("^-+|-+$", "", words)
}

file_words_or <- function(text, other) {
  words <- file_words(text)
  ifelse(words == "", other, words)
}

members_file <- function(out, name) file.path(out, paste0(".", name, ".members.json"))

# data frame of column, member, ending: all that ever had a file here.
all_endings <- function(out, name) {
  none <- data.frame(column = character(), member = character(), ending = character())
  file <- members_file(out, name)
  kept <- if (file.exists(file)) rlang::try_fetch(jsonlite::fromJSON(file),
    error = function(e) NULL)
  whole <- is.data.frame(kept) && all(names(none) %in% names(kept)) &&
    all(vapply(kept, is.character, NA))
  if (whole) kept[names(none)] else none
}

kept_endings <- function(out, name, column) {
  kept <- all_endings(out, name)
  kept[kept$column == column, , drop = FALSE]
}

# pages: each with its owner and the ending of its files.
keep_endings <- function(pages, column, out, name) {
  kept <- all_endings(out, name)
  members <- vapply(pages, function(page) page$owner$member, "")
  endings <- vapply(pages, `[[`, "", "registered")
  new <- !members %in% kept$member[kept$column == column] & !duplicated(members)
  kept <- rbind(kept, data.frame(column = rep(column, sum(new)), member = members[new],
    ending = endings[new]))
  write_whole(members_file(out, name), function(aside) {
    write_text_lines(jsonlite::toJSON(kept, pretty = 1), aside)
  })
}

# Files of those that have no orders now and stand from an earlier build.
gone_words <- function(members, column, run) {
  gone <- kept_endings(run$out, run$name, column)
  gone <- gone[!gone$member %in% members, , drop = FALSE]
  there <- list.files(run$out)
  files <- lapply(gone$ending, function(ending) {
    there[file_stem(there) == paste0(run$name, "-", ending)]
  })
  here <- lengths(files) > 0L
  if (any(here)) paste0(
    "no page was built for ", words_of(gone$member[here]), ", without orders now: ",
    words_of(unlist(files[here])), if (sum(lengths(files)) == 1L) " stands" else " stand",
    " from an earlier build"
  )
}
