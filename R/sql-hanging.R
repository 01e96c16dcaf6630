# What hangs on a table in each engine, and what a table of data reaches: questions to their
# catalogues.

# PostgreSQL: in words, named by its kind; "triggers" are the kind that would run when the table is
# filled.
hanging_postgresql <- function(connection, place, kind) {
  found <- fetch(connection, fill_sql_each(hanging_query, literal_of(table_sql(place))))
  found <- found[order(found$kind, found$what), ]
  setNames(paste(found$kind, found$what), found$kind)
}

# One text in all places of a template.
fill_sql_each <- function(template, text) {
  gsub("%s", gsub("\\", "\\\\", text, fixed = TRUE), template)
}

hanging_query <- "WITH c AS (SELECT * FROM pg_class WHERE oid = to_regclass(%s))
SELECT DISTINCT 'rights' AS kind, 'of ' || COALESCE(g.rolname, 'all') AS what
  FROM c CROSS JOIN LATERAL aclexplode(c.relacl) AS a LEFT JOIN pg_roles AS g ON g.oid = a.grantee
  WHERE a.grantee <> c.relowner
UNION SELECT 'rights', 'to columns' FROM c JOIN pg_attribute AS a ON a.attrelid = c.oid
  WHERE a.attacl IS NOT NULL
UNION SELECT 'owner', r.rolname FROM c JOIN pg_roles AS r ON r.oid = c.relowner
  WHERE r.rolname <> current_user
UNION SELECT 'comments', '' FROM c JOIN pg_description AS d ON d.objoid = c.oid
  AND d.classoid = 'pg_class'::regclass
UNION SELECT 'indexes', i.indexrelid::regclass::text FROM c JOIN pg_index AS i ON i.indrelid = c.oid
UNION SELECT 'constraints', k.conname::text FROM c JOIN pg_constraint AS k
  ON c.oid IN (k.conrelid, k.confrelid)
UNION SELECT 'constraints', a.attname || ' has a default or must be there' FROM c
  JOIN pg_attribute AS a ON a.attrelid = c.oid AND a.attnum > 0 WHERE a.attnotnull OR a.atthasdef
UNION SELECT 'triggers', t.tgname::text FROM c JOIN pg_trigger AS t ON t.tgrelid = c.oid
  WHERE NOT t.tgisinternal
UNION SELECT 'triggers', w.rulename::text FROM c JOIN pg_rewrite AS w ON w.ev_class = c.oid
  WHERE w.rulename <> '_RETURN'
UNION SELECT 'policies', p.polname::text FROM c JOIN pg_policy AS p ON p.polrelid = c.oid
UNION SELECT 'policies', '' FROM c WHERE c.relrowsecurity
UNION SELECT 'readers', w.ev_class::regclass::text FROM c JOIN pg_depend AS d ON d.refobjid = c.oid
  AND d.refclassid = 'pg_class'::regclass AND d.classid = 'pg_rewrite'::regclass
  JOIN pg_rewrite AS w ON w.oid = d.objid WHERE w.ev_class <> c.oid
UNION SELECT 'part of', i.inhparent::regclass::text FROM c JOIN pg_inherits AS i
  ON i.inhrelid = c.oid
UNION SELECT 'parts', i.inhrelid::regclass::text FROM c JOIN pg_inherits AS i
  ON i.inhparent = c.oid
UNION SELECT 'publications', p.pubname::text FROM c JOIN pg_publication_rel AS r
  ON r.prrelid = c.oid JOIN pg_publication AS p ON p.oid = r.prpubid"

# Whether a table is reached from the source: through what it is a part of and its parts, and what
# views read.
reaches_postgresql <- function(connection, source, target) {
  query <- fill_sql(reaches_query, literal_of(table_sql(source)), literal_of(table_sql(target)))
  fetch(connection, query)$n > 0
}

reaches_query <- "WITH RECURSIVE steps AS (
  SELECT inhrelid AS here, inhparent AS there FROM pg_inherits
  UNION ALL SELECT inhparent, inhrelid FROM pg_inherits
  UNION ALL SELECT w.ev_class, d.refobjid FROM pg_rewrite AS w JOIN pg_depend AS d
    ON d.classid = 'pg_rewrite'::regclass AND d.objid = w.oid
    AND d.refclassid = 'pg_class'::regclass
), reached (oid) AS (
  SELECT CAST(to_regclass(%s) AS OID)
  UNION SELECT s.there FROM reached AS r JOIN steps AS s ON s.here = r.oid
)
SELECT COUNT(*) AS n FROM reached WHERE oid = to_regclass(%s)"

columns_postgresql <- function(place) {
  fill_sql("SELECT attname AS name, format_type(atttypid, atttypmod) AS type FROM pg_attribute
WHERE attrelid = to_regclass(%s) AND attnum > 0 AND NOT attisdropped ORDER BY attnum",
  literal_of(table_sql(place)))
}

identity_postgresql <- function(connection) {
  fetch(connection, paste("SELECT current_database() || ' ' || pg_postmaster_start_time() || ' '",
    "|| current_setting('port') AS text"))$text
}

# SQLite: views go on by the name of a table, whatever it was made of.
hanging_sqlite <- function(connection, place, kind) {
  name <- sql_text(place[2], engines$sqlite)
  master <- if (place[1] == "temp") "sqlite_temp_master" else
    paste0(sql_name(place[1]), ".sqlite_master")
  made <- fetch(connection, paste0("SELECT type, name FROM ", master, " WHERE type IN ('index', ",
    "'trigger') AND tbl_name = ", name, " COLLATE NOCASE"))
  needed <- fetch(connection, paste0("SELECT name FROM pragma_table_info(",
    engines$sqlite$table_argument(place),
    ") WHERE pk > 0 OR \"notnull\" OR dflt_value IS NOT NULL"))$name
  keyed <- fetch(connection, paste0("SELECT m.name AS name FROM ", master, " AS m, ",
    "pragma_foreign_key_list(m.name) AS f WHERE f.\"table\" = ", name, " COLLATE NOCASE"))$name
  c(setNames(paste0(c(index = "index ", trigger = "trigger ")[made$type], made$name,
    recycle0 = TRUE), c(index = "indexes", trigger = "triggers")[made$type]),
  setNames(paste0("what must hold of ", needed, recycle0 = TRUE), rep("constraints",
    length(needed))),
  setNames(paste0("the key of ", keyed, recycle0 = TRUE), rep("constraints", length(keyed))))
}

# The pages that a query opens tell the tables that it reads, through all views.
reaches_sqlite <- function(connection, source, target) {
  if (all(lower_ascii(source) == lower_ascii(target))) return(TRUE)
  plan <- fetch(connection, paste("EXPLAIN SELECT * FROM", table_sql(source)))
  pages <- plan$p2[plan$opcode %in% c("OpenRead", "ReopenIdx")]
  if (!length(pages) || target[1] == "temp") return(FALSE)
  found <- fetch(connection, paste0("SELECT tbl_name FROM ", sql_name(target[1]),
    ".sqlite_master WHERE rootpage IN (", listed_sql(pages), ")"))$tbl_name
  lower_ascii(target[2]) %in% lower_ascii(found)
}

columns_sqlite <- function(place) {
  paste0("SELECT name, type FROM pragma_table_info(", engines$sqlite$table_argument(place),
    ") ORDER BY cid")
}

identity_sqlite <- function(connection) {
  file <- DBI::dbGetQuery(connection, "PRAGMA database_list")
  file <- file$file[file$name == "main"]
  if (nzchar(file)) file else connection # of this connection alone
}

# DuckDB.
hanging_duckdb <- function(connection, place, kind) {
  at <- function(table, name) {
    paste0("SELECT * FROM system.main.", table, "() WHERE database_name = ", text[1],
      " AND schema_name = ", text[2], " AND ", name, " = ", text[3])
  }
  text <- sql_text(place, engines$duckdb)
  if (kind == "view") return(character())
  indexes <- fetch(connection, at("duckdb_indexes", "table_name"))$index_name
  rules <- fetch(connection, paste0("SELECT constraint_text AS t FROM (", at("duckdb_constraints",
    "table_name"), ") AS a"))$t
  notes <- fetch(connection, paste0("SELECT comment FROM (", at("duckdb_tables", "table_name"),
    ") AS a WHERE comment IS NOT NULL UNION ALL SELECT comment FROM (", at("duckdb_columns",
    "table_name"), ") AS a WHERE comment IS NOT NULL"))$comment
  c(setNames(paste0("index ", indexes, recycle0 = TRUE), rep("indexes", length(indexes))),
    setNames(rules, rep("constraints", length(rules))), if (length(notes)) c(comments = "comments"))
}

# Which tables a view reads is not told there: any whose name stands in its words counts.
reaches_duckdb <- function(connection, source, target) {
  if (all(lower_ascii(source) == lower_ascii(target))) return(TRUE)
  views <- fetch(connection, paste("SELECT view_name AS name, sql FROM system.main.duckdb_views()",
    "WHERE NOT internal"))
  met <- character()
  next_met <- lower_ascii(source[3])
  while (length(next_met)) {
    met <- c(met, next_met)
    texts <- lower_ascii(views$sql[lower_ascii(views$name) %in% next_met])
    words <- unique(unlist(regmatches(texts, gregexpr("[^][(){},;.\"' \n=<>*/+-]+", texts))))
    next_met <- setdiff(intersect(words, c(lower_ascii(views$name), lower_ascii(target[3]))), met)
  }
  lower_ascii(target[3]) %in% met
}

columns_duckdb <- function(place) {
  text <- sql_text(place, engines$duckdb)
  paste("SELECT column_name AS name, data_type AS type FROM system.main.duckdb_columns()",
    "WHERE database_name =", text[1], "AND schema_name =", text[2], "AND table_name =", text[3],
    "ORDER BY column_index")
}

identity_duckdb <- function(connection) {
  found <- DBI::dbGetQuery(connection, paste("SELECT path FROM system.main.duckdb_databases()",
    "WHERE NOT internal AND path IS NOT NULL ORDER BY path"))$path
  if (length(found)) found else connection
}
