# Columns packed into few bytes: texts by their number among the different ones, dates and numbers as whole
# numbers where they are some, doubles in full where they are not. A packed column is list(kind, n, texts,
# scale, bytes), with `unknown` the packed places of what is missing, where anything is.

packed_column <- function(x) {
  if (is.factor(x)) x <- as.character(x)
  if (inherits(x, "integer64")) x <- plain_values(x)
  kind <- if (is.character(x)) "text" else if (is.logical(x)) "logical" else if (inherits(x, "Date")) "date"
    else if (inherits(x, "POSIXct")) "time" else "number"
  packed <- list(kind = kind, n = length(x))
  if (kind == "text") {
    coded <- kernel_encode(x, thread_count())
    packed$texts <- enc2utf8(as.character(x[coded$first]))
    values <- as.numeric(coded$codes)
  } else {
    values <- as.numeric(unclass(x))
  }
  missing <- is.na(values)
  if (any(missing)) {
    packed$unknown <- kernel_pack_whole(as.numeric(missing))
    values[missing] <- 0
  }
  packed$scale <- if (kind %in% c("text", "logical") || is.integer(x)) 1 else whole_scale(values)
  packed$bytes <- if (packed$scale == 1) kernel_pack_whole(values)
    else if (packed$scale > 0) kernel_pack_whole(round(values * packed$scale)) else writeBin(values, raw(),
      endian = "little")
  packed
}

# 1, 100 or 10,000 where all values are whole numbers of its parts, 0 where they are not.
whole_scale <- function(values) {
  if (length(values) == 0L) {
    return(1)
  }
  if (!all(is.finite(values)) || max(abs(values)) >= 2^50 / 10000) {
    return(0)
  }
  for (scale in c(1, 100, 10000)) if (all(round(values * scale) / scale == values)) return(scale)
  0
}

unpacked_column <- function(packed) {
  n <- packed$n
  if (packed$scale > 0) {
    values <- kernel_unpack_whole(packed$bytes, n) / packed$scale
  } else {
    if (length(packed$bytes) != 8 * n) stop("the packed values are cut off")
    values <- readBin(packed$bytes, "double", n, endian = "little")
  }
  if (!is.null(packed$unknown)) values[kernel_unpack_whole(packed$unknown, n) != 0] <- NA
  switch(packed$kind,
    text = packed$texts[values], logical = as.logical(values), date = as.Date(values, origin = "1970-01-01"),
    time = as.POSIXct(values, origin = "1970-01-01", tz = "UTC"), number = values,
    stop("the packed values are damaged")
  )
}
