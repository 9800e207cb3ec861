# Attacks the installed program with hostile files, its writers with full disks and killed runs, kept
# states with several runs at once, and databases with the queries of hostile reports.
# Each run ends within 10 seconds and 2 GB, with an answer that a plain reader agrees with or an
# error of ours, and leaves nothing behind.

here <- "tools/attack"
for (file in c("files.R", "readers.R", "writers.R", "states.R", "reports.R")) sys.source(file.path(here,
  file), globalenv())

program <- file.path(tempfile("program-"), "drystack")
dir.create(dirname(program))
suppressMessages(drystack::install_command_line(dirname(program)))

most_seconds <- 10
most_kilobytes <- 2e6

# list(status, out, err, seconds) of one run of the program.
run <- function(words, folder, bytes = most_kilobytes) {
  out <- file.path(folder, "out")
  err <- file.path(folder, "err")
  command <- sprintf(
    "ulimit -v %.0f; cd %s; exec timeout -s KILL %d %s %s > out 2> err < /dev/null",
    bytes, shQuote(folder), most_seconds + 5L, shQuote(program), paste(shQuote(words), collapse = " ")
  )
  begun <- proc.time()[["elapsed"]]
  status <- suppressWarnings(system2("sh", c("-c", shQuote(command)), stdout = FALSE, stderr = FALSE))
  text <- function(path) paste(readLines(path, warn = FALSE), collapse = "\n")
  list(status = status, out = text(out), err = text(err), seconds = proc.time()[["elapsed"]] - begun)
}

words_of_r <- paste0(
  "Error in|Error:|Warning message|Execution halted|segfault|terminate called|",
  "should not have happened|Calls:|bad_alloc|libpng|write error|could not write"
)

# What is wrong with a run, "" for nothing.
fault_of_run <- function(found) {
  if (found$seconds > most_seconds) {
    return(sprintf("took %.0f seconds", found$seconds))
  }
  if (!found$status %in% 0:2) {
    return(sprintf("ended with %d", found$status))
  }
  if (grepl(words_of_r, found$err)) {
    return(paste("words of R:", substr(found$err, 1L, 200L)))
  }
  if (found$status != 0L && !startsWith(found$err, "drystack: ")) "an error without our words" else ""
}

attacked <- function(number) {
  folder <- tempfile(sprintf("attack-%d-", number))
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  file <- hostile_file(number, folder)
  found <- run(c("rollup", "--orders", basename(file$path), "--date",
    "d", "--show", "s = sum(a)", "--show", "n = count()", "--format", "json"), folder)
  told <- function(what) sprintf("%s %s %d: %s", file$ending, file$damage, number, what)
  fault <- fault_of_run(found)
  if (fault == "" && !setequal(list.files(folder, all.files = TRUE, no.. = TRUE),
    c(basename(file$path), "out", "err"))) {
    fault <- "files were left"
  }
  answered <- found$status == 0L
  if (fault == "" && answered) fault <- fault_of_answer(found$out, file)
  list(answered = answered, fault = if (fault == "") character() else told(fault))
}

fault_of_answer <- function(out, file) {
  row <- jsonlite::fromJSON(out)$tables$rows[[1L]]
  plain <- plain_reader(file)
  if (is.null(plain)) {
    unknown <- file$ending %in% c("parquet", "xlsx") && file$damage != "none"
    return(if (unknown) "" else "answered where a plain reader has no answer")
  }
  close <- abs(row$s - plain$s) <= 1e-9 * max(1, abs(plain$s))
  if (!isTRUE(row$n == plain$n) || !isTRUE(close)) {
    return(sprintf("%s lines and %s, not %s and %s", row$n, format(row$s, digits = 15),
      plain$n, format(plain$s, digits = 15)))
  }
  ""
}

numbers <- seq_len(as.integer(Sys.getenv("ATTACK_FILES", "200")))
found <- parallel::mclapply(numbers, function(number) {
  tryCatch(attacked(number), error = function(e) {
    list(answered = FALSE, fault = sprintf("case %d: %s", number, conditionMessage(e)))
  })
}, mc.cores = 2L, mc.preschedule = FALSE)
faults <- c(unlist(lapply(found, `[[`, "fault")), writer_faults(), state_faults(), report_faults())
answered <- sum(vapply(found, `[[`, NA, "answered"))
cat(sprintf("attack: %d hostile files, %d answered, %d refused\n",
  length(numbers), answered, length(numbers) - answered))
cat(sprintf("attack: %d faults\n", length(faults)))
writeLines(utils::head(faults, 50L))
quit(status = as.integer(length(faults) > 0L))
