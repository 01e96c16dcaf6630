# What a variable is to the others: the weight that is taken where a call takes one, the groups by
# which scores are looked at, or nothing.
variable_roles <- c("weight", "groups", "none")

# Codebooks of others may call something else by that name.
known_role <- function(role) if (is.character(role) && isTRUE(role %in% variable_roles)) role

measurement_levels <- c("nominal", "ordinal", "interval", "ratio")

# What a variable means: a list with only the fields that are known.
#   codes: values named by their labels; missing: a list of matchers, named by the reason.
new_meaning <- function(...) {
  given <- list(...)
  given <- compact(given)
  structure(given, class = "ableturn_meaning")
}

# `more` wins over `meaning`, field by field; kinds of missing answers add up.
merge_meaning <- function(meaning, more) {
  if (!length(more)) return(meaning)
  if (length(more$missing)) {
    kept <- meaning$missing[setdiff(names(meaning$missing), names(more$missing))]
    more$missing <- c(kept, more$missing)
  }
  meaning <- unclass(meaning)
  meaning[names(more)] <- unclass(more)
  do.call(new_meaning, meaning)
}

without_fields <- function(meaning, fields) {
  do.call(new_meaning, unclass(meaning)[setdiff(names(meaning), fields)])
}

# Checks what an analyst states about a variable and gives it as a meaning.
check_meaning <- function(label = NULL, codes = NULL, missing = NULL, level = NULL, limits = NULL,
                          high = NULL, low = NULL, unit = NULL, note = NULL, asked_if = NULL,
                          read = NULL, role = NULL, set = NULL) {
  new_meaning(
    label = check_text(label, "label"),
    codes = check_codes(codes),
    missing = check_missing(missing),
    level = if (!is.null(level)) check_choice(level, "level", measurement_levels),
    limits = check_limits(limits),
    high = check_text(high, "high"),
    low = check_text(low, "low"),
    unit = check_text(unit, "unit"),
    note = check_text(note, "note"),
    asked_if = check_text(asked_if, "asked_if"),
    read = if (!is.null(read)) check_choice(read, "read", names(ways_to_read)),
    role = if (!is.null(role)) check_choice(role, "role", variable_roles),
    set = check_text(set, "set")
  )
}

check_codes <- function(codes) {
  if (is.null(codes)) return(NULL)
  if (is.list(codes)) codes <- unlist(codes)
  if (!is_named(codes)) {
    fail("codes-unnamed", argument = "codes", example = 'c("Never" = 1, "Always" = 5)')
  }
  check_letters(names(codes), "the labels")
  if (is.character(codes)) check_letters(codes, "the codes")
  twice <- unique(codes[duplicated(codes)])
  if (length(twice)) fail("codes-twice", codes = show_value(twice))
  if (is.numeric(codes)) as_code(codes) else codes
}

check_missing <- function(missing) {
  if (is.null(missing)) return(NULL)
  if (!is_named(missing)) {
    fail("codes-unnamed", argument = "missing", example = 'c("Refused" = 99)')
  }
  if (any(grepl("[.]low_in$", names(missing)))) {
    fail("range-apart", argument = "missing",
      example = '"Refused" = 99, "Not sure" = from(90, upto = 95)')
  }
  check_letters(names(missing), "the reasons")
  clash <- intersect(names(missing), standard_kinds)
  if (length(clash)) fail("kind-taken", kind = clash)
  lapply(self_named(unique(names(missing))), function(kind) {
    matchers <- as_matchers(unname(missing[names(missing) == kind]))
    if (any(vapply(matchers, function(m) m$type == "holding", NA))) {
      fail("holding-kind", kind = kind)
    }
    merge_values(matchers)
  })
}

check_limits <- function(limits) {
  if (is.null(limits)) return(NULL)
  if (!is.numeric(limits) || length(limits) != 2 || anyNA(limits)) {
    fail("bad-limits", got = describe_type(limits))
  }
  if (limits[1] >= limits[2]) fail("limits-order", low = limits[1], high = limits[2])
  as_code(as.double(unname(limits)))
}

# The label of each value where it says more than the value does; NA elsewhere.
telling_label <- function(values, codes) {
  label <- label_of(values, codes)
  replace(label, label %in% show_value(values) & label == show_value(values), NA)
}

# The label of each value, NA where it has none.
label_of <- function(values, codes) {
  found <- match(show_value(values), show_value(unname(codes)))
  names(codes)[found] %||% rep(NA_character_, length(values))
}

# Distinct values in the order of their categories: as the codes are declared (levels of a factor, a
# codebook), and values without a label after them. Numbers of which only some have a label stay in
# the order of their size.
category_order <- function(values, codes = NULL) {
  declared <- match(show_value(unname(codes)), show_value(values), nomatch = 0L)
  others <- values[!seq_along(values) %in% declared]
  if (length(others) && !is.character(values)) return(sort_values(values))
  c(values[declared], sort_values(others))
}

# Meanings that a column of a data frame carries with it: factor levels, and the attributes `label`,
# `labels`, `na_values` and `na_range`.
meaning_from_column <- function(column) {
  carried <- function(name) attr(column, name, exact = TRUE)
  codes <- carried("labels")
  missing <- c(carried_values(carried("na_values"), codes), carried_range(carried("na_range")))
  check_meaning(
    label = text_or_null(carried("label")),
    codes = carried_codes(column, codes, carried("na_values")),
    missing = missing,
    level = level_of_factor(column),
    unit = if (inherits(column, "difftime")) attr(column, "units", exact = TRUE)
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
