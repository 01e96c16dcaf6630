# A script as it is built: stages, each a subselect that makes new columns from those of the stage
# before. What is asked for twice is made once.
#   engine    for which it is written
#   site, variable  where the rows are, and the variables that are known by name
#   stages   for each stage the columns it makes: their SQL, named by alias, and the remarks above
#   joins    for each stage the tables that are joined to the one before
#   known    aliases by the SQL they stand for; made: terms of variables; temporary: of names that a
#            formula gives
#   apart    whether each shard of a table is worked on for itself
#   infinite, large  whether something infinite, or very large numbers, are met
new_sql_state <- function(site, engine, read, apart = FALSE, taken = character()) {
  state <- new.env()
  state$engine <- engine
  state$site <- site
  state$variable <- site$variable
  state$apart <- apart
  state$stages <- state$joins <- state$known <- list()
  state$made <- state$temporary <- list()
  state$taken <- tolower(c(names(site$columns), taken, "t"))
  state$infinite <- any(vapply(read, is_infinite_somewhere, NA))
  state$large <- state$infinite || any(vapply(read, holds_large_numbers, NA))
  state
}

# A script of a whole book.
sql_state_of_book <- function(book, engine, apart = FALSE) {
  read <- variables_in(book, c(originals_in_script(book), derived_names(book)))
  new_sql_state(site_of(book), engine, read, apart, taken = names(book))
}

# The variables that formulas reckon with, with all that these are made of. A column that is only
# shown or counted is not looked into.
variables_behind <- function(nodes, site) {
  nodes <- Filter(Negate(is_stored_node), nodes)
  alone <- vapply(nodes, is.symbol, NA)
  named <- lapply(as.character(unlist(nodes[alone])), site$variable)
  inside <- lapply(unique(unlist(lapply(nodes[!alone], formula_vars))), site$variable)
  sources_behind(c(unlist(lapply(named, `[[`, "sources"), use.names = FALSE), inside))
}

sources_behind <- function(variables) {
  found <- list()
  while (length(variables)) {
    found <- c(found, variables)
    variables <- unlist(lapply(variables, function(one) c(one$sources, one$asked)),
      recursive = FALSE, use.names = FALSE)
    variables <- Filter(function(one) !any(vapply(found, identical, NA, one)), once_each(variables))
  }
  Filter(function(one) !is.null(one$raw) || is_made(one), found)
}

# What some code gives while names mean the variable itself and those that it is made of.
within_scope <- function(variable, state, code) {
  before <- mget(c("variable", "temporary"), state)
  state$variable <- function(name) {
    if (name == variable$name) variable else source_named(variable, name)
  }
  state$temporary <- list()
  on.exit(list2env(before, state))
  force(code)
}

# A source by its name, or a source of one.
source_named <- function(variable, name) {
  found <- variable$sources[[name]] %||% variable$asked[[name]]
  if (!is.null(found)) return(found)
  for (source in variable$sources) {
    found <- source_named(source, name)
    if (!is.null(found)) return(found)
  }
}

# A column for a term, so that it is worked out once: the term of its alias.
hold_term <- function(term, called, state, start = "h", remarks = NULL) {
  if (is_alias(term, state)) return(term)
  stage <- term$level + 1
  key <- paste(stage, term$type, term$sql)
  alias <- state$known[[key]]
  if (is.null(alias)) {
    alias <- sql_alias(start, called, state)
    state$known[[key]] <- alias
    add_column_to(stage, alias, term$sql, remarks, state)
  }
  new_term(alias, term$type, stage, null = alias)
}

add_column_to <- function(stage, alias, sql, remarks, state) {
  while (length(state$stages) < stage) state$stages <- c(state$stages, list(list()))
  column <- list(sql = sql, remarks = remarks)
  state$stages[[stage]][[alias]] <- column
}

# Columns of the table as they are, in the first stage.
add_plain_columns <- function(sql, state) {
  if (!length(state$stages)) state$stages <- list(list())
  state$stages[[1]][names(sql)] <- lapply(unname(sql), function(one) list(sql = one))
}

# A column of its own, a constant, or one of the table as it came needs no other.
is_alias <- function(term, state) {
  term$level > 0 && grepl("^[a-z]+_[a-z0-9_]*$", term$sql) || identical(term$null, character()) &&
    !grepl("[ (]", term$sql)
}

# A constant table that is joined where long lists of values are looked up: the name that it is
# joined under in the stage after `stage`.
join_table <- function(table, on, stage, state) {
  while (length(state$joins) < stage) state$joins <- c(state$joins, list(character()))
  name <- sql_alias("k", "table", state)
  joined <- paste0("LEFT JOIN (", table, ") AS ", name, " ON ", on(name))
  state$joins[[stage]] <- c(state$joins[[stage]], joined)
  name
}

# The lines of all stages, as the tables of a WITH; the last one is the one to select from. It hands
# on all columns, or, where `outputs` are named, those alone: then no stage carries what none reads.
stage_lines <- function(state, from, outputs = NULL) {
  name <- function(i) paste0(state$stage_name, i)
  plan <- if (is.null(outputs)) list(made = state$stages) else columns_needed(state, outputs)
  lines <- lapply(seq_along(state$stages), function(i) {
    before <- if (i == 1) "t" else name(i - 1)
    source <- if (i == 1) paste(from, "AS t") else before
    body <- c(stage_columns(before, plan$made[[i]], plan$carried[[i]]),
      paste0("  FROM ", source), if (i <= length(state$joins)) paste0("  ", state$joins[[i]]),
      if (nzchar(state$engine$fence)) paste0("  ", state$engine$fence))
    c(paste0(name(i), " AS ("), body, if (i < length(state$stages)) ")," else ")")
  })
  c("WITH", unlist(lines))
}

# Of each stage the columns that it has to make, and those of the stage before it that it hands on.
columns_needed <- function(state, outputs) {
  made <- carried <- state$stages
  needed <- outputs
  for (i in rev(seq_along(state$stages))) {
    own <- state$stages[[i]]
    made[[i]] <- own[names(own) %in% needed]
    carried[[i]] <- setdiff(needed, names(own))
    read <- c(vapply(made[[i]], `[[`, "", "sql"), if (i <= length(state$joins)) state$joins[[i]])
    earlier <- unlist(lapply(state$stages[seq_len(i - 1)], names))
    needed <- union(carried[[i]], intersect(words_in_sql(read), earlier))
  }
  list(made = made, carried = carried)
}

words_in_sql <- function(sql) unlist(regmatches(sql, gregexpr("[a-z]+_[a-z0-9_]*", sql)))

stage_columns <- function(before, columns, carried = NULL) {
  sql <- vapply(columns, `[[`, "", "sql", USE.NAMES = FALSE)
  remarks <- vapply(columns, function(column) {
    paste0(column$remarks, "\n", collapse = "", recycle0 = TRUE)
  }, "", USE.NAMES = FALSE)
  ends <- rep(c(",", ""), c(max(0, length(sql) - 1), min(1, length(sql))))
  texts <- paste0(remarks, sql, " AS ", names(columns), ends, recycle0 = TRUE)
  body <- paste0("    ", gsub("\n", "\n    ", texts, fixed = TRUE), recycle0 = TRUE)
  first <- if (is.null(carried)) paste0(before, ".*") else if (length(carried))
    listed_sql(paste0(before, ".", carried)) else if (!length(body)) "1 AS nothing"
  c(paste0("  SELECT ", first, if (length(first) && length(body)) ","), body)
}

refuse_columns <- function(state) {
  all <- length(state$taken) + sum(lengths(state$stages))
  if (all > state$engine$most_columns) {
    refuse_in_sql("many_columns", paste(all, "columns"), state$engine)
  }
}

# Stages must not have the name of a table that they read.
stage_name_beside <- function(site) {
  tables <- c(site$table, vapply(site$shards$each, `[[`, "", "table"))
  if (any(grepl("stage_", tolower(tables), fixed = TRUE))) "part_" else "stage_"
}
