# Passes over the parts: of each its columns, what is worked out of them, and what that gives. Parts
# that are still to be read are worked on in processes of their own, several at once, so that
# reading one and folding another overlap, and only what they gave comes back. All else
# is done here.

# Calls work(frame, i) for each part, with the columns of some ids, and take(gave, i) with what that
# gave, in the order of the parts: the results are those of take(). here: whether what work() gives
# can be used in this process only.
over_parts <- function(engine, ids, work, take = function(gave, i) gave, here = FALSE) {
  over_columns(engine, source_names(engine, ids), work, take, here)
}

# With columns of the files. All different texts of a column are known after its first pass.
over_columns <- function(engine, names, work, take = function(gave, i) gave, here = FALSE) {
  part_done <- part_teller(length(engine$parts))
  # How far one part is says nothing of all of them.
  rlang::local_options(drystack.progress = NULL)
  pass <- list(names = union(engine$date$name, names), work = work, take = function(gave, i) {
    took <- take(gave, i)
    part_done(i)
    took
  })
  batches <- if (here) list() else batches_to_read(engine, pass$names)
  done <- if (length(batches) > 1L) pass_apart(engine, pass, batches)
  done <- done %||% again_where_retyped(function() pass_here(engine, pass))
  engine$known_texts <- union(engine$known_texts, intersect(names, names(engine$texts)))
  done
}

pass_here <- function(engine, pass) {
  # In a process that works on one part there is no pass over all of them: see pass_apart().
  if (is_apart()) rlang::abort("", class = "drystack_needs_all")
  lapply(seq_along(engine$parts), function(i) {
    pass$take(pass$work(part_frame(engine, i, pass$names), i), i)
  })
}

# Again from the beginning where a column turns out to be texts.
again_where_retyped <- function(pass) {
  repeat {
    done <- rlang::try_fetch(pass(), drystack_retyped = function(e) NULL)
    if (!is.null(done)) {
      return(done)
    }
  }
}

# The parts one process takes at a time, where some are to be read: as many as make it worth
# its while.
batches_to_read <- function(engine, names) {
  parts <- seq_along(engine$parts)
  held <- ls(engine$held)
  missing <- vapply(parts, function(i) !all(held_key(i, names) %in% held), NA)
  if (!any(missing) || is_apart() || !forks_safely() || thread_count() < 2L) {
    return(list())
  }
  bytes <- ifelse(missing, vapply(engine$parts, function(part) part$bytes + 0, 0), 0)
  unname(split(parts, cumsum(bytes) %/% batch_bytes()))
}

batch_bytes <- function() min(2^24, allowed_memory() / 256)

# NULL where a part needs what only a pass here can settle: the kind of a column, days in text, the
# labels of all parts.
pass_apart <- function(engine, pass, batches) {
  done <- vector("list", length(engine$parts))
  at_once <- processes_at_once(vapply(engine$parts, function(part) part$bytes + 0, 0))
  each <- max(1L, thread_count() %/% at_once)
  take <- function(gave, b) {
    if (gave$unsettled) rlang::abort("", class = "drystack_needs_all")
    for (k in seq_along(batches[[b]])) {
      i <- batches[[b]][k]
      for (learned in gave$learned[[k]]) learn_column(engine, i, learned)
      took <- pass$take(gave$gave[[k]], i)
      if (!is.null(took)) done[[i]] <<- took
    }
  }
  rlang::try_fetch(
    {
      in_processes(length(batches), at_once, function(b) {
        rlang::local_options(drystack.threads = each)
        batch_worked_on(engine, pass, batches[[b]])
      }, take, function(b) raise_ended(engine$parts[[batches[[b]][1L]]]$path))
      done
    },
    drystack_retyped = function(e) NULL, drystack_needs_all = function(e) NULL
  )
}

# list(gave, learned: of each part; unsettled: whether that is why there are none)
batch_worked_on <- function(engine, pass, parts) {
  rlang::try_fetch(
    {
      worked <- lapply(parts, part_worked_on, engine = engine, pass = pass)
      list(gave = lapply(worked, `[[`, "gave"), learned = lapply(worked, `[[`, "learned"),
        unsettled = FALSE)
    },
    drystack_retyped = function(e) list(unsettled = TRUE),
    drystack_needs_all = function(e) list(unsettled = TRUE)
  )
}

raise_ended <- function(path) {
  raise_unreadable(path, paste0("the process that read it has ended: it is damaged, or there is ",
    "too little memory"))
}

part_worked_on <- function(i, engine, pass) {
  read <- part_read(engine, i, pass$names)
  for (learned in read$learned) settle_kind(engine, learned)
  list(gave = pass$work(frame_of_columns(engine, i, read$columns), i), learned = read$learned)
}

# Tells options(drystack.progress = ) how many of the parts are done, once this takes some seconds.
part_teller <- function(parts) {
  progress <- getOption("drystack.progress")
  after <- getOption("drystack.progress_after", 2)
  begun <- proc.time()[["elapsed"]]
  function(done) {
    if (!is.null(progress) && proc.time()[["elapsed"]] - begun >= after) progress(done / parts)
  }
}
