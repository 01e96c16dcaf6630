# Questions that are put to all shards of a table at once (sql-shards.R), each over a connection of
# its own from the server that is asked, a *link*. These can only read.

# What all shards answer, put together there. `query`: a function of the name of a table that gives
# the question to one shard; `types`: the types of its columns, by name; `whole`: a function that
# gives the lines of the query which puts the answers together, from what it is to read.
ask_shards <- function(site, query, types, whole) {
  with_links(site, reading_only(site$connection, {
    send_to_shards(site, query)
    found <- fetch(site$connection, paste(whole(paste0("(", answers_sql(site, query, types),
      ") AS s")), collapse = "\n"))
    end_answers(site, types)
    found
  }))
}

# All shards begin before any is waited for.
send_to_shards <- function(site, query) {
  away <- shards_away(site)
  send(site, away, vapply(away, function(shard) query(shard$table), ""))
}

# What does not go off would be an answer of fewer servers than there are.
send <- function(site, shards, queries) {
  if (!length(shards)) return(invisible())
  texts <- unlist(Map(function(shard, query) {
    dblink_sql(site, "dblink_send_query", link_name(shard), query)
  }, shards, queries))
  sent <- fetch(site$connection, paste("SELECT", listed_sql(paste(texts, "AS",
    paste0("sent_", seq_along(texts))))))
  lost <- which(unlist(sent) != 1)
  if (length(lost)) fail("question-unsent", server = shards[[lost[1]]]$server,
    table = paste(site$name, collapse = "."))
}

# The answers of all shards, one below the other.
answers_sql <- function(site, query, types) {
  parts <- vapply(site$shards$each, function(shard) {
    from <- if (is.null(shard$server)) paste0("(\n", query(shard$table), "\n) AS a") else
      result_sql(site, shard, types)
    paste("SELECT * FROM", from)
  }, "")
  paste(parts, collapse = "\nUNION ALL\n")
}

result_sql <- function(site, shard, types) {
  paste0(dblink_sql(site, "dblink_get_result", link_name(shard)), " AS a (",
    listed_sql(paste(names(types), types)), ")")
}

# A link takes another question when it has said that nothing follows. Whoever puts the answers
# together may have had enough before the last was read: so what is left is taken off each link, and
# after it what says that it was all.
end_answers <- function(site, types) {
  results <- vapply(shards_away(site), result_sql, "", site = site, types = types)
  counts <- paste("(SELECT COUNT(*) FROM", rep(results, each = 2), ")")
  if (length(results)) fetch(site$connection, paste("SELECT", listed_sql(paste0(counts, " AS left_",
    seq_along(counts)))))
}

shards_away <- function(site) Filter(function(shard) !is.null(shard$server), site$shards$each)

dblink_sql <- function(site, what, ...) {
  texts <- vapply(list(...), sql_text, "", engine = site$engine)
  paste0(site$shards$dblink, what, "(", listed_sql(texts), ")")
}

# After an error new links are made under other names: nobody knows in what state the old ones are.
links <- new.env(parent = emptyenv())
links$number <- 1

link_name <- function(shard) paste0("able_", links$number, "_", shard$link)

# What some code does over links to all shards. An error names the server that cannot be reached, if
# that is the reason.
with_links <- function(site, code) {
  open_links(site)
  done <- FALSE
  on.exit(if (!done) close_links(site))
  out <- tryCatch(code, ableturn_error_database_unreached = function(e) {
    close_links(site)
    if (!is_under_way(site$connection)) open_links(site)
    stop(e)
  })
  done <- TRUE
  out
}

# What some code asks of one state: of each server its own, as no state is of several servers.
#' @export
in_one_state.ableturn_table_site <- function(site, code) {
  connection <- site$connection
  if (is_under_way(connection)) return(code)
  if (is.null(site$shards)) return(reading_only(connection, code))
  with_links(site, reading_only(connection, while_links_stay(site, code)))
}

while_links_stay <- function(site, code) {
  on_links(site, one_state)
  on.exit(tryCatch(on_links(site, "COMMIT"), ableturn_error = function(e) NULL))
  force(code)
}

on_links <- function(site, statement) {
  each <- vapply(shards_away(site), function(shard) {
    dblink_sql(site, "dblink_exec", link_name(shard), statement)
  }, "")
  if (length(each)) fetch(site$connection, paste("SELECT", listed_sql(paste0(each, " AS done_",
    seq_along(each)))))
}

open_links <- function(site) {
  open <- known_links(site)
  for (shard in shards_away(site)) {
    if (!link_name(shard) %in% open) open_link(site, shard)
  }
}

known_links <- function(site) {
  fetch(site$connection, paste0("SELECT UNNEST(", dblink_sql(site, "dblink_get_connections"),
    ") AS name"))$name
}

open_link <- function(site, shard) {
  settings <- paste("SET SESSION CHARACTERISTICS AS TRANSACTION READ ONLY;",
    paste(site$engine$start, collapse = " "))
  for (query in c(dblink_sql(site, "dblink_connect", link_name(shard), shard$server),
    dblink_sql(site, "dblink_exec", link_name(shard), settings))) {
    tryCatch(fetch(site$connection, paste("SELECT", query)), error = function(e) {
      fail("server-unreached", server = shard$server, table = paste(site$name, collapse = "."),
        why = without_password(squeeze(e$detail$why %||% conditionMessage(e))))
    })
  }
}

close_links <- function(site) {
  open <- tryCatch(known_links(site), ableturn_error = function(e) character())
  for (name in open[startsWith(open, "able_")]) {
    is_done(site$connection, paste("SELECT", dblink_sql(site, "dblink_disconnect", name)))
  }
  links$number <- links$number + 1
}
