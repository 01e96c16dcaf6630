# The occasions of a unit: their order, what is compared with, and those that are lacking.

# Whether the occasion just before is compared with, as usual.
is_plain_previous <- function(turn) is.null(turn$since) && is.null(turn$baseline)

since_in_words <- function(turn) {
  if (!is.null(turn$baseline)) return(paste("the occasion where", turn$baseline))
  if (is.null(turn$since)) "the occasion before" else paste("the", turn$since, "occasion")
}

# What each result is compared with, as a formula.
before_nodes <- function(turn, world) {
  if (isTRUE(turn$wide)) return(columns_before(turn))
  check_origin(turn, world)
  lapply(turn$from, function(source) row_before_node(as.name(source), turn, world))
}

# Of columns side by side: the first, the last, or the one before; where what is missing is passed
# over, the nearest of them in that direction that is valid.
columns_before <- function(turn) {
  x <- lapply(turn$from, as.name)
  k <- length(x)
  among <- function(i) {
    all <- switch(turn$since %||% "previous", first = x, last = rev(x), previous = x[(i - 1):1])
    if (!isTRUE(turn$skip_missing) || length(all) == 1) return(all[[1]])
    as.call(c(list(as.name("first_valid")), all))
  }
  places <- if (identical(turn$since, "last")) seq_len(k - 1) else seq_len(k)[-1]
  lapply(places, function(i) call("baseline", among(i)))
}

row_before_node <- function(x, turn, world) {
  unit <- as.name(turn$unit)
  if (is_plain_previous(turn)) {
    before <- call("previous", x, unit = unit, order = as.name(turn$order))
    if (isTRUE(turn$skip_missing)) before$skip_missing <- TRUE
    return(resolve_occasions(before, world))
  }
  call("baseline", call("group", call("choose", origin_test(x, turn, world), x), unit,
    how = "max"))
}

# Whether a row is the one of its unit that others are compared with.
origin_test <- function(x, turn, world) {
  if (!is.null(turn$baseline)) return(ready_formula(parse_formula(turn$baseline), world))
  place <- place_node(turn$order, world)
  end <- if (identical(turn$since, "last")) "max" else "min"
  counted <- if (isTRUE(turn$skip_missing)) {
    call("choose", call("!", call("unanswered", x)), place)
  } else {
    place
  }
  call("==", place, call("group", counted, as.name(turn$unit), how = end))
}

# The place of an occasion among the others, where its texts have none by themselves.
place_node <- function(order, world) {
  if (!world$is_text(order)) return(as.name(order))
  steps <- occasion_call(order, world)
  call("lookup", as.double(seq_along(world$learn(steps)$is)), as.name(order), steps)
}

# One row of a unit is compared with, and no more.
check_origin <- function(turn, world) {
  if (is.null(turn$baseline)) {
    if (is_plain_previous(turn)) return(invisible())
    twice <- world$repeats(c(turn$unit, turn$order))
    if (is.null(twice)) return(invisible())
    fail("occasions-twice", unit = turn$unit, order = turn$order, rows = twice$rows,
      value = paste(show_value(twice$values[[1]]), "at", show_value(twice$values[[2]])))
  }
  node <- parse_formula(turn$baseline)
  check_formula(node, world$names, turn$baseline)
  if (result_type(node, type_in(world)) != "truth") {
    fail("flag-no-condition", formula = turn$baseline)
  }
  check_one_baseline(turn, ready_formula(node, world), world)
}

check_one_baseline <- function(turn, test, world) {
  holds <- call("group", call("choose", test, 1), as.name(turn$unit), how = "sum")
  rows <- world$rows_with(call("&", test, call(">", holds, 1)))
  if (rows) fail("baseline-twice", formula = turn$baseline, unit = turn$unit,
    rows = counted(rows, "row"))
}

# Units that skip an occasion which others have: where occasions are common to most of them.
gap_remark <- function(turn, world) {
  if (is.null(turn$order) || !is_plain_previous(turn)) return(NULL)
  if (!has_common_occasions(turn, world)) return(NULL)
  gaps <- world$gaps(turn$order, turn$unit, occasions_of(turn, world))
  if (gaps) new_remark("The occasion just before is lacking, an earlier one is used",
    counted(gaps, "row"), "group-boundary")
}

# Waves, not days on which everybody came on their own: most rows are of occasions that half of the
# units share, and these follow each other in equal steps.
has_common_occasions <- function(turn, world) {
  met <- world$few(turn$order)
  if (is.null(met)) return(FALSE)
  # of very many units the most frequent occasion is held by most
  units <- world$answers(turn$unit, 65536)
  if (units == 65536) units <- max(met$rows, 0)
  common <- met$rows >= units / 2
  if (sum(met$rows[common]) < sum(met$rows) / 2) return(FALSE)
  if (!is.numeric(met$values) || inherits(met$values, "Date")) return(TRUE)
  steps <- diff(sort(as.double(met$values[common])))
  !length(steps) || mean(steps == stats::median(steps) & steps == round(steps)) >= 0.9
}

# The occasions in their order.
occasions_of <- function(turn, world) {
  order <- world$values(turn$order)
  if (is.character(order)) return(world$learn(occasion_call(turn$order, world))$is)
  sort_values(unique(order[!is.na(order)]))
}

steps_remark <- function(turn, world) {
  if (is.null(turn$order) || !world$is_text(turn$order)) return(NULL)
  steps <- occasions_of(turn, world)
  new_remark("Order of the occasions", paste(c(utils::head(steps, 8), if (length(steps) > 8) "..."),
    collapse = " < "))
}
