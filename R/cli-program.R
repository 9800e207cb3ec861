# The program as the shell sees it: signals, and what becomes of its output.

run_program <- function() {
  kernel_program_signals()
  status <- run_command()
  if (kernel_told_to_end()) {
    return(143L)
  }
  # Somebody who has seen enough closes the pipe: that is no failure.
  if (kernel_output_state() == "failed") {
    tell("drystack: the output could not be written: is the disk full?")
    status <- max(status, 1L)
  }
  status
}

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
