# Questions to a cluster over HTTP and what it answers: settings, how an ask is ended there, errors,
# and cells as values.

# What is set for each ask, whatever the profile of the user says: it may only read, its size is
# that of our queries, and a part of the orders is never taken for all: no server is left out, no
# limit cuts an answer.
clickhouse_settings <- function() {
  overflow <- paste0(c("read", "group_by", "sort", "result", "distinct", "timeout", "set", "join",
    "transfer"),
    "_overflow_mode")
  c(readonly = "2", max_query_size = "100000000", max_ast_elements = "10000000",
    max_expanded_ast_elements = "10000000", extremes = "0", skip_unavailable_shards = "0",
    distributed_group_by_no_merge = "0", join_use_nulls = "0",
    cancel_http_readonly_queries_on_client_close = "1",
    stats::setNames(rep("throw", length(overflow)), overflow))
}

# The answer to a statement, as text; seconds: how long it is waited for, 0 for as long as it takes.
# What a server does not know is not set; a user who may only read may set nothing, and need not.
posted <- function(db, sql, seconds = 0L) {
  settings <- clickhouse_settings()
  settings <- settings[setdiff(names(settings), db$not_set)]
  answer <- sent(db, sql, settings, seconds)
  refused <- refused_settings(answer, names(settings))
  if (length(refused) > 0L) {
    db$not_set <- c(db$not_set, refused)
    return(posted(db, sql, seconds))
  }
  if (answer$status_code != 200L) raise_answer(db, sql, answer$text)
  answer$text
}

refused_settings <- function(answer, settings) {
  if (answer$status_code == 200L) {
    return(character())
  }
  unknown <- sub("^.*Unknown setting '?([A-Za-z_]+)'?.*$", "\\1", answer$text)
  if (unknown %in% settings) {
    return(unknown)
  }
  if (grepl("Cannot (modify|override) .*readonly|readonly mode|should not be changed",
    answer$text)) settings
    else character()
}

# An interrupt ends the ask there too.
sent <- function(db, sql, settings, seconds) {
  session$asked <- (session$asked %||% 0) + 1
  id <- paste0("drystack-", rlang::hash(list(Sys.info()[["nodename"]], Sys.getpid(), Sys.time(),
    session$asked)))
  rlang::try_fetch(fetched(db, sql, c(database = db$database, query_id = id, settings), seconds),
    interrupt = function(e) {
      end_query(db, id)
      rlang::zap()
    },
    error = unless_ours(function(e) {
      if (grepl("aborted by an application callback|interrupt", conditionMessage(e),
        ignore.case = TRUE)) {
        end_query(db, id)
        rlang::interrupt()
      }
      raise("database", c(paste0("The database at ", braces_kept(db$url), " cannot be reached."),
        "x" = braces_kept(trimws(conditionMessage(e)))))
    })
  )
}

# Ended by its id; the servers that it was handed on to end with it.
end_query <- function(db, id) {
  sql <- paste0("KILL QUERY WHERE query_id = ", sql_values(db, id), " ASYNC")
  rlang::try_fetch(fetched(db, sql, c(database = db$database), 5L), error = function(e) NULL,
    interrupt = function(e) NULL)
}

# Gives list(status_code, text).
fetched <- function(db, sql, settings, seconds) {
  # As bytes: a text may have eight million of them.
  handle <- curl::new_handle(postfields = charToRaw(enc2utf8(sql)),
    connecttimeout = database_patience(),
    timeout = seconds)
  login <- Filter(Negate(is.null), list("X-ClickHouse-User" = db$login$user,
    "X-ClickHouse-Key" = db$login$password))
  curl::handle_setheaders(handle, .list = c(list("Content-Type" = "text/plain"), login))
  url <- paste0(db$url, "?", paste0(names(settings), "=", vapply(settings, curl::curl_escape, ""),
    collapse = "&"))
  answer <- curl::curl_fetch_memory(url, handle)
  text <- enc2utf8(rawToChar(answer$content[answer$content != as.raw(0L)]))
  Encoding(text) <- "UTF-8"
  list(status_code = answer$status_code, text = text)
}

raise_answer <- function(db, sql, text) {
  said <- sub(", e[.]what.*$", "", sub("^.*DB::Exception: ", "", trimws(text)))
  raise("database", c(
    paste0("The database could not answer for ", braces_kept(db$words %||% "it"), "."),
    "x" = braces_kept(substr(said, 1L, 500L)), "i" = braces_kept(
      paste("It was asked:", substr(sql, 1L, 300L)))
  ))
}

#' @export
database_rows.drystack_clickhouse <- function(db, sql) {
  text <- posted(db, paste(sql, "FORMAT TabSeparatedWithNamesAndTypes"))
  # An error while rows are sent stands behind them.
  broken <- regmatches(text, regexpr("(?m)^Code: [0-9]+, e.displayText\\(\\).*$",
    text, perl = TRUE))
  if (length(broken) > 0L) raise_answer(db, sql, broken)
  if (!nzchar(text)) {
    return(list())
  }
  # Tabs and line ends within texts are escaped: what is left are those between cells.
  first <- substr(text, 1L, regexpr("\n", text, fixed = TRUE) - 1L)
  columns <- nchar(gsub("[^\t]", "", first)) + 1L
  cells <- strsplit(gsub("\n", "\t", text, fixed = TRUE), "\t", fixed = TRUE)[[1L]]
  if (length(cells) %% columns != 0L || !endsWith(text, "\n")) raise_answer(db, sql,
    "The answer is cut short.")
  all <- matrix(cells, ncol = columns, byrow = TRUE)
  stats::setNames(lapply(seq_len(columns), function(i) typed_cells(all[-(1:2), i], all[2L, i])),
    unescaped(all[1L, ]))
}

# Numbers as doubles, but decimals, which stay as they are written.
typed_cells <- function(cells, type) {
  type <- sub("^Nullable\\((.*)\\)$", "\\1", type)
  cells[cells == "\\N"] <- NA
  if (grepl("^U?Int|^Float", type)) {
    cells[cells %in% c("nan", "inf", "-inf")] <- NA
    return(as.numeric(cells))
  }
  unescaped(cells)
}

unescaped <- function(texts) {
  odd <- grep("\\", texts, fixed = TRUE)
  if (length(odd) == 0L) {
    return(texts)
  }
  x <- gsub("\\\\", "\001", texts[odd], fixed = TRUE)
  marks <- c("\\t" = "\t", "\\n" = "\n", "\\r" = "\r", "\\'" = "'", "\\b" = "\b",
    "\\f" = "\f", "\\0" = "")
  for (mark in names(marks)) x <- gsub(mark, marks[[mark]], x, fixed = TRUE)
  texts[odd] <- gsub("\001", "\\", x, fixed = TRUE)
  texts
}
