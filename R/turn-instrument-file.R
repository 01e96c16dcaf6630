# An instrument as a list, each part of it checked and of one form.
instrument_keys <- c("instrument", "response", "scales")

scale_keys <- c(
  "label", "items", "reversed", "response", "how", "at_least", "prorate", "weights", "round",
  "high", "bands", "norm"
)

check_instrument <- function(raw) {
  known_keys(raw, instrument_keys, "the file")
  scales <- raw$scales
  if (!is.list(scales) || !length(scales) || !is_named(scales)) {
    at_instrument("scales", "it names no scale", "Write scales, then a name and its items.")
  }
  shared <- check_response(raw$response, "response")
  scales <- Map(function(scale, name) check_scale(scale, shared, paste0("scales.", name)), scales,
    names(scales))
  list(instrument = if (!is.null(raw$instrument)) paste(raw$instrument), scales = scales)
}

known_keys <- function(raw, known, where) {
  if (!is.list(raw) || (length(raw) && !is_named(raw))) at_instrument(where,
    "it is no mapping of keys", "Write key: value.")
  strange <- setdiff(names(raw), known)
  if (length(strange)) {
    at_instrument(where, paste0("unknown key `", strange[1], "`.", near_hint(strange[1], known)),
      paste0("Known here: ", paste(known, collapse = ", "), "."))
  }
}

at_instrument <- function(where, why, todo) {
  fail("instrument-at", where = where, why = sub("([^.?])$", "\\1.", why), todo = todo)
}

check_response <- function(raw, where) {
  if (is.null(raw)) return(NULL)
  known_keys(raw, c("limits", "score", "labels"), where)
  out <- list(limits = two_numbers(raw$limits, paste0(where, ".limits")),
    score = two_numbers(raw$score, paste0(where, ".score")))
  compact(out)
}

two_numbers <- function(x, where) {
  if (is.null(x)) return(NULL)
  x <- unlist(x)
  if (!is.numeric(x) || length(x) != 2 || anyNA(x) || x[1] >= x[2]) {
    at_instrument(where, "it is not two rising numbers", "Write them as [0, 3].")
  }
  as_code(as.double(x))
}

check_scale <- function(raw, shared, where) {
  known_keys(raw, scale_keys, where)
  at <- function(key) paste0(where, ".", key)
  scale <- list(
    label = raw$label, items = texts_at(raw$items, at("items")),
    reversed = texts_at(raw$reversed, at("reversed")),
    response = check_response(raw$response, at("response")) %||% shared, how = raw$how %||% "sum",
    at_least = raw$at_least, prorate = raw$prorate, weights = unlist(raw$weights),
    round = round_at(raw$round, at("round")), high = raw$high,
    bands = bands_of_instrument(raw$bands, at("bands")), norm = norm_at(raw$norm, at("norm"))
  )
  check_scale_parts(scale, at)
  compact(scale)
}

check_scale_parts <- function(scale, at) {
  check_items(scale, at)
  if (is.null(scale$response$limits) && length(c(scale$reversed, scale$response$score))) {
    at_instrument(at("response"), "the limits of the answers are needed",
      "Add response: {limits: [0, 3]}.")
  }
  check_scoring(scale, at)
}

# A number of digits, or those and where halves go.
round_at <- function(raw, where) {
  if (is.null(raw)) return(NULL)
  stated <- if (is.list(raw) || is_named(raw)) as.list(raw) else list(digits = raw)
  known_keys(stated, c("digits", "half"), where)
  digits <- stated$digits %||% 0
  if (!(is.numeric(digits) && length(digits) == 1 && is.finite(digits))) {
    at_instrument(where, "it must be a number of digits", "Write round: 2.")
  }
  if (!(stated$half %||% "even") %in% c("even", "up")) {
    at_instrument(where, "halves go to the even neighbour or up",
      "Write round: {digits: 0, half: up}.")
  }
  if (is.null(stated$half)) digits else list(digits = digits, half = stated$half)
}

check_items <- function(scale, at) {
  if (is.null(scale$items)) {
    at_instrument(at("items"), "it names no items", "Write items: [q1, q2].")
  }
  twice <- unique(scale$items[duplicated(scale$items)])
  if (length(twice)) {
    at_instrument(at("items"), paste0("`", twice[1], "` stands twice"), "Name each item once.")
  }
  strange <- setdiff(scale$reversed, scale$items)
  if (length(strange)) {
    at_instrument(at("reversed"), paste0("`", strange[1], "` is no item of the scale.",
      near_hint(strange[1], scale$items)), "Name items of the scale.")
  }
}

# A scale is scored as a composite is, and checked like one.
check_scoring <- function(scale, at) {
  turn <- new_turn("composite", "score", from = scale$items, how = scale$how,
    at_least = scale$at_least, prorate = scale$prorate, weights = scale$weights)
  tryCatch(check_turn(turn), ableturn_error = function(e) {
    lines <- strsplit(conditionMessage(e), "\n", fixed = TRUE)[[1]]
    at_instrument(sub("[.]$", "", at("")), lines[1], paste(lines[-1], collapse = " "))
  })
}

texts_at <- function(x, where) {
  if (is.null(x)) return(NULL)
  x <- unlist(x)
  if (is.character(x) && length(x)) unname(x) else at_instrument(where, "it is no list of names",
    "Write it as [q1, q2].")
}

# Bands as texts such as "5 .. 9", named by their labels.
bands_of_instrument <- function(bands, where) {
  if (is.null(bands)) return(NULL)
  if (!is_named(bands)) {
    at_instrument(where, "its bands have no names", "Write {Low: \".. 4\", High: \"5 ..\"}.")
  }
  lapply(bands, function(band) {
    cell <- if (length(band) == 1) show_value(unlist(band)) else ""
    if (is.null(read_range(cell)) && !grepl(plain_number, cell)) {
      at_instrument(where, paste0("\"", cell, "\" is no range"),
        "Write ranges such as \".. 4\" or \"5 .. 9\".")
    }
    cell
  })
}

norm_at <- function(norm, where) {
  if (is.null(norm)) return(NULL)
  norm <- lapply(as.list(norm), function(column) plain_values(unlist(column)))
  if (!all(c("raw", "scaled") %in% names(norm)) || length(unique(lengths(norm))) != 1) {
    at_instrument(where,
      "it needs the columns raw and scaled, and one for each band variable, of one length",
      "Write norm: {raw: [0, 1], scaled: [34, 36]}.")
  }
  norm
}
