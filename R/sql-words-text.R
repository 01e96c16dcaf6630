# Words of texts as terms of SQL. Texts are in their normal form, and never empty, see raw_text().

texts_of <- function(nodes, state) {
  lapply(nodes, function(node) text_of(sql_term(node, state), state))
}

one_text <- function(template, type = "text") {
  function(node, state) {
    part <- text_of(sql_term(node[[2]], state), state)
    new_term(fill_sql(template, part$sql), type, part$level, null = part$null)
  }
}

outer_blanks <- function(engine) {
  paste0("(' ' || ", paste(vapply(c(9, 10, 13), function(n) fill_sql(engine$letter, n), ""),
    collapse = " || "), ")")
}

trimmed_in_sql <- function(node, state) {
  part <- text_of(sql_term(node[[2]], state), state)
  new_term(fill_sql(state$engine$trim, part$sql, outer_blanks(state$engine)), "text", part$level,
    null = part$null)
}

# From one character to another, as R counts: from 1, fractions cut off.
substr_in_sql <- function(node, state) {
  text <- text_of(sql_term(node[[2]], state), state)
  if (is.numeric(node[[3]]) && is.numeric(node[[4]])) {
    from <- max(1, trunc(node[[3]]))
    length <- max(0, trunc(node[[4]]) - from + 1)
    return(new_term(paste0("SUBSTR(", text$sql, ", ", number_sql(from, state$engine), ", ",
      number_sql(length, state$engine), ")"), "text", text$level, null = text$null))
  }
  ends <- lapply(node[3:4], function(part) {
    term <- number_of(sql_term(part, state), state)
    whole <- cut_off(term, state)
    hold_term(new_term(cast_sql(whole, state$engine$whole), "number", term$level + 1), "place",
      state)
  })
  from <- case_sql(paste(ends[[1]]$sql, "< 1"), "1", ends[[1]]$sql)
  length <- case_sql(paste(ends[[2]]$sql, ">=", from), paste(ends[[2]]$sql, "-", from, "+ 1"), "0")
  new_term(paste0("SUBSTR(", text$sql, ", ", from, ", ", length, ")"), "text",
    top_level(c(list(text), ends)))
}

cut_off <- function(term, state) {
  x <- hold_term(term, "number", state)$sql
  case_sql(paste(x, "< 0"), fill_sql(state$engine$ceiling, x), floor_sql(x, state))
}

# Whether a text starts, or ends, with another.
starts_in_sql <- function(node, state) {
  parts <- lapply(texts_of(as.list(node)[-1], state), hold_term, called = "text", state = state)
  x <- parts[[1]]$sql
  y <- parts[[2]]$sql
  new_term(paste0("SUBSTR(", x, ", 1, LENGTH(", y, ")) = ", y), "truth", top_level(parts), 5,
    any_null(parts))
}

ends_in_sql <- function(node, state) {
  parts <- lapply(texts_of(as.list(node)[-1], state), hold_term, called = "text", state = state)
  x <- parts[[1]]$sql
  y <- parts[[2]]$sql
  longer <- paste0("LENGTH(", x, ") < LENGTH(", y, ")")
  same <- paste0("SUBSTR(", x, ", LENGTH(", x, ") - LENGTH(", y, ") + 1) = ", y)
  new_term(paste0("(LENGTH(", x, ") >= LENGTH(", y, ") AND ", same, ")"), "truth",
    top_level(parts), 9, if (parts[[2]]$level == 0) any_null(parts))
}

joined_in_sql <- function(node, state) {
  parts <- texts_of(as.list(node)[-1], state)
  sql <- paste(vapply(parts, within_sql, "", level = 7), collapse = " || ")
  new_term(sql, "text", top_level(parts), 6, any_null(parts))
}

# A number as text: whole numbers in full, others with 15 figures.
number_as_text <- function(term, state) {
  engine <- state$engine
  held <- hold_term(term, "number", state)
  x <- held$sql
  bigint <- if (engine$name == "sqlite") "INTEGER" else "BIGINT"
  whole <- cast_sql(cast_sql(x, bigint), engine$text)
  whole_test <- paste0("ABS(", x, ") <= 9007199254740992 AND ", floor_sql(x, state), " = ", x)
  fraction <- if (is.null(engine$as_text)) figures_in_postgresql(x) else
    fill_sql(engine$as_text, x)
  endless <- if (state$infinite) paste(x, "=", c("", "-"), engine$infinity)
  new_term(case_sql(c(paste(x, "IS NULL"), sub("- ", "-", endless, fixed = TRUE), whole_test),
    c("NULL", if (state$infinite) c("'Inf'", "'-Inf'"), whole), fraction), "text", held$level)
}

# As a decimal the server writes 15 figures without an exponent, to_char() with one.
figures_in_postgresql <- function(x) {
  size <- paste0("ABS(", x, ")")
  decimal <- paste0("CAST(TRIM_SCALE(CAST(", x, " AS NUMERIC)) AS TEXT)")
  figures <- paste0("LTRIM(TO_CHAR(", x, ", '9.99999999999999EEEE'))")
  short <- paste0("REGEXP_REPLACE(", figures, ", '[.]?0*e', 'e')")
  case_sql(paste0(size, " >= 0.0001 AND ", size, " < 1000000000000000"), decimal, short)
}

# Numbers kept as text: plain ones are read, other text is missing.
number_of_text <- function(term, state) {
  if (!is.null(term$value)) return(constant_term(as_number(term$value), state))
  held <- hold_term(term, "text", state)
  read <- if (is.null(state$engine$fits)) number_by_signs(held, state) else
    number_by_pattern(held, state)
  hold_term(read, "number", state)
}

number_by_pattern <- function(held, state) {
  x <- held$sql
  blanks <- fill_sql(state$engine$trim, x, paste0("' ' || ", fill_sql(state$engine$letter, 9)))
  fits <- fits_sql(x, plain_number, state$engine)
  new_term(case_sql(fits, cast_sql(blanks, state$engine$real)), "number", held$level)
}

# Where the engine knows no patterns: the sign and the exponent are set aside, what is left must be
# figures with one point at most.
number_by_signs <- function(held, state) {
  hold <- function(sql, called, level, type = "text") {
    hold_term(new_term(sql, type, level), called, state)
  }
  bare <- hold(paste0("TRIM(", held$sql, ", ' ' || CHAR(9))"), "bare", held$level)
  after_sign <- function(x) {
    case_sql(paste0("SUBSTR(", x, ", 1, 1) IN ('-', '+')"), paste0("SUBSTR(", x, ", 2)"), x)
  }
  unsigned <- hold(after_sign(bare$sql), "unsigned", bare$level)
  u <- unsigned$sql
  at <- hold(paste0("INSTR(LOWER(", u, "), 'e')"), "exponent_at", unsigned$level, "number")
  figures <- hold(case_sql(paste(at$sql, "> 0"), paste0("SUBSTR(", u, ", 1, ", at$sql, " - 1)"), u),
    "figures", at$level)
  raw <- hold(case_sql(paste(at$sql, "> 0"), paste0("SUBSTR(", u, ", ", at$sql, " + 1)"), "'0'"),
    "power", at$level)
  power <- hold(after_sign(raw$sql), "power", raw$level)
  f <- figures$sql
  fits <- c(paste0(f, " NOT GLOB '*[^0-9.]*'"), paste0(f, " GLOB '*[0-9]*'"),
    paste0("LENGTH(", f, ") - LENGTH(REPLACE(", f, ", '.', '')) <= 1"),
    paste0(power$sql, " GLOB '[0-9]*'"), paste0(power$sql, " NOT GLOB '*[^0-9]*'"))
  new_term(case_sql(paste(fits, collapse = " AND "), cast_sql(bare$sql, "REAL")), "number",
    power$level)
}

fits_sql <- function(x, pattern, engine) fill_sql(engine$fits, x, sql_text(pattern, engine))

# A piece as it stands, in a text.
piece_in_sql <- function(node, state) {
  if (isTRUE(as.list(node)$regex)) return(text_table(node, node[[3]], "truth", state))
  text <- text_of(sql_term(node[[3]], state), state)
  piece <- sql_text(node[[2]], state$engine)
  new_term(paste(fill_sql(state$engine$position, text$sql, piece), "> 0"), "truth", text$level, 5,
    text$null, text$null, text$null)
}

# The first piece, or every one, replaced.
replaced_in_sql <- function(all) {
  function(node, state) {
    if (isTRUE(as.list(node)$regex)) return(text_table(node, node[[4]], "text", state))
    text <- text_of(sql_term(node[[4]], state), state)
    given <- sql_text(c(node[[2]], node[[3]]), state$engine)
    if (all) {
      return(new_term(paste0("REPLACE(", paste(c(text$sql, given), collapse = ", "), ")"), "text",
        text$level, null = text$null))
    }
    held <- hold_term(text, "text", state)
    at <- fill_sql(state$engine$position, held$sql, given[1])
    rest <- paste0("SUBSTR(", held$sql, ", ", at, " + ", nchar(node[[2]]), ")")
    before <- paste0("SUBSTR(", held$sql, ", 1, ", at, " - 1)")
    new_term(case_sql(paste(at, "> 0"), paste(before, "||", given[2], "||", rest), held$sql),
      "text", held$level, null = held$null)
  }
}

# Letters of ASCII change their case everywhere alike; others are replaced one by one, those that
# are met.
changed_case_in_sql <- function(word) {
  function(node, state) {
    part <- text_of(sql_term(node[[2]], state), state)
    others <- other_letters(node[[2]], word, state)
    from <- if (word == "toupper") letters else LETTERS
    to <- if (word == "toupper") LETTERS else letters
    sql <- swapped_sql(part$sql, c(from, names(others)), c(to, others), word, state)
    new_term(sql, "text", part$level, null = part$null)
  }
}

swapped_sql <- function(sql, from, to, word, state) {
  engine <- state$engine
  if (!is.null(engine$swap)) {
    return(fill_sql(engine$swap, sql, sql_text(paste(from, collapse = ""), engine),
      sql_text(paste(to, collapse = ""), engine)))
  }
  sql <- paste0(if (word == "toupper") "UPPER(" else "LOWER(", sql, ")")
  for (i in which(!from %in% c(letters, LETTERS))) {
    sql <- paste0("REPLACE(", sql, ", ", sql_text(from[i], engine), ", ", sql_text(to[i], engine),
      ")")
  }
  sql
}

# The letters beyond ASCII that are met in a text, named, with their other case.
other_letters <- function(node, word, state) {
  met <- distinct_texts(node, state)
  met <- met[!vapply(met, all_ascii, NA)]
  if (!length(met)) return(NULL)
  signs <- unique(unlist(strsplit(met, "")))
  changed <- if (word == "toupper") upper_case(signs) else lower_case(signs)
  signs_changed <- changed != signs & !vapply(signs, all_ascii, NA)
  setNames(changed[signs_changed], signs[signs_changed])
}

# What no engine does as R does: each text that is met with its result; others are missing.
text_table <- function(node, of, type, state) {
  term <- hold_term(text_of(sql_term(of, state), state), "text", state)
  met <- distinct_texts(of, state)
  context <- list(value = function(name) met, rows = length(met))
  node[[length(row_items(node)) + 1]] <- as.name("met")
  results <- evaluate(node, context)
  table_of_texts(term, met, results, type, state)
}

table_of_texts <- function(term, met, results, type, state) {
  use <- !is.na(results)
  if (!any(use)) return(typed_null(if (type == "text") state$engine$text else state$engine$real))
  values <- if (type == "text") sql_text(results[use], state$engine) else
    number_sql(as.double(results[use]), state$engine)
  sql <- values_case(term$sql, sql_text(met[use], state$engine), values)
  if (type == "truth") {
    return(new_term(paste(sql, "= 1"), "truth", term$level, 5))
  }
  new_term(typed_case(sql, type, list(constant_term(1, state)), state), type, term$level)
}

# CASE x WHEN 'a' THEN 1 ...: values with the same result share a line.
values_case <- function(x, old, new) {
  groups <- split(old, factor(new, unique(new)))
  tests <- vapply(groups, function(values) {
    if (length(values) == 1) paste(x, "=", values) else
      paste0(x, " IN (", folded_list(values), ")")
  }, "")
  case_sql(tests, names(groups))
}

# The distinct texts that an expression takes.
distinct_texts <- function(node, state) {
  site <- scoped(state$site, state$variable)
  near <- nearest_site(site, formula_vars(node))
  if (!site_can(near, "values")) refuse_in_sql("many_texts", formula_text(node), state$engine)
  met <- evaluate(node, near)
  met <- sort_points(unique(as_text(met[!is.na(met)])))
  if (length(met) > 1000) refuse_in_sql("many_texts", formula_text(node), state$engine)
  met
}

text_words_in_sql <- list(
  toupper = changed_case_in_sql("toupper"), tolower = changed_case_in_sql("tolower"),
  trimws = trimmed_in_sql, nchar = function(node, state) {
    one_text(paste0("CAST(LENGTH(%s) AS ", state$engine$real, ")"), "number")(node, state)
  }, substr = substr_in_sql,
  startsWith = starts_in_sql, endsWith = ends_in_sql, paste0 = joined_in_sql,
  grepl = piece_in_sql, sub = replaced_in_sql(FALSE), gsub = replaced_in_sql(TRUE)
)
