# Completion of commands and options by the shells, and the manual page, both made from
# the same lists as the help.

command_options <- function() {
  list(
    look = look_options(), check = check_options(), rollup = table_options("rollup"),
    crosstab = table_options("crosstab"), listing = table_options("listing"),
    headlines = table_options("headlines"), figure = figure_options(),
    build = build_options(), changes = changes_options(), calendar = calendar_options(),
      keep = keep_options(),
    explore = explore_options(), demo = demo_options()
  )
}

option_words <- function(options) paste0("--", c(vapply(options, `[[`, "", "name"), "help"))

completion_lines <- function(shell) {
  check_choice(shell, c("bash", "zsh"), "completion")
  words <- lapply(command_options(), option_words)
  cases <- paste0("    ", names(words), ") words='",
    vapply(words, paste, "", collapse = " "), "' ;;")
  c(
    if (shell == "zsh") "autoload -U +X bashcompinit && bashcompinit",
    "_drystack() {",
    "  local word=${COMP_WORDS[COMP_CWORD]} words",
    "  if [ \"$COMP_CWORD\" -eq 1 ]; then",
    paste0("    COMPREPLY=($(compgen -W '", paste(c(names(words), "--help", "--version"),
      collapse = " "), "' -- \"$word\"))"),
    "    return",
    "  fi",
    "  case ${COMP_WORDS[1]} in",
    cases,
    "  esac",
    "  case $word in",
    "    -*) COMPREPLY=($(compgen -W \"$words\" -- \"$word\")) ;;",
    "    *) COMPREPLY=($(compgen -f -- \"$word\")) ;;",
    "  esac",
    "}",
    "complete -o filenames -F _drystack drystack"
  )
}

# The manual page, in the language of man.
manual_lines <- function() {
  escape <- function(text) {
    gsub("^\\.", "\\\\&.", gsub("-", "\\-", gsub("\\", "\\\\", text, fixed = TRUE), fixed = TRUE))
  }
  options <- function(name) {
    unlist(lapply(command_options()[[name]], function(o) {
      c(
        ".TP", paste0("\\fB", escape(paste0("--", o$name)), "\\fR ", escape(o$meta)),
        escape(if (o$what == "") "see the next option" else o$what)
      )
    }))
  }
  helps <- main_help()
  about <- stats::setNames(helps, trimws(sub("^  drystack ([a-z]+).*$", "\\1", helps)))
  c(
    paste0(".TH DRYSTACK 1 \"\" \"drystack ", utils::packageVersion("drystack"), "\""),
    ".SH NAME", "drystack \\- period totals and comparisons from a file of orders",
    ".SH SYNOPSIS", ".B drystack", "\\fICOMMAND\\fR [options]",
    ".SH DESCRIPTION", "Results go to standard output, messages to standard error.",
    unlist(lapply(names(command_options()), function(name) {
      c(paste(".SH DRYSTACK", toupper(name)), escape(
        sub("^ *drystack [a-z]+ +", "", about[[name]])), options(name))
    })),
    ".SH EXIT STATUS", "0 done, 1 the data or the request is wrong, 2 the command has a mistake."
  )
}

main_help <- function() {
  c(
    "drystack: period totals and comparisons from orders in files and databases",
    "",
    "  drystack look       what is in a file, and a first command to run on it",
    "  drystack check      what to know before trusting an export",
    "  drystack rollup     monthly, quarterly and year-to-date totals by any columns",
    "  drystack crosstab   dimensions and periods down the side and across the top",
    "  drystack listing    order lines under their groups, with totals at each break",
    "  drystack headlines  single figures with their comparison",
    "  drystack figure     draw a table",
    "  drystack build      build a standing report again",
    "  drystack changes    what changed between two exports, and what it moved",
    "  drystack calendar   the periods of a calendar, as a table or a picture",
    "  drystack keep       fold orders once, and answer from what was kept",
    "  drystack explore    explore orders in the browser, through a sentence you can change",
    "  drystack demo       run the example on made-up orders and write its files",
    "",
    "  drystack COMMAND --help    what a command takes, with an example",
    "  drystack --version         the version",
    paste0("  drystack --completion bash|zsh    completion for a shell: eval \"$(drystack ",
      "--completion bash)\""),
    "",
    paste0("Results go to standard output, messages to standard error. Exit status: 0 done, 1 ",
      "the data or the"),
    "request is wrong, 2 the command has a mistake, 130 interrupted."
  )
}
