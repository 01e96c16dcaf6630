# A table of derived variables beside a table on several servers: each shard makes its own part, and
# the server that is asked gets a table of these parts, which is divided as the source is. No row
# leaves its server.

# All parts appear or none does: each is made in a transaction of its server, and these are ended
# when all have been made. Where one of them cannot be ended, those that were are dropped again.
write_on_shards <- function(connection, table, book, names, overwrite) {
  site <- info_of(book)$site
  site$connection <- connection
  # the other servers could not wait for a transaction of hers
  if (is_inside(connection)) fail("transaction-open")
  check_key_is_kept(site, names)
  plan <- shard_plan(site, table)
  ended <- list()
  with_links(site, {
    check_free_on_shards(site, plan, overwrite)
    make_on_shards(site, plan, book, names, overwrite)
    tryCatch(in_transaction(connection, {
      check_place_free(connection, table, overwrite)
      # its parts are foreign tables, and those they stand for are replaced as well
      shape <- list(book = book, names = names, kind = "table", inside = TRUE, goes_too = "parts")
      way <- way_over(connection, table, shape)
      if (way$filled) fail("table-loses", table = dotted(table), what = "rights or comments")
      for (statement in way$before) run_here(site, statement)
      for (statement in plan_statements(site, plan, book, names)) run_here(site, statement)
      refuse_changed(site, rows_made(site, plan))
      # one server after the other
      for (row in plan_away(site, plan)) {
        run_there(site, row$at, "COMMIT")
        ended <- c(ended, list(row))
      }
    }), error = function(e) {
      for (row in ended) drop_there(site, row)
      stop(e)
    })
  })
}

# How many rows all parts have that were made, each asked over the link that made it.
rows_made <- function(site, plan) {
  count <- paste("SELECT", count_sql(site$engine), "AS n FROM")
  away <- vapply(plan_away(site, plan), function(row) {
    fetch(site$connection, paste0("SELECT n FROM ", dblink_sql(site, "dblink", link_name(row$at),
      paste(count, row$there)), " AS a (n ", site$engine$real, ")"))$n
  }, 0)
  here <- plan$name[plan$leaf & !plan$shard %in% which_away(site)]
  sum(away, vapply(here, function(name) fetch(site$connection, paste(count, name))$n, 0))
}

which_away <- function(site) {
  which(vapply(site$shards$each, function(shard) !is.null(shard$server), NA))
}

drop_there <- function(site, row) {
  statement <- paste("BEGIN TRANSACTION READ WRITE; DROP TABLE", row$there, "; COMMIT")
  is_done(site$connection, paste("SELECT", dblink_sql(site, "dblink_exec", link_name(row$at),
    statement)))
}

run_here <- function(site, statement) run_sql(site$connection, statement)

run_there <- function(site, shard, statement) {
  fetch(site$connection, paste("SELECT", dblink_sql(site, "dblink_exec", link_name(shard),
    statement)))
}

# By the same column it must be divided again.
check_key_is_kept <- function(site, names) {
  as <- base::names(names) %||% names
  lost <- setdiff(site$shards$key, as[as == names])
  if (length(lost)) fail("key-of-shards", name = lost[1], table = paste(site$name, collapse = "."))
}

# The source and its divisions, the whole one first, and for each what is to be made in its place:
#   name    its name here, as SQL, and `plain`; schema, there: the schema and the name of a shard on
#           its server
#   parent  the row of the division that it is part of, NA for the whole
#   bound, key  which rows it holds, and by what it is divided itself, as SQL; NA where that is not
#   shard   its place among the shards, NA for what is divided
shard_plan <- function(site, table) {
  tree <- fetch(site$connection, fill_sql(tree_query, literal_of(site$table)))
  if (!nrow(tree)) {
    tree <- data.frame(place = 1, parent = NA_real_, bound = NA, key = NA, leaf = TRUE)
  }
  tree$parent <- match(tree$parent, tree$place)
  tree$shard[tree$leaf] <- rank(tree$place[tree$leaf])
  last <- table[length(table)]
  name <- paste0(last, "_", seq_len(nrow(tree)) - 1)
  name[1] <- last
  refuse_names(name, site$engine)
  tree$plain <- name
  tree$name <- vapply(name, function(name) table_sql(c(table[-length(table)], name)), "")
  tree$schema <- vapply(site$shards$each, `[[`, "", "schema")[tree$shard]
  tree$there <- paste0(sql_name(tree$schema), ".", sql_name(name))
  tree
}

tree_query <- "SELECT CAST(CAST(CAST(relid AS OID) AS BIGINT) AS FLOAT8) AS place,
  CAST(CAST(CAST(parentrelid AS OID) AS BIGINT) AS FLOAT8) AS parent, isleaf AS leaf,
  pg_get_expr(c.relpartbound, c.oid) AS bound,
  CASE WHEN NOT isleaf THEN pg_get_partkeydef(c.oid) END AS key
FROM pg_partition_tree(to_regclass(%s)) AS p JOIN pg_class AS c ON c.oid = p.relid
ORDER BY level, relid"

# The rows of a plan for shards on other servers, each with its shard.
plan_away <- function(site, plan) {
  rows <- lapply(which(!is.na(plan$shard)), function(i) {
    c(as.list(plan[i, ]), list(at = site$shards$each[[plan$shard[i]]]))
  })
  Filter(function(row) !is.null(row$at$server), rows)
}

# A table of that name may be there from a time when work was stopped; the source is never dropped,
# nor anything that hangs on a table there.
check_free_on_shards <- function(site, plan, overwrite) {
  for (row in plan_away(site, plan)) {
    target <- literal_of(row$there)
    found <- ask_there(site, row$at, paste0("SELECT CAST(to_regclass(", target, ") AS TEXT)"),
      "name TEXT")$name
    if (is.na(found)) next
    if (!overwrite) fail("table-on-server", table = row$there, server = row$at$server)
    for (shard in site$shards$each) if (identical(shard$server, row$at$server)) {
      met <- ask_there(site, row$at, fill_sql(reaches_query, literal_of(shard$table), target),
        "n BIGINT")$n
      if (met > 0) fail("table-is-source", table = row$there)
    }
    hanging <- ask_there(site, row$at, fill_sql_each(hanging_query, target), "kind TEXT, what TEXT")
    if (nrow(hanging)) fail("table-loses", table = row$there, what = paste(hanging$kind,
      hanging$what))
  }
}

ask_there <- function(site, shard, query, columns) {
  fetch(site$connection, paste0("SELECT * FROM ", dblink_sql(site, "dblink", link_name(shard),
    query), " AS a (", columns, ")"))
}

make_on_shards <- function(site, plan, book, names, overwrite) {
  away <- plan_away(site, plan)
  for (row in away) {
    run_there(site, row$at, "BEGIN TRANSACTION READ WRITE")
    if (overwrite) run_there(site, row$at, paste("DROP TABLE IF EXISTS", row$there))
  }
  send(site, lapply(away, `[[`, "at"), vapply(away, function(row) {
    made_there(site, row$there, row$at$table, book, names)
  }, ""))
  end_answers(site, c(said = "TEXT")) # each says that it was made
}

made_there <- function(site, target, from, book, names) {
  state <- sql_state_of_book(book, site$engine, apart = TRUE)
  paste(c(paste("CREATE TABLE", target, "AS"), query_lines(state, from, names)), collapse = "\n")
}

# What makes the table of the parts.
plan_statements <- function(site, plan, book, names) {
  columns <- listed_sql(paste(sql_name(base::names(names) %||% names),
    output_types(names, book, site)))
  unlist(lapply(seq_len(nrow(plan)), function(i) {
    row <- plan[i, ]
    whole <- plan$name[row$parent]
    shard <- if (!is.na(row$shard)) site$shards$each[[row$shard]] else list()
    if (length(shard) && is.null(shard$server)) {
      return(c(made_there(site, row$name, shard$table, book, names), paste("ALTER TABLE", whole,
        "ATTACH PARTITION", row$name, row$bound)))
    }
    of <- if (is.na(whole)) paste0("(", columns, ")") else paste("PARTITION OF", whole, row$bound)
    paste("CREATE", if (length(shard)) "FOREIGN", "TABLE", row$name, of,
      if (!is.na(row$key)) paste("PARTITION BY", row$key),
      if (length(shard)) foreign_sql(shard, row))
  }))
}

foreign_sql <- function(shard, row) {
  paste0("SERVER ", sql_name(shard$server), " OPTIONS (schema_name ", literal_of(row$schema),
    ", table_name ", literal_of(row$plain), ")")
}
