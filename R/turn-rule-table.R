# Rules from a data frame: columns code, label and `when`, or a column for each variable.
# A row whose `rest` is TRUE takes what no rule catches.
rules_from_table <- function(table) {
  if (!is.data.frame(table)) fail("rules-not-table", got = describe_type(table))
  if (!"code" %in% names(table)) fail("rules-no-code", names = names(table))
  if (!nrow(table)) fail("rules-no-rows")
  lapply(seq_len(nrow(table)), function(i) rule_from_row(lapply(table, `[[`, i), i))
}

rule_from_row <- function(row, place) {
  code <- read_code(row$code)
  label <- if (!is_blank(row$label)) as.character(row$label)
  if (isTRUE(as.logical(row$rest))) return(the_rest(code, label))
  conditions <- row[setdiff(names(row), c("code", "label", "rest"))]
  conditions <- conditions[!vapply(conditions, is_blank, NA)]
  if (!length(conditions)) fail("rules-row-empty", row = place)
  conditions <- lapply(conditions, read_cell)
  if (identical(names(conditions), "when")) new_rule(code, label, when = conditions$when)
  else new_rule(code, label, where = conditions)
}

is_blank <- function(x) is.null(x) || is.na(x) || (is.character(x) && !nzchar(trimws(x)))

read_code <- function(code) {
  if (is_blank(code)) return(NA)
  if (!is.character(code)) return(code)
  if (code == "unchanged") return(unchanged())
  if (grepl(plain_number, code)) as_code(as.numeric(code)) else code
}
