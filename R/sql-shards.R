# Tables whose rows lie on several servers: of PostgreSQL, a table with partitions of which some are
# foreign tables (postgres_fdw), or one that is such a table itself. A *shard* is what lies on one
# server. Queries on the whole table would fetch its rows one server after the other; so each shard
# is asked for itself, all at once, by dblink, and the answers are put together, see
# sql-shards-ask.R. The passwords stay with the user mappings of the server.

# What a site knows of them; NULL for a table in one place. Of one that can only be asked as a whole
# it is the `servers`, whose rows all pass through the one that is asked.
#   each    for each shard the `server`, NULL for the one that is asked; its `table` there, as SQL,
#           and `link`, the name of the connection to it
#   key     the columns that decide on the shard of a row; NULL where something else does
#   dblink  how functions of that extension are called
shards_at <- function(connection, table, engine) {
  if (!isTRUE(engine$shards)) return(NULL)
  known <- fetch(connection, fill_sql(shards_query, literal_of(table), literal_of(table)))
  servers <- unique(known$server[!is.na(known$server)])
  if (!length(servers)) return(NULL)
  dblink <- fetch(connection, dblink_query)$schema
  if (!length(dblink) || any(known$renamed)) return(list(servers = servers))
  # tables share links: they are used one after the other
  known$place <- stats::ave(seq_along(known$server), known$server %|% "", FUN = seq_along)
  each <- lapply(seq_len(nrow(known)), function(i) shard_of(known[i, ]))
  list(each = each, key = shard_key(connection, table), dblink = paste0(dblink, "."))
}

literal_of <- function(table) sql_text(table, engines$postgresql)

shard_of <- function(row) {
  away <- !is.na(row$server)
  there <- if (away) c(row$schema_there, row$table_there) else c(row$schema, row$name)
  list(server = if (away) row$server, table = table_sql(there), schema = there[1],
    link = paste0(row$server, "_", row$place))
}

shards_query <- "WITH leaves AS (
  SELECT relid FROM pg_partition_tree(to_regclass(%s)) AS tree WHERE isleaf
  UNION SELECT oid FROM pg_class WHERE oid = to_regclass(%s) AND relkind = 'f'
)
SELECT n.nspname AS schema, c.relname AS name,
  s.srvname AS server, COALESCE((SELECT option_value FROM pg_options_to_table(f.ftoptions)
    WHERE option_name = 'schema_name'), n.nspname) AS schema_there,
  COALESCE((SELECT option_value FROM pg_options_to_table(f.ftoptions)
    WHERE option_name = 'table_name'), c.relname) AS table_there,
  w.fdwname IS NOT NULL AND w.fdwname <> 'postgres_fdw' OR EXISTS (SELECT 1 FROM pg_attribute AS a
    WHERE a.attrelid = c.oid AND a.attfdwoptions IS NOT NULL) AS renamed
FROM leaves AS l JOIN pg_class AS c ON c.oid = l.relid
  JOIN pg_namespace AS n ON n.oid = c.relnamespace
  LEFT JOIN pg_foreign_table AS f ON f.ftrelid = c.oid
  LEFT JOIN pg_foreign_server AS s ON s.oid = f.ftserver
  LEFT JOIN pg_foreign_data_wrapper AS w ON w.oid = s.srvfdw
ORDER BY c.oid"

dblink_query <- "SELECT quote_ident(n.nspname) AS schema FROM pg_extension AS e
  JOIN pg_namespace AS n ON n.oid = e.extnamespace WHERE e.extname = 'dblink'"

shard_key <- function(connection, table) {
  found <- fetch(connection, fill_sql("SELECT DISTINCT a.attname AS name
FROM pg_partition_tree(to_regclass(%s)) AS p
  JOIN pg_partitioned_table AS k ON k.partrelid = p.relid
  CROSS JOIN UNNEST(CAST(k.partattrs AS INT2[])) AS u (place)
  LEFT JOIN pg_attribute AS a ON a.attrelid = p.relid AND a.attnum = u.place AND u.place > 0",
  literal_of(table)))$name
  if (length(found) && !anyNA(found)) found
}

# The `type` of each column of a table, as SQL, by its `name`, and whether it `is_foreign`: not one
# of the server's own, nor a narrower kind of one. What such a value is as text may be told by a
# function of whoever made the type.
types_of_table <- function(connection, table, engine) {
  if (!isTRUE(engine$shards)) return(NULL)
  fetch(connection, fill_sql("SELECT a.attname AS name,
  format_type(a.atttypid, a.atttypmod) AS type,
  COALESCE(b.typnamespace, t.typnamespace) <> 'pg_catalog'::regnamespace AS is_foreign
FROM pg_attribute AS a JOIN pg_type AS t ON t.oid = a.atttypid
  LEFT JOIN pg_type AS b ON t.typtype = 'd' AND b.oid = t.typbasetype
WHERE a.attrelid = to_regclass(%s) AND a.attnum > 0 AND NOT a.attisdropped
ORDER BY a.attnum", literal_of(table)))
}

#' @export
check_unit.ableturn_table_site <- function(site, call) {
  if (lies_apart(as.list(call)$unit, site)) refuse_unit(call, as.list(call)$unit, site)
}
