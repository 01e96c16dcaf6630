#' @include turn-type.R
NULL

#' @rdname turn_change
#' @export
turn_group <- function(book, vars, within, how = "mean", ..., as = NULL, label = NULL, note = NULL,
                       high = NULL, accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  check_choice(how, "how", group_ways)
  turn <- new_turn("group", result_names(from, as, paste0("_", how)),
    from = from, within = select_vars(book, rlang::enquo(within), "within"), how = how,
    label = label, note = note, high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("group",
  keys = c(from = "names", label = "texts", within = "names", how = "word"),
  needs = "from", doing = "groups",
  says = function(derived, turn) {
    paste0("the ", turn$how %||% "mean", " of ", turn$from[1],
      within_words(turn))
  },
  traits = c("reckons", "tells what is undefined")
)

#' @export
check_turn.group_turn <- function(turn) {
  check_choice(turn$how, "how", group_ways)
  if (!length(turn$within)) fail("argument-needed", argument = "within")
}

#' @export
lower.group_turn <- function(turn, world) {
  if (!turn$how %in% c("size", "valid")) check_numbers(turn$from, world, turn$how != "sum")
  lapply(seq_along(turn$from), function(i) {
    source <- turn$from[i]
    expr <- if (is_for_record(turn, world)) statistic_call(turn, source) else
      as.call(c(list(as.name("group"), as.name(source)), lapply(turn$within, as.name),
        list(how = turn$how)))
    new_lowered(turn$makes[i], expr, group_meaning(turn, world, source, i),
      codes = turn$how %in% c("size", "valid"))
  })
}

# The same statistic as a formula has it, which is learned and recorded.
statistic_call <- function(turn, source) {
  groups <- lapply(turn$within, as.name)
  within <- if (length(groups) == 1) groups[[1]] else as.call(c(list(as.name("c")), groups))
  as.call(list(as.name(turn$how), as.name(source), within = within))
}

# Counts are of the rows at hand, and so is what is said of very many groups, such as households:
# it is made anew wherever the turn is made. What is on record is of few groups.
is_for_record <- function(turn, world) {
  if (turn$how %in% c("size", "valid")) return(FALSE)
  if (any(vapply(turn$within, function(g) inherits(world$column(g), "Date"), NA))) return(FALSE)
  if (world$is_recorded(list(of = formula_text(statistic_call(turn, turn$from[1]))))) return(TRUE)
  prod(vapply(turn$within, world$answers, 1, most_groups_on_record + 1)) <=
    most_groups_on_record
}

group_meaning <- function(turn, world, source, place) {
  old <- world$meaning(source)
  counts <- turn$how %in% c("size", "valid")
  words <- switch(turn$how, size = "rows in the group", valid = "valid rows in the group", turn$how)
  worked_out <- new_meaning(
    label = paste0(old$label %||% source, ": ", words, " by ",
      paste(turn$within, collapse = " and ")),
    level = if (counts) "ratio" else "interval", unit = if (!counts) old$unit,
    high = if (!counts && turn$how != "sd") old$high
  )
  finish_meaning(turn, worked_out, place)
}
