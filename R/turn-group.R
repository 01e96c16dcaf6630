#' @include turn-type.R
NULL

#' @rdname turn_change
#' @export
turn_group <- function(book, vars, within, how = "mean", ..., weight = NULL, leave_out = FALSE,
                       as = NULL, label = NULL, note = NULL, high = NULL, accept = NULL,
                       replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(vars))
  check_choice(how, "how", group_ways)
  stated <- !missing(weight) || !how %in% weighted_ways || !isFALSE(leave_out)
  ending <- paste0("_", how, if (isTRUE(leave_out)) "_others")
  turn <- new_turn("group", result_names(from, as, ending),
    from = from, within = select_vars(book, rlang::enquo(within), "within"), how = how,
    weight = weight_var(book, rlang::enquo(weight), stated),
    leave_out = drop_default(leave_out, FALSE),
    label = label, note = note, high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("group",
  keys = c(from = "names", label = "texts", within = "names", how = "word", weight = "names",
    leave_out = "flag"),
  needs = "from", doing = "groups",
  says = function(derived, turn) {
    paste0("the ", if (!is.null(turn$weight)) "weighted ", turn$how %||% "mean", " of ",
      turn$from[1], within_words(turn), if (isTRUE(turn$leave_out)) " over the other rows")
  },
  traits = c("reckons", "tells what is undefined")
)

#' @export
check_turn.group_turn <- function(turn) {
  check_choice(turn$how, "how", group_ways)
  if (!length(turn$within)) fail("argument-needed", argument = "within")
  if (length(turn$weight) > 1) fail("one-weight", names = turn$weight)
  if (length(turn$weight) && !turn$how %in% weighted_ways) fail("group-weight", how = turn$how)
  check_flag(turn$leave_out %||% FALSE, "leave_out")
  if (isTRUE(turn$leave_out)) check_leave_out(turn)
}

check_leave_out <- function(turn) {
  if (length(turn$weight)) fail("leave-out-weight")
  if (!turn$how %in% names(others_ways)) fail("leave-out-how", how = turn$how)
}

#' @export
lower.group_turn <- function(turn, world) {
  if (!turn$how %in% c("size", "valid")) check_numbers(turn$from, world, turn$how != "sum")
  if (length(turn$weight)) check_group_weight(turn$weight, world)
  lapply(seq_along(turn$from), function(i) {
    source <- turn$from[i]
    expr <- if (isTRUE(turn$leave_out)) of_the_others(turn, as.name(source)) else
      if (is_for_record(turn, world)) statistic_call(turn, source) else
      if (length(turn$weight)) weighted_in_group(turn, source) else
        in_group(turn, as.name(source), turn$how)
    new_lowered(turn$makes[i], expr, group_meaning(turn, world, source, i),
      codes = turn$how %in% c("size", "valid"),
      kinds = if (call_head(expr) == "choose") c("nobody else", NA),
      remarks = if (turn$how == "mean" && !length(turn$weight)) likeness_remark(turn, world,
        source))
  })
}

# The statistics that take a weight.
weighted_ways <- c("mean", "sum")

check_group_weight <- function(weight, world) {
  check_numbers(weight, world)
  below <- world$outside(weight, c(0, Inf))
  if (length(below$rows)) fail("weight-negative", name = weight,
    rows = counted(sum(below$rows), "row"))
}

in_group <- function(turn, x, how) {
  as.call(c(list(as.name("group"), x), lapply(turn$within, as.name), list(how = how)))
}

# sum(w x), and over sum(w) of the rows with a valid answer, for which w is w + 0 x.
weighted_in_group <- function(turn, source) {
  x <- as.name(source)
  w <- as.name(turn$weight)
  sum <- in_group(turn, call("*", x, w), "sum")
  if (turn$how == "sum") return(sum)
  call("/", sum, in_group(turn, call("+", w, call("*", x, 0)), "sum"))
}

# A statistic of the other members of the group: what the row adds to it is taken off.
others_ways <- list(
  size = function(turn, x) call("-", in_group(turn, x, "size"), 1),
  valid = function(turn, x) others_valid(turn, x),
  sum = function(turn, x) if_others(turn, x, others_sum(turn, x)),
  mean = function(turn, x) {
    if_others(turn, x, call("/", others_sum(turn, x), others_valid(turn, x)))
  }
)

others_valid <- function(turn, x) call("-", in_group(turn, x, "valid"), valid_once(x))

others_sum <- function(turn, x) call("-", in_group(turn, x, "sum"), call("first_valid", x, 0))

# Missing where nobody else of the group has a valid answer.
if_others <- function(turn, x, value) {
  call("choose", call("==", others_valid(turn, x), 0), NA, call(">", others_valid(turn, x), 0),
    value)
}

valid_once <- function(x) tally_node(call("!", call("unanswered", x)))

of_the_others <- function(turn, x) others_ways[[turn$how]](turn, x)

# How alike the members of a group are, by an analysis of variance: ICC(1) of single rows, ICC(2) of
# the group means. `groups`: rows, mean and sd of each.
likeness_remark <- function(turn, world, source) {
  groups <- world$groups(source, turn$within)
  likeness <- if (!is.null(groups)) likeness_of(groups)
  if (is.null(likeness)) return(NULL)
  list(new_remark("Likeness within groups", paste0("ICC(1) ", two_digits(likeness$single),
    ", of the means ICC(2) ", two_digits(likeness$means), ", ",
    counted(likeness$groups, "group")), plain = TRUE))
}

likeness_of <- function(groups) {
  n <- groups$rows
  total <- sum(n)
  k <- length(n)
  if (k < 2 || total <= k) return(NULL)
  grand <- sum(n * groups$mean) / total
  between <- sum(n * (groups$mean - grand)^2) / (k - 1)
  within <- sum(ifelse(n > 1, (n - 1) * groups$sd^2, 0)) / (total - k)
  size <- (total - sum(n^2) / total) / (k - 1)
  if (!is.finite(between + within) || between <= 0) return(NULL)
  list(single = (between - within) / (between + (size - 1) * within),
    means = (between - within) / between, groups = k)
}

# The same statistic as a formula has it, which is learned and recorded.
statistic_call <- function(turn, source) {
  groups <- lapply(turn$within, as.name)
  within <- if (length(groups) == 1) groups[[1]] else as.call(c(list(as.name("c")), groups))
  weight <- if (length(turn$weight)) list(weight = as.name(turn$weight))
  as.call(c(list(as.name(turn$how), as.name(source), within = within), weight))
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
  if (length(turn$weight)) words <- paste("weighted", words)
  if (isTRUE(turn$leave_out)) words <- paste(words, "over the others")
  worked_out <- new_meaning(
    label = paste0(old$label %||% source, ": ", words, " by ",
      paste(turn$within, collapse = " and ")),
    level = if (counts) "ratio" else "interval", unit = if (!counts) old$unit,
    high = if (!counts && turn$how != "sd") old$high
  )
  finish_meaning(turn, worked_out, place)
}
