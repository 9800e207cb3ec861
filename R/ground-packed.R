# Columns packed into few bytes: texts by their number among the different ones, dates and numbers as whole
# numbers where they are some, doubles in full where they are not. A packed column is list(kind, n, texts,
# scale, bytes), with `unknown` the packed places of what is missing, where anything is.

packed_column <- function(x) {
  if (is_coded(x)) {
    return(packed_values(list(kind = "text", n = length(x$codes), texts = x$texts), as.numeric(x$codes), 1))
  }
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
  packed_values(packed, values, if (kind %in% c("text", "logical") || is.integer(x)) 1)
}

packed_values <- function(packed, values, scale) {
  if (anyNA(values)) {
    missing <- is.na(values)
    packed$unknown <- kernel_pack_whole(as.numeric(missing))
    values[missing] <- 0
  }
  packed$scale <- scale %||% kernel_whole_scale(values)
  packed$bytes <- if (packed$scale > 0) kernel_pack_whole(values, packed$scale)
    else writeBin(values, raw(), endian = "little")
  packed
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
