# Attacks on kept states: several refresh them at once, some are killed on the way, and their files are
# damaged. They are always readable, and the next refresh makes them right.

state_faults <- function(rounds = as.integer(Sys.getenv("ATTACK_ROUNDS", "24"))) {
  folder <- tempfile("states-")
  dir.create(file.path(folder, "o"), recursive = TRUE)
  on.exit(unlink(folder, recursive = TRUE))
  add_lines(folder, 0L)
  run(c("keep", "--orders", "o", "--date", "d", "--by", "g", "--amount", "a", "--out", "kept"), folder)
  unlist(lapply(seq_len(rounds), function(round) {
    add_lines(folder, round)
    if (round %% 6L == 0L) damage_states(folder, round)
    all_at_once(folder, killed = if (round %% 2L == 0L) stats::runif(1L, 0.2, 2))
    wrong <- fault_of_states(folder, readable = round %% 6L != 0L)
    refreshed <- run(c("keep", "--refresh", "kept"), folder)
    right <- states_told(folder)
    c(
      if (wrong != "") sprintf("states, round %d: %s", round, wrong),
      if (fault_of_run(refreshed) != "") sprintf("states, round %d: %s", round, fault_of_run(refreshed)),
      if (!identical(right, plain_total(folder))) sprintf("states, round %d: %s, not %s", round, right,
        plain_total(folder))
    )
  }))
}

add_lines <- function(folder, round) {
  lines <- data.frame(d = as.Date("2026-01-01") + sample(0:300, 200L, TRUE), g = sample(letters, 200L, TRUE),
    a = sample(1000L, 200L, TRUE))
  utils::write.csv(lines, file.path(folder, "o", sprintf("f%03d.csv", round)), row.names = FALSE)
}

plain_total <- function(folder) {
  read <- function(path) sum(utils::read.csv(path)$a)
  format(sum(vapply(list.files(file.path(folder, "o"), full.names = TRUE), read, 1L)))
}

states_told <- function(folder) {
  found <- run(c("rollup", "--orders", "kept", "--date", "d", "--show", "s = sum(a)", "--format", "json"),
    folder)
  if (found$status != 0L) found$err else format(jsonlite::fromJSON(found$out)$tables$rows[[1L]]$s)
}

# Three refresh; the first of them is killed after some seconds, where that is asked for.
all_at_once <- function(folder, killed) {
  one <- paste("exec", shQuote(program), "keep --refresh kept > /dev/null 2>&1")
  commands <- sprintf("(%s) &", c(one, one, one))
  if (!is.null(killed)) commands[1L] <- sprintf("(exec timeout -s KILL %.2f sh -c %s) &", killed,
    shQuote(one))
  system2("sh", c("-c", shQuote(paste("cd", shQuote(folder), "&&", paste(commands, collapse = " "), "wait"))),
    stdout = FALSE, stderr = FALSE)
}

damage_states <- function(folder, round) {
  kept <- list.files(file.path(folder, "kept"), "^states-", full.names = TRUE)
  path <- kept[round %% length(kept) + 1L]
  if (round %% 12L == 0L) unlink(path) else writeBin(as.raw(sample(0:255, 100L, TRUE)), path)
}

# States that stand are whole; those that were damaged are told by a word of ours.
fault_of_states <- function(folder, readable) {
  found <- run(c("rollup", "--orders", "kept", "--date", "d", "--show", "s = sum(a)"), folder)
  if (fault_of_run(found) != "") fault_of_run(found)
  else if (readable && found$status != 0L) paste("cannot be read:", found$err)
  else ""
}
