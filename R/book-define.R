#' State what variables mean
#'
#' On an original the statement holds from the start, so that everything made
#' from it is made again. On a derived variable it amends its turn. It is part
#' of the record: it is saved, replayed, and can be undone.
#'
#' @param book A turnbook, or a data frame.
#' @param vars The variables, a tidyselect selection.
#' @param label The variable's label.
#' @param codes Value labels: `c("Never" = 1, "Always" = 5)`.
#' @param missing Codes that are no answers, named by the reason:
#'   `c("Don't know" = 98, "Refused" = 99)`, or a range:
#'   `list("Not asked" = from(900))`; days are texts, `c("None" = "1900-01-01")`.
#' @param level Level of measurement: `"nominal"`, `"ordinal"`, `"interval"` or
#'   `"ratio"`.
#' @param limits Theoretical limits: `c(1, 5)`.
#' @param high,low What a high, or a low, value stands for.
#' @param unit Unit of measurement.
#' @param note A note.
#' @param asked_if A condition over originals that tells for whom the question was
#'   asked, such as `hours > 0`; rows for which it is false are missing of the kind "not
#'   asked", whatever stands there. Where the condition itself is missing, answers stay.
#' @param read How the texts of a column are read: `"decimal comma"` (1.234,50),
#'   `"decimal point"` (1,234.50), `"day first"` or `"month first"` (28.02.2031, 2/28/2031), or
#'   `"day first with time"`, `"month first with time"`, or `"time with zone"`
#'   (2031-03-04T10:00:00+02:00 is read as the text 2031-03-04 08:00:00, in UTC). Numbers may have
#'   thousands marks and a percent sign: 12 % is 12. Years have four digits. Texts that do not fit
#'   are missing of the kind "unreadable"; the original stays as it is typed.
#' @param ... Not used; all arguments are written in full.
#' @param role `"groups"` for groups that are compared: a composite says whether its alpha differs
#'   between them. `"weight"` for the weight of the rows: it is taken wherever a call takes a weight
#'   and none is given ([turn_standardize()], [turn_bin()], [turn_group()], [look()],
#'   [item_analysis()]), and the receipt says so; `weight = NULL` in such a call is for none. A turn
#'   sheet says for each turn which weight it takes. `"none"` takes it back.
#' @param set The name of a set that the variables belong to, such as a scale or a part of the
#'   questionnaire. On the desk the variables of a set stand together and can be shown alone.
#' @return The book.
#' @section Errors: Class `ableturn_error`, for values without names, twice the
#'   same code, or limits in the wrong order.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- define(book, crossings, missing = c("Don't know" = 98, "Refused" = 99))
#' @export
define <- function(book, vars, ..., label = NULL, codes = NULL, missing = NULL, level = NULL,
                   limits = NULL, high = NULL, low = NULL, unit = NULL, note = NULL,
                   asked_if = NULL, read = NULL, role = NULL, set = NULL) {
  refuse_dots(...)
  asked <- rlang::enexpr(asked_if)
  env <- parent.frame()
  came <- book
  book <- as_book(book)
  vars <- select_vars(book, rlang::enquo(vars))
  meaning <- check_meaning(label, codes, missing, level, limits, high, low, unit, note,
    if (is.character(asked)) asked else if (!is.null(asked)) formula_of(asked, book, env),
    read, role, set)
  if (!length(meaning)) fail("define-nothing", name = vars)
  as_given(define_vars(book, vars, meaning), came)
}

define_vars <- plainly(function(book, vars, meaning) {
  refuse_kinds_of_derived(book, vars, meaning)
  if (!is.null(meaning$read)) for (name in vars) check_reading(book, name, meaning)
  meaning$asked_if <- check_asked(book, vars, meaning$asked_if)
  if (identical(meaning$role, "weight")) check_role(book, vars)
  entry <- list(type = "define", vars = vars, meaning = meaning)
  new <- with_parts(book, log = c(steps_of(book), list(entry)))
  new <- set_meanings(new, intersect(vars, original_names(book)), meaning)
  derived <- intersect(vars, derived_names(book))
  for (place in unique(vapply(derived, entry_of, 1L, book = new))) new <- remake_entry(new, place)
  new <- remake(new, vars)$book
  finish_step(new, book, list(type = "define", vars = vars), definition_receipt(new, vars, meaning))
})

# One variable of a book is its weight.
check_role <- function(book, vars) {
  if (length(vars) > 1) fail("one-weight", names = vars)
  check_numbers(vars, world_of(book))
  check_weight(vars, site_of(book))
  before <- setdiff(stated_weight(book), vars)
  if (length(before)) fail("weight-stated", name = before, new = vars)
}

#' @export
default_weight.turnbook <- function(book) default_weight(as_book(book))

#' @export
default_weight.ableturn_book <- function(book) {
  name <- stated_weight(book)
  if (length(name)) name
}

# What is amended keeps the weight that it has, or none.
#' @export
default_weight.ableturn_asking <- function(book) NULL

# The variable that is stated as the weight, if one is.
stated_weight <- function(book) {
  roles <- vapply(self_named(names(book)), function(name) meaning_in(book, name)$role %||% "", "")
  names(which(roles == "weight"))
}

refuse_kinds_of_derived <- function(book, vars, meaning) {
  derived <- intersect(vars, derived_names(book))
  if (length(derived) && length(meaning$missing)) fail("missing-derived", name = derived)
  if (length(derived) && !is.null(meaning$asked_if)) fail("asked-derived", name = derived)
}

check_reading <- function(book, name, meaning) {
  if (is_derived(book, name)) fail("read-derived", name = name)
  as_read <- set_meanings(book, name, meaning)
  variable <- variable_in(as_read, name)
  if (!is_text_like(source_of(variable))) fail("read-not-text", name = name)
  if (facts_of(variable)$valid > 0) return(invisible())
  lost <- unread_sources(variable)
  if (length(lost$rows)) {
    fail("read-none", name = name, way = meaning$read,
      values = quote_text(utils::head(lost$keys[[1]], 3)))
  }
}

# The texts of a variable that could not be read, and how many rows hold each.
unread_sources <- function(variable) {
  node <- as.name(variable$name)
  counts_at(site_of_one(variable), list(as_it_came(variable$name)), call("unanswered", node,
    "unreadable"))
}

# Texts that could not be read, with how many rows hold each; and how many have a percent sign.
reading_told <- function(book, vars) {
  lapply(variables_in(book, vars), function(variable) {
    lost <- unread_sources(variable)
    all <- counts_at(site_of_one(variable), list(as_it_came(variable$name)))
    list(lost = if (length(lost$rows)) count_values(lost$keys[[1]], as_row_counts(lost$rows)),
      percent = sum(all$rows[grepl("%", all$keys[[1]], fixed = TRUE)]))
  })
}

definition_receipt <- function(book, vars, meaning) {
  counts <- lapply(variables_in(book, vars), function(variable) {
    counts <- missing_of(variable)
    counts[names(counts) %in% c(names(meaning$missing), if (!is.null(meaning$asked_if)) "not asked",
      if (!is.null(meaning$read)) "unreadable")]
  })
  answered <- vapply(variables_in(book, vars), function(variable) {
    as.double(column_of(variable)$answered_unasked %||% 0)
  }, 0)
  told <- list(verb = "define", makes = vars, users = users_of(book, vars),
    failing = failing_checks(book), reading = if (!is.null(meaning$read)) reading_told(book, vars),
    answered = if (!is.null(meaning$asked_if)) answered[answered > 0],
    followed = info_of(book)$followed, role = meaning$role)
  new_receipt(told, counts, row_count(book))
}

# Changes what originals mean; what was made ready for analysis is dropped with it.
set_meanings <- function(book, vars, meaning) {
  meanings <- meanings_of(book)
  for (name in vars) {
    meanings[[name]] <- merge_meaning(meanings[[name]], meaning)
    # What a factor says of its levels holds for the texts, not for what is read from them.
    read_levels <- !is.null(meaning$read) && is.factor(original_in(book, name))
    if (read_levels) {
      meanings[[name]] <- merge_meaning(without_fields(meanings[[name]], c("codes", "level")),
        meaning)
    }
  }
  book <- with_parts(book, meanings = meanings)
  with_parts(book, cache = cache_without(book, c(vars, asked_by(book, vars))))
}
