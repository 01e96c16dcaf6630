# Findings about the result itself.
find_in_result <- function(made, book) {
  list(
    undefined_finding(made), rare_category(made), name_clash(made$out$name, names(book)),
    identical_result(made, book)
  )
}

undefined_finding <- function(made) {
  rows <- count_kinds(made$column)
  rows <- rows[names(rows) == "undefined"]
  if (!length(rows) || made$turn$verb %in% c("standardize", "group")) return(NULL)
  new_finding("undefined", made$out$name, values = rows_of(rows))
}

# Categories that hardly any row holds: fewer than 5, or as a note fewer than 30.
rare_category <- function(made) {
  if (!made$turn$verb %in% c("recode", "collapse", "bin", "dummy", "instrument") || is.null(made$out$rules) &&
    is.null(made$out$lost)) return(NULL)
  facts <- made$column$facts
  if (facts$valid < 50 || !length(facts$values) %in% 2:30) return(NULL)
  order <- order(facts$values, method = "radix")
  values <- facts$values[order]
  rows <- facts$rows[order]
  few <- rows < 30
  if (!any(few)) return(NULL)
  labels <- label_of(values, made$out$meaning$codes) %|% show_value(values)
  new_finding("rare-category", made$out$name, source = made$out$from[1], values = rows_in_words(labels[few], rows[few]),
    severity = if (any(rows < 5)) "warn" else "note")
}

name_clash <- function(name, taken) {
  alike <- setdiff(taken[tolower(taken) == tolower(name)], name)
  plain <- grepl("^[A-Za-z][A-Za-z0-9_.]*$", name) && nchar(name) <= 64
  if (length(alike)) return(new_finding("name-clash", name, values = paste("differs from", alike[1], "only by case")))
  if (!plain) new_finding("name-clash", name, values = "is not portable to other programs")
}

# The same values as another column, or the same everywhere.
identical_result <- function(made, book) {
  facts <- made$column$facts
  if (facts$valid < 10) return(NULL)
  if (length(facts$values) == 1) return(constant_finding(made))
  x <- made$column$x
  some <- unique(round(seq(1, length(x), length.out = min(1000, length(x)))))
  same <- Filter(function(name) same_column(x, some, name, made$out$meaning, book), setdiff(names(book), made$out$name))
  if (length(same)) new_finding("identical-result", made$out$name,
    values = paste("is the same as", same[1], "in every row"))
}

constant_finding <- function(made) {
  if (!made$turn$verb %in% c("compute", "recode", "bin", "flag", "composite")) return(NULL)
  value <- show_value(made$column$facts$values)
  new_finding("identical-result", made$out$name, values = paste("is", value, "in every valid row"))
}

# A thousand rows tell most columns apart; only then all are compared.
same_column <- function(x, some, name, meaning, book) {
  other <- column_in(book, name)$x
  alike <- identical(names(meaning$codes), names(meaning_in(book, name)$codes)) && typeof_alike(x, other)
  alike && seem_equal(x[some], other[some]) && !length(rows_that_differ(x, other))
}

seem_equal <- function(a, b) {
  if (any(is.na(a) != is.na(b))) return(FALSE)
  if (is.character(a)) return(!any(a != b, na.rm = TRUE))
  a <- as.numeric(a)
  b <- as.numeric(b)
  !any(abs(a - b) > 1e-9 * (abs(a) + abs(b)), na.rm = TRUE)
}

typeof_alike <- function(a, b) is.character(a) == is.character(b) && inherits(a, "Date") == inherits(b, "Date")
