#' @include sql-engine.R sql-read-only.R
NULL

# Decimals are read there by way of numbers with 64 binary digits, as R reads them; where that gives
# another number, 18 figures are written, which cannot be misread.
sqlite_number <- function(x) {
  text <- plain_decimal(x)
  if (is.na(text)) sub("e+00", "e0", with_point(sprintf("%.17e", x)), fixed = TRUE) else text
}

# The shortest of the usual forms that is read back as the same number, both rightly rounded and by
# way of 64 binary digits; NA where there is none.
plain_decimal <- function(x) {
  forms <- unique(with_point(sprintf(c("%.15g", "%.16g", "%.17g"), x)))
  forms[which(as.numeric(forms) == x & read_exactly(forms) == x)][1]
}

exact_decimal <- function(x) {
  forms <- with_point(sprintf(c("%.15g", "%.16g", "%.17g"), x))
  forms[which(read_exactly(forms) == x)][1]
}

sql_engine("sqlite", "SQLite",
  real = "REAL", whole = "INTEGER", text = "TEXT", number = sqlite_number, has_nan = FALSE,
  fence = "LIMIT -1 OFFSET 0", infinity = "9e999", floor = "CAST(FLOOR(%s) AS REAL)",
  ln = "(LOG10(%s) * 2.302585092994046)", log10 = "LOG10(%s)",
  log2 = "(LOG10(%s) * 3.3219280948873622)", power = "POWER(%s, %s)",
  ceiling = "CAST(CEIL(%s) AS REAL)",
  modulo = "(%s % %s)", least = NULL, greatest = NULL,
  position = "INSTR(%s, %s)", code_point = "UNICODE(%s)", letter = "CHAR(%s)",
  trim = "TRIM(%s, %s)", swap = NULL, composed = NULL, odd_text = "%s GLOB '*[^ -~]*'",
  by_letters = "%s COLLATE BINARY",
  fits = NULL,
  as_text = "PRINTF('%.15g', %s)",
  to_days = "(JULIANDAY(%s) - 2440587.5)", from_days = "DATE(%s + 2440587.5)", truth = FALSE,
  sets = FALSE, joins = FALSE, typed = FALSE, start = NULL, escapes = FALSE,
  limbs = function(...) limbs_of_22(...),
  ask = function(connection) ask_sqlite(connection),
  write = function(connection) write_alone("BEGIN IMMEDIATE TRANSACTION")(connection),
  busy_timeout = c("PRAGMA busy_timeout", "PRAGMA busy_timeout = 30000"),
  table_argument = function(table) listed_sql(sql_text(rev(table), engines$sqlite)),
  path = function(connection) path_of_sqlite(connection),
  hanging = function(...) hanging_sqlite(...), reaches = function(...) reaches_sqlite(...),
  columns = function(place) columns_sqlite(place), identity = function(c) identity_sqlite(c),
  empty = "DELETE FROM %s", lock = NULL, temporary = "temp",
  tables = paste("SELECT * FROM (SELECT NULL AS database, schema, name, type AS kind, schema =",
    "'temp' AS temporary, NULL AS temporary_schema, 0 AS policies FROM pragma_table_list",
    "WHERE type IN ('table', 'view', 'virtual')) AS a"),
  unique_columns = paste("SELECT MIN(name) AS name FROM pragma_table_info(%s) WHERE pk > 0",
    "GROUP BY pk > 0 HAVING COUNT(*) = 1"),
  date_columns = "SELECT name FROM pragma_table_info(%s) WHERE UPPER(type) = 'DATE'",
  most_columns = 2000, longest_name = Inf, same_letters = TRUE, lost_names = c("true", "false")
)

sql_engine("duckdb", "DuckDB",
  real = "DOUBLE", whole = "INTEGER", text = "VARCHAR",
  number = function(x) {
    text <- exact_decimal(x)
    if (x == round(x) && abs(x) < 1e9 || grepl("e", text)) text else paste0(text, "e0")
  },
  has_nan = TRUE, fence = "", infinity = "CAST('Infinity' AS DOUBLE)", floor = "FLOOR(%s)",
  ln = "LN(%s)", log10 = "LOG10(%s)", log2 = "LOG2(%s)", power = "POW(%s, %s)",
  ceiling = "CEIL(%s)", modulo = "(%s % %s)", least = "LEAST(%s)", greatest = "GREATEST(%s)",
  position = "STRPOS(%s, %s)", code_point = "UNICODE(%s)", letter = "CHR(%s)",
  by_letters = "%s COLLATE \"C\"",
  trim = "TRIM(%s, %s)", swap = "TRANSLATE(%s, %s, %s)", composed = "NFC_NORMALIZE(%s)",
  fits = "REGEXP_MATCHES(%s, %s)",
  as_text = "PRINTF('%.15g', %s)",
  to_days = "DATE_DIFF('day', DATE '1970-01-01', %s)",
  from_days = "(DATE '1970-01-01' + CAST(%s AS INTEGER))", truth = TRUE,
  sets = TRUE, joins = TRUE, typed = TRUE, escapes = FALSE,
  limbs = function(...) limbs_of_44(...),
  two_numbers = function(sum) {
    times <- paste0("(", sum, " // 1099511627776)")
    c(times, paste0("(", sum, " - 1099511627776 * ", times, ")"))
  },
  # stops, with its name, where a macro of the database would be called in place of a function
  start = paste("SELECT system.main.error(function_name) FROM system.main.duckdb_functions() WHERE",
    "NOT internal AND\n  function_name IN (SELECT function_name FROM",
    "system.main.duckdb_functions() WHERE internal);"),
  ask = function(connection) ask_duckdb(connection),
  write = function(connection) write_duckdb(connection),
  path = function(connection) path_of_duckdb(connection),
  hanging = function(...) hanging_duckdb(...), reaches = function(...) reaches_duckdb(...),
  columns = function(place) columns_duckdb(place), identity = function(c) identity_duckdb(c),
  empty = "DELETE FROM %s", lock = NULL, temporary = c("temp", "main"),
  tables = paste("SELECT database_name AS database, schema_name AS schema, name, kind, temporary,",
    "CAST(NULL AS VARCHAR) AS temporary_schema, FALSE AS policies FROM (SELECT database_name,",
    "schema_name, table_name AS name, 'table' AS kind, temporary FROM system.main.duckdb_tables()",
    "UNION ALL",
    "SELECT database_name, schema_name, view_name, 'view', temporary FROM",
    "system.main.duckdb_views()) AS a"),
  most_columns = 2000, longest_name = Inf, same_letters = TRUE
)

sql_engine("postgresql", "PostgreSQL",
  real = "DOUBLE PRECISION", whole = "INTEGER", text = "TEXT", number = exact_decimal,
  has_nan = TRUE, fence = "OFFSET '0'", infinity = "CAST('Infinity' AS FLOAT8)",
  floor = "FLOOR(%s)", ln = "LN(%s)", log10 = "LOG(%s)", log2 = "(LN(%s) / 0.6931471805599453)",
  power = "POWER(%s, %s)", ceiling = "CEIL(%s)", modulo = "(%s % %s)",
  least = "LEAST(%s)", greatest = "GREATEST(%s)",
  position = "STRPOS(%s, %s)", code_point = "ASCII(%s)", letter = "CHR(%s)",
  by_letters = "%s COLLATE \"C\"",
  trim = "BTRIM(%s, %s)", swap = "TRANSLATE(%s, %s, %s)", composed = "NORMALIZE(%s)",
  fits = "%s ~ %s",
  as_text = NULL,
  to_days = "(%s - DATE '1970-01-01')", from_days = "(DATE '1970-01-01' + CAST(%s AS INTEGER))",
  truth = TRUE, sets = FALSE, joins = TRUE, typed = TRUE,
  escapes = TRUE, shards = TRUE, limbs = function(...) limbs_of_44(...),
  two_numbers = function(sum) {
    c(paste0("DIV(", sum, ", 1099511627776)"), paste0("MOD(", sum, ", 1099511627776)"))
  },
  ask = function(connection) ask_postgresql(connection),
  write = function(connection) write_postgresql(connection),
  path = function(connection) path_of_postgresql(connection),
  hanging = function(...) hanging_postgresql(...),
  reaches = function(...) reaches_postgresql(...),
  columns = function(place) columns_postgresql(place),
  identity = function(c) identity_postgresql(c),
  empty = "TRUNCATE %s", lock = "LOCK TABLE %s IN ACCESS EXCLUSIVE MODE", temporary = "pg_temp",
  # temporary ones of other sessions cannot be read
  tables = paste("SELECT * FROM (SELECT CAST(NULL AS TEXT) AS database, n.nspname AS schema,",
    "c.relname AS name, CASE c.relkind WHEN 'v' THEN 'view' WHEN 'm' THEN 'materialized view'",
    "WHEN 'f' THEN 'foreign table' ELSE 'table' END AS kind, c.relpersistence = 't' AS temporary,",
    "'pg_temp' AS temporary_schema, c.relrowsecurity AS policies FROM pg_class AS c",
    "JOIN pg_namespace AS n ON n.oid = c.relnamespace WHERE c.relkind IN ('r', 'p', 'v', 'm', 'f')",
    "AND (c.relpersistence <> 't' OR n.oid = pg_my_temp_schema())) AS a"),
  table_argument = function(table) sql_text(table_sql(table), engines$postgresql),
  # a table that others inherit from gives their rows too, which its index does not know
  unique_columns = paste("SELECT a.attname AS name FROM pg_index AS i JOIN pg_class AS c",
    "ON c.oid = i.indrelid JOIN pg_attribute AS a ON a.attrelid = c.oid AND a.attnum = i.indkey[0]",
    "WHERE c.oid = to_regclass(%s) AND i.indisunique AND i.indisvalid AND i.indimmediate",
    "AND i.indpred IS NULL AND i.indexprs IS NULL AND i.indnkeyatts = 1",
    "AND (c.relkind = 'p' OR NOT c.relhassubclass)"),
  readable = paste("SELECT a.attname AS name FROM pg_attribute AS a WHERE a.attrelid =",
    "to_regclass(%s) AND a.attnum > 0 AND NOT a.attisdropped AND NOT",
    "has_table_privilege(a.attrelid, 'SELECT') AND",
    "has_column_privilege(a.attrelid, a.attnum, 'SELECT') ORDER BY a.attnum"),
  start = paste0("SET ", names(postgresql_settings), " = ", c("on", "pg_catalog, pg_temp", "ISO",
    "1", "off", "off"), ";"), schema = "public", most_columns = 1600, longest_name = 63,
  same_letters = FALSE
)
