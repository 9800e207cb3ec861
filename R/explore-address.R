# An ask, and the report whose orders it asks, as the end of an address, and back. What an address
# holds comes from anywhere: it is checked field by field, and nothing of it is more than a text to
# be read as one that was typed.

address_of <- function(ask, report = "") {
  plain <- empty_ask()
  told <- ask[!unlist(Map(identical, ask, plain[names(ask)]))]
  if (nzchar(report)) told$report <- report
  jsonlite::base64url_enc(charToRaw(as.character(
    jsonlite::toJSON(told, auto_unbox = TRUE, null = "null"))))
}

longest_address <- 200000L

ask_of_address <- function(address) {
  said <- read_address(address)
  ask_from(said[rlang::names2(said) != "report"])
}

report_of_address <- function(address) {
  report <- read_address(address)$report %||% ""
  if (is_one_text(report)) report else raise_address("Its report is not the name of a file.")
}

read_address <- function(address) {
  if (nchar(address) > longest_address) raise_address("It is too long.")
  rlang::try_fetch({
    text <- rawToChar(jsonlite::base64url_dec(address))
    Encoding(text) <- "UTF-8"
    stopifnot(validUTF8(text))
    said <- jsonlite::fromJSON(text, simplifyVector = FALSE)
    stopifnot(is.list(said))
    said
  }, error = unless_ours(function(e) raise_address("It was cut off or changed.")))
}

raise_address <- function(why) {
  raise("address", c("The address holds no question for this explorer.", "x" = why,
    ">" = "Start again without it; what is shown now stays."))
}

# An ask from what was said in its shape: each field of the kind it must be.
ask_from <- function(said) {
  plain <- empty_ask()
  if (!is.list(said) || !identical(anyDuplicated(rlang::names2(said)), 0L)) {
    raise_address("It is not a list of fields.")
  }
  unknown <- setdiff(rlang::names2(said), names(plain))
  if (length(unknown) > 0L) raise_address(paste0("It has a field ", quoted(unknown[1L]), "."))
  for (field in names(said)) plain[[field]] <- field_from(said[[field]], field, plain[[field]])
  for (key in names(Filter(Negate(is.null), set_choices()))) {
    if (!plain[[key]] %in% set_choices()[[key]])
      raise_address(paste0("Its ", quoted(key), " is not known."))
  }
  plain
}

field_from <- function(value, field, plain) {
  wrong <- function() raise_address(paste0("Its ", quoted(field), " is not what it must be."))
  if (field == "measures") {
    return(lapply(value, measure_from))
  }
  if (is.list(plain)) {
    return(if (is_texts_by_name(value)) plain_list(value) else wrong())
  }
  if (is.logical(plain)) {
    return(if (isTRUE(value) || isFALSE(value)) value else wrong())
  }
  value <- unlist(value) %||% character()
  fits <- is.character(value) && !anyNA(value) && (length(plain) == 0L || length(value) == 1L)
  if (fits) unname(value) else wrong()
}

is_texts_by_name <- function(value) {
  is.list(value) && (length(value) == 0L || !is.null(names(value))) &&
    all(vapply(value, is_one_text, NA))
}

measure_from <- function(value) {
  if (!is.list(value)) raise_address("One of its figures is not a figure.")
  plain <- explored_measure("", "")
  texts <- setdiff(names(plain), "hidden")
  known <- all(names(value) %in% names(plain)) &&
    all(vapply(value[names(value) %in% texts], is_one_text, NA))
  if (!known || !all(c("name", "text") %in% names(value)))
    raise_address("One of its figures is not a figure.")
  plain[names(value)] <- value
  plain$hidden <- isTRUE(value$hidden)
  plain
}
