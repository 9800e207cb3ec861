#' @export
format.drystack_plan <- function(x, ...) {
  own_setting()
  members <- if (length(x$members) > 0L) paste(format_count(x$members), names(x$members),
    collapse = " by ")
    else "one group"
  shown_text(c(
    paste0("Plan: ", x$title),
    paste0(
      "  orders   ", counted_lines(x$rows), ", read ", if (length(x$jobs) == 1L) "once" else paste(
        length(x$jobs), "times, once for each set of conditions"
      )
    ),
    unlist(lapply(seq_along(x$jobs), function(i) job_lines(x$jobs[[i]], i))),
    paste0("  keys     ", members, "; ", x$levels, if (x$levels == 1L) " level" else " levels"),
    paste0(
      "  memory   about ", format_bytes(x$memory$states + x$memory$rows),
      " for ", format_count(x$memory$cells), " cells"
    )
  ))
}

job_lines <- function(job, i) {
  amounts <- vapply(
    job$amounts, function(needs) {
      if (length(needs) == 0L) "known" else paste(needs, collapse = ", ")
    }, ""
  )
  c(
    paste0("  pass ", i, "   by ", job$date, if (!is.null(job$entity))
      paste0(" and ", job$entity), "; ",
           if (length(job$conditions) > 0L) paste(job$conditions,
             collapse = " and ") else "all orders"),
    if (length(amounts) > 0L) paste0("           ", names(amounts), ": ", amounts),
    if (job$rows) "           the rows of each cell",
    paste0("           ", format_count(job$spans), " spans, ",
      day_words(job$days[1L]), " to ", day_words(job$days[2L]))
  )
}

#' @export
print.drystack_plan <- function(x, ...) {
  writeLines(styled_lines(format(x)))
  invisible(x)
}
