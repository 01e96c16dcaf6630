# The values of coded columns, a row for each of k levels. `reference` is its place, 0 for none.
#   In a model with an intercept the coefficients are the contrasts; the columns are those of the
#   inverse of the hypothesis matrix whose first row is the mean of all levels.
coding_matrix <- function(k, coding, reference) {
  switch(coding,
    indicator = diag(k)[, column_levels(k, coding, reference), drop = FALSE],
    effect = effect_matrix(k, reference),
    difference = outer(seq_len(k), seq_len(k - 1), function(i, j) ifelse(i <= j, -(k - j) / k, j / k)),
    helmert = outer(seq_len(k), seq_len(k - 1), function(i, j) ifelse(i <= j, -1, ifelse(i == j + 1, j, 0)) / (j + 1)),
    polynomial = polynomial_matrix(k)
  )
}

# Orthonormal; what rounding left of zero is zero.
polynomial_matrix <- function(k) {
  out <- unname(stats::contr.poly(k)[, seq_len(k - 1), drop = FALSE])
  out[abs(out) < 1e-14] <- 0
  out
}

effect_matrix <- function(k, reference) {
  out <- diag(k)[, column_levels(k, "effect", reference), drop = FALSE]
  out[reference, ] <- -1
  out
}

# The level that each column is about; for polynomials its degree.
column_levels <- function(k, coding, reference) {
  switch(coding, difference = , helmert = seq_len(k)[-1], polynomial = seq_len(k - 1), setdiff(seq_len(k), reference))
}

dummy_names <- function(plan, turn) {
  level <- level_names(plan)
  pattern <- turn$as %||% usual_pattern(plan$coding)
  made <- gsub("{level}", "\1", fill_name(pattern, plan$source), fixed = TRUE)
  levels <- c(level, if (identical(turn$missing, "level")) "missing")
  vapply(levels, function(l) gsub("\1", l, made, fixed = TRUE), "", USE.NAMES = FALSE)
}

usual_pattern <- function(coding) {
  ending <- c(effect = "_effect", difference = "_difference", helmert = "_helmert")[coding] %|% ""
  paste0("{name}_{level}", ending)
}

# Names of levels that are safe in code: ASCII, and the code where a label has no such form.
level_names <- function(plan) {
  degrees <- c("linear", "quadratic", "cubic")
  if (plan$coding == "polynomial") return(degrees[plan$column] %|% paste0("degree", plan$column))
  one_of_each(safe_name(plan$labels[plan$column], plan$levels[plan$column]))
}

safe_name <- function(labels, codes) {
  plain <- stringi::stri_trans_general(labels, "Latin-ASCII")
  lost <- !stringi::stri_enc_isascii(plain)
  plain[lost] <- show_value(codes[lost])
  name <- gsub("[^a-z0-9]+", "_", lower_ascii(signs_in_words(plain)))
  name <- gsub("^_+|_+$", "", name)
  ends <- nchar(name) > 30
  name[ends] <- sub("_[^_]*$", "", substr(name[ends], 1, 30))
  ifelse(nzchar(name) & stringi::stri_enc_isascii(name), name, paste0("level", seq_along(name)))
}

# Signs that tell one level from another: a minus before a number (but not between two), "<12", ">16", "12+".
signs_in_words <- function(text) {
  words <- c("(?<![0-9A-Za-z])-(?=[.]?[0-9])" = "minus_", "<=" = " up to ", ">=" = " from ", "<" = " under ",
    ">" = " over ", "(?<=[0-9])[+]" = " plus ")
  for (sign in names(words)) text <- gsub(sign, words[[sign]], text, perl = TRUE)
  text
}

one_of_each <- function(names) {
  copy <- stats::ave(seq_along(names), names, FUN = seq_along)
  ifelse(copy > 1, paste0(names, "_", copy), names)
}

dummy_meaning <- function(plan, turn, world, j) {
  title <- world$meaning(plan$source)$label %||% plan$source
  label <- plan$labels[plan$column[j]]
  said <- switch(plan$coding,
    indicator = , effect = label,
    difference = paste(label, "less", plan$labels[plan$column[j] - 1]),
    helmert = paste(label, "less the mean of those before"),
    polynomial = sub("^degree(.*) trend", "trend of degree \\1", paste(level_names(plan)[j], "trend"))
  )
  against <- if (plan$coding == "effect") "less the mean of all levels; reference " else "reference "
  named <- plan$coding %in% c("indicator", "effect") && !isTRUE(turn$all_levels)
  new_meaning(
    label = paste0(title, ": ", said, if (named) paste0(" (", against, plan$labels[plan$reference], ")")),
    codes = if (plan$coding == "indicator") c("No" = 0L, "Yes" = 1L),
    level = if (plan$coding == "indicator") "nominal" else "interval", high = turn$high, note = turn$note
  )
}
