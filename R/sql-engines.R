#' @include sql-engine.R
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
  fence = "LIMIT -1 OFFSET 0", endless = "9e999", floor = "CAST(FLOOR(%s) AS REAL)",
  ln = "(LOG10(%s) * 2.302585092994046)", log10 = "LOG10(%s)",
  log2 = "(LOG10(%s) * 3.3219280948873622)", power = "POWER(%s, %s)",
  ceiling = "CAST(CEIL(%s) AS REAL)",
  modulo = "(%s % %s)", least = NULL, greatest = NULL,
  position = "INSTR(%s, %s)", code_point = "UNICODE(%s)", letter = "CHAR(%s)",
  trim = "TRIM(%s, %s)", swap = NULL, composed = NULL, odd_text = "%s GLOB '*[^ -~]*'",
  fits = NULL,
  as_text = "PRINTF('%.15g', %s)",
  to_days = "(JULIANDAY(%s) - 2440587.5)", from_days = "DATE(%s + 2440587.5)", truth = FALSE,
  joins = FALSE, typed = FALSE, start = NULL, begin = "BEGIN IMMEDIATE TRANSACTION",
  patient = c("PRAGMA busy_timeout", "PRAGMA busy_timeout = 30000"),
  reading = c("PRAGMA query_only = ON", "PRAGMA query_only = OFF", "PRAGMA query_only = OFF"),
  placed = function(table) listed_sql(sql_text(rev(table), engines$sqlite)),
  keyed = paste("SELECT MIN(name) AS name FROM pragma_table_info(%s) WHERE pk > 0 GROUP BY pk > 0",
    "HAVING COUNT(*) = 1"),
  dated = "SELECT name FROM pragma_table_info(%s) WHERE UPPER(type) = 'DATE'",
  kinds = paste("SELECT 'VIEW' AS kind FROM (SELECT * FROM sqlite_master UNION ALL",
    "SELECT * FROM sqlite_temp_master) WHERE type = 'view' AND name = %s COLLATE NOCASE"),
  most_columns = 2000, longest_name = Inf, same_letters = TRUE
)

sql_engine("duckdb", "DuckDB",
  real = "DOUBLE", whole = "INTEGER", text = "VARCHAR",
  number = function(x) {
    text <- exact_decimal(x)
    if (x == round(x) && abs(x) < 1e9 || grepl("e", text)) text else paste0(text, "e0")
  },
  has_nan = TRUE, fence = "", endless = "CAST('Infinity' AS DOUBLE)", floor = "FLOOR(%s)",
  ln = "LN(%s)", log10 = "LOG10(%s)", log2 = "LOG2(%s)", power = "POW(%s, %s)",
  ceiling = "CEIL(%s)", modulo = "(%s % %s)", least = "LEAST(%s)", greatest = "GREATEST(%s)",
  position = "STRPOS(%s, %s)", code_point = "UNICODE(%s)", letter = "CHR(%s)",
  trim = "TRIM(%s, %s)", swap = "TRANSLATE(%s, %s, %s)", composed = "NFC_NORMALIZE(%s)",
  fits = "REGEXP_MATCHES(%s, %s)",
  as_text = "PRINTF('%.15g', %s)",
  to_days = "DATE_DIFF('day', DATE '1970-01-01', %s)",
  from_days = "(DATE '1970-01-01' + CAST(%s AS INTEGER))", truth = TRUE,
  joins = TRUE, typed = TRUE, start = NULL, begin = "BEGIN TRANSACTION",
  reading = c("BEGIN TRANSACTION READ ONLY", "COMMIT", "ROLLBACK"),
  kinds = "SELECT 'VIEW' AS kind FROM duckdb_views() WHERE LOWER(view_name) = LOWER(%s)",
  most_columns = 2000, longest_name = Inf, same_letters = TRUE
)

sql_engine("postgresql", "PostgreSQL",
  real = "DOUBLE PRECISION", whole = "INTEGER", text = "TEXT", number = exact_decimal,
  has_nan = TRUE, fence = "OFFSET 0", endless = "CAST('Infinity' AS FLOAT8)", floor = "FLOOR(%s)",
  ln = "LN(%s)", log10 = "LOG(%s)", log2 = "(LN(%s) / 0.6931471805599453)",
  power = "POWER(%s, %s)", ceiling = "CEIL(%s)", modulo = "(%s % %s)",
  least = "LEAST(%s)", greatest = "GREATEST(%s)",
  position = "STRPOS(%s, %s)", code_point = "ASCII(%s)", letter = "CHR(%s)",
  trim = "BTRIM(%s, %s)", swap = "TRANSLATE(%s, %s, %s)", composed = "NORMALIZE(%s)",
  fits = "%s ~ %s",
  as_text = NULL,
  to_days = "(%s - DATE '1970-01-01')", from_days = "(DATE '1970-01-01' + CAST(%s AS INTEGER))",
  truth = TRUE, joins = TRUE, typed = TRUE,
  reading = c("BEGIN TRANSACTION READ ONLY", "COMMIT", "ROLLBACK"),
  settings = "SET LOCAL jit = off", shards = TRUE, begin = "BEGIN TRANSACTION",
  placed = function(table) sql_text(table_sql(table), engines$postgresql),
  # a table that others inherit from gives their rows too, which its index does not know
  keyed = paste("SELECT a.attname AS name FROM pg_index AS i JOIN pg_class AS c",
    "ON c.oid = i.indrelid JOIN pg_attribute AS a ON a.attrelid = c.oid AND a.attnum = i.indkey[0]",
    "WHERE c.oid = to_regclass(%s) AND i.indisunique AND i.indisvalid AND i.indimmediate",
    "AND i.indpred IS NULL AND i.indexprs IS NULL AND i.indnkeyatts = 1",
    "AND (c.relkind = 'p' OR NOT c.relhassubclass)"),
  kinds = paste("SELECT CASE relkind WHEN 'v' THEN 'VIEW' ELSE 'FOREIGN TABLE' END AS kind",
    "FROM pg_class WHERE oid = to_regclass(quote_ident(%s)) AND relkind IN ('v', 'f')"),
  start = "SET jit = off;", most_columns = 1600, longest_name = 63,
  same_letters = FALSE
)
