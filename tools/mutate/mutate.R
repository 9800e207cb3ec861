# Draws changes of the core and the kernel, runs for each the tests most specific to it until one fails, and lists
# what none noticed: mutate.R TREE CHANGES SEED. Ends with 1 where fewer than nine in ten are noticed.

suppressMessages({
  library(testthat)
  library(drystack)
})
here <- "tools/mutate"
source(file.path(here, "sites.R"))
source(file.path(here, "blocks.R"))
source("tools/preload.R")
arguments <- commandArgs(TRUE)
tree <- arguments[1L]
wanted <- as.integer(arguments[2L])
seed <- as.integer(arguments[3L])
processes <- max(1L, parallel::detectCores(), na.rm = TRUE)
folder <- file.path(tree, "tests/testthat")
space <- asNamespace("drystack")
Sys.setenv(NOT_CRAN = "true", TESTTHAT = "true", TESTTHAT_PKG = "drystack")
local_edition(3, .env = globalenv())

# Where a function of the package is bound: in the namespace, and in whatever table holds it as a method.
places_of <- function(name) {
  tables <- lapply(loadedNamespaces(), function(one) asNamespace(one)[[".__S3MethodsTable__."]])
  Filter(function(env) {
    is.environment(env) && exists(name, env, inherits = FALSE) &&
      (identical(env, space) || identical(environment(get(name, env)), space))
  }, c(list(space), tables))
}

put <- function(name, fn, places = places_of(name)) {
  environment(fn) <- space
  for (env in places) {
    if (bindingIsLocked(name, env)) unlockBinding(name, env)
    assign(name, fn, envir = env)
  }
}

load_what_is_needed()
functions <- core_functions(tree)
kernel <- utils::read.csv(file.path(tree, "kernel-changes.csv"))
blocks <- test_blocks(folder)
helpers <- helpers_of(folder, space)
setwd(folder)

# Which functions and which places of the kernel each block reaches, and how long it takes. A function that was
# reached is put back as it was, so that it costs nothing from then on.
reached_by <- function(ids) {
  seen <- logical(length(functions))
  names <- vapply(functions, `[[`, "", "name")
  as_they_are <- lapply(names, get, envir = space)
  places <- lapply(names, places_of)
  see <- function(i) {
    seen[i] <<- TRUE
    put(names[i], as_they_are[[i]], places[[i]])
  }
  watched <- lapply(seq_along(functions), function(i) {
    said <- functions[[i]]$said
    said[[3L]] <- bquote({
      .(see)(.(i))
      .(said[[3L]])
    })
    eval(said, space)
  })
  watch <- function(which) for (i in which) put(names[i], watched[[i]], places[[i]])
  watch(seq_along(functions))
  lapply(ids, function(id) {
    seen[] <<- FALSE
    in_kernel()
    began <- proc.time()[["elapsed"]]
    ok <- passes(blocks[[id]], helpers, folder)
    took <- proc.time()[["elapsed"]] - began
    found <- which(seen)
    watch(found)
    list(block = id, ok = ok, seconds = took, functions = found, kernel = in_kernel())
  })
}

in_kernel <- function() which(.C("mutant_reached", nrow(kernel), integer(nrow(kernel)), PACKAGE = "drystack")[[2L]] > 0L)

cat("running", length(blocks), "blocks of tests to see what they reach\n")
by_file <- split(seq_along(blocks), vapply(blocks, `[[`, "", "file"))
found <- parallel::mclapply(by_file, reached_by, mc.cores = processes, mc.preschedule = FALSE)
reached <- unlist(unname(Filter(is.list, found)), recursive = FALSE)
unsound <- Filter(function(one) !one$ok, reached)
for (one in unsound) cat("left out, as it does not pass here:", blocks[[one$block]]$name, "\n")
reached <- Filter(function(one) one$ok, reached)
breadth <- vapply(reached, function(one) length(one$functions), 1L)
seconds <- vapply(reached, `[[`, 1, "seconds")

# The blocks that reach something, the most specific first, for as long as `most` seconds.
blocks_for <- function(what, id, most = 60) {
  own <- which(vapply(reached, function(one) id %in% one[[what]], NA))
  own <- own[order(breadth[own] * sqrt(seconds[own] + 0.1))]
  own <- own[cumsum(seconds[own]) <= most | seq_along(own) == 1L]
  vapply(reached[own], `[[`, 1L, "block")
}

# Drawn alike from all functions that hold something to change.
set.seed(seed)
sites <- unlist(lapply(seq_along(functions), function(i) {
  lapply(changes_in(functions[[i]]$said[[3L]], 3L), function(change) c(change, list(of = i)))
}), recursive = FALSE)
drawn <- sites[sample(length(sites), min(length(sites), wanted - nrow(kernel)))]
mutants <- c(lapply(drawn, function(change) {
  fn <- functions[[change$of]]
  told <- told_change(fn$said, change)
  list(where = paste0(fn$file, ", ", fn$name, "()"), kind = change$kind, was = told[1L], is = told[2L],
    make = function() put(fn$name, eval(changed(fn$said, change), space)), blocks = blocks_for("functions", change$of))
}), lapply(kernel$id, function(id) {
  list(where = paste0(kernel$file[id], ":", kernel$line[id]), kind = "kernel", was = kernel$old[id],
    is = kernel$kind[id], make = function() .C("mutant_choose", as.integer(id), PACKAGE = "drystack"),
    blocks = blocks_for("kernel", id))
}))

# In a process of its own, which is ended where it does not end: "killed", "survived" or "not reached".
outcome <- function(mutant) {
  if (length(mutant$blocks) == 0L) {
    return(list(fate = "not reached", by = ""))
  }
  run <- parallel::mcparallel({
    mutant$make()
    by <- NULL
    for (id in mutant$blocks) if (!passes(blocks[[id]], helpers, folder)) {
      by <- blocks[[id]]$name
      break
    }
    list(fate = if (is.null(by)) "survived" else "killed", by = by)
  }, silent = TRUE)
  got <- parallel::mccollect(run, wait = FALSE, timeout = 150)
  if (is.null(got)) {
    tools::pskill(run$pid, tools::SIGKILL)
    suppressWarnings(parallel::mccollect(run))
    return(list(fate = "killed", by = "it does not end"))
  }
  if (is.list(got[[1L]])) got[[1L]] else list(fate = "killed", by = "its process dies")
}

explained <- read.csv(file.path(Sys.getenv("MUTATE_FROM"), here, "alike.csv"), colClasses = "character")

# What no test notices is told as soon as that is known.
fate_told <- function(mutant) {
  fate <- outcome(mutant)$fate
  if (fate != "killed" && paste(mutant$where, mutant$is) %in% paste(explained$where, explained$is)) fate <- "alike"
  if (!fate %in% c("killed", "alike")) {
    cat("\n", fate, " ", mutant$where, " [", mutant$kind, "]\n  was ", mutant$was, "\n  is  ", mutant$is, "\n", sep = "")
  }
  fate
}

cat("trying", length(mutants), "changes\n")
outcomes <- parallel::mclapply(mutants, fate_told, mc.cores = processes, mc.preschedule = FALSE)
fate <- vapply(outcomes, function(one) if (is.character(one) && !inherits(one, "try-error")) one else "killed", "")
cat("\n", paste(names(table(fate)), table(fate), collapse = ", "), "\n", sep = "")
noticed <- sum(fate == "killed") / sum(fate != "alike")
cat("mutate:", sum(fate == "killed"), "of", sum(fate != "alike"), "changes noticed\n")
quit(save = "no", status = if (noticed < 0.9) 1 else 0)
