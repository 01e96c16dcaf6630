# A data frame that is given in R is checked by what it is made of, not by its class: an object can
# carry the class of a data frame, a factor or a date without being one, and what works with it
# would stop somewhere else, or never. Labels and other attributes are checked as well.

# Stops in words; nothing of the data is worked out.
check_given <- function(data) {
  if (typeof(data) != "list") fail("not-data", got = typeof(data))
  refuse_groups(data)
  columns <- unclass(data)
  names <- names(columns)
  if (typeof(names) != "character" && length(columns)) fail("column-unnamed", place = 1)
  check_letters(names, "the names of the columns")
  rows <- .row_names_info(data, 2L)
  why <- vapply(columns, function(x) odd_column(x, rows) %||% NA_character_, "")
  bad <- which(!is.na(why))
  if (length(bad)) fail("column-broken", name = names[bad[1]], why = why[[bad[1]]])
}

# Data that come grouped are meant to be worked with group by group, and here nothing would be.
refuse_groups <- function(data) {
  groups <- attr(data, "groups", exact = TRUE)
  if (!is.list(groups) || identical(oldClass(data), "data.frame")) return(invisible())
  fail("data-grouped", by = setdiff(as.character(names(groups)), ".rows"))
}

# Why a column is not what its class says; NULL where it is.
odd_column <- function(x, rows) {
  if (length(attr(x, "dim")) == 0 && typeof(x) != "list" && length(unclass(x)) != rows) {
    return(paste0("it has ", counted(length(unclass(x)), "value"), ", and the table ",
      counted(rows, "row")))
  }
  if (typeof(x) %in% c("list", "environment", "closure")) return(NULL) # left out, and told
  for (check in column_kinds) {
    why <- if (inherits(x, check$class)) check$why(x)
    if (!is.null(why)) return(why)
  }
  odd_attributes(x)
}

is_number_type <- function(x) typeof(x) %in% c("integer", "double")

# What a column of a class of R's own has to be made of.
column_kinds <- list(
  list(class = "factor", why = function(x) odd_factor(x)),
  list(class = "Date", why = function(x) no_number(x, "a date")),
  list(class = "POSIXct", why = function(x) {
    zone <- attr(x, "tzone", exact = TRUE)
    no_number(x, "a time") %||%
      if (!is.null(zone) && typeof(zone) != "character") "its time zone is no text"
  }),
  list(class = "difftime", why = function(x) {
    no_number(x, "a span of time") %||%
      if (!isTRUE(attr(x, "units", exact = TRUE) %in% names(span_seconds))) {
        "it is a span of time in no unit that is known"
      }
  }),
  list(class = "integer64", why = function(x) {
    if (typeof(x) != "double") "it is called a whole number of 64 bits, and is none"
  })
)

no_number <- function(x, called) {
  if (!is_number_type(x)) paste("it is called", paste0(called, ", and holds"),
    describe_type(unclass(x)))
}

odd_factor <- function(x) {
  levels <- attr(x, "levels", exact = TRUE)
  if (typeof(x) != "integer") return("it is called a factor, and its codes are no whole numbers")
  if (typeof(levels) != "character") return("it is a factor without texts as levels")
  if (anyDuplicated(levels)) return("it is a factor with two equal levels")
  codes <- range(unclass(x), 1L, na.rm = TRUE)
  if (codes[1] < 1 || codes[2] > max(1, length(levels)) || !length(levels) && !all(is.na(x))) {
    "it is a factor with codes that have no level"
  }
}

# What a column says of itself must be plain values.
odd_attributes <- function(x) {
  plain <- function(name) {
    value <- attr(x, name, exact = TRUE)
    is.null(value) || typeof(value) %in% c("integer", "double", "character", "logical", "list")
  }
  told <- c("label", "labels", "na_values", "na_range", "levels")
  odd <- told[!vapply(told, plain, NA)]
  if (length(odd)) return(paste0("its attribute `", odd[1], "` is no value"))
  labels <- attr(x, "labels", exact = TRUE)
  if (is.list(labels) || !is.null(labels) && is.null(names(labels))) {
    return("its attribute `labels` is no row of values with names")
  }
  if (is.list(attr(x, "na_values", exact = TRUE))) return("its attribute `na_values` is no value")
  range <- attr(x, "na_range", exact = TRUE)
  if (!is.null(range) && (!is.numeric(range) || length(range) != 2)) {
    "its attribute `na_range` is not two numbers"
  }
}

word_errors(list(
  "data-grouped" = c("The data are grouped by {by}. Groups are not kept here; nothing was made.",
    paste("Write the groups in the turn, within = c({by}), and hand over the data without them:",
      "turnbook(as.data.frame(data)).")),
  "column-broken" = c("The column {name} cannot be used: {why}.",
    "Look at it with str(unclass(x)), and make it anew, or leave it out.")
))
