# Formulas as columns of a query, `names`, read as `columns`, each of the type `like`, in SQL of
# `types`; `from` is what these are asked of, for the rows of which the formula `where` is true, and
# `all` tells whether these are all rows, and `before` gives the lines of WITH that make it from a
# table. Texts among the first `numbers` of
# them are read as numbers. An original as it came is stated by as_it_came().
new_question <- plainly(function(site, nodes, where = NULL, numbers = 0) {
  read <- variables_behind(c(nodes, where), site)
  state <- new_sql_state(site, site$engine, read, apart = TRUE)
  state$stage_name <- stage_name_beside(site)
  names <- paste0("ask_", seq_along(nodes), recycle0 = TRUE)
  like <- add_asked_columns(unname(nodes), names, seq_along(nodes) <= numbers, state, site)
  if (!is.null(where)) add_asked_column(where, "ask_where", FALSE, state, site)
  refuse_columns(state)
  outputs <- c(names, if (!is.null(where)) "ask_where")
  from <- paste0("FROM ", state$stage_name, length(state$stages), " AS s",
    if (!is.null(where)) " WHERE s.ask_where = 1")
  list(site = site, all = is.null(where), names = names,
    columns = paste0("s.", names, recycle0 = TRUE),
    like = lapply(like, `[[`, "like"), types = vapply(like, `[[`, "", "type"), from = from,
    before = function(table) stage_lines(state, table, outputs))
})

# Columns of a table as they are, in place of formulas.
new_plain_question <- function(site, names) {
  list(site = site, all = TRUE, names = paste0("ask_", seq_along(names), recycle0 = TRUE),
    columns = stored_sql(site, names), like = site$columns[names],
    types = type_at_site(site, names), from = "FROM rows_here AS t",
    before = function(table) {
      paste0("WITH rows_here AS (SELECT ", site$all, " FROM ", table, " AS t)")
    })
}

# The same question of some rows of the table: `part`, what follows on a SELECT from it as `t`.
of_part <- function(question, part) {
  before <- question$before
  question$all <- FALSE
  question$before <- function(table) {
    before(paste0("(SELECT ", question$site$all, " FROM ", table, " AS t ", part, ")"))
  }
  question
}

of_first_rows <- function(question, rows) {
  of_part(question, paste("LIMIT", number_sql(rows, question$site$engine)))
}

# About 10,000 rows, always the same, by an identifier of whole numbers, whatever their order; NULL
# where there is none, or no more rows.
of_hint_rows <- function(question) {
  site <- question$site
  id <- site$id
  if (is.null(id) || site$rows <= 10000 || !is_whole_at_site(site, id)) return(NULL)
  share <- number_sql(ceiling(65537 * 10000 / site$rows), site$engine)
  of_part(question, paste0("WHERE ABS(t.", sql_name(id), " % 65537) * 7919 % 65537 < ", share))
}

is_whole_at_site <- function(site, name) {
  type <- type_at_site(site, name)
  is.numeric(site$columns[[name]]) && !inherits(site$columns[[name]], "Date") &&
    (is.null(site$types) || type %in% c("smallint", "integer", "bigint"))
}

# Adds a column for each formula, and gives the types of what comes of them; those of the table as
# they came are added together.
add_asked_columns <- function(nodes, names, numbers, state, site) {
  came <- vapply(nodes, is_stored_node, NA)
  stored <- vapply(nodes[came], function(node) as.character(node[[2]]), "")
  like <- vector("list", length(nodes))
  if (any(came)) add_plain_columns(setNames(stored_sql(site, stored), names[came]), state)
  like[came] <- Map(function(like, type) list(like = like, type = type), site$columns[stored],
    type_at_site(site, stored))
  like[!came] <- Map(add_asked_column, nodes[!came], names[!came], numbers[!came],
    MoreArgs = list(state = state, site = site))
  like
}

# Adds a column and gives the type of what comes of it: a vector like it, and in SQL.
add_asked_column <- function(node, alias, number, state, site) {
  term <- if (is_reason_node(node)) reason_term(as.character(node[[2]]), state) else
    sql_term(node, state)
  if (term$type %in% c("truth", "any", if (number) "text")) term <- number_of(term, state)
  add_column_to(term$level + 1, alias, term$sql, NULL, state)
  like <- switch(term$type, text = character(), date = structure(numeric(), class = "Date"),
    numeric())
  list(like = like, type = if (term$type == "text") site$engine$text else site$engine$real)
}

# What is answered to a question: `query`, a query for its columns, or what `whole` makes of it, a
# function of the source that gives these. On shards each answers the first, and the second puts it
# together: `types` are those of the columns, in SQL. What was answered in some rows is kept: the
# same is asked for by several statistics and findings, and a book is of the table as it was opened.
fetch_asked <- function(question, query, types, whole = NULL) {
  site <- question$site
  text <- function(table) paste(c(question$before(table), query), collapse = "\n")
  known <- site$replies
  key <- sha256(charToRaw(paste(c(text(site$table), if (!is.null(whole)) whole("s")),
    collapse = "\n")))
  if (is.null(known[[key]])) {
    found <- if (is.null(site$shards)) fetch(site$connection, whole_query(question, query, whole))
    else ask_shards(site, text, types, whole %||% function(from) paste("SELECT * FROM", from))
    if (nrow(found) > 5000) return(found)
    assign(key, found, known)
  }
  known[[key]]
}

whole_query <- function(question, query, whole) {
  query <- paste(query, collapse = "\n")
  asked_of <- if (is.null(whole)) query else whole(paste0("(", query, ") AS s"))
  paste(c(question$before(question$site$table), asked_of), collapse = "\n")
}

# What comes of the rows in each group: `told`, terms that count or sum something up, by their
# names. `keys` are the columns of the groups, as `question` names them, and `how` the parts of a
# group are put together. `last` stands at the end, of both, if it is not of the `whole` alone.
fetch_grouped <- function(question, keys, told, how = "SUM", where = NULL, last = NULL,
                          whole_last = last) {
  site <- question$site
  real <- site$engine$real
  places <- match(keys, question$names)
  columns <- question$columns[places]
  query <- c(
    paste("SELECT", listed_sql(c(paste(columns, "AS", keys, recycle0 = TRUE),
      paste(cast_sql(unname(told), real), "AS", names(told))))),
    question$from, where, if (length(keys)) paste("GROUP BY", listed_sql(columns)))
  if (is.null(site$shards)) {
    found <- fetch_asked(question, c(query, whole_last))
  } else {
    types <- setNames(c(question$types[places], rep(real, length(told))), c(keys, names(told)))
    found <- fetch_asked(question, c(query, last), types, function(from) {
      c(grouped_again(keys, setNames(rep_len(how, length(told)), names(told)), real, from),
        whole_last)
    })
  }
  list(keys = asked_values(found, question, keys), told = lapply(found[names(told)], as.double))
}

# The parts of each group put together.
grouped_again <- function(keys, how, real, from) {
  groups <- paste0("s.", keys, recycle0 = TRUE)
  sums <- paste0(cast_sql(paste0(how, "(s.", names(how), ")"), real), " AS ", names(how))
  c(paste("SELECT", listed_sql(c(groups, sums)), "FROM"), from,
    if (length(keys)) paste("GROUP BY", listed_sql(groups)))
}

asked_values <- function(found, question, names = question$names) {
  like <- question$like[match(names, question$names)]
  Map(function(values, like) {
    if (inherits(like, "Date") && is.numeric(values)) return(structure(as.double(values),
      class = "Date"))
    as_column_of(values, like)
  }, unname(as.list(found[names])), unname(like))
}

# A book is of the table as it was opened: where all its rows were counted, they must be as many.
check_same_rows <- function(question, counts) {
  if (question$all) refuse_changed(question$site, sum(counts))
}

refuse_changed <- function(site, rows) {
  if (rows != site$rows) fail("table-changed", table = paste(site$name, collapse = "."),
    rows = counted(site$rows, "row"), now = grouped(rows))
}

in_parts <- function(all, most = 300) unname(split(all, (seq_along(all) - 1) %/% most))

# A result has only so many columns: what some code gives for 300 of them after the other.
in_chunks <- function(all, code) {
  as.double(unlist(lapply(in_parts(all), code), use.names = FALSE)) %|% 0
}
