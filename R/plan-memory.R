# What a fold will need, before it is done: list(cells, states, rows), in bytes. `sizes`
# are the numbers of members of the dimensions, `entities` those of columns that are
# kept apart, by the key of the job.

memory_needed <- function(plan, sizes, entities, rows) {
  base <- prod(sizes + 1)
  bytes <- vapply(kernel_states(), `[[`, 0, "bytes")
  jobs <- lapply(plan$jobs, function(job) {
    groups <- min(if (is.null(job$entity)) base else base * (entities[[job$key]] + 1), rows)
    per_cell <- 12 + sum(vapply(job$amounts, function(a) {
      12 + sum(bytes[intersect(a$needs, names(bytes))])
    }, 0))
    cells <- groups * job$spans$count
    list(cells = cells, states = cells * per_cell * (thread_count() + 1),
      rows = if (job$rows) 12 * rows else 0)
  })
  total <- function(part) sum(vapply(jobs, `[[`, 0, part))
  list(cells = total("cells"), states = total("states"), rows = total("rows"))
}

# A request that needs more than options(drystack.memory = ) allows fails before any work is done.
# Only the fold can tell for how many cells a sum must be as wide as the range of doubles: these
# are allowed what is left.
check_memory <- function(needed) {
  allowed <- allowed_memory()
  bytes <- needed$states + needed$rows
  if (bytes > allowed) {
    raise("memory", c(
      "The request would need about {format_bytes(bytes)} of memory.",
      "x" = paste0("{format_bytes(allowed)} are allowed: {format_count(needed$cells)} cells are ",
        "asked for."),
      ">" = paste(
        "Ask for fewer dimensions or coarser periods, or allow more:",
        "{.code options(drystack.memory = 8e9)}."
      )
    ))
  }
  kernel_allow_wide(allowed - bytes)
}

# What the kernel cannot number or hold is told in our words.
kernel_in_bounds <- function(code) {
  rlang::try_fetch(code, error = unless_ours(function(e) {
    if (!grepl("2 billion cells|bad_alloc|length_error", conditionMessage(e))) {
      return(rlang::zap())
    }
    raise("memory", c(
      "The request has more cells than memory can hold.", "x" = braces_kept(conditionMessage(e)),
      ">" = "Ask for fewer dimensions or coarser periods."
    ))
  }))
}
