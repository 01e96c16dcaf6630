# Reliable change (Jacobson & Truax 1991): the index, its three classes, and a cut-off that was
# crossed.

# What stands beside the index: names with these endings.
reliable_names <- function(turn, names) {
  if (!identical(turn$how, "reliable")) return(character())
  c(paste0(names, "_class"), if (!is.null(turn$cutoff)) paste0(names, "_crossed"))
}

# A number, or the alpha that an item analysis gave, which the note then says.
stated_reliability <- function(given, note) {
  if (!inherits(given, "ableturn_items")) return(list(is = given, note = note))
  alpha <- attr(given, "scale")$alpha
  items <- given$item
  list(is = alpha, note = note %||% paste0("Reliability: alpha ", two_digits(alpha), " of ",
    counted(length(items), "item"), ", ", items[1], " to ", items[length(items)]))
}

reliable_only <- c("reliability", "sd", "better", "cutoff")

check_reliable <- function(turn) {
  if (turn$how != "reliable") {
    idle <- intersect(reliable_only, names(turn))
    if (length(idle)) fail("reliable-only", argument = idle[1])
    return(invisible())
  }
  if (is.null(turn$reliability)) fail("reliability-needed")
  r <- check_number(turn$reliability, "reliability")
  if (is.na(r) || r < 0 || r >= 1) fail("reliability-range", value = r)
  if (is.null(turn$better)) fail("better-needed")
  check_choice(turn$better, "better", c("high", "low"))
  if (!is.null(turn$cutoff)) check_number(turn$cutoff, "cutoff")
  if (!is.null(turn$sd) && !isTRUE(check_number(turn$sd, "sd") > 0)) {
    fail("sd-positive", value = turn$sd)
  }
}

# (x - p)/(s sqrt(2) sqrt(1 - r)).
reliable_node <- function(x, before, turn, world) {
  error <- sqrt(2) * sqrt(1 - turn$reliability)
  spread <- turn$sd %||% call("sd", reference_answers(as.character(x), turn, world))
  if (is.numeric(spread)) return(call("/", call("-", x, before), spread * error))
  call("/", call("-", x, before), call("*", spread, error))
}

# The answers that are compared with, one of each unit: with the occasion before, those of the
# first.
reference_answers <- function(source, turn, world) {
  if (isTRUE(turn$wide)) {
    return(as.name(if (identical(turn$since, "last")) turn$from[length(turn$from)] else
      turn$from[1]))
  }
  x <- as.name(source)
  if (is_plain_previous(turn)) turn$since <- "first"
  call("choose", origin_test(x, turn, world), x)
}

lower_reliable <- function(turn, sources, before) {
  if (turn$how != "reliable") return(NULL)
  names <- named_results(turn)
  classes <- lapply(names, lowered_class, turn = turn)
  crossed <- if (!is.null(turn$cutoff)) Map(lowered_crossing, names, sources, before,
    MoreArgs = list(turn = turn))
  c(classes, unname(crossed))
}

lowered_class <- function(name, turn) {
  up <- if (turn$better == "high") 1L else -1L
  rc <- as.name(name)
  expr <- call("choose", call(">", rc, 1.96), up, call("<", rc, -1.96), -up, 0L)
  own <- paste0(name, "_class")
  meaning <- new_meaning(label = paste0(name, ": reliable change"),
    codes = c(Worse = -1L, Unchanged = 0L, Improved = 1L), level = "ordinal", high = "improved")
  new_lowered(own, expr, merge_meaning(meaning, turn[["define"]][[own]]), codes = TRUE,
    caught = c("above 1.96", "below -1.96", "between"))
}

# Whether the cut-off lies between the two: it is itself on the upper side.
lowered_crossing <- function(name, source, before, turn) {
  at <- turn$cutoff
  up <- if (turn$better == "high") 1L else -1L
  x <- as.name(source)
  above <- function(node) call(">=", node, at)
  below <- function(node) call("<", node, at)
  expr <- call("choose", call("&", above(x), below(before)), up,
    call("&", below(x), above(before)), -up, 0L)
  own <- paste0(name, "_crossed")
  meaning <- new_meaning(label = paste0(name, ": cut-off ", show_number(at), " crossed"),
    codes = c("To the worse" = -1L, "Not crossed" = 0L, "To the better" = 1L), level = "ordinal",
    high = "to the better")
  new_lowered(own, expr, merge_meaning(meaning, turn[["define"]][[own]]), codes = TRUE,
    caught = c(paste("from below", show_number(at), "to", show_number(at), "and more"),
      paste("from", show_number(at), "and more to below"), "it does not"))
}

reliable_remark <- function(turn) {
  if (turn$how != "reliable") return(NULL)
  low <- turn$reliability < 0.7
  list(new_remark("Reliability", paste0(show_amount(turn$reliability),
    if (is.null(turn$note)) ", of which no note says where it comes from"),
  if (low) "low-reliability", plain = !low, whole = TRUE))
}
