# Exports as shops and accounts packages write them, made from one plain table: habits that are put
# together at random, each a choice with its effect on the text.

plain_sales <- function(n = 60L) {
  set.seed(n)
  data.frame(
    ordered = as.Date("2026-03-01") + sort(sample.int(150L, n, TRUE)),
    customer = sample(c("Total Gardens", "Bryn & Sons", "M\u00fcller", "O'Hara"), n, TRUE),
    net = round(stats::rlnorm(n, 6, 1.2), 2) * sample(c(1, 1, 1, 1, -1), n, TRUE)
  )
}

grouped_digits <- function(x, mark, decimal) {
  cents <- sprintf("%02d", as.integer(round(100 * abs(x)) %% 100))
  whole <- format(floor(round(100 * abs(x)) / 100), big.mark = "_", trim = TRUE, scientific = FALSE)
  whole <- gsub("_", mark, whole, fixed = TRUE)
  paste0(whole, decimal, cents)
}

dirty_amounts <- list(
  plain = function(x) sprintf("%.2f", x),
  pounds = function(x) paste0(ifelse(x < 0, "-", ""), "\u00a3", grouped_digits(x, ",", ".")),
  euros = function(x) paste0(ifelse(x < 0, "-", ""), grouped_digits(x, ".", ","), " \u20ac"),
  brackets = function(x) {
    ifelse(x < 0, paste0("(", grouped_digits(x, ",", "."), ")"), grouped_digits(x, ",", "."))
  },
  trailing = function(x) paste0(grouped_digits(x, ",", "."), ifelse(x < 0, "-", "")),
  apostrophe = function(x) sprintf("'%.2f", x), swiss = function(x) {
    paste0(ifelse(x < 0, "-", ""), grouped_digits(x, "'", "."))
  },
  unit = function(x) paste0(ifelse(x < 0, "-", ""), grouped_digits(x, ",", "."), " kg"),
  short = function(x) sprintf("%.5fk", x / 1000),
  code = function(x) paste0("GBP ", ifelse(x < 0, "-", ""), grouped_digits(x, ",", ".")),
  spaced = function(x) paste0(ifelse(x < 0, "\u2212", ""), grouped_digits(x, "\u00a0", ",")),
  credit = function(x) paste0(grouped_digits(x, ",", "."), ifelse(x < 0, " CR", ""))
)

dirty_dates <- list(
  iso = function(d) format(d), slashes = function(d) format(d, "%d/%m/%Y"),
  american = function(d) format(d, "%m/%d/%Y"), dots = function(d) format(d, "%d.%m.%Y"),
  short = function(d) paste0(format(d, "%d-"), month.abb[as.integer(format(d, "%m"))], format(d, "-%y")),
  long = function(d) paste0(month.abb[as.integer(format(d, "%m"))], format(d, " %d, %Y")),
  years_first = function(d) format(d, "%y-%m-%d"), afternoon = function(d) format(d, "%d/%m/%Y 2:30 p.m."),
  french = function(d) {
    paste(as.POSIXlt(d)$mday, c("janv.", "f\u00e9vr.", "mars", "avril", "mai", "juin", "juil.", "ao\u00fbt",
      "sept.",
      "oct.", "nov.", "d\u00e9c.")[as.POSIXlt(d)$mon + 1L], format(d, "%Y"))
  },
  month = function(d) format(d, "%Y-%m"), seconds = function(d) sprintf("%.0f", as.numeric(d) * 86400 + 7200),
  digits = function(d) format(d, "%Y%m%d"), timed = function(d) paste(format(d), "14:30:00")
)

quoted_cell <- function(text, separator) {
  needs <- grepl(paste0("[\"\n", separator, "]"), text)
  ifelse(needs, paste0("\"", gsub("\"", "\"\"", text, fixed = TRUE), "\""), text)
}

# A record of some cells, the others empty.
sparse <- function(cells, width, separator) {
  texts <- rep("", width)
  texts[as.integer(names(cells))] <- quoted_cell(unlist(cells), separator)
  paste(texts, collapse = separator)
}

# list(path, sales: the table it was made from, said: which habits).
dirty_export <- function(seed, env = parent.frame()) {
  sales <- plain_sales(40L + seed)
  set.seed(seed)
  pick <- function(x) sample(names(x), 1L)
  said <- list(
    amount = pick(dirty_amounts), date = pick(dirty_dates), separator = sample(c(",", ";", "\t", "|"), 1L),
    encoding = sample(c("UTF-8", "UTF-8 with a mark", "UTF-16LE", "windows-1252"), 1L),
    titles = sample(0:3, 1L), total = sample(c("none", "said", "bare", "months"), 1L),
    footer = sample(0:1, 1L), blank = sample(0:1, 1L), again = sample(0:1, 1L), unknown = sample(0:1, 1L),
    header = sample(c("plain", "twice", "period", "spaces"), 1L), ends = sample(c("\n", "\r\n"), 1L)
  )
  net <- dirty_amounts[[said$amount]]
  said$odd <- sample(c("none", "comment", "rule", "ends", "below"), 1L)
  names <- switch(said$header,
    plain = c("ordered_on", "customer", "net_amount"), twice = c("Date", "Net", "Net"),
    period = c("day", "week", "net_amount"), spaces = c("Ordered on?", "Customer name", "Net amount (total)")
  )
  row <- function(cells) paste(quoted_cell(cells, said$separator), collapse = said$separator)
  lines <- vapply(seq_len(nrow(sales)), function(i) {
    row(c(dirty_dates[[said$date]](sales$ordered[i]), sales$customer[i], net(sales$net[i])))
  }, "")
  total_of <- function(rows, label) {
    sparse(c(if (said$total != "bare") list("1" = label), list("3" = net(sum(sales$net[rows])))),
      3L, said$separator)
  }
  month <- format(sales$ordered, "%Y-%m")
  if (said$unknown == 1L) {
    lines <- c(lines, row(c(dirty_dates[[said$date]](max(sales$ordered)), "Bryn & Sons", "n/a")))
    month <- c(month, max(month))
  }
  if (said$total == "months") {
    ends <- !duplicated(month, fromLast = TRUE)
    sums <- vapply(month[ends], function(m) {
      total_of(which(month == m & seq_along(month) <= nrow(sales)), "Subtotal")
    }, "")
    lines <- unlist(Map(function(line, end, i) c(line, if (end) sums[[i]]), lines, ends, cumsum(ends)))
  }
  if (said$again == 1L) lines <- append(lines, row(names), 20L)
  if (said$blank == 1L) lines <- append(lines, c("", strrep(said$separator, 2L)), 10L)
  if (said$total != "none") lines <- c(lines, total_of(seq_len(nrow(sales)), "Grand total"))
  if (said$footer == 1L) lines <- c(lines, "Page 1 of 1",
    sparse(list("1" = "End of report"), 3L, said$separator))
  titles <- utils::head(c("Harrowgill Stone Yard",
    sparse(list("1" = "Sales by customer"), 3L, said$separator), ""), said$titles)
  lines <- switch(said$odd, none = lines, comment = append(lines, "# by hand", 15L),
    rule = c(paste(rep("-----", 3L), collapse = said$separator), lines),
    ends = paste0(lines, ifelse(lengths(strsplit(lines, said$separator, fixed = TRUE)) > 1L, said$separator,
      "")),
    below = c(lines, "", paste0("Made by Anna", said$separator, "for the yard")))
  text <- paste0(paste(c(titles, row(names), lines), collapse = said$ends), said$ends)
  path <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  to <- sub(" with a mark", "", said$encoding)
  bytes <- iconv(list(charToRaw(enc2utf8(text))), "UTF-8", to, toRaw = TRUE)[[1L]]
  marks <- list("UTF-8 with a mark" = as.raw(c(0xef, 0xbb, 0xbf)), "UTF-16LE" = as.raw(c(0xff, 0xfe)))
  writeBin(c(marks[[said$encoding]], bytes), path)
  list(path = path, sales = sales, said = said)
}
