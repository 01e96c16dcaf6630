# Findings about the result itself.
find_in_result <- function(made, book) {
  list(
    undefined_finding(made), rare_category(made), name_clash(made$out$name, names(book)),
    identical_result(made, book), weight_missing(made, book), before_birth(made)
  )
}

# Rows with a valid answer whose weight is missing take no part.
weight_missing <- function(made, book) {
  weight <- made$turn$weight
  source <- made$out$from[1]
  if (is.null(weight) || !has_trait(made$turn$verb, "weighs") ||
    !is_first_of_source(made, source)) return(NULL)
  lost <- rows_lacking(weight, source, book)
  if (lost) {
    new_finding("weight-missing", made$out$name, source = source, values = counted(lost, "row"))
  }
}

# How many rows have an answer in one variable and none in another.
rows_lacking <- function(name, other, book) {
  if (is_on_site(book) && is.null(context_of_few(c(name, other), book))) {
    gone <- function(name) call("unanswered", as.name(name))
    return(rows_where(book, call("&", gone(name), call("!", gone(other)))))
  }
  context <- context_over(c(name, other), book)
  sum((is.na(context$value(name)) & !is.na(context$value(other))) * (context$stand_for %||% 1L))
}

# Years that run backwards.
before_birth <- function(made) {
  years <- is.call(made$out$expr) && call_head(made$out$expr) %in% c("years_between",
    "months_between")
  if (!years || !isTRUE(made$column$facts$low < 0)) return(NULL)
  new_finding("before-birth", made$out$name,
    values = counted(negative_rows(made$column), "row"))
}

negative_rows <- function(column) {
  if (is_long(column)) {
    return(rows_where(column$far$kept$book, call("<", as.name(column$far$name), 0)))
  }
  if (!is_far(column)) return(sum(column$x < 0, na.rm = TRUE))
  sum(column$cells$rows[which(column$cells$values < 0)])
}

undefined_finding <- function(made) {
  rows <- made$receipt$missing
  rows <- rows[names(rows) == "undefined"]
  if (!length(rows) || has_trait(made$turn$verb, "tells what is undefined")) return(NULL)
  by_pattern <- uses(made$out$expr, words_with("tries a pattern")) &&
    !uses(made$out$expr, words_taking("number"))
  new_finding(if (by_pattern) "pattern-gave-up" else "undefined", made$out$name,
    values = counted(rows, "row"))
}

# Categories that hardly any row holds: fewer than 5, or as a note fewer than 30.
rare_category <- function(made) {
  if (!has_trait(made$turn$verb, "makes categories") || is.null(made$out$rules) &&
    is.null(made$out$lost)) return(NULL)
  facts <- made$column$facts
  if (!length(facts$values) %in% 2:30) return(NULL)
  few_hold(made, made$out$name, facts$values, facts$rows, made$out$meaning$codes)
}

name_clash <- function(name, taken) {
  near <- like_but_for_case(name, taken)
  alike <- setdiff(near[lower_case(near) == lower_case(name)], name)
  plain <- grepl("^[A-Za-z][A-Za-z0-9_.]*$", name) && nchar(name) <= 64
  if (length(alike)) {
    return(new_finding("name-clash", name, values = paste("differs from", alike[1],
      "only by case")))
  }
  if (!plain) new_finding("name-clash", name, values = "is not portable to other programs")
}

# Those names that may differ from this one by case alone, told by their first 100 letters, quickly:
# only for these few is the case of every letter looked up. Letters that others beyond ASCII turn
# into (the sign of Kelvin, the dotted capital I) may be anything.
like_but_for_case <- function(name, names) {
  letters <- strsplit(substr(name, 1, 100), "")[[1]]
  plain <- grepl("^[A-HJL-Za-hjl-z0-9_]$", letters, perl = TRUE)
  letters[plain] <- paste0("[", lower_ascii(letters[plain]), upper_ascii(letters[plain]), "]")
  letters[!plain] <- "."
  pattern <- paste0("^(?s)", paste(letters, collapse = ""))
  near <- names[grepl(pattern, names, perl = TRUE)]
  near[nchar(near) == nchar(name)]
}

# Finds a result that equals another column in every row, or that is one value in all of them.
identical_result <- function(made, book) {
  facts <- made$column$facts
  if (facts$valid < 10) return(NULL)
  if (length(facts$values) == 1) return(constant_finding(made))
  alike <- setdiff(alike_columns(made$column, made$out$meaning, book), made$out$name)
  same <- Find(function(name) same_column(made$column, facts, name, made$out$meaning, book),
    alike)
  if (length(same)) new_finding("identical-result", made$out$name,
    values = paste("is the same as", same, "in every row"))
}

constant_finding <- function(made) {
  if (!has_trait(made$turn$verb, "may be constant by mistake")) return(NULL)
  value <- show_value(made$column$facts$values)
  new_finding("identical-result", made$out$name, values = paste("is", value, "in every valid row"))
}

# What is known of them tells most columns apart; only then all rows are compared.
same_column <- function(column, facts, name, meaning, book) {
  x <- column$x
  if (!identical(names(meaning$codes), names(meaning_in(book, name)$codes))) return(FALSE)
  if (is_derived(book, name) && !same_facts(facts, facts_of(book, name))) return(FALSE)
  if (is_on_site(book)) return(same_at_site(column, name, book))
  other <- values_of(book, name)
  some <- some_rows(length(x))
  typeof_alike(x, other) && seem_equal(x[some], other[some]) && !length(rows_that_differ(x, other))
}

# The column is not in the book yet.
same_at_site <- function(column, name, book) {
  if (!typeof_alike(column$x, column_in(book, name)$x)) return(FALSE)
  rows_apart(guest, book_with(book, guest, column), name, book) == 0
}

same_facts <- function(a, b) {
  near <- function(p, q) {
    is.na(p) == is.na(q) && (is.na(p) || abs(p - q) <= 1e-9 * (abs(p) + abs(q)))
  }
  a$valid == b$valid && near(a$low, b$low) && near(a$high, b$high)
}

seem_equal <- function(a, b) {
  if (any(is.na(a) != is.na(b))) return(FALSE)
  if (is.character(a)) return(!any(a != b, na.rm = TRUE))
  a <- as.numeric(a)
  b <- as.numeric(b)
  !any(abs(a - b) > 1e-9 * (abs(a) + abs(b)), na.rm = TRUE)
}
