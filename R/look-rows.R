#' Look at rows, old beside new
#'
#' Some rows of the data, to check by eye what a turn has made of them: each derived variable
#' stands beside what it was made from, and a missing answer is told by its reason. Conditions and
#' orders are for looking only, the data stay as they are. The rows are those of one query, so of a
#' table of a database as few are fetched as are shown.
#'
#' @param book A turnbook, or a data frame.
#' @param ... Which variables, a tidyselect selection. Where one derived variable or several are
#'   named and none of their sources, these stand before them. Without any, all that was made here
#'   is shown beside its sources, or the originals where nothing was made.
#' @param where A condition on the rows, such as `crossings > 4` or `is.na(rider3)`.
#' @param sort_by Variables to sort by, the first first; `-income` from the highest down. What is
#'   missing comes last. Texts with categories, such as factors, stand in the order of these;
#'   others by their letters.
#' @param n How many rows; Inf for all.
#' @param from The place of the first of them, in that order.
#' @param seed A whole number: in place of the first rows some are drawn at random, the same for
#'   the same number.
#' @param working Whether the working of each row is shown below it, as [show_working()] has it.
#' @return A data frame with a row for each: `row`, its number (not of a table of a database), the
#'   row identifier, and the variables. Its attribute `reasons` has the same shape for the
#'   variables: why a value is missing, NA where it is not; `rows` tells for how many rows the
#'   condition holds. It prints as a table.
#' @section Errors: `ableturn_error_unknown_variable`, errors of the condition as in [turn_flag()],
#'   and `ableturn_error_rows_drawn` for `seed` at a table without a row identifier.
#' @seealso [show_working()]
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- define(book, crossings, missing = c("Don't know" = 98, "Refused" = 99))
#' book <- turn_recode(book, crossings, as = "rider3", becomes(0, 0, label = "None"),
#'   becomes(1, from(1, upto = 4), label = "Some"), becomes(2, from(5), label = "Many"))
#' look_rows(book, rider3)
#' look_rows(book, rider3, where = is.na(rider3), n = 5, working = TRUE)
#' look_rows(book, income, rider3, sort_by = -income)
#' @export
look_rows <- function(book, ..., where = NULL, sort_by = NULL, n = 20, from = 1, seed = NULL,
                      working = FALSE) {
  book <- as_book(book)
  dots <- rlang::enquos(...)
  refuse_named(dots, setdiff(base::names(formals(look_rows)), "..."))
  names <- unlist(lapply(dots, function(dot) select_vars(book, dot, "...")))
  condition <- rlang::enexpr(where)
  text <- if (!is.null(condition)) formula_of(condition, book, parent.frame())
  check_flag(working, "working")
  if (identical(n, Inf)) n <- max(1, row_count(book))
  window <- list(n = check_whole(n, "n", 1), from = check_whole(from, "from", 1),
    seed = if (!is.null(seed)) check_whole(seed, "seed"))
  look_at_rows(book, unique(names), text, sorted_by(rlang::enexpr(sort_by), book), window, working)
}

# `order`: a list of `name` and `down`; `window`: `n`, `from` and `seed`.
look_at_rows <- plainly(function(book, names = NULL, where = NULL, order = list(),
                                 window = list(n = 20, from = 1), working = FALSE) {
  names <- names_beside(names, book)
  at <- rows_site(book, where)
  id <- info_of(book)$id
  order <- order_nodes(order, book)
  seen <- in_one_state(at$site, if (is.null(window$seed)) window_at(at$site, names, at$where,
    order, id, window$from, window$n) else drawn_window(at, names, order, window, id))
  columns <- lapply(seen$columns, `[[`, "x")
  out <- c(if (!is.null(seen$rows)) list(row = seen$rows),
    if (!is.null(id) && !id %in% names) setNames(list(seen$id), id), columns)
  reasons <- list2DF(lapply(seen$columns, `[[`, "reason"))
  shown <- if (length(columns)) length(columns[[1]]) else 0L
  as_table(list2DF(out, shown), "ableturn_rows", reasons = reasons,
    rows = at$rows, of = row_count(book), from = if (is.null(window$seed)) window$from,
    vars = names, id = id, made = intersect(names, derived_names(book)),
    codes = lapply(self_named(names), function(name) meaning_in(book, name)$codes),
    working = if (working) workings_of(book, names, seen))
})

# The variables that are shown, each derived one after its sources where none of these is named.
names_beside <- function(names, book) {
  if (!length(names)) names <- if (length(derived_names(book))) derived_names(book) else
    names(book)
  sources <- unlist(lapply(names, function(name) derived_in(book, name)$from))
  if (any(names %in% sources)) return(names)
  unique(unlist(lapply(names, function(name) c(derived_in(book, name)$from, name))))
}

# Where the rows are looked up: the `site`, the condition there, and for how many `rows` it holds.
rows_site <- function(book, where) {
  site <- site_of(book)
  if (is.null(where)) return(list(site = site, where = NULL, rows = row_count(book)))
  alias <- setdiff(c("shown", paste0("shown_", seq_along(names(book)))), names(book))[1]
  turn <- new_turn("flag", alias, formula = where)
  check_turn(turn)
  made <- make_columns(book, turn)
  list(site = also_knowing(site, made$columns), where = call("==", as.name(alias), 1),
    rows = made$columns[[alias]]$counts$rows[1])
}

# Texts of which the categories are known, such as the levels of a factor, stand in their order.
order_nodes <- function(order, book) {
  lapply(order, function(one) list(by = order_node(variable_in(book, one$name)), down = one$down))
}

order_node <- function(variable) {
  codes <- variable$meaning$codes
  if (!is.character(unname(codes)) || !facts_of(variable)$few) return(as.name(variable$name))
  values <- category_order(facts_of(variable)$values, codes)
  lookup_node(as.double(seq_along(values)), setNames(list(values), variable$name))
}

# What the rows are sorted by: names, or names with a minus before them.
sorted_by <- function(expr, book) {
  if (is.null(expr)) return(list())
  if (is.call(expr) && identical(expr[[1]], as.name("c"))) {
    return(unlist(lapply(as.list(expr)[-1], sorted_by, book = book), recursive = FALSE))
  }
  if (is.character(expr) && length(expr) != 1) {
    return(unlist(lapply(expr, sorted_by, book = book), recursive = FALSE))
  }
  down <- is.call(expr) && identical(expr[[1]], as.name("-")) && length(expr) == 2
  name <- if (down) expr[[2]] else expr
  if (!is.symbol(name) && !is.character(name)) fail("sort-by", given = formula_text(expr))
  name <- as.character(name)
  if (!name %in% names(book) && startsWith(name, "-") && substring(name, 2) %in% names(book)) {
    down <- TRUE
    name <- substring(name, 2)
  }
  if (!name %in% names(book)) fail_unknown(name, names(book))
  list(list(name = name, down = down))
}

# Rows that are drawn, in their order: of a table by their place in that of its identifier.
drawn_window <- function(at, names, order, window, id) {
  places <- withr::with_seed(window$seed, sort(sample.int(at$rows, min(window$n, at$rows))))
  if (site_can(at$site, "row numbers")) {
    rows <- places_in_order(at$site, at$where, order) %||% seq_len(at$rows)
    return(pick_window(at$site, names, rows[places], id))
  }
  if (is.null(id)) fail("rows-drawn")
  each <- lapply(places, function(place) {
    window_at(at$site, names, at$where, order, id, place, 1)
  })
  joined_windows(each)
}

joined_windows <- function(each) {
  join <- function(pick) do.call(c, lapply(each, pick))
  names <- base::names(each[[1]]$columns)
  column <- function(name) {
    list(x = join(function(w) w$columns[[name]]$x),
      reason = join(function(w) w$columns[[name]]$reason))
  }
  list(rows = NULL, id = join(function(w) w$id), columns = lapply(self_named(names), column))
}

# The working of the derived variables in these rows.
workings_of <- function(book, names, seen) {
  made <- intersect(names, derived_names(book))
  if (!length(made) || !length(seen$columns[[1]]$x)) return(NULL) # no row is like that
  parts <- lapply(made, function(name) {
    if (is.null(seen$rows)) show_working(book, tidyselect::all_of(name), id = seen$id) else
      show_working(book, tidyselect::all_of(name), rows = seen$rows)
  })
  all <- do.call(rbind, lapply(parts, as.data.frame))
  as_table(all[!duplicated(all[c("row", "variable")]), ], "ableturn_working",
    heads = attr(parts[[1]], "heads"))
}

word_errors(list(
  "sort-by" = c("`sort_by` takes names of variables, not {given}.",
    "Write sort_by = income, or sort_by = -income for the highest first.",
    sheet = "Write --sort-by income, or --sort-by=-income for the highest first.",
    desk = "Choose a variable to sort by."),
  "rows-drawn" = c("A table without a row identifier has no rows that could be drawn.",
    "Name one: turnbook(..., id = person); or leave out `seed`.",
    sheet = "Leave out --seed.", desk = "Look at the first rows.")
))
