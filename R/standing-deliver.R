# How the pages of a build are handed out: what the report says under `deliver`, or who builds it.
#
# each, key: the columns of recipients, one page for each: what they are called, and what tells them
#   apart; recipients: those whose pages are built, NULL for all
# changed_only: pages that are as they stand are left alone; keep_going: a page that
# fails leaves the
#   others; at_once: how many are made at the same time; keep_builds: how many builds are kept

read_delivery <- function(document, given) {
  said <- document$said$deliver
  value <- function(name, default = NULL) given[[name]] %||% unlist(said[[name]]) %||% default
  key <- value("key")
  each <- value("each", key)
  delivery <- list(
    each = each, key = key %||% each, recipients = value("recipients"),
    changed_only = check_choice(value("only", "all"), delivery_words, "only") == "changed",
    keep_going = value("keep_going", FALSE), at_once = value("at_once", 1L),
    keep_builds = value("keep_builds", most_told),
    of_report = setdiff(names(said), names(Filter(Negate(is.null), given)))
  )
  check_flag(delivery$keep_going, "keep_going")
  where_delivered(document, delivery, "at_once", check_whole(delivery$at_once, "at_once", 1L, 64L))
  where_delivered(document, delivery, "keep_builds",
    check_whole(delivery$keep_builds, "keep_builds", 1L))
  if (is.null(each) && !is.null(delivery$recipients)) raise("argument", c(
    paste0(argument_said("recipients"), " are the members of a column."),
    ">" = "Say which: {.code each = \"depot\"}."))
  delivery
}

# An error of what the report says under `deliver` names its line, one of an option
# or argument that.
where_delivered <- function(document, delivery, name, code) {
  if (name %in% delivery$of_report) at_line(document, list("deliver", name), code) else code
}
