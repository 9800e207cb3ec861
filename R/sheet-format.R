# Figures as they are shown.

# By the format of a measure, or by the figures alone.
format_by <- function(values, format) {
  own_setting()
  format <- format %||% default_format()
  if (length(values) == 0L) {
    return(character())
  }
  text <- switch(format$kind,
    percentage = marked_number(100 * values, format, format$digits, suffix = "%"),
    compact = compact_number(values, format),
    plain = sub("^-", "\u2212", sub(".", format$decimal, number_in_full(values), fixed = TRUE)),
    marked_number(values, format, format$digits %||% fitting_digits(values))
  )
  if (!is.null(format$zero)) text[!is.na(values) & values == 0] <- format$zero
  text[is.na(values)] <- format$unknown
  text
}

# Figures of zero are left blank where the table says so, but for formats that say it themselves.
with_zeros <- function(table) {
  if (table$ask$look$zeros == "blank") {
    table$ask$measures <- lapply(table$ask$measures, function(measure) {
      if (is.null(measure$format)) measure$format <- default_format()
      if (is.null(measure$format$zero)) measure$format$zero <- ""
      measure
    })
  }
  table
}

format_figures <- function(values) format_by(values, NULL)

default_format <- made_once(function() decimal())

# Two decimals unless all are whole, three where all are small.
fitting_digits <- function(values) {
  known <- values[!is.na(values)]
  if (all(known == round(known))) {
    return(0L)
  }
  if (max(abs(known)) < 10) 3L else 2L
}

marked_number <- function(values, format, digits, suffix = "") {
  size <- fixed_number(abs(values), digits, format$decimal)
  if (nzchar(format$thousands)) size <- with_thousands(size, format$thousands)
  signed(paste0(format$symbol, size, suffix), rounded(values, digits), format)
}

# As people round decimals and workbooks do: half away from zero, by the fifteen digits that
# every double tells apart (0.615 lies below its half by less). IEEE 754-2019, 4.3.1, calls
# it roundTiesToAway.
rounded <- function(values, digits) {
  unit <- 10^digits
  size <- abs(values) * unit
  whole <- ifelse(size < 1e15, floor(signif(size, 15L) + 0.5), size)
  sign(values) * whole / unit
}

fixed_number <- function(values, digits, mark) {
  text <- sprintf("%.*f", digits, rounded(values, digits))
  if (mark == ".") text else sub(".", mark, text, fixed = TRUE)
}

with_thousands <- function(text, mark) {
  long <- which(grepl("^[0-9]{4}", text))
  text[long] <- gsub("(?<=[0-9])(?=(?:[0-9]{3})+(?:$|[^0-9]))(?<![^0-9][0-9])", mark,
    text[long], perl = TRUE)
  text
}

# 12.4k, 3.1M: as many digits as are said, of the unit that fits.
compact_number <- function(values, format) {
  units <- c("", "k", "M", "bn")
  size <- ifelse(is.na(values), 0, abs(values))
  power <- findInterval(size, c(1000, 1e6, 1e9))
  power <- pmin(power + (rounded(size / 1000^power, format$digits) >= 1000), 3L)
  scaled <- size / 1000^power
  digits <- ifelse(power == 0L & scaled == round(scaled), 0L, format$digits)
  text <- ifelse(
    digits == 0L, fixed_number(scaled, 0L, format$decimal),
    fixed_number(scaled, format$digits, format$decimal)
  )
  signed(paste0(format$symbol, text, units[power + 1L]), rounded(values, format$digits), format)
}

# What rounds to zero has no sign.
signed <- function(text, values, format) {
  below <- !is.na(values) & values < 0
  text[below] <- if (format$negative == "minus") paste0("\u2212", text[below])
    else paste0("(", text[below], ")")
  above <- format$sign & !is.na(values) & values > 0
  text[above] <- paste0("+", text[above])
  text
}
