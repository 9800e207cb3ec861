# Puts what the pages of the site would load from elsewhere beside them: Rscript tools/site.R SITE SCRIPTS
args <- commandArgs(TRUE)
site <- args[1L]
to <- file.path(site, "deps", "scripts")
dir.create(to, recursive = TRUE, showWarnings = FALSE)
here <- c(
  "autocomplete.jquery.min.js" = "autocomplete.js/dist", "fuse.js" = "fuse.js/dist",
  "clipboard.min.js" = "clipboard/dist", "headroom.min.js" = "headroom.js/dist",
  "jQuery.headroom.min.js" = "headroom.js/dist", "mark.min.js" = "mark.js/dist"
)
for (file in names(here)) file.copy(file.path(args[2L], here[[file]], file), to, overwrite = TRUE)
icons <- file.path(args[2L], "@fortawesome/fontawesome-free")
file.copy(file.path(icons, c("css", "webfonts")), to, recursive = TRUE)
file.copy("pkgdown/toc.js", file.path(to, "bootstrap-toc.min.js"), overwrite = TRUE)

elsewhere <- "https://(cdnjs|cdn\\.jsdelivr|oss\\.maxcdn)[^\"]*/([^/\"]+)"
local_page <- function(path) {
  page <- paste(readLines(path, encoding = "UTF-8", warn = FALSE), collapse = "\n")
  depth <- length(strsplit(sub(paste0(site, "/?"), "", path, fixed = FALSE), "/")[[1L]]) - 1L
  up <- paste0(strrep("../", depth), "deps/scripts/")
  # Formulas there are none, and browsers of ten years ago are not meant.
  page <- gsub("<!-- mathjax -->(<script[^>]*></script>)*", "", page)
  page <- gsub("<!--\\[if lt IE 9\\]>.*?<!\\[endif\\]-->", "", page, perl = TRUE)
  page <- gsub("<script src=\"(https://oss|file://|https://cdnjs[^\"]*(mathjax|html5shiv))[^>]*></script>", "", page)
  page <- gsub("( integrity=\"[^\"]*\"| crossorigin=\"anonymous\")", "", page)
  page <- gsub("href=\"https://cdnjs[^\"]*/css/([^\"]+)\"", paste0("href=\"", up, "css/\\1\""), page)
  page <- gsub(paste0("src=\"", elsewhere, "\""), paste0("src=\"", up, "\\2\""), page)
  writeLines(page, path, useBytes = TRUE)
  left <- regmatches(page, gregexpr("(src|link[^>]*href)=\"https?://[^\"]+\"", page))[[1L]]
  if (length(left) > 0L) stop(path, " would load ", left[1L])
}
for (path in list.files(site, "[.]html$", recursive = TRUE, full.names = TRUE)) local_page(path)
