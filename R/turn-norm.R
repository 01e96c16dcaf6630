#' @include turn-type.R
NULL

#' Norm raw scores by a table
#'
#' Turns raw into scaled scores by a published table, with bands of other
#' variables such as age. The table becomes part of the record. Raw scores that
#' it does not hold become missing of the kind "not in the table".
#'
#' @inheritParams turn_recode
#' @param vars The raw scores, a tidyselect selection.
#' @param table A data frame, or the path of a CSV file, with a column of raw
#'   scores (numbers, or ranges such as `"0 .. 3"`), one of scaled scores, and one
#'   for each variable in `within`, holding its values or ranges (`"18 .. 39"`).
#' @param within Variables whose bands the table tells apart; left out, those
#'   that the table has columns for.
#' @param raw,scaled The names of the table's columns.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_norm`.
#' @return The book with the scaled scores.
#' @section Errors: Class `ableturn_error`: `ableturn_error_table_columns`,
#'   `ableturn_error_norm_twice` for a raw score that a band gives two values.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- define(book, age, missing = c("Not given" = 999))
#' book <- turn_rescale(book, ea_1:ea_7, shift = -1)
#' book <- turn_composite(book, ea_1_0:ea_7_0, as = "ease", how = "sum",
#'   reversed = c(ea_4_0, ea_6_0))
#' book <- turn_norm(book, ease, table = demo_file("ease-norms.csv"), within = age)
#' @export
turn_norm <- function(book, vars, table, within = NULL, raw = "raw", scaled = "scaled", ...,
                      as = NULL, missing = "carry", label = NULL, note = NULL, high = NULL,
                      accept = NULL, replace = FALSE) {
  refuse_dots(...)
  need_given(table)
  from <- select_vars(book, rlang::enquo(vars))
  named <- chosen_vars(book, rlang::enquo(within), "within")
  turn <- new_turn("norm", result_names(from, as, "_norm"),
    from = from, table = norm_columns(open_rules(table), named, raw, scaled,
      names(selectable(book))),
    missing = drop_default(missing, "carry"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("norm",
  keys = c(from = "names", label = "texts", table = "table", missing = "word"),
  needs = "table", doing = "a norm table",
  says = function(derived, turn) paste0("scaled by a norm table from ", in_a_row(derived$from)),
  traits = c("sets the scale", "its table names variables")
)

# The table as a list: the bands, then raw and scaled.
norm_columns <- function(table, within, raw, scaled, known) {
  if (!is.data.frame(table)) fail("table-no-table", got = describe_type(table))
  within <- within %||% setdiff(intersect(names(table), known), c(raw, scaled))
  lost <- setdiff(c(within, raw, scaled), names(table))
  if (length(lost)) fail("table-columns", lost = lost, names = names(table))
  setNames(lapply(as.list(table[c(within, raw, scaled)]), plain_values), c(within, "raw", "scaled"))
}

#' @export
check_turn.norm_turn <- function(turn) {
  check_carry(turn)
  lost <- setdiff(c("raw", "scaled"), names(turn$table))
  if (length(lost)) fail("table-columns", lost = lost, names = names(turn$table))
  if (!length(turn$table$raw)) fail("table-empty")
  if (!is.numeric(turn$table$scaled)) fail("norm-scaled", got = describe_type(turn$table$scaled))
}

#' @export
more_reads.norm_turn <- function(turn) setdiff(names(turn$table), c("raw", "scaled"))

#' @export
lower.norm_turn <- function(turn, world) {
  refuse_days(turn$from, world)
  lapply(seq_along(turn$from), function(i) {
    source <- turn$from[i]
    worked_out <- new_meaning(
      label = paste0(world$meaning(source)$label %||% source, ", scaled by norms"),
      level = "interval", high = world$meaning(source)$high, low = world$meaning(source)$low
    )
    new_lowered(turn$makes[i], norm_node(turn$table, source, world),
      finish_meaning(turn, worked_out, i),
      carry = !identical(turn$missing, "plain"), looked_up = "table"
    )
  })
}

# For each combination of bands a table of raw scores.
norm_node <- function(table, source, world) {
  bands <- setdiff(names(table), c("raw", "scaled"))
  if (!length(bands)) return(raw_table(table$raw, table$scaled, source))
  cell <- key_texts(lapply(table[bands], show_value))
  pairs <- lapply(split_in_order(seq_along(cell), cell), function(rows) {
    tests <- lapply(bands, function(name) {
      condition_test(name, read_cell(table[[name]][rows[1]]), FALSE, FALSE, world)
    })
    list(all_of_tests(tests), raw_table(table$raw[rows], table$scaled[rows], source))
  })
  as.call(c(list(as.name("choose")), unname(unlist(unname(pairs), recursive = FALSE))))
}

raw_table <- function(raw, scaled, source) {
  number <- as_number(raw)
  if (anyNA(number)) return(range_table(raw, scaled, source))
  twice <- unique(number[duplicated(number)])
  if (length(twice)) fail("norm-twice", name = source, raw = show_number(as.double(twice)))
  lookup_node(as.double(scaled), setNames(list(as_code(as.double(number))), source), "scaled")
}

range_table <- function(raw, scaled, source) {
  pairs <- Map(function(cell, value) {
    matcher <- read_cell(as.character(cell))[[1]]
    x <- as.name(source)
    if (!matcher$type %in% c("values", "range")) {
      fail("norm-raw", cell = quote_text(as.character(cell)))
    }
    test <- if (matcher$type == "range") range_test(x, matcher) else call("==", x, matcher$values)
    list(test, as.double(value))
  }, raw, scaled)
  as.call(c(list(as.name("choose")), unname(unlist(unname(pairs), recursive = FALSE))))
}
