# Writes changes into the kernel of a copy of the sources, each behind a switch, so that one compiled copy
# holds them all: kernel.R TREE CHANGES SEED. What they are stands in TREE/kernel-changes.csv.

arguments <- commandArgs(TRUE)
tree <- arguments[1L]
set.seed(as.integer(arguments[3L]))
wanted <- as.integer(arguments[2L]) %/% 5L

# The place of the bracket that closes the one at `open`, NA where it is on another line.
closing <- function(line, open) {
  depth <- cumsum((line == "(") - (line == ")"))
  match(TRUE, seq_along(line) > open & depth == depth[open] - 1L)
}

# What can be changed on a line: list(from, to, old, new), with ID for the number of the change.
changes_of_line <- function(text) {
  if (grepl("constexpr|template|static|case |enum|#|//|operator|using |\\[\\[", text)) {
    return(list())
  }
  found <- list()
  if (grepl("^\\s*(\\} else )?if \\(", text)) {
    open <- regexpr("if (", text, fixed = TRUE) + 3L
    close <- closing(strsplit(text, "")[[1L]], open)
    condition <- substr(text, open + 1L, close - 1L)
    # A condition that declares a name is left alone.
    if (!is.na(close) && !grepl(";|[^=!<>]=[^=]", condition)) found <- c(found, list(list(from = open + 1L, to = close - 1L,
      new = paste0("mutant::is(ID) != static_cast<bool>(", condition, ")"), kind = paste0("not (", condition, ")"))))
  }
  loop <- regmatches(text, regexec("for \\([^;]*; ([^;<>&]+) < ([^;<>&]+); [^;]*\\)", text))[[1L]]
  if (length(loop) == 3L) {
    old <- paste(loop[2L], "<", loop[3L])
    at <- regexpr(old, text, fixed = TRUE)
    found <- c(found, list(list(from = at, to = at + nchar(old) - 1L, new = paste0("(mutant::is(ID) ? ", loop[2L],
      " + 1 < ", loop[3L], " : ", old, ")"), kind = paste(loop[2L], "+ 1 <", loop[3L]))))
  }
  for (at in gregexpr(" [+-] 1\\b(?![.eux'])", text, perl = TRUE)[[1L]]) {
    if (at > 0L) found <- c(found, list(list(from = at + 3L, to = at + 3L, new = "mutant::one(ID)",
      kind = paste(substr(text, at + 1L, at + 1L), "0"))))
  }
  found
}

files <- setdiff(list.files(file.path(tree, "src/kernel"), "[.]h$"), "gate.h")
sites <- do.call(rbind, lapply(files, function(file) {
  lines <- readLines(file.path(tree, "src/kernel", file))
  do.call(rbind, lapply(seq_along(lines), function(i) {
    do.call(rbind, lapply(changes_of_line(lines[i]), function(change) {
      data.frame(file = file, line = i, change, old = trimws(lines[i]))
    }))
  }))
}))
# One change on a line.
sites <- sites[sample(nrow(sites)), ]
sites <- utils::head(sites[!duplicated(sites[c("file", "line")]), ], wanted)
sites$id <- seq_len(nrow(sites))
for (i in sites$id) {
  path <- file.path(tree, "src/kernel", sites$file[i])
  lines <- readLines(path)
  text <- lines[sites$line[i]]
  lines[sites$line[i]] <- paste0(substr(text, 1L, sites$from[i] - 1L), gsub("ID", i, sites$new[i], fixed = TRUE),
    substring(text, sites$to[i] + 1L))
  writeLines(lines, path)
}
for (file in unique(sites$file)) {
  path <- file.path(tree, "src/kernel", file)
  writeLines(c("#include \"mutant.h\"", readLines(path)), path)
}
writeLines(c(
  "#ifndef MUTANT_H", "#define MUTANT_H", "namespace mutant {", "inline int chosen = 0;",
  paste0("inline unsigned char reached[", nrow(sites) + 1L, "];"),
  "inline bool is(int id) { reached[id] = 1; return chosen == id; }",
  "inline int one(int id) { return is(id) ? 0 : 1; }", "}", "#endif"
), file.path(tree, "src/kernel/mutant.h"))
writeLines(c(
  "#include \"kernel/mutant.h\"",
  "extern \"C\" void mutant_choose(int* id) { mutant::chosen = *id; }",
  "extern \"C\" void mutant_reached(int* n, int* out) {",
  "  for (int i = 1; i <= *n; ++i) { out[i - 1] = mutant::reached[i]; mutant::reached[i] = 0; }", "}"
), file.path(tree, "src/bind_mutant.cpp"))
exports <- file.path(tree, "src/RcppExports.cpp")
writeLines(sub("R_useDynamicSymbols(dll, FALSE)", "R_useDynamicSymbols(dll, TRUE)", readLines(exports),
  fixed = TRUE), exports)
utils::write.csv(sites, file.path(tree, "kernel-changes.csv"), row.names = FALSE)
