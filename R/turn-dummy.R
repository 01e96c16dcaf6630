#' @include turn-type.R
NULL

#' Dummy-code categories
#'
#' Columns for a regression: indicators (0/1) of all levels but the reference, or
#' contrasts. Levels are learned once and recorded; the reference stands in the
#' labels. A missing answer stays missing in every column, and so does a level
#' that the record never saw.
#'
#' * `"indicator"`: 1 for the level, 0 for the others
#' * `"effect"`: the same with -1 for the reference, against the mean of all levels
#' * `"difference"`: each level's mean minus that of the level before
#' * `"helmert"`: each level's mean minus the mean of those before
#' * `"polynomial"`: orthonormal trends over equally spaced levels, linear rising
#'
#' In a linear model on these columns alone the coefficients equal the contrasts
#' named here: the columns come from the inverse of the hypothesis matrix.
#'
#' @inheritParams turn_recode
#' @param vars The variables, a tidyselect selection.
#' @param reference The reference level, a code or a label: one for all
#'   variables, or named by them. Left out, the first level.
#' @param coding One of those under Details.
#' @param all_levels Indicators of all levels, none left out.
#' @param missing `"carry"` or `"plain"`, as elsewhere; `"level"` gives missing
#'   answers a column of their own and 0 in the others.
#' @param ... Not used; the arguments after it are written in full.
#' @param as A pattern such as `"{name}_{level}"`, or a name for each column.
#' @return The book with the columns, named by variable and level.
#' @section Errors: Class `ableturn_error`: `ableturn_error_one_level`,
#'   `ableturn_error_reference_meaningless`, `ableturn_error_no_such_label`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_dummy(book, c(island, ticket),
#'   reference = c(island = "Northholm", ticket = "Return"))
#' book <- turn_dummy(book, opinion, coding = "polynomial")
#' @export
turn_dummy <- function(book, vars, reference = NULL, coding = "indicator", ..., all_levels = FALSE,
                       missing = "carry", as = NULL, label = NULL, note = NULL, high = NULL,
                       accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  pattern <- length(as) == 1 && is.character(as) && grepl("[{](name|level)[}]", as)
  turn <- new_turn("dummy", if (!pattern) as,
    from = from, reference = reference_in_order(reference, from),
    coding = drop_default(coding, "indicator"), all_levels = drop_default(all_levels, FALSE),
    missing = drop_default(missing, "carry"), as = if (pattern) as, label = label, note = note,
    high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("dummy",
  keys = c(
    from = "names", label = "texts", reference = "values", coding = "word", all_levels = "flag",
    missing = "word", as = "text"
  ),
  needs = "from", pattern = "amended", doing = "dummy-coding",
  says = function(derived, turn) {
    paste0("one of ", length(turn$makes), " columns that code ", derived$from[1],
      " for a regression (", turn$coding %||% "indicator", " coding)")
  }
)

codings <- c("indicator", "effect", "difference", "helmert", "polynomial")

# One reference for each variable, in their order; NA where it is the first level.
reference_in_order <- function(reference, from) {
  reference <- unlist(reference)
  if (is.null(reference)) return(NULL)
  if (is.null(names(reference))) {
    given <- length(reference)
    if (!given %in% c(1, length(from))) {
      fail("reference-count", given = given, variables = length(from))
    }
    return(rep_len(reference, length(from)))
  }
  odd <- setdiff(names(reference), from)
  if (length(odd)) fail("reference-who", name = odd)
  unname(reference[from])
}

#' @export
check_turn.dummy_turn <- function(turn) {
  check_choice(turn$missing %||% "carry", "missing", c("carry", "plain", "level"))
  coding <- check_choice(turn$coding %||% "indicator", "coding", codings)
  all_levels <- check_flag(turn$all_levels %||% FALSE, "all_levels")
  if (all_levels && coding != "indicator") fail("all-levels-coding", coding = coding)
  meaningless <- all_levels || coding %in% c("difference", "helmert", "polynomial")
  if (!is.null(turn$reference) && meaningless) {
    fail("reference-meaningless",
      why = if (all_levels) "all_levels = TRUE" else paste0("coding = \"", coding, "\""))
  }
}

# The names follow from the levels, unless they are given.
#' @export
settle_turn.dummy_turn <- function(turn, world) {
  check_turn(turn)
  plans <- lapply(seq_along(turn$from), function(i) dummy_plan(turn, world, i))
  first <- vapply(plans, function(plan) show_value(plan$levels[plan$reference]), "")
  if (anyNA(turn$reference)) turn$reference <- turn$reference %|% first
  named <- unlist(lapply(plans, dummy_names, turn = turn))
  settled_names(turn, named, lapply(plans, `[[`, "levels"))
}

# The turn with the names of its columns: the usual ones, `named` by the levels of each variable,
# where none are given or where the levels are others than before.
settled_names <- function(turn, named, levels) {
  usual <- with_later_names(one_of_each(named), turn$renamed)
  attr(turn, "other_levels") <- if (other_levels(turn, levels)) TRUE
  if (is.null(turn$makes) || has_other_levels(turn) || is_named_by_levels(turn)) {
    turn$makes <- usual
  }
  if (length(turn$makes) != length(named)) {
    fail("as-count", names = length(turn$makes), variables = length(named))
  }
  attr(turn, "named_by_levels") <- identical(turn$makes, usual)
  turn
}

# Whether the names follow from the levels, and so must not outlive them.
is_named_by_levels <- function(turn) isTRUE(attr(turn, "named_by_levels"))

# Whether the turn last met other levels than those it had before.
has_other_levels <- function(turn) isTRUE(attr(turn, "other_levels"))

# Whether the names were made for other levels than those there are now.
other_levels <- function(turn, levels) {
  before <- Filter(function(note) note_word(note) %in% c("categories", "split_entries"),
    turn$learned)
  now <- lapply(levels, show_value)
  length(before) > 0 && !identical(lapply(before, function(note) show_value(note$is)), now)
}

# What becomes of one variable: its levels, their columns, and the values the columns hold.
dummy_plan <- function(turn, world, i) {
  source <- turn$from[i]
  note <- world$learn(call("categories", as.name(source)))
  levels <- note$is
  if (length(levels) < 2) fail("one-level", name = source)
  most <- if (identical(turn$coding, "polynomial")) 50 else 100
  if (length(levels) > most) {
    fail("many-levels", name = source, levels = length(levels), most = most)
  }
  refuse_amounts(source, levels, world)
  reference <- reference_place(turn$reference[i], levels, source, world)
  coding <- turn$coding %||% "indicator"
  values <- coding_matrix(length(levels), coding, if (isTRUE(turn$all_levels)) 0 else reference)
  labels <- label_of(levels, world$meaning(source)$codes) %|% show_value(levels)
  list(source = source, note = note, levels = levels, labels = labels, reference = reference,
    coding = coding, values = values, column = column_levels(length(levels), coding,
      if (isTRUE(turn$all_levels)) 0 else reference))
}

# Amounts such as an age are hardly meant as categories; codes of many kinds may be.
refuse_amounts <- function(source, levels, world) {
  meaning <- world$meaning(source)
  amounts <- is.numeric(levels) && !length(meaning$codes) &&
    !isTRUE(meaning$level %in% c("nominal", "ordinal"))
  if (amounts && length(levels) > 50) {
    fail("dummy-many", name = source, levels = length(levels), columns = length(levels) - 1)
  }
}

reference_place <- function(reference, levels, source, world) {
  if (is.null(reference) || is.na(reference)) return(1)
  code <- reference
  if (is.character(reference) && !world$is_text(source)) {
    code <- codes_for(reference, source, world$meaning(source)$codes)
    if (length(code) > 1) {
      fail("label-several", label = reference, name = source, codes = show_value(code))
    }
  }
  place <- match(show_value(code), show_value(levels))
  if (is.na(place)) {
    fail("no-such-level", name = source, level = show_value(reference), levels = show_value(levels))
  }
  place
}

#' @export
lower.dummy_turn <- function(turn, world) {
  plans <- lapply(seq_along(turn$from), function(i) dummy_plan(turn, world, i))
  out <- unlist(lapply(plans, dummy_columns, turn = turn, world = world), recursive = FALSE)
  lapply(seq_along(out), function(i) {
    column <- out[[i]]
    column$name <- turn$makes[i]
    column$meaning <- merge_meaning(column$meaning, turn[["define"]][[turn$makes[i]]])
    column
  })
}

dummy_columns <- function(plan, turn, world) {
  x <- as.name(plan$source)
  as_level <- identical(turn$missing, "level")
  out <- lapply(seq_len(ncol(plan$values)), function(j) {
    table <- lookup_node(plan$values[, j], setNames(list(plan$levels), plan$source))
    new_lowered(NA, if (as_level) call("choose", call("unanswered", x), 0, table) else table,
      dummy_meaning(plan, turn, world, j), carry = !identical(turn$missing, "plain"),
      looked_up = "levels", codes = plan$coding %in% c("indicator", "effect"),
      notes = list(plan$note)
    )
  })
  if (as_level) out <- c(out, list(missing_column(x, plan, turn, world)))
  out
}

missing_column <- function(x, plan, turn, world) {
  title <- paste0(world$meaning(plan$source)$label %||% plan$source, ": no valid answer")
  meaning <- new_meaning(label = title, codes = c("No" = 0L, "Yes" = 1L), level = "nominal",
    note = turn$note)
  new_lowered(NA, call("choose", call("unanswered", x), 1, 0), meaning, codes = TRUE)
}

# The values of coded columns, a row for each of k levels. `reference` is its place, 0 for none.
#   In a model with an intercept the coefficients are the contrasts; the columns are those of the
#   inverse of the hypothesis matrix whose first row is the mean of all levels.
coding_matrix <- function(k, coding, reference) {
  switch(coding,
    indicator = diag(k)[, column_levels(k, coding, reference), drop = FALSE],
    effect = effect_matrix(k, reference),
    difference = outer(seq_len(k), seq_len(k - 1), function(i, j) {
      ifelse(i <= j,
                                                              -(k - j) / k, j / k)
    }),
    helmert = outer(seq_len(k), seq_len(k - 1), function(i, j) {
      ifelse(i <= j, -1,
                                                           ifelse(i == j + 1, j, 0)) / (j + 1)
    }),
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
  switch(coding, difference = , helmert = seq_len(k)[-1], polynomial = seq_len(k - 1),
    setdiff(seq_len(k), reference))
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

dummy_meaning <- function(plan, turn, world, j) {
  title <- world$meaning(plan$source)$label %||% plan$source
  label <- plan$labels[plan$column[j]]
  said <- switch(plan$coding,
    indicator = , effect = label,
    difference = paste(label, "less", plan$labels[plan$column[j] - 1]),
    helmert = paste(label, "less the mean of those before"),
    polynomial = sub("^degree(.*) trend", "trend of degree \\1",
      paste(level_names(plan)[j], "trend"))
  )
  against <- c(effect = "less the mean of all levels; reference ")[plan$coding] %|% "reference "
  named <- plan$coding %in% c("indicator", "effect") && !isTRUE(turn$all_levels)
  new_meaning(
    label = paste0(title, ": ", said, if (named) paste0(" (", against,
      plan$labels[plan$reference], ")")),
    codes = if (plan$coding == "indicator") c("No" = 0L, "Yes" = 1L),
    level = if (plan$coding == "indicator") "nominal" else "interval", high = turn$high,
    note = turn$note
  )
}
