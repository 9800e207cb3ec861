# Attacks on what is written: a full disk, runs that are killed, two at once. What stood before
# stands whole, or the new file does.

formats <- c("html", "pdf", "xlsx", "md", "csv", "json", "parquet", "txt")

writer_faults <- function() {
  folder <- drystack::harrowgill_folder(tempfile("writers-"))
  on.exit(unlink(folder, recursive = TRUE))
  c(full_disk_faults(folder), read_only_faults(folder), killed_faults(folder), twin_faults(folder))
}

table_words <- function(by, out) {
  c("rollup", "--orders", "orders.csv", "--date", "ordered_on",
    "--by", by, "--show", "s = sum(amount)", "--out", out)
}

# A disk of 40 kB, where it can be mounted.
full_disk_faults <- function(folder) {
  disk <- file.path(folder, "disk")
  dir.create(disk)
  if (system2("mount", c("-t", "tmpfs", "-o", "size=40k", "tmpfs", disk),
    stdout = FALSE, stderr = FALSE) != 0L) {
    cat("attack: no small disk can be mounted here; full disks were not tried\n")
    return(character())
  }
  on.exit(system2("umount", disk))
  faults <- lapply(formats, function(format) {
    path <- file.path(disk, paste0("a.", format))
    run(table_words("year", path), folder, 1e8)
    before <- tools::md5sum(path)
    try(suppressWarnings(writeBin(raw(39000L), file.path(disk, "fill"))), silent = TRUE)
    found <- run(table_words("customer_id", path), folder, 1e8)
    after <- tools::md5sum(path)
    unlink(list.files(disk, full.names = TRUE, all.files = TRUE, no.. = TRUE))
    if (found$status == 0L) paste("full disk:", format, "ended with 0")
    else if (!identical(before, after)) paste("full disk:", format, "was damaged")
    else if (fault_of_run(found) != "") paste("full disk:", format, fault_of_run(found))
  })
  unlist(faults)
}

# A disk that became read-only after a first file was written: the second run fails,
# and the first file stands.
read_only_faults <- function(folder) {
  disk <- file.path(folder, "fixed")
  dir.create(disk)
  mounted <- function(options) system2("mount", c("-o", options, disk), stdout = FALSE, stderr = FALSE)
  if (system2("mount", c("-t", "tmpfs", "-o", "size=4m", "tmpfs", disk),
    stdout = FALSE, stderr = FALSE) != 0L) {
    return(character())
  }
  on.exit(system2("umount", disk))
  paths <- file.path(disk, paste0("a.", formats))
  for (path in paths) run(table_words("year", path), folder, 1e8)
  run(build_words("2026-07-31", disk), folder, 1e8)
  before <- tools::md5sum(list.files(disk, full.names = TRUE))
  mounted("remount,ro")
  found <- lapply(paths, function(path) run(table_words("month", path), folder, 1e8))
  found <- c(found, list(run(build_words("2026-08-31", disk), folder, 1e8)))
  names <- c(formats, "build")
  ended <- vapply(found, `[[`, 1L, "status")
  words <- vapply(found, fault_of_run, "")
  c(
    if (any(ended != 1L)) paste("read-only:", names[ended != 1L], "ended with", ended[ended != 1L]),
    if (any(words != "")) paste("read-only:", names[words != ""], words[words != ""]),
    if (!identical(before, tools::md5sum(list.files(disk, full.names = TRUE)))) "read-only: a file changed"
  )
}

build_words <- function(as_of, out) {
  c("build", "monthly.yml", "--set", paste0("as_of=", as_of), "--out", out, "--format", "html,pdf,xlsx,md")
}

# Killed at 20 moments.
killed_faults <- function(folder) {
  sums <- function(out) tools::md5sum(sort(list.files(file.path(folder, out), full.names = TRUE)))
  run(build_words("2026-07-31", "before"), folder, 1e8)
  run(build_words("2026-08-31", "after"), folder, 1e8)
  faults <- lapply(seq_len(20L), function(i) {
    unlink(file.path(folder, "killed"), recursive = TRUE)
    dir.create(file.path(folder, "killed"))
    file.copy(list.files(file.path(folder, "before"), full.names = TRUE), file.path(folder, "killed"))
    signal <- c("TERM", "KILL")[i %% 2L + 1L]
    command <- sprintf("cd %s; timeout -s %s %.2f %s %s > /dev/null 2>&1",
      shQuote(folder), signal, 0.15 * i, shQuote(program),
      paste(shQuote(build_words("2026-08-31", "killed")), collapse = " "))
    system2("sh", c("-c", shQuote(command)), stdout = FALSE, stderr = FALSE)
    left <- left_processes(folder)
    now <- unname(sums("killed"))
    whole <- now %in% c(unname(sums("before")), unname(sums("after"))) | dated_formats("killed", folder)
    c(
      if (length(left) > 0L) sprintf("killed by %s after %.2f s: %d processes left",
        signal, 0.15 * i, length(left)),
      if (!all(whole)) sprintf("killed by %s after %.2f s: a file is neither the old one nor the new one",
        signal, 0.15 * i)
    )
  })
  run(build_words("2026-08-31", "killed"), folder, 1e8)
  left <- list.files(file.path(folder, "killed"), "^[.]drystack-", all.files = TRUE)
  c(unlist(faults), if (length(left) > 0L) "files aside were not cleared by the next run")
}

# The processes that name a folder, once they have had two seconds to end. The pattern is not
# found in the search itself.
left_processes <- function(folder) {
  if (!nzchar(Sys.which("pgrep"))) {
    return(character())
  }
  pattern <- shQuote(sub("writers", "[w]riters", basename(folder)))
  for (wait in 1:10) {
    left <- suppressWarnings(system2("pgrep", c("-f", pattern), stdout = TRUE, stderr = FALSE))
    if (length(left) == 0L) break
    Sys.sleep(0.2)
  }
  left
}

# PDF and xlsx hold the time they were made: these are held against their ends.
dated_formats <- function(out, folder) {
  paths <- sort(list.files(file.path(folder, out), full.names = TRUE))
  vapply(paths, function(path) {
    tryCatch({
      drystack:::check_written(path)
      grepl("[.](pdf|xlsx)$", path)
    }, error = function(e) FALSE)
  }, NA, USE.NAMES = FALSE)
}

# Two builds into one folder at once: each file is one of them, whole.
twin_faults <- function(folder) {
  one <- function(as_of) {
    sprintf("%s %s > /dev/null 2>&1", shQuote(program),
      paste(shQuote(build_words(as_of, "twin")), collapse = " "))
  }
  command <- sprintf("cd %s; %s & %s; wait", shQuote(folder), one("2026-07-31"), one("2026-08-31"))
  system2("sh", c("-c", shQuote(command)), stdout = FALSE, stderr = FALSE)
  sums <- function(out) unname(tools::md5sum(sort(list.files(file.path(folder, out), full.names = TRUE))))
  now <- sums("twin")
  whole <- now %in% c(sums("before"), sums("after")) | dated_formats("twin", folder)
  left <- list.files(file.path(folder, "twin"), "^[.]drystack-", all.files = TRUE)
  c(
    if (length(now) == 0L || !all(whole)) "two at once: a file is neither's",
    if (length(left) > 0L) "two at once: files aside were left"
  )
}
