#' @include turn-type.R
NULL

#' Norm raw scores by a table
#'
#' Turns raw into scaled scores by a published table, with bands of other variables such as age. The
#' table becomes part of the record. It is one of three kinds, told apart by its columns:
#'
#' * `raw` and `scaled`: the scaled score of each raw score, or range of raw scores. Raw scores that
#'   it does not hold become missing of the kind "not in the table".
#' * `mean` and `sd`: z = (x - mean)/sd.
#' * `L`, `M` and `S`: z = ((x/M)^L - 1)/(L S), and log(x/M)/S where L is 0 (Cole and Green 1992);
#'   near 0, with u = log(x/M) and |L u| below 0.001, z = u (1 + L u/2 + (L u)^2/6 + (L u)^3/24)/S,
#'   which is the same without losing figures. A value of 0 or below is undefined. Growth standards
#'   that treat values beyond 3 SD in another way are not followed there.
#'
#' From z come, by `how`, T scores 50 + 10 z, scores of mean 100 and SD 15, and percentiles.
#'
#' Bands are values or ranges (`"18 .. 39"`). In a table of means or of L, M and S a column may hold
#' numbers, such as ages in months: with `between = "step"` a row holds from its own number to below
#' the next one, and the last row for its own number alone; with `between = "linear"` mean and sd,
#' or L, M
#' and S, are each interpolated between two rows. Whose bands are not in the table is missing of
#' the kind "outside the norms". Columns of the table that are not used are named.
#'
#' @inheritParams turn_recode
#' @param vars The raw scores, a tidyselect selection.
#' @param table A data frame, or the path of a CSV file, with the columns above and one
#'   for each variable in `within`.
#' @param within Variables whose bands the table tells apart; left out, those
#'   that the table has columns for.
#' @param raw,scaled The names of the table's columns of raw scores (numbers, or ranges such as
#'   `"0 .. 3"`) and of scaled ones.
#' @param how For means, and for L, M and S: `"z"`, `"t"`, `"iq"` or `"percentile"`.
#' @param between For these: `"step"` or `"linear"`.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name or pattern for the results; left out, the ending `_norm`.
#' @return The book with the scaled scores.
#' @section Errors: Class `ableturn_error`: `ableturn_error_table_columns`,
#'   `ableturn_error_norm_twice` for a raw score that a band gives two values.
#' @references Cole, T. J., & Green, P. J. (1992). Smoothing reference centile curves: the LMS
#'   method and penalized likelihood. Statistics in Medicine, 11, 1305-1319.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- define(book, age, missing = c("Not given" = 999))
#' book <- turn_rescale(book, ea_1:ea_7, shift = -1)
#' book <- turn_composite(book, ea_1_0:ea_7_0, as = "ease", how = "sum",
#'   reversed = c(ea_4_0, ea_6_0))
#' book <- turn_norm(book, ease, table = demo_file("ease-norms.csv"), within = age)
#' book <- turn_norm(book, wait_min, table = demo_file("wait-norms.csv"), how = "t",
#'   between = "linear", as = "wait_t")
#' @export
turn_norm <- function(book, vars, table, within = NULL, raw = "raw", scaled = "scaled", ...,
                      how = "z", between = "step", as = NULL, missing = "carry", label = NULL,
                      note = NULL, high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  need_given(table)
  from <- select_vars(book, rlang::enquo(vars))
  named <- chosen_vars(book, rlang::enquo(within), "within")
  columns <- norm_columns(open_rules(table), named, raw, scaled, names(selectable(book)))
  turn <- new_turn("norm", result_names(from, as, "_norm"), from = from, table = columns$used,
    form = drop_default(how, "z"), between = drop_default(between, "step"),
    missing = drop_default(missing, "carry"), label = label, note = note, high = high,
    accept = read_accept(accept)
  )
  attr(turn, "unused") <- columns$unused
  make_turn(book, turn, replace)
}

turn_type("norm",
  keys = c(from = "names", label = "texts", table = "table", form = "word", between = "word",
    missing = "word"),
  needs = "table", called = c(form = "how"), doing = "a norm table",
  says = function(derived, turn) {
    paste0(if (norm_kind(names(turn$table)) == "raw") "scaled" else
      norm_words[[turn$form %||% "z"]],
      " by a norm table from ", in_a_row(derived$from))
  },
  traits = c("sets the scale", "its table names variables")
)

norm_words <- c(z = "z score", t = "T score", iq = "score of mean 100 and SD 15",
  percentile = "percentile")

# The kind of a table by the names of its columns, NULL where it is none.
norm_kind <- function(names) {
  for (kind in names(norm_kinds)) if (all(norm_kinds[[kind]] %in% names)) return(kind)
}

# The table as a list: the bands, then the columns of its kind; and what it holds beside them.
norm_columns <- function(table, within, raw, scaled, known) {
  if (!is.data.frame(table)) fail("table-no-table", got = describe_type(table))
  there <- names(table)
  names(table)[match(c(raw, scaled), there, nomatch = 0)] <- c("raw", "scaled")[c(raw, scaled) %in%
    there]
  names(table) <- in_own_case(names(table))
  kind <- norm_kind(names(table))
  own <- norm_kinds[[kind %||% "raw"]]
  within <- within %||% setdiff(intersect(there, known), c(own, raw, scaled))
  lost <- setdiff(c(within, if (is.null(kind)) c(raw, scaled)), c(there, names(table)))
  if (length(lost)) fail("table-columns", lost = lost, names = there)
  list(used = lapply(as.list(table[c(within, own)]), plain_values),
    unused = setdiff(names(table), c(within, own)))
}

# "Mean" as mean, "l" as L where M and S are there.
in_own_case <- function(names) {
  for (kind in c("moments", "lms")) {
    place <- match(tolower(norm_kinds[[kind]]), tolower(names))
    if (!anyNA(place)) names[place] <- norm_kinds[[kind]]
  }
  names
}

#' @export
check_turn.norm_turn <- function(turn) {
  check_carry(turn)
  check_choice(turn$form %||% "z", "how", names(norm_words))
  check_choice(turn$between %||% "step", "between", c("step", "linear"))
  kind <- norm_kind(names(turn$table))
  if (is.null(kind)) fail("table-columns", lost = c("raw", "scaled"), names = names(turn$table))
  if (!length(turn$table[[norm_kinds[[kind]][1]]])) fail("table-empty")
  if (kind == "raw") check_raw_norms(turn) else check_z_norms(turn, norm_kinds[[kind]])
}

check_raw_norms <- function(turn) {
  idle <- c(form = "how", between = "between")[names(turn)] %|% ""
  if (any(nzchar(idle))) fail("norm-raw-only", argument = idle[nzchar(idle)][1])
  if (!is.numeric(turn$table$scaled)) fail("norm-scaled", got = describe_type(turn$table$scaled))
}

check_z_norms <- function(turn, columns) {
  for (name in columns) {
    x <- turn$table[[name]]
    positive <- name %in% c("sd", "M", "S")
    if (!is.numeric(x) || !all(is.finite(x)) || positive && any(x <= 0)) {
      fail("norm-numbers", column = name, what = if (positive) "numbers above zero" else "numbers")
    }
  }
}

#' @export
more_reads.norm_turn <- function(turn) setdiff(names(turn$table), unlist(norm_kinds))

#' @export
lower.norm_turn <- function(turn, world) {
  refuse_days(turn$from, world)
  kind <- norm_kind(names(turn$table))
  lapply(seq_along(turn$from), function(i) {
    source <- turn$from[i]
    found <- if (kind == "raw") raw_norms(turn$table, source, world) else
      z_norms(turn, kind, source, world)
    new_lowered(turn$makes[i], found$expr, norm_meaning(turn, kind, world, i), kinds = found$kinds,
      carry = !identical(turn$missing, "plain"), looked_up = if (kind == "raw") "table",
      remarks = unused_remark(attr(turn, "unused")))
  })
}

norm_meaning <- function(turn, kind, world, place) {
  old <- world$meaning(turn$from[place])
  words <- if (kind == "raw") "scaled by norms" else paste(norm_words[[turn$form %||% "z"]],
    "by norms")
  worked_out <- new_meaning(label = paste0(old$label %||% turn$from[place], ", ", words),
    level = "interval", high = old$high, low = old$low)
  finish_meaning(turn, worked_out, place)
}

unused_remark <- function(columns) {
  if (length(columns)) list(new_remark("Columns of the table that are not used", in_a_row(columns)))
}

# For each combination of bands a table of raw scores.
raw_norms <- function(table, source, world) {
  bands <- setdiff(names(table), norm_kinds$raw)
  if (!length(bands)) return(list(expr = raw_table(table$raw, table$scaled, source)))
  in_bands(table, bands, world, function(rows) {
    list(raw_table(table$raw[rows], table$scaled[rows], source))
  })
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
    matcher <- read_typed_range(as.character(cell)) %||% read_cell(as.character(cell))[[1]]
    x <- as.name(source)
    if (!matcher$type %in% c("values", "range")) {
      fail("norm-raw", cell = quote_text(as.character(cell)))
    }
    test <- if (matcher$type == "range") range_test(x, matcher) else call("==", x, matcher$values)
    list(test, as.double(value))
  }, raw, scaled)
  as.call(c(list(as.name("choose")), unname(unlist(unname(pairs), recursive = FALSE))))
}
