# What lists of the sentence are made of.
#
# A menu is list(title, typed, groups, more, multi). typed: NULL, or list(says, act, key) for what
# may be typed instead. A group is list(title, items); an item list(label, note, on, act), or with
# `menu` instead of an act another menu, or with `typed` a text to be typed. more: how many
# are not shown.
# multi: NULL, or what the members that are ticked are put into (see act_limit()).

new_menu <- function(title, groups, typed = NULL, multi = NULL, more = 0) {
  groups <- Filter(function(group) length(group$items) > 0L, groups)
  list(title = title, groups = unname(groups), typed = typed, multi = multi, more = more)
}

new_group <- function(title, items) {
  list(title = title, items = unname(Filter(Negate(is.null), items)))
}

new_item <- function(label, act = NULL, note = "", on = FALSE, menu = NULL, typed = NULL,
  value = NULL) {
  list(label = label, note = note, on = on, act = act, menu = menu, typed = typed, value = value)
}

# The place in its phrase that a list is for; 0 for one more.
place_asked <- function(asked, n) {
  if (is.null(asked$at) || identical(as.numeric(asked$at), 0)) 0L else act_at(asked, n)
}

# At most this many of the items are shown; typing finds the others.
most_items <- 200L
