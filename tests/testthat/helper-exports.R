# Exports of one plain table in the forms that programs give them, each kind with the text it makes; what
# they hold is known apart.

kind_sales <- function(n = 40L) {
  set.seed(11L)
  data.frame(
    order = 1000L + seq_len(n), date = as.Date("2025-01-03") + sort(sample.int(320L, n)),
    customer = sample(c("Bryn & Sons", "Moor Hall", "Skelby Gardens"), n, TRUE),
    region = sample(c("North", "Peak"), n, TRUE), quantity = sample.int(9L, n, TRUE),
    net = round(stats::runif(n, 50, 2500), 2)
  )
}

kind_names <- c("order", "date", "customer", "region", "quantity", "net")

# The lines of a table below a header, each cell written by the function of its column.
kind_lines <- function(sales, separator = ",", header = kind_names, date = format,
  net = function(x) sprintf("%.2f", x), quantity = as.character, customer = identity, order = as.character) {
  cells <- list(order(sales$order), date(sales$date), customer(sales$customer), sales$region,
    quantity(sales$quantity), net(sales$net))
  c(if (!is.null(header)) paste(header, collapse = separator), do.call(paste, c(cells, sep = separator)))
}

months_in <- function(names, pattern) {
  function(dates) {
    parts <- as.POSIXlt(dates)
    sprintf(pattern, parts$mday, names[parts$mon + 1L], parts$year + 1900L)
  }
}

fixed_fields <- function(lines, widths, right = 6L) {
  cells <- strsplit(lines, ",", fixed = TRUE)
  vapply(cells, function(texts) {
    pad <- strrep(" ", widths - nchar(texts))
    paste0(ifelse(seq_along(texts) == right, paste0(pad, texts), paste0(texts, pad)), collapse = "")
  }, "")
}

# Each a function of the table that gives lines of UTF-8 text.
export_kinds <- function() {
  between <- function(lines, ...) append(lines, c(...), 20L)
  list(
    plain = function(s) kind_lines(s),
    "no header" = function(s) kind_lines(s, header = NULL),
    "no header, decimal commas" = function(s) kind_lines(s, ";", NULL, net = function(x) sub(".", ",",
      sprintf("%.2f", x), fixed = TRUE)),
    "years in front in two digits" = function(s) kind_lines(s, date = function(d) format(d, "%y-%m-%d")),
    "years behind in two digits" = function(s) kind_lines(s, date = function(d) format(d, "%d/%m/%y")),
    "comment lines" = function(s) between(c("# made in July", kind_lines(s), "# end"), "# second, half"),
    "footer below an empty line" = function(s) c(kind_lines(s), "", "Printed by: Anna, on Friday",
      "All amounts in GBP"),
    "cells dropped at the end" = function(s) {
      lines <- kind_lines(s, header = c(kind_names, "note"))
      lines
    },
    "notes at some ends" = function(s) {
      lines <- kind_lines(s, header = c(kind_names, "note"))
      lines[-1L] <- paste0(lines[-1L], rep(c("", ",urgent"), length.out = nrow(s)))
      lines
    },
    "a separator at the end of each order" = function(s) {
      lines <- kind_lines(s)
      c(lines[1L], paste0(lines[-1L], ","))
    },
    "a separator at the end of each line" = function(s) paste0(kind_lines(s), ","),
    "fixed widths" = function(s) fixed_fields(kind_lines(s), c(8L, 12L, 18L, 8L, 10L, 10L)),
    "fixed widths without blanks" = function(s) fixed_fields(kind_lines(s), c(8L, 10L, 18L, 8L, 10L, 10L)),
    "apostrophes before numbers" = function(s) kind_lines(s, net = function(x) sprintf("'%.2f", x),
      order = function(x) paste0("'", x)),
    "apostrophes round texts" = function(s) kind_lines(s, customer = function(x) paste0("'", x, "'")),
    "German months" = function(s) kind_lines(s, date = months_in(c("Januar", "Februar", "M\u00e4rz", "April",
      "Mai", "Juni", "Juli", "August", "September", "Oktober", "November", "Dezember"), "%d. %s %d")),
    "French months" = function(s) kind_lines(s, date = months_in(c("janv.", "f\u00e9vr.", "mars", "avril",
      "mai",
      "juin", "juil.", "ao\u00fbt", "sept.", "oct.", "nov.", "d\u00e9c."), "%d %s %d")),
    "Spanish months" = function(s) kind_lines(s, date = months_in(c("enero", "febrero", "marzo", "abril",
      "mayo",
      "junio", "julio", "agosto", "septiembre", "octubre", "noviembre", "diciembre"), "%d de %s de %d")),
    "Italian months" = function(s) kind_lines(s, date = months_in(c("gen", "feb", "mar", "apr", "mag",
      "giu", "lug",
      "ago", "set", "ott", "nov", "dic"), "%d-%s-%d")),
    "Dutch months" = function(s) kind_lines(s, date = months_in(c("januari", "februari", "maart", "april",
      "mei",
      "juni", "juli", "augustus", "september", "oktober", "november", "december"), "%d %s %d")),
    "seconds since 1970" = function(s) kind_lines(s, date = function(d) as.character(as.numeric(d) * 86400 +
      36000)),
    "milliseconds since 1970" = function(s) kind_lines(s, date = function(d) {
      format((as.numeric(d) * 86400 + 36000) * 1000, scientific = FALSE, trim = TRUE)
    }),
    "times with a.m. and p.m." = function(s) kind_lines(s, date = function(d) {
      paste(format(d, "%d/%m/%Y"), c("2:30 p.m.", "11:05 a.m."))
    }),
    "months as dates" = function(s) kind_lines(s, date = function(d) format(d, "%Y-%m")),
    "months by name as dates" = function(s) kind_lines(s, date = function(d) {
      paste(month.abb[as.POSIXlt(d)$mon + 1L], format(d, "%Y"))
    }),
    "days without a date" = function(s) c(kind_lines(s), "2000,0000-00-00,Moor Hall,Peak,1,500.00"),
    "thousands in short" = function(s) {
      kind_lines(s, net = function(x) sprintf("%sk", format(x / 1000, digits = 15L, trim = TRUE)))
    },
    "Indian groups" = function(s) kind_lines(s, ";", net = function(x) {
      digits <- sprintf("%.2f", x)
      sub("^([0-9]+)([0-9]{3}[.])", "\\1,\\2", digits)
    }),
    "two lines of header" = function(s) c(",,Customer,Customer,Amount,Amount", kind_lines(s)),
    "a title of two cells" = function(s) c("Harrowgill Stone Yard,Orders,,,,", kind_lines(s)),
    "units in brackets" = function(s) kind_lines(s, header = c("order", "date", "customer", "region",
      "quantity [pcs]", "net [GBP]")),
    "units in cells" = function(s) kind_lines(s, quantity = function(x) paste(x, "pcs"),
      net = function(x) sprintf("%.2f GBP", x)),
    "a line of units" = function(s) append(kind_lines(s), "-,-,-,-,pcs,GBP", 1L),
    "a line of units after each header" = function(s) {
      lines <- append(kind_lines(s), "(no),(date),,,(pcs),(GBP)", 1L)
      append(lines, lines[1:2], 22L)
    },
    "a ruled line" = function(s) append(kind_lines(s), "----,----,----,----,----,----", 1L),
    "an order mark inside" = function(s) {
      lines <- kind_lines(s)
      append(lines, paste0("\ufeff", lines[1L]), 20L)
    },
    "a page with a table" = function(s) {
      cells <- strsplit(sub("&", "&amp;", kind_lines(s)), ",", fixed = TRUE)
      rows <- vapply(cells, function(texts) paste0("<td>", texts, "</td>", collapse = ""), "")
      c("<html><body><table>", paste0("<tr>", rows, "</tr>"), "</table></body></html>")
    },
    "names in German" = function(s) kind_lines(s, ";", c("Lfd", "Belegdatum", "Kunde", "Gebiet", "Menge",
      "Umsatz"),
      order = function(x) as.character(seq_along(x)), date = function(d) format(d, "%d.%m.%Y"),
      net = function(x) sub(".", ",", sprintf("%.2f", x), fixed = TRUE)),
    "a total by another word" = function(s) c(kind_lines(s),
      sprintf(",2025-12-31,North total,,,%.2f", sum(s$net))),
    "carried forward" = function(s) between(kind_lines(s), sprintf(",,Carried forward,,,%.2f",
      sum(s$net[1:19])),
      sprintf(",,Brought forward,,,%.2f", sum(s$net[1:19]))),
    "amounts as text of JSON" = function(s) {
      sprintf("{\"date\":\"%s\",\"customer\":\"%s\",\"net\":\"\u00a3%s\"}", s$date, s$customer,
        format(s$net, big.mark = ",", nsmall = 2L, trim = TRUE))
    }
  )
}

export_file <- function(kind, lines, env = parent.frame()) {
  ending <- if (startsWith(kind,
    "amounts as text of JSON")) ".jsonl" else if (kind == "a page with a table") ".xls"
    else ".csv"
  path <- withr::local_tempfile(fileext = ending, .local_envir = env)
  writeBin(charToRaw(enc2utf8(paste0(paste(lines, collapse = "\n"), "\n"))), path)
  path
}

# The orders of a file, by the command that an error prints where there is one; at most two steps.
orders_by_advice <- function(path) {
  reading <- call("read_orders", path)
  for (step in 1:3) {
    told <- NULL
    orders <- tryCatch(eval(reading), drystack_error = function(e) {
      told <<- conditionMessage(e)
      NULL
    })
    if (is.null(told)) {
      return(list(orders = orders, steps = step - 1L))
    }
    said <- regmatches(told, regexpr("read_orders(\\((?:[^()]|(?1))*\\))", told, perl = TRUE))
    if (length(said) == 0L) stop("nothing leads on: ", told)
    reading <- str2lang(said)
  }
  stop("two steps are not enough: ", told)
}
