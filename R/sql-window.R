#' @include ask-window.R sql-question.R
NULL

# A window on a table: one query, in which the rows are put in order and counted off. On shards each
# gives those that may be among them.
#' @export
window_at.ableturn_table_site <- function(site, names, where = NULL, order = list(), id = NULL,
                                          from = 1, n = 20, ...) {
  fetched <- unique(c(names, unlist(lapply(names, sources_to_tell, site = site))))
  shown <- unlist(lapply(fetched, function(name) list(as.name(name), reason_node(name))))
  nodes <- c(shown, lapply(order, `[[`, "by"), if (!is.null(id)) list(as.name(id)))
  question <- new_question(site, nodes, where)
  down <- c(vapply(order, `[[`, NA, "down"), if (!is.null(id)) FALSE)
  keys <- question$columns[length(shown) + seq_along(down)]
  text_keys <- question$types[length(shown) + seq_along(down)] == site$engine$text
  sorted <- if (length(keys)) paste("ORDER BY", listed_sql(sort_sql(keys, down,
    text_keys, site$engine)))
  limit <- function(first) limit_sql(sorted, from, n, first, site$engine)
  sharded <- !is.null(site$shards)
  found <- fetch_asked(question, c("SELECT", listed_sql(paste(question$columns, "AS",
    question$names)), question$from, limit(sharded)),
    setNames(question$types, question$names), if (sharded) function(from) {
      paste("SELECT * FROM", from, limit(FALSE))
    })
  seen <- window_fetched(asked_values(found, question), fetched, site, !is.null(id))
  seen$columns <- lapply(self_named(names), told_by_source, columns = seen$columns, site = site)
  seen
}

# Of what needs several sources it is told which of them is missing.
sources_to_tell <- function(name, site) {
  from <- site$variable(name)$from
  if (length(from) > 1) from
}

told_by_source <- function(name, columns, site) {
  column <- columns[[name]]
  for (row in which(column$reason %in% "a source is missing")) {
    each <- unlist(lapply(sources_to_tell(name, site), function(source) {
      reason <- columns[[source]]$reason[row]
      if (!is.na(reason)) paste0(source, ": ", reason)
    }))
    if (length(each)) column$reason[row] <- paste(each, collapse = "; ")
  }
  column
}

# In order, so many of them; `first`: with all before them, as of each shard.
limit_sql <- function(sorted, from, n, first, engine) {
  skip <- if (!first && from > 1) c("OFFSET", number_sql(from - 1, engine))
  paste(c(sorted, "LIMIT", number_sql(n + if (first) from - 1 else 0, engine), skip),
    collapse = " ")
}

# What is missing comes last; texts stand by their letters, whatever the order of the database.
sort_sql <- function(columns, down, texts, engine) {
  unlist(Map(function(column, down, text) {
    key <- if (text) sprintf(engine$by_letters, column) else column
    c(paste("CASE WHEN", column, "IS NULL THEN 1 ELSE 0 END"), paste0(key, if (down) " DESC"))
  }, columns, down, texts), use.names = FALSE)
}

window_fetched <- function(values, names, site, with_id) {
  columns <- lapply(seq_along(names), function(i) {
    column <- column_of(site$variable(names[i]))
    x <- as_column(values[[2 * i - 1]], column$x)
    why <- as.integer(values[[2 * i]])
    x[!is.na(why)] <- NA
    list(x = x, reason = column$kinds[why])
  })
  list(rows = NULL, id = if (with_id) values[[length(values)]], columns = setNames(columns, names))
}
