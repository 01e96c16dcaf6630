# Tables, ranks, groups and earlier occasions as terms of SQL.

# The value that a table holds for the row.
lookup_in_sql <- function(node, state) {
  parts <- unname(row_items(node)[-1])
  place <- seq_along(parts) %% 2 == 1
  columns <- lapply(parts[place], key_term, state = state)
  columns <- lapply(columns, hold_term, called = "key", state = state)
  keys <- Map(member_keys, parts[!place], columns)
  values <- node[[2]]
  if (!length(values)) return(number_of(constant_term(NA, state), state))
  cells <- expand.grid(lapply(keys, seq_along), KEEP.OUT.ATTRS = FALSE)
  known <- Map(function(key, i) !is.na(key)[i], keys, cells)
  use <- which(!is.na(values) & Reduce(`&`, known))
  literals <- lapply(seq_along(keys), function(i) {
    literal_sql(keys[[i]][cells[[i]][use]], state$engine)
  })
  table_term(columns, literals, values[use], state)
}

member_keys <- function(keys, term) {
  if (term$type == "text") show_value(keys) else as.double(as_number(keys))
}

# By a CASE, or joined where the table is long and the engine is quicker so.
table_term <- function(columns, keys, values, state) {
  engine <- state$engine
  type <- if (is.character(values)) "text" else if (inherits(values, "Date")) "date" else "number"
  level <- top_level(columns)
  names <- vapply(columns, `[[`, "", "sql")
  new <- literal_sql(values, engine)
  if (!length(values)) return(replace_type(typed_null(engine$real), type))
  if (engine$joins && length(values) > 200) {
    return(joined_table(names, keys, new, type, level, state))
  }
  sql <- if (length(columns) == 1) values_case(names, keys[[1]], new) else
    case_sql(do.call(paste, c(Map(function(name, key) paste(name, "=", key), names, keys),
      sep = " AND ")), new)
  new_term(typed_case(sql, type, list(constant_term(1, state)), state), type, level)
}

joined_table <- function(names, keys, values, type, level, state) {
  engine <- state$engine
  own <- paste0("key_", seq_along(names))
  cast <- if (type == "text") engine$text else engine$real
  rows <- paste0("(", do.call(paste, c(unname(keys), list(values), sep = ", ")), ")")
  table <- paste0("VALUES\n", indented(paste0(rows, c(rep(",", length(rows) - 1), ""))))
  columns <- paste(c(own, "result"), collapse = ", ")
  on <- function(alias) paste(names, "=", paste0(alias, ".", own), collapse = " AND ")
  alias <- join_table(paste0("SELECT * FROM (", table, ") AS entries (", columns, ")"), on,
    level + 1, state)
  term <- new_term(cast_sql(paste0(alias, ".result"), cast), type, level)
  hold_term(term, "table", state)
}

# How many of some cuts lie below a value: few one after the other, many by halving.
cuts_in_sql <- function(node, state) {
  held <- finite_term(node[[2]], state)
  cuts <- evaluate(node[[3]], NULL)
  sql <- steps_sql(held$sql, cuts, seq(0, length(cuts)), state$engine, "<=")
  sql <- case_sql(paste(held$sql, "IS NOT NULL"), sql)
  new_term(cast_sql(sql, state$engine$real), "number", held$level)
}

# A value by its place among some cuts: values[1] below (or at) the first, the last one beyond all.
steps_sql <- function(x, cuts, values, engine, sign) {
  if (length(cuts) <= 4) {
    lines <- paste("WHEN", x, sign, number_sql(cuts, engine), "THEN", values[seq_along(cuts)])
    return(paste("CASE", paste(lines, collapse = " "), "ELSE", values[length(values)], "END"))
  }
  half <- (length(cuts) + 1) %/% 2
  low <- seq_len(half - 1)
  case_sql(paste(x, sign, number_sql(cuts[half], engine)),
    steps_sql(x, cuts[low], values[seq_len(half)], engine, sign),
    steps_sql(x, cuts[-seq_len(half)], values[-seq_len(half)], engine, sign))
}

# Infinite values have no place in a distribution.
finite_term <- function(node, state) {
  held <- hold_term(number_of(sql_term(node, state), state), "number", state)
  if (!state$infinite) return(held)
  hold_term(finite_sql(held, state), "number", state)
}

finite_sql <- function(held, state) {
  most <- state$engine$number(.Machine$double.xmax)
  new_term(case_sql(paste0("ABS(", held$sql, ") <= ", most), held$sql), "number", held$level)
}

# The rows below a value, and those equal to it, in the distribution that was learned.
rank_in_sql <- function(which) {
  function(node, state) {
    held <- finite_term(node[[2]], state)
    at <- evaluate(node[[3]], NULL)
    upto <- c(0, evaluate(node[[4]], NULL))
    near <- near_enough(at)
    below <- rank_steps(held, at, upto, near, "<=", "below", state)
    if (which == "below") return(below)
    upto_value <- rank_steps(held, at, upto, -near, "<", "upto", state)
    new_term(paste(upto_value$sql, "-", below$sql), "number", below$level, 6)
  }
}

# Rows of all learned values that lie more than `near` below, or at most that far above.
rank_steps <- function(held, at, upto, near, sign, called, state) {
  engine <- state$engine
  x <- if (near == 0) held$sql else if (near > 0) paste0("(", held$sql, " - ", engine$number(near),
    ")") else paste0("(", held$sql, " + ", engine$number(-near), ")")
  sql <- case_sql(paste(held$sql, "IS NOT NULL"),
    steps_sql(x, at, number_sql(upto, engine), engine, sign))
  hold_term(new_term(cast_sql(sql, engine$real), "number", held$level), called, state)
}

kept_in_sql <- function(node, state) {
  held <- finite_term(node[[2]], state)
  ends <- number_sql(as.double(c(node[[3]], node[[4]])), state$engine)
  new_term(typed_case(case_sql(paste(held$sql, c("<", ">"), ends), ends, held$sql), "number",
    list(constant_term(1, state)), state), "number", held$level)
}

# A statistic of the row's group, over its valid rows.
group_in_sql <- function(node, state) {
  parts <- row_items(node)
  how <- as.list(node)$how
  if (!how %in% c("size", "valid")) refuse_extreme(node, state)
  if (state$apart && lies_apart(parts[-1], scoped(state$site, state$variable))) {
    return(group_as_table(node, state))
  }
  groups <- lapply(parts[-1], function(part) hold_term(sql_term(part, state), "group", state))
  names <- vapply(groups, `[[`, "", "sql")
  over <- paste0("OVER (PARTITION BY ", paste(names, collapse = ", "), ")")
  x <- if (how == "size") NULL else if (how == "valid") hold_term(sql_term(parts[[1]], state), "x",
    state) else finite_term(parts[[1]], state)
  value <- group_statistic(how, x, names, over, top_level(c(groups, list(x)[!is.null(x)])), state)
  dated <- gives_date(parts[[1]], how, state)
  new_term(case_sql(paste(names, "IS NOT NULL", collapse = " AND "),
    if (dated) paste0("FLOOR(", value$sql, ")") else value$sql), if (dated) "date" else "number",
  value$level)
}

# Whether a statistic of a group is a date: as its variable is one.
gives_date <- function(x, how, state) {
  has_word_trait(how, "may give a date") && sql_term(x, state)$type == "date"
}

group_statistic <- function(how, x, groups, over, level, state) {
  real <- state$engine$real
  hold <- function(sql, called) hold_term(new_term(sql, "number", level), called, state)
  switch(how,
    size = hold(cast_sql(paste0("COUNT(*) ", over), real), "group_size"),
    valid = hold(cast_sql(paste0("COUNT(", x$sql, ") ", over), real), "group_valid"),
    sd = group_sd(x, over, hold, state), median = group_median(x, groups, over, hold, state),
    hold(paste0(c(mean = "AVG", sum = "SUM", min = "MIN", max = "MAX")[[how]], "(", x$sql, ") ",
      over), paste0("group_", how))
  )
}

group_sd <- function(x, over, hold, state) {
  mean <- hold(paste0("AVG(", x$sql, ") ", over), "group_mean")
  n <- hold(cast_sql(paste0("COUNT(", x$sql, ") ", over), state$engine$real), "group_valid")
  off <- paste0("(", x$sql, " - ", mean$sql, ")")
  squares <- hold_term(new_term(paste0("SUM(", off, " * ", off, ") ", over), "number", mean$level),
    "group_squares", state)
  new_term(paste0("SQRT(", squares$sql, " / ", case_sql(paste(n$sql, "> 1"), paste(n$sql, "- 1")),
    ")"), "number", squares$level)
}

group_median <- function(x, groups, over, hold, state) {
  missing <- case_sql(paste(x$sql, "IS NULL"), "1", "0")
  rank <- hold(paste0("ROW_NUMBER() OVER (PARTITION BY ", paste(groups, collapse = ", "),
    " ORDER BY ", missing, ", ", x$sql, ")"), "group_rank")
  n <- hold(paste0("COUNT(", x$sql, ") ", over), "group_valid")
  middle <- case_sql(paste0(rank$sql, " * 2 BETWEEN ", n$sql, " AND ", n$sql, " + 2"), x$sql)
  hold_term(new_term(paste0("AVG(", middle, ") ", over), "number", rank$level), "group_median",
    state)
}

# The value on the occasion before, of the same unit; a row without unit or order has none and is
# none.
previous_in_sql <- function(node, state) {
  args <- as.list(node)
  if (state$apart) check_unit(scoped(state$site, state$variable), node)
  x <- hold_term(sql_term(args[[2]], state), "x", state)
  unit <- hold_term(sql_term(args$unit, state), "unit", state)
  order <- hold_term(occasion_term(args, state), "order", state)
  told <- paste(c(unit$sql, order$sql), "IS NOT NULL", collapse = " AND ")
  apart <- case_sql(told, "1", "0")
  units <- paste0("PARTITION BY ", apart, ", ", unit$sql)
  if (isTRUE(args$skip_missing)) x <- carried_forward(x, units, list(unit, order), state)
  lag <- paste0("LAG(", x$sql, ") OVER (", units, " ORDER BY ", order$sql, ")")
  held <- hold_term(new_term(lag, x$type, top_level(list(x, unit, order))), "before", state)
  new_term(case_sql(told, held$sql), x$type, held$level)
}

# The last valid value up to the row: rows with as many valid ones before them share one.
carried_forward <- function(x, units, keys, state) {
  level <- top_level(c(list(x), keys))
  met <- hold_term(new_term(paste0("COUNT(", x$sql, ") OVER (", units, " ORDER BY ", keys[[2]]$sql,
    ")"), "number", level), "met", state)
  hold_term(new_term(paste0("MAX(", x$sql, ") OVER (", units, ", ", met$sql, ")"), x$type,
    met$level), "carried", state)
}

occasion_term <- function(args, state) {
  order <- key_term(args$order, state)
  if (is.null(args$steps)) return(order)
  steps <- member_keys(evaluate(args$steps, NULL), order)
  held <- hold_term(order, "order", state)
  table_term(list(held), list(literal_sql(steps, state$engine)), seq_along(steps), state)
}

table_words_in_sql <- list(
  lookup = lookup_in_sql, cuts_below = cuts_in_sql, rows_below = rank_in_sql("below"),
  rows_equal = rank_in_sql("equal"), kept_between = kept_in_sql, group = group_in_sql,
  previous = previous_in_sql, baseline = function(node, state) sql_term(node[[2]], state),
  qnorm = function(node, state) normal_quantile_in_sql(node, state),
  pnorm = function(node, state) refuse_in_sql("percentiles", formula_text(node), state$engine),
  uniform_draw = function(node, state) draw_in_sql(node, state),
  normal_draw = function(node, state) normal_draw_in_sql(node, state)
)
