#' @include turn-type.R
NULL

#' Look codes up in a table
#'
#' A crosswalk gives each code of a variable another value: occupations to a
#' status score, postcodes to regions. The table becomes part of the record, so
#' that sheets and scripts need no other file. Codes that the table does not hold
#' become missing of the kind "not in the table" and are shown with their rows.
#'
#' @inheritParams turn_recode
#' @param vars The variables, a tidyselect selection.
#' @param table A data frame, or the path of a CSV file.
#' @param from,to The table's column of codes and that of values; left out, the
#'   column named like the variable, or the first, and the other one of two.
#' @param ... Not used; the arguments after it are written in full.
#' @param loose Match texts whatever their case, accents and outer blanks; which spellings of the
#'   data were matched is told.
#' @param as Name or pattern for the results; left out, the name of the `to`
#'   column for one variable, and `{name}_` followed by it for many.
#' @return The book with the values found.
#' @section Errors: Class `ableturn_error`: `ableturn_error_table_columns`,
#'   `ableturn_error_table_twice` for a code with two values.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_crosswalk(book, occupation, table = demo_file("status-score.csv"))
#' @export
turn_crosswalk <- function(book, vars, table, from = NULL, to = NULL, ..., as = NULL,
                           missing = "carry", loose = FALSE, label = NULL, note = NULL,
                           high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  need_given(table)
  chosen <- select_vars(book, rlang::enquo(vars))
  pair <- crosswalk_columns(open_rules(table), chosen, from, to)
  given <- names(pair)[2]
  if (is.null(as)) as <- if (length(chosen) == 1) given else paste0("{name}_", given)
  turn <- new_turn("crosswalk", result_names(chosen, as, "_x"),
    from = chosen, table = pair, missing = drop_default(missing, "carry"),
    loose = drop_default(loose, FALSE), label = label,
    note = note, high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("crosswalk",
  keys = c(from = "names", label = "texts", table = "table", missing = "word",
    loose = "flag"),
  needs = "table", doing = "a table",
  more = function(turn) list(from = names(turn$table)[1], to = names(turn$table)[2]),
  says = function(derived, turn) paste0("looked up in a table by ", in_a_row(derived$from))
)

# The two columns of the table that matter, as a list.
crosswalk_columns <- function(table, vars, from, to) {
  if (!is.data.frame(table)) fail("table-no-table", got = describe_type(table))
  known <- names(table)
  lost <- setdiff(c(from, to), known)
  if (length(lost)) fail("table-columns", lost = lost, names = known)
  from <- from %||% (if (length(vars) == 1 && vars %in% known) vars else known[1])
  others <- setdiff(known, from)
  if (is.null(to) && length(others) != 1) fail("table-to", names = others)
  lapply(as.list(table[c(from, to %||% others)]), plain_values)
}

#' @export
check_turn.crosswalk_turn <- function(turn) {
  check_carry(turn)
  check_flag(turn$loose %||% FALSE, "loose")
  if (length(turn$table) != 2) fail("table-two", columns = length(turn$table))
  codes <- turn$table[[1]]
  if (isTRUE(turn$loose) && is.character(codes)) codes <- loosen(codes)
  if (!length(codes)) fail("table-empty")
  blank <- is.na(codes) | show_value(codes) %in% ""
  if (any(blank)) fail("table-blank", column = names(turn$table)[1], rows = which(blank))
  values <- show_value(turn$table[[2]])
  unlike <- duplicated(show_value(codes)) & !duplicated(key_texts(list(show_value(codes), values)))
  if (any(unlike)) {
    fail("table-twice", code = unique(show_value(codes[unlike])), column = names(turn$table)[1])
  }
}

#' @export
lower.crosswalk_turn <- function(turn, world) {
  lapply(seq_along(turn$from), function(i) {
    source <- turn$from[i]
    table <- fitted_table(turn$table, source, world, isTRUE(turn$loose))
    new_lowered(turn$makes[i], lookup_node(table$values, setNames(list(table$codes), source)),
      crosswalk_meaning(turn, world, source, i), remarks = spellings_told(table$spellings),
      carry = !identical(turn$missing, "plain"), looked_up = "table", codes = TRUE
    )
  })
}

# The codes of the table as they are in the data: labels as codes, texts in the spellings met; of
# `loose` ones these are told.
fitted_table <- function(table, source, world, loose = FALSE) {
  form <- if (loose) loosen else normal_text
  codes <- table[[1]]
  values <- table[[2]]
  first <- !duplicated(show_value(codes))
  codes <- codes[first]
  values <- values[first]
  if (is.character(codes) && !world$is_text(source)) {
    each <- codes_of_each(codes, source, world$meaning(source)$codes)
    codes <- unlist(each)
    values <- rep(values, lengths(each))
    refuse_two_values(codes, values, table, source)
  }
  if (world$is_text(source)) {
    codes <- show_value(codes)
    met <- setdiff(as.character(world$met(source)$values), codes)
    place <- match(form(met), form(codes))
    apart <- !is.na(place) & !normal_text(met) %in% normal_text(codes)
    spellings <- setNames(met[apart], codes[place[apart]])
    codes <- c(codes, met[!is.na(place)])
    values <- c(values, values[place[!is.na(place)]])
  }
  list(spellings = if (loose && world$is_text(source)) spellings, codes = as_code(codes),
    values = if (is.character(values)) values else as_code(values))
}

# Texts of the data by the code of the table whose value they get though it is spelled otherwise.
spellings_told <- function(spellings) {
  if (!length(spellings)) return(NULL)
  each <- paste(quote_text(unname(spellings)), "as", names(spellings))
  list(new_remark("Spelled otherwise than in the table", name_list(each, 8)))
}

# "01" and "1" are one code where the variable is a number, and so are a label and its code.
refuse_two_values <- function(codes, values, table, source) {
  unlike <- duplicated(codes) & !duplicated(key_texts(list(codes, show_value(values))))
  if (any(unlike)) {
    fail("table-twice", code = unique(show_value(codes[unlike])), column = names(table)[1])
  }
}

crosswalk_meaning <- function(turn, world, source, place) {
  old <- world$meaning(source)
  given <- names(turn$table)[2]
  worked_out <- new_meaning(
    label = paste0(given, ", by ", old$label %||% source),
    level = if (is.character(turn$table[[2]])) "nominal" else "interval"
  )
  finish_meaning(turn, worked_out, place)
}
