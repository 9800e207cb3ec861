# The days on which orders were placed, up to the as-of date, in the scope of a daybook.
sold_days <- function(book, frame) {
  job <- new_job(book)
  days <- seq.int(frame$first, frame$as_of)
  count <- node("aggregate", fn = "count", args = list())
  leaf <- trace_leaf(count, list(cells = interval_cells(days, days), job = job,
    along = NULL), frame)
  frame[c("show_first", "show_last")] <- list(frame$first, frame$as_of)
  planned <- plan_jobs(list(leaf), job, frame)[[job$key]]
  lines <- kernel_finish(fold(engine_of(book), planned, list(), book)$lines, "count")
  planned$spans$cuts[which(colSums(matrix(lines, ncol = planned$spans$count)) > 0)]
}
