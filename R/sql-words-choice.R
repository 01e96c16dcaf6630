# Choices and logic as terms of SQL.

# The value of the first test that holds; a test that cannot be decided leaves the row missing.
choose_in_sql <- function(node, state) {
  parts <- choose_parts(node)
  tests <- lapply(parts$tests, function(test) truth_of(sql_term(test, state), state))
  values <- lapply(c(parts$values, list(parts$default)), sql_term, state = state)
  type <- choice_type(values)
  values <- lapply(values, as_type_in_sql, type = type, state = state)
  lines <- choice_lines(tests, values[-length(values)])
  default <- values[[length(values)]]
  sql <- case_sql(lines$tests, lines$values, if (default$sql != "NULL") default$sql)
  level <- top_level(c(tests, values))
  if (!length(tests)) return(new_term(default$sql, type, level, default$binds, default$null))
  new_term(typed_case(sql, type, values, state), type, level)
}

# Where texts and numbers meet, all are numbers.
choice_type <- function(values) {
  types <- setdiff(unique(vapply(values, `[[`, "", "type")), "any")
  if (length(types) == 1) types else if (length(types)) "number" else "number"
}

as_type_in_sql <- function(term, type, state) {
  if (term$type == "any") return(replace_type(term, type))
  switch(type, text = text_of(term, state), number = number_of(term, state), term)
}

# Literals of numbers have other types than columns: the whole is cast.
typed_case <- function(sql, type, values, state) {
  literal <- vapply(values, function(v) v$level == 0, NA)
  if (!any(literal) || !type %in% c("number", "date", "text")) return(sql)
  cast_sql(sql, if (type == "text") state$engine$text else state$engine$real)
}

# Before a test that may be undecided stands one that asks for that, unless those before it have
# seen to it.
choice_lines <- function(tests, values) {
  known <- character()
  lines <- list()
  for (i in seq_along(tests)) {
    test <- tests[[i]]
    undecided <- undecided_sql(test, known)
    lines <- c(lines, if (!is.null(undecided)) list(c(undecided, "NULL")),
      list(c(within_sql(test, 2), values[[i]]$sql)))
    known <- unique(c(known, test$null, test$denies))
  }
  list(tests = vapply(lines, `[[`, "", 1), values = vapply(lines, `[[`, "", 2))
}

undecided_sql <- function(test, known) {
  if (is.null(test$null)) return(paste0("(", test$sql, ") IS NULL"))
  open <- setdiff(test$null, known)
  if (length(open)) paste(open, "IS NULL", collapse = " OR ")
}

if_in_sql <- function(node, state) choose_in_sql(if_to_choose(node), state)

first_valid_in_sql <- function(node, state) {
  values <- lapply(as.list(node)[-1], sql_term, state = state)
  type <- choice_type(values)
  values <- lapply(values, as_type_in_sql, type = type, state = state)
  last <- length(values)
  if (last == 1) return(values[[1]])
  held <- lapply(values[-last], hold_term, called = "first", state = state)
  names <- vapply(held, `[[`, "", "sql")
  sql <- case_sql(paste(names, "IS NOT NULL"), names, values[[last]]$sql)
  new_term(typed_case(sql, type, values[last], state), type, top_level(c(held, values[last])),
    null = if (identical(values[[last]]$null, character())) character())
}

# Both conditions, or one of them, by the logic of three values, which SQL has as well.
logic_in_sql <- function(sign) {
  binds <- c(AND = 3, OR = 2)[[sign]]
  function(node, state) {
    parts <- lapply(as.list(node)[-1], function(part) truth_of(sql_term(part, state), state))
    sql <- paste(vapply(parts, within_sql, "", level = binds), collapse = paste0(" ", sign, " "))
    known <- known_of_both(parts, sign)
    new_term(sql, "truth", top_level(parts), binds, known$null, known$implies, known$denies)
  }
}

# When it is missing, and what holds where it is true or false.
known_of_both <- function(parts, sign) {
  nulls <- lapply(parts, `[[`, "null")
  both <- function(key) unlist(lapply(parts, `[[`, key))
  either <- function(key) intersect(parts[[1]][[key]], parts[[2]][[key]])
  sure <- if (sign == "AND") "implies" else "denies"
  list(
    null = null_of_both(nulls, parts, sure),
    implies = unique(if (sign == "AND") both("implies") else either("implies")),
    denies = unique(if (sign == "AND") either("denies") else both("denies"))
  )
}

# Two conditions on the same columns are missing together; one that asks first whether there is a
# value is never missing.
null_of_both <- function(nulls, parts, sure) {
  if (any(vapply(nulls, is.null, NA))) return(NULL)
  if (setequal(nulls[[1]], nulls[[2]]) && length(nulls[[1]]) <= 1) return(nulls[[1]])
  if (!length(nulls[[1]]) && all(nulls[[2]] %in% parts[[1]][[sure]])) return(character())
  if (!length(nulls[[2]]) && all(nulls[[1]] %in% parts[[2]][[sure]])) return(character())
  NULL
}

not_in_sql <- function(node, state) {
  part <- truth_of(sql_term(node[[2]], state), state)
  new_term(paste("NOT", within_sql(part, 5)), "truth", part$level, 4, part$null,
    implies = part$denies, denies = part$implies)
}

member_in_sql <- function(node, state) {
  term <- key_term(node[[2]], state)
  values <- member_values(node[[3]], term)
  held <- if (length(values)) term else hold_term(term, "member", state)
  if (!length(values)) {
    sql <- case_sql(paste(held$sql, "IS NOT NULL"), if (state$engine$truth) "FALSE" else "0")
    return(new_term(sql, "truth", held$level, null = held$null))
  }
  list <- if (is.character(values)) sql_text(values, state$engine) else
    number_sql(values, state$engine)
  new_term(paste0(within_sql(term, 6), " IN (", folded_list(list), ")"), "truth", term$level, 5,
    term$null, term$null, term$null)
}

# A term whose values can be told apart by literals.
key_term <- function(node, state) {
  term <- sql_term(node, state)
  if (term$type == "truth") number_of_truth(term, state) else term
}

member_values <- function(node, term) {
  values <- if (is.call(node)) evaluate(node, NULL) else node
  values <- values[!is.na(values)]
  if (term$type == "text") return(unique(show_value(values)))
  values <- as.double(as_number(values))
  unique(values[!is.na(values)])
}

# Long lists on lines of even length.
folded_list <- function(values, width = 84) {
  if (sum(nchar(values) + 2) <= width) return(paste(values, collapse = ", "))
  lines <- cumsum(nchar(values) + 2) %/% width
  rows <- vapply(split(values, lines), paste, "", collapse = ", ")
  paste0("\n", indented(paste0(rows, c(rep(",", length(rows) - 1), ""))), "\n")
}

unanswered_in_sql <- function(node, state) {
  if (length(node) == 3) return(kind_term(as.character(node[[2]]), node[[3]], state))
  term <- sql_term(node[[2]], state)
  if (identical(term$null, character())) return(constant_term(FALSE, state))
  single <- length(term$null) == 1 && identical(term$null, term$sql)
  new_term(paste(within_sql(term, 6), "IS NULL"), "truth", term$level, 5, character(),
    denies = if (single) term$null else term$null %||% character())
}

block_in_sql <- function(node, state) {
  outer <- state$temporary
  for (step in as.list(node)[-1]) {
    if (is_assignment(step)) {
      name <- as.character(step[[2]])
      term <- sql_term(step[[3]], state)
      state$temporary[[name]] <- hold_term(term, name, state, "x")
    } else {
      out <- sql_term(step, state)
    }
  }
  state$temporary <- outer
  out
}

choice_words_in_sql <- list(
  choose = choose_in_sql, "if" = if_in_sql, first_valid = first_valid_in_sql,
  "&" = logic_in_sql("AND"), "|" = logic_in_sql("OR"), "!" = not_in_sql, "%in%" = member_in_sql,
  is.na = unanswered_in_sql, unanswered = unanswered_in_sql, "{" = block_in_sql,
  "(" = function(node, state) sql_term(node[[2]], state)
)
