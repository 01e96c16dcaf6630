# Meanings that a column of a data frame carries with it: factor levels, and the attributes
# `label`, `labels`, `na_values` and `na_range`.
meaning_from_column <- function(column) {
  carried <- function(name) attr(column, name, exact = TRUE)
  codes <- carried("labels")
  missing <- c(carried_values(carried("na_values"), codes), carried_range(carried("na_range")))
  check_meaning(
    label = text_or_null(carried("label")),
    codes = carried_codes(column, codes, carried("na_values")),
    missing = missing,
    level = level_of_factor(column)
  )
}

text_or_null <- function(x) if (is.character(x) && length(x) == 1 && !is.na(x)) x

carried_codes <- function(column, codes, gone) {
  if (is.factor(column)) return(self_named(setdiff(levels(column), c(NA, ""))))
  keep <- !is.na(codes) & !(codes %in% gone)
  codes <- codes[keep & !duplicated(codes)]
  codes <- codes[!is.na(names(codes)) & nzchar(names(codes))]
  if (length(codes)) codes
}

carried_values <- function(values, codes) {
  if (!length(values)) return(NULL)
  label <- label_of(values, codes)
  label[is.na(label)] <- paste("Code", show_value(values[is.na(label)]))
  taken <- label %in% standard_kinds
  label[taken] <- paste("Declared", label[taken])
  named <- as.list(unname(values))
  names(named) <- label
  named
}

carried_range <- function(range) {
  if (length(range) != 2) return(NULL)
  list("Declared range" = from(range[1], upto = range[2]))
}

level_of_factor <- function(column) {
  if (is.ordered(column)) "ordinal" else if (is.factor(column)) "nominal"
}
