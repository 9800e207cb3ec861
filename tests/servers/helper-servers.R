# What the tests of orders in memory use, and tables put on the servers that tools/servers has started.
for (helper in list.files("../testthat", "^helper-.*[.]R$", full.names = TRUE)) source(helper, local = TRUE)

server_at <- function() Sys.getenv("DRYSTACK_TEST_POSTGRESQL")

postgresql <- function(env = parent.frame()) {
  at <- strsplit(server_at(), ":", fixed = TRUE)[[1L]]
  con <- DBI::dbConnect(RPostgres::Postgres(), host = at[1L], port = at[2L], user = "postgres",
    dbname = "postgres", timezone = "UTC")
  withr::defer(if (DBI::dbIsValid(con)) DBI::dbDisconnect(con), envir = env)
  suppressMessages(DBI::dbExecute(con, "SET client_min_messages TO warning"))
  con
}

# A connection to the same server of a class that no dialect is written for: it is spoken to in the words of
# the SQL standard alone.
of_no_dialect <- function(con) {
  if (!methods::isClass("ConnectionOfNoDialect")) {
    methods::setClass("ConnectionOfNoDialect", contains = "PqConnection", where = globalenv())
  }
  methods::new("ConnectionOfNoDialect", con)
}

# Orders with the number of their line as primary key.
put_in_postgresql <- function(con, table, orders, types = NULL) {
  DBI::dbExecute(con, paste("DROP TABLE IF EXISTS", table))
  plain <- as.data.frame(lapply(orders, function(x) if (is.factor(x)) as.character(x) else x),
    optional = TRUE)
  DBI::dbWriteTable(con, table, cbind(plain, line_no = seq_len(nrow(plain))), field.types = types)
  DBI::dbExecute(con, paste("ALTER TABLE", table, "ADD PRIMARY KEY (line_no)"))
}

shard_ports <- function() as.integer(strsplit(Sys.getenv("DRYSTACK_TEST_CLUSTER"), " ", fixed = TRUE)[[1L]])

cluster_at <- function() paste0("clickhouse://127.0.0.1:", shard_ports()[1L], "/default")

# A statement for one server; with `body` the rows that follow it.
to_shard <- function(port, statement, body = NULL) {
  handle <- curl::new_handle(postfields = if (is.null(body)) statement else body)
  url <- paste0("http://127.0.0.1:", port, "/", if (!is.null(body)) paste0("?query=",
    curl::curl_escape(statement)))
  answer <- curl::curl_fetch_memory(url, handle)
  text <- rawToChar(answer$content)
  if (answer$status_code != 200L) stop(text)
  text
}

cluster_type <- function(x, name, types) {
  if (name %in% names(types)) types[[name]]
  else if (inherits(x, "Date")) "Nullable(Date)"
  else if (is.logical(x)) "Nullable(UInt8)"
  else if (is.integer(x)) "Nullable(Int32)"
  else if (is.numeric(x)) "Nullable(Float64)"
  else "Nullable(String)"
}

cluster_cells <- function(x) {
  if (is.logical(x)) x <- as.integer(x)
  if (is.double(x) && !is.object(x)) {
    return(ifelse(is.na(x), NA, vapply(x, format, "", digits = 15L, scientific = FALSE, trim = TRUE)))
  }
  text <- as.character(x)
  gsub("\n", "\\n", gsub("\t", "\\t", gsub("\\", "\\\\", text, fixed = TRUE), fixed = TRUE), fixed = TRUE)
}

# Orders over the shards, every third line on each: a table of each server and one over all.
put_in_cluster <- function(table, orders, types = list()) {
  orders$line_no <- seq_len(nrow(orders))
  columns <- paste0("`", names(orders), "` ", mapply(cluster_type, orders, names(orders),
    MoreArgs = list(types = types)),
    collapse = ", ")
  for (shard in 1:3) {
    port <- shard_ports()[shard]
    part <- paste0(table, "_part")
    to_shard(port, paste("DROP TABLE IF EXISTS", part))
    to_shard(port, paste0("CREATE TABLE ", part, " (", columns, ", kept Date DEFAULT '2026-01-01') ",
      "ENGINE = MergeTree() PARTITION BY toYYYYMM(kept) ORDER BY kept"))
    own <- orders[seq_len(nrow(orders)) %% 3L == shard - 1L, , drop = FALSE]
    if (nrow(own) == 0L) next
    file <- tempfile()
    utils::write.table(lapply(own, cluster_cells), file, sep = "\t", quote = FALSE, na = "\\N",
      row.names = FALSE,
      col.names = FALSE, fileEncoding = "UTF-8")
    to_shard(port, paste0("INSERT INTO ", part, " (", paste0("`", names(orders), "`", collapse = ", "),
      ") FORMAT TabSeparated"),
      readBin(file, "raw", file.size(file)))
    unlink(file)
  }
  to_shard(shard_ports()[1L], paste("DROP TABLE IF EXISTS", table))
  to_shard(shard_ports()[1L], paste0("CREATE TABLE ", table, " (", columns,
    ") ENGINE = Distributed(yard, default, ", part, ")"))
}

numbered <- function(orders) cbind(orders, line_no = seq_len(nrow(orders)))
