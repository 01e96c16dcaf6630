# A table of a database as a site: what a book asks is put as a query.

#   connection, table  where it is; the table's name as SQL, `name` as it was given, and `place`,
#                      with all that it lies in
#   engine             how SQL is written for it
new_table_site <- function(connection, table, place = table,
                           most = getOption("ableturn.answers", 65535)) {
  engine <- engine_at(connection)
  wait_for_others(connection, engine)
  from <- table_sql(place)
  all <- columns_to_read(connection, place, engine)
  like <- as.list(fetch(connection, paste("SELECT", all, "FROM", from, "AS t WHERE 1 = 0")))
  if (!engine$typed) like <- types_met(connection, from, like)
  if (!is.null(engine$date_columns)) like <- dates_met(connection, place, like, engine)
  like[lower_ascii(names(like)) %in% engine$lost_names] <-
    list(structure(list(), class = paste("a name that", engine$title, "loses")))
  types <- types_of_table(connection, from, engine)
  like <- with_unread(like, types$name)
  like[types$is_foreign] <- lapply(types$type[types$is_foreign], function(type) {
    structure(list(), class = type)
  })
  shards <- shards_at(connection, from, engine)
  site <- structure(list(connection = connection, table = from, name = table, place = place,
    engine = engine, columns = like, all = all, most = most,
    types = setNames(types$type, types$name),
    shards = if (!is.null(shards$each)) shards, passing = shards$servers, replies = new.env()),
  class = "ableturn_table_site")
  site$rows <- fetch_grouped(new_plain_question(site, character()), character(),
    c(n = "COUNT(*)"))$told$n
  site
}

# All columns of a table `t`; of one of which only some may be read, these.
columns_to_read <- function(connection, place, engine) {
  if (is.null(engine$readable)) return("*")
  some <- fetch(connection, fill_sql(engine$readable, engine$table_argument(place)))$name
  if (length(some)) listed_sql(paste0("t.", sql_name(some))) else "*"
}

# The others are of no type that a book knows, so that it says which it leaves out.
with_unread <- function(like, names) {
  unread <- setdiff(names, base::names(like))
  if (!length(unread)) return(like)
  like[unread] <- list(structure(list(), class = "no right to read it"))
  like[names]
}

#' @export
scoped.ableturn_table_site <- function(site, variable) {
  site$variable <- variable
  site
}

#' @export
home.ableturn_table_site <- function(site) {
  site$variable <- NULL
  site
}

#' @export
with_rows_of.ableturn_table_site <- function(site, variable) site

# Values stay where they are, rows have no numbers, and scripts in R would have to fetch them.
#' @export
site_can.ableturn_table_site <- function(site, ability) ability == "be asked by several"

# Unless somebody has said how long to wait.
wait_for_others <- function(connection, engine) {
  if (is.null(engine$busy_timeout)) return()
  if (DBI::dbGetQuery(connection, engine$busy_timeout[1])[[1]] == 0) {
    DBI::dbGetQuery(connection, engine$busy_timeout[2])
  }
}

# An engine may hold values of any type in a column, whatever was declared: the types are those that
# are met. A column of texts and numbers is of no type that a book knows.
types_met <- function(connection, from, like) {
  met <- unlist(lapply(in_parts(names(like), 200), function(names) {
    asked <- unlist(lapply(paste0("t.", sql_name(names)), ends_sql))
    found <- fetch(connection, paste("SELECT", paste(asked, "AS", paste0("n", seq_along(asked)),
      collapse = ", "), "FROM", from, "AS t"))
    split(unlist(found, use.names = FALSE), rep(seq_along(names), each = 4))
  }), recursive = FALSE)
  setNames(Map(type_met, unname(met), like), names(like))
}

# Of a column the types of the first and the last value, in the order of numbers, texts, bytes; that
# of all numbers together: a whole number, if all are; and whether R's whole numbers hold them. They
# are made small first, so that the sum is held, by a whole number, so that it is one if they are.
ends_sql <- function(column) {
  on <- function(template) fill_sql(template, column)
  c(on("TYPEOF(MIN(%s))"), on("TYPEOF(MAX(%s))"), on("TYPEOF(SUM(%s / 4294967296))"),
    paste("CASE WHEN", on("MIN(%s) >= -2147483647"), "AND", on("MAX(%s) <= 2147483647"),
      "THEN 'held' ELSE 'wide' END"))
}

# A column of texts that was declared to hold dates holds these, where each text is one.
dates_met <- function(connection, table, like, engine) {
  names <- fetch(connection, fill_sql(engine$date_columns, engine$table_argument(table)))$name
  names <- Filter(function(name) is.character(like[[name]]), names)
  if (!length(names)) return(like)
  column <- paste0("t.", sql_name(names))
  odd <- fetch(connection, paste("SELECT", listed_sql(paste0("SUM(", column,
    " IS NOT NULL AND DATE(", column, ") IS NOT ", column, ") AS n", seq_along(names))), "FROM",
  table_sql(table), "AS t"))
  like[names[unlist(odd) %in% 0]] <- list(structure(numeric(), class = "Date"))
  like
}

# From what ends_sql() asks for.
type_met <- function(told, like) {
  if (told[1] == "null") return(like)
  if (told[1] == "blob" || told[1] != told[2] && told[2] %in% c("text", "blob")) {
    return(structure(list(), class = "values of several types"))
  }
  if (told[2] == "text") return(character())
  if (told[3] == "integer" && told[4] == "held") integer() else numeric()
}

#' @export
open_data.DBIConnection <- function(data, reading = NULL, table = NULL) {
  if (!is.null(reading)) fail("reading-frame")
  found <- check_table(data, table)
  site <- new_table_site(data, table, found$table)
  columns <- lapply(site$columns, function(like) {
    if (is.atomic(like)) far_values(like, site$rows) else like
  })
  # a data frame cannot have more rows than that; how many there are is told by the site
  frame <- structure(columns, class = "data.frame",
    row.names = .set_row_names(min(site$rows, .Machine$integer.max)))
  list(data = frame, site = site, name = table[length(table)], ascii = TRUE, finish = identity,
    passing = site$passing, beyond = if (found$kind == "view" || isTRUE(found$policies)) found$kind)
}

#' @export
check_id.ableturn_table_site <- function(site, id) {
  question <- new_plain_question(site, id)
  gone <- fetch_grouped(question, character(), c(n = "COUNT(*)"),
    where = paste("WHERE", question$columns, "IS NULL"))$told$n
  if (gone > 0) fail("id-missing", name = id, rows = counted(gone, "row"))
  if (keeps_apart(site, id)) return(invisible())
  twice <- asked_values(ids_met_twice(site, id, question), question)[[1]]
  if (length(twice)) fail("id-twice", name = id, values = show_value(twice))
}

# Whether the table itself sees to it that no two rows have the same value in a column: it is the
# primary key, say. Then it need not be gone through for that, which takes longest at the opening.
keeps_apart <- function(site, name) {
  engine <- site$engine
  if (is.null(engine$unique_columns)) return(FALSE)
  unique <- fill_sql(engine$unique_columns, engine$table_argument(site$place))
  name %in% fetch(site$connection, unique)$name
}

# Three identifiers that several rows have. They are looked for on each shard alone only where equal
# ones cannot lie apart.
ids_met_twice <- function(site, id, question) {
  column <- question$columns
  if (!identical(site$shards$key, id)) site$shards <- NULL
  question$site <- site
  fetch_asked(question, c(paste("SELECT", column, "AS ask_1"), question$from,
    paste("GROUP BY", column), "HAVING COUNT(*) > 1 LIMIT 3"), c(ask_1 = question$types),
    function(from) paste("SELECT * FROM", from, "LIMIT 3"))
}

#' @export
rows_at.ableturn_table_site <- function(site, names, where = NULL, id = NULL) {
  tests <- Map(one_of_sql, base::names(where), where, list(site))
  query <- paste("SELECT", paste(stored_sql(site, names), "AS", sql_name(names), collapse = ", "),
    "FROM", site$table, "AS t", if (length(tests)) paste("WHERE", paste(tests, collapse = " OR ")),
    if (!is.null(id)) paste("ORDER BY", paste0("t.", sql_name(id))))
  found <- fetch(site$connection, query)
  columns <- Map(as_column_of, as.list(found), site$columns[names])
  structure(columns, names = names, class = "data.frame", row.names = .set_row_names(nrow(found)))
}

# Whether a column holds one of some values, which are put into its type.
one_of_sql <- function(name, values, site) {
  like <- site$columns[[name]]
  values <- if (inherits(like, "Date")) format(values) else
    fit_type(values, if (is_text_like(like)) "" else 0)
  values <- values[!is.na(values)]
  if (!length(values)) return("1 = 0")
  paste0("t.", sql_name(name), " IN (", paste(literal_sql(values, site$engine), collapse = ", "),
    ")")
}
