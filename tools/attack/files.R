# Hostile files of orders: each made from its number alone, so that a case can be made again.
# A file begins as a good one, with a date column `d`, a text column `k` and amounts `a`;
# then something is done to it.

made_orders <- function() {
  n <- sample(c(0L, 1L, 3L, 40L, 400L), 1L, prob = c(1, 2, 3, 6, 3))
  labels <- c(
    "Skelby", "Thornmoor", "5\" slab", "a,b", "a;b", "two\nlines",
    "\u00e9tat", "", "  blanks  ", "=1+1", "<b>&amp;", "NA", "null",
    "\u202eabc", "\ufffe", strrep("x", 5000), "'", "\\", "tab\there", "{x}", "%s", "007"
  )
  data.frame(
    d = format(as.Date("2026-01-01") + sample(0:200, n, TRUE)), k = sample(labels, n, TRUE),
    a = sample(c(round(stats::rnorm(n, 100, 300), 2), rep(c(0, -0.01, 1e15, 0.1), length.out = n)), n, TRUE)
  )
}

csv_cell <- function(x, separator) {
  must <- grepl(paste0("[\"\r\n", separator, "]"), x)
  ifelse(must | stats::runif(length(x)) < 0.1, paste0("\"", gsub("\"", "\"\"", x), "\""), x)
}

csv_bytes <- function(orders) {
  separator <- sample(c(",", ";", "\t"), 1L, prob = c(8, 1, 1))
  end <- sample(c("\n", "\r\n", "\r"), 1L, prob = c(6, 3, 1))
  cells <- lapply(orders, function(x) csv_cell(if (is.numeric(x)) sprintf("%.15g", x) else x, separator))
  lines <- c(paste(names(orders), collapse = separator), do.call(paste, c(unname(cells), sep = separator)))
  if (nrow(orders) == 0L) lines <- lines[1L]
  text <- paste0(paste(lines, collapse = end), if (stats::runif(1L) < 0.8) end)
  bytes <- charToRaw(enc2utf8(text))
  if (stats::runif(1L) < 0.1) c(as.raw(c(0xef, 0xbb, 0xbf)), bytes) else bytes
}

json_bytes <- function(orders) {
  as_line <- function(i) as.character(jsonlite::toJSON(as.list(orders[i, ]), auto_unbox = TRUE, digits = 15))
  lines <- vapply(seq_len(nrow(orders)), as_line, "")
  charToRaw(enc2utf8(paste0(paste(lines, collapse = "\n"), "\n")))
}

file_bytes <- function(write) {
  path <- tempfile()
  on.exit(unlink(path))
  write(path)
  readBin(path, "raw", 1e8)
}

# What is done to bytes.
damages <- list(
  none = identity,
  cut = function(b) b[seq_len(sample.int(max(length(b), 1L), 1L) - 1L)],
  flip = function(b) {
    at <- sample.int(length(b), min(length(b), sample(1:6, 1L)))
    b[at] <- as.raw(sample(0:255, length(at), TRUE))
    b
  },
  quote = function(b) insert(b, charToRaw(sample(c("\"", "\"\"", "\",", "\"\n"), 1L))),
  zero = function(b) insert(b, as.raw(0)),
  control = function(b) insert(b, as.raw(sample(1:31, sample(1:4, 1L), TRUE))),
  separator = function(b) insert(b, charToRaw(sample(c(",", ";", "\n", "\r", "{", "}", "[", ":"), 1L))),
  latin = function(b) insert(b, as.raw(sample(128:255, 1L))),
  doubled = function(b) c(b, b),
  repeated = function(b) {
    at <- sort(sample.int(length(b), 2L, TRUE))
    insert(b, rep(b[at[1L]:min(at[2L], at[1L] + 200L)], sample(c(1L, 50L), 1L)))
  },
  dropped = function(b) {
    at <- sort(sample.int(length(b), 2L, TRUE))
    b[-(at[1L]:min(at[2L], at[1L] + 50L))]
  },
  noise = function(b) as.raw(sample(0:255, sample(1:3000, 1L), TRUE)),
  wide = function(b) {
    c(charToRaw(paste0("d,", paste0("c", 1:sample(c(100L, 3000L), 1L), collapse = ","), "\n")), b)
  },
  long = function(b) insert(b, rep(charToRaw(sample(c("x", " ", "9", "\""), 1L)), 4e5)),
  utf16 = function(b) c(as.raw(c(0xff, 0xfe)), as.vector(rbind(b, as.raw(0))))
)

insert <- function(b, what) append(b, what, sample.int(length(b) + 1L, 1L) - 1L)

endings <- c("csv", "csv.gz", "jsonl", "parquet", "xlsx")

hostile_bytes <- function(ending, orders) {
  switch(ending,
    csv = csv_bytes(orders), csv.gz = memCompress(csv_bytes(orders), "gzip"), jsonl = json_bytes(orders),
    parquet = file_bytes(function(path) nanoparquet::write_parquet(orders, path)),
    xlsx = file_bytes(function(path) openxlsx::write.xlsx(orders, path))
  )
}

# list(path, orders, damage): the file of a number in a folder.
hostile_file <- function(number, folder) {
  set.seed(number)
  ending <- sample(endings, 1L, prob = c(8, 2, 4, 3, 3))
  orders <- made_orders()
  if (ending == "xlsx") orders$k <- gsub("\ufffe", "", orders$k)
  damage <- sample(names(damages), 1L, prob = ifelse(names(damages) == "none", 5, 1))
  if (ending == "csv.gz" && stats::runif(1L) < 0.5) {
    # Damage inside, then packed.
    bytes <- memCompress(safely(damages[[damage]], csv_bytes(orders)), "gzip")
  } else {
    bytes <- safely(damages[[damage]], hostile_bytes(ending, orders))
  }
  if (ending == "csv.gz") bytes <- gzip_form(bytes)
  path <- file.path(folder, sprintf("orders%d.%s", number, ending))
  writeBin(bytes, path)
  list(path = path, ending = ending, orders = orders, damage = damage)
}

safely <- function(damage, bytes) if (length(bytes) == 0L) bytes else damage(bytes)

# R packs in the form of zlib, files are in that of gzip: the same stream
# under another head and foot.
gzip_form <- function(bytes) {
  if (length(bytes) < 7L || bytes[1L] != as.raw(0x78)) {
    return(bytes)
  }
  plain <- tryCatch(memDecompress(bytes, "gzip"), error = function(e) NULL)
  if (is.null(plain)) {
    return(bytes)
  }
  path <- tempfile()
  on.exit(unlink(path))
  connection <- gzfile(path, "wb")
  writeBin(plain, connection)
  close(connection)
  readBin(path, "raw", 1e8)
}
