# Findings about the result itself.
find_in_result <- function(made, book) {
  verb <- made$turn$verb
  list(
    if ("undefined" %in% names(made$receipt$missing)) undefined_finding(made),
    if (has_trait(verb, "makes categories")) rare_category(made),
    name_clash(made$out$name, names(book)), identical_result(made, book),
    if (!is.null(made$turn$weight)) weight_missing(made, book),
    if (made$words[1] %in% c("years_between", "months_between")) before_birth(made)
  )
}

# Rows with a valid answer whose weight is missing take no part.
weight_missing <- function(made, book) {
  weight <- made$turn$weight
  source <- made$out$from[1]
  if (is.null(weight) || !has_trait(made$turn$verb, "weighs") ||
    !is_first_of_source(made, source)) return(NULL)
  lost <- rows_lacking(weight, source, site_of(book))
  if (lost) {
    new_finding("weight-missing", made$out$name, source = source, values = counted(lost, "row"))
  }
}

# How many rows have an answer in one variable and none in another.
rows_lacking <- function(name, other, site) {
  gone <- function(name) call("unanswered", as.name(name))
  near <- nearest_site(site, c(name, other))
  rows_where(near, call("&", gone(name), call("!", gone(other))))
}

# Years that run backwards.
before_birth <- function(made) {
  if (!isTRUE(made$column$facts$low < 0)) return(NULL)
  new_finding("before-birth", made$out$name,
    values = counted(sum(values_outside(made$column, c(0, Inf))$rows), "row"))
}

undefined_finding <- function(made) {
  rows <- made$receipt$missing
  rows <- rows[names(rows) == "undefined"]
  if (has_trait(made$turn$verb, "tells what is undefined")) return(NULL)
  by_pattern <- uses(made$out$expr, words_with("tries a pattern")) &&
    !uses(made$out$expr, words_taking("number"))
  new_finding(if (by_pattern) "pattern-gave-up" else "undefined", made$out$name,
    values = counted(rows, "row"))
}

# Categories that hardly any row holds: fewer than 5, or as a note fewer than 30.
rare_category <- function(made) {
  if (is.null(made$out$rules) && is.null(made$out$looked_up)) return(NULL)
  facts <- made$column$facts
  if (!length(facts$values) %in% 2:30) return(NULL)
  few_hold(made, made$out$name, facts$values, facts$rows, made$out$meaning$codes)
}

name_clash <- function(name, taken) {
  near <- like_but_for_case(name, taken)
  alike <- if (length(near)) near[lower_case(near) == lower_case(name)]
  plain <- grepl("^[A-Za-z][A-Za-z0-9_.]*$", name) && nchar(name) <= 64 &&
    !lower_case(name) %in% lower_case(reserved_words)
  if (length(alike)) {
    return(new_finding("name-clash", name, values = paste("differs from", alike[1],
      "only by case")))
  }
  if (!plain) new_finding("name-clash", name, values = "is not portable to other programs")
}

# The other names that may differ from this one by case alone, told quickly.
like_but_for_case <- function(name, names) {
  if (!all_ascii(name)) return(names[nchar(names) == nchar(name) & names != name])
  near <- names[may_differ_by_case(name, names)]
  near[nchar(near) == nchar(name)]
}

# Finds a result that equals another column in every row, or that is one value in all of them.
identical_result <- function(made, book) {
  facts <- made$column$facts
  if (facts$valid < 10) return(NULL)
  if (length(facts$values) == 1) return(constant_finding(made))
  at <- also_knowing(site_of(book), list(result = made$column))
  exact <- is_exact(made$column$x)
  same <- Find(function(name) {
    may_equal(made$column, variable_in(book, name)) && are_equal(at, "result", name, exact)
  }, alike_columns(setdiff(names(book), made$out$name), at, book))
  if (length(same)) new_finding("identical-result", made$out$name,
    values = paste("is the same as", same, "in every row"))
}

# Those of some columns that may be the same as the result; one that is read otherwise than it came
# may hold anything.
alike_columns <- function(names, at, book) {
  read <- names(compact(lapply(meanings_of(book), `[[`, "read")))
  c(look_alike(at, "result", setdiff(names, read)), intersect(names, read))
}

constant_finding <- function(made) {
  if (!has_trait(made$turn$verb, "may be constant by mistake")) return(NULL)
  value <- show_value(as_column(made$column$facts$values, column_of(made$column)$x))
  new_finding("identical-result", made$out$name, values = paste("is", value, "in every valid row"))
}

# What is known of them tells most columns apart; only then rows are compared.
may_equal <- function(made, other) {
  if (!identical(names(made$meaning$codes), names(other$meaning$codes))) return(FALSE)
  if (is.null(other$facts)) return(same_kind_of_values(made$x, other))
  same_facts(made$facts, other$facts) && same_kind_of_values(made$x, other)
}

# Both texts, both dates, or both numbers.
same_kind_of_values <- function(x, other) {
  text <- has_text(other)
  if (is.character(x) || text) return(is.character(x) && text)
  inherits(x, "Date") == inherits(other$x %||% if (is.null(other$meaning$read)) other$raw else
    column_of(other)$x, "Date")
}
