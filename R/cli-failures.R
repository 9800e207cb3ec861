# What goes wrong, on standard error.

# What no error of ours foresees.
say_fault <- function(e) {
  tell("drystack: this should not have happened.")
  tell("  ", gsub("\n", " ", conditionMessage(e)))
  tell("  Please report it with the command and its files.")
  1L
}

say_failure <- function(e, status) {
  writeLines(paste0("drystack: ", rlang::cnd_message(e)), stderr())
  status
}
