# An explorer without a browser: a state, what is seen of it, and acts drawn from its own lists.

explored_orders <- function() {
  harrowgill_base <- daybook(
    read_orders(harrowgill_path("orders.csv")), "ordered_on",
    calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
  )
  explore_base(harrowgill_base)
}

state_of <- function(base, ...) {
  state <- new_state(base$ask)
  for (act in list(...)) state <- after_act(state, act)
  state
}

seen_after <- function(base, ...) explored_seen(state_of(base, ...)$now$ask, base, new.env())

faces_of <- function(seen) {
  unlist(lapply(explored_sentence(seen), function(phrase) vapply(phrase$parts, `[[`, "", "text")))
}

items_of <- function(menu) unlist(lapply(menu$groups, `[[`, "items"), recursive = FALSE)

labels_of <- function(menu) vapply(items_of(menu), `[[`, "", "label")

# The act of an item by its label.
item_act <- function(seen, label, ...) {
  menu <- explored_menu(seen, list(...))
  # What stands in a list that a line opens is found by typing.
  if (!label %in% labels_of(menu)) menu <- explored_menu(seen, list(..., search = label))
  at <- match(label, labels_of(menu))
  if (is.na(at)) stop("no item ", label, " among ", paste(labels_of(menu), collapse = "; "))
  items_of(menu)[[at]]$act
}

one_of <- function(x) x[[sample.int(length(x), 1L)]]

# An act that the sentence offers: a part, and an item of its list.
random_act <- function(seen) {
  if (stats::runif(1L) < 0.1) {
    return(list(do = one_of(c("undo", "redo"))))
  }
  phrases <- explored_sentence(seen)
  parts <- unlist(lapply(phrases, function(phrase) {
    c(phrase$parts, if (!is.null(phrase$plus)) list(list(menu = phrase$plus$menu, at = 0L)))
  }), recursive = FALSE)
  part <- one_of(parts)
  menu <- explored_menu(seen, list(menu = part$menu, at = part$at))
  for (deep in 1:2) {
    if (!is.null(menu$multi)) {
      return(random_limit(menu))
    }
    item <- one_of(items_of(menu))
    if (is.null(item$menu)) break
    menu <- explored_menu(seen, item$menu)
  }
  if (is.null(item$act)) {
    return(list(do = "set", key = "history", value = "quarter"))
  }
  if (!is.null(item$typed)) item$act[[item$typed$key]] <- switch(item$typed$key, label = "A label", text = "",
    "")
  item$act
}

random_limit <- function(menu) {
  values <- unlist(lapply(items_of(menu), `[[`, "value"))
  chosen <- sample(values, min(length(values), sample(1:3, 1L)))
  list(do = "limit", column = menu$multi$column, members = as.list(setdiff(chosen, "NA")),
    none = "NA" %in% chosen,
    except = stats::runif(1L) < 0.4)
}

# The words of a command as the shell gives them.
shell_words <- function(text) {
  file <- withr::local_tempfile(lines = c(paste0("set -- ", sub("^drystack ", "", text)),
    "printf '%s\\001' \"$@\""))
  strsplit(paste(system2("sh", file, stdout = TRUE), collapse = "\n"), "\001", fixed = TRUE)[[1L]]
}
