# A turn sheet from its file: what the originals mean, and the turns in an order in which each can
# be made. Nothing in it is run; formulas are parsed and checked by the formula language.
read_sheet <- function(path) {
  check_readable(path)
  lines <- file_lines(path)
  refuse_more_documents(lines, path)
  raw <- parse_yaml(paste(lines, collapse = "\n"), function(why) {
    fail("sheet-yaml",
      path = path, why = why)
  })
  withCallingHandlers(
    c(read_parts(raw, path), list(lines = lines)),
    ableturn_sheet_spot = function(spot) fail_at_line(spot, lines, path)
  )
}

# A second document would be passed over.
refuse_more_documents <- function(lines, path) {
  said <- which(grepl("[^ \t]", lines) & !grepl("^\\s*#", lines))
  marks <- which(grepl("^(---|[.]{3})(\\s|$)", lines))
  later <- setdiff(marks, said[1])
  if (length(later)) fail("sheet-two", path = path, line = later[1])
}

read_parts <- function(raw, path) {
  if (!is.list(raw) || is.null(names(raw)) || !"able_turn" %in% names(raw)) {
    fail("sheet-not-one", path = path, why = "it has no line able_turn")
  }
  if (!identical(as.numeric(unlist(raw$able_turn)), sheet_version)) {
    fail("sheet-version", path = path, version = paste(unlist(raw$able_turn)),
      known = sheet_version)
  }
  check_keys(raw, c("able_turn", "data", "seen", "define", "turns"), NULL)
  data <- read_data_entry(raw$data)
  seen <- Map(read_seen, raw$seen, names(raw$seen))
  turns <- Map(read_turn, raw$turns, seq_along(raw$turns))
  check_results(turns)
  list(data = data, accept = if (!is.null(raw$data$accept)) read_accepts(raw$data$accept,
    list("data", "accept")),
  seen = seen, define = read_meanings(raw$define, list("define")), turns = order_turns(turns),
  path = path)
}

# Which data the record was made on, and what was judged of their having changed since.
read_data_entry <- function(raw) {
  if (is.null(raw)) return(NULL)
  if (!is.list(raw) || !is_named(raw)) {
    bad_spot(list("data"), "it must say which data", "Write file, id, rows, sha256.")
  }
  check_keys(raw, c("file", "table", "id", "rows", "reading", "sha256", "accept"), list("data"))
  for (key in intersect(c("file", "table", "id", "sha256"),
    names(raw))) raw[[key]] <- read_shape$text(raw[[key]], list("data", key))
  if (!is.null(raw$rows)) raw$rows <- read_shape$number(raw$rows, list("data", "rows"))
  if (!is.null(raw$reading)) raw$reading <- read_stated_reading(raw$reading)
  raw
}

# How the file is read; what it may hold is known where files are.
read_stated_reading <- function(raw) {
  spot <- list("data", "reading")
  if (!is.list(raw) || !is_named(raw)) {
    bad_spot(spot, "it must say how the file is read", "Write reading: {decimal: \",\"}.")
  }
  stated <- lapply(self_named(names(raw)), function(key) {
    value <- raw[[key]]
    if (!length(value)) return(character())
    if (is_named(value)) return(unlist(read_shape$texts(unlist(value), c(spot, key))))
    if (is.numeric(value)) read_shape$number(value, c(spot, key)) else
      read_shape$texts(value, c(spot, key))
  })
  tryCatch(check_stated_reading(stated),
    ableturn_error = function(e) bad_spot(spot, conditionMessage(e), ""))
}

read_turn <- function(raw, place) {
  spot <- list("turns", place)
  if (is.list(raw) && "must_hold" %in% names(raw)) return(read_check(raw, spot, place))
  if (!is.list(raw) || is.null(names(raw))) {
    bad_spot(spot, "it is no turn", "Write it as: - recode: name")
  }
  verb <- intersect(names(raw), turn_verbs())
  if (length(verb) != 1) {
    bad_spot(c(spot, list(names(raw)[1])),
      paste0("`", names(raw)[1], "` is no turn", near_hint(names(raw)[1], turn_verbs())),
      paste0("A turn is one of: ", paste(turn_verbs(), collapse = ", "), "."))
  }
  keys <- keys_of(verb)
  check_keys(raw, c(verb, names(keys)), spot)
  makes <- read_shape$names(raw[[verb]], c(spot, list(verb)))
  given <- raw[intersect(names(keys), names(raw))]
  read <- Map(function(value, key) read_shape[[keys[[key]]]](value, c(spot, list(key))), given,
    names(given))
  read <- c(read, usual_words(verb, names(read)))
  further <- type_of_turn(verb)$beside(read, makes)
  if (length(further)) makes <- with_later_names(c(makes, further), read$renamed)
  at_spot(spot, check_read_turn(do.call(new_turn, c(list(verb = verb, makes = makes), read)),
    place))
}

# The words that a turn cannot do without, where a sheet leaves them out: those that its function
# takes then.
usual_words <- function(verb, given) {
  asked <- c("how", if (!"at" %in% given) "by")
  lacking <- setdiff(intersect(asked, names(keys_of(verb))), given)
  as.list(formals(get(paste0("turn_", verb), mode = "function"))[lacking])
}

read_seen <- function(raw, name) {
  check_keys(raw, c("rows", "missing", "unit", "values", "range"), list("seen", name))
  for (key in intersect(c("rows", "missing"), names(raw))) {
    read_shape$number(raw[[key]], list("seen", name, key))
  }
  if (!is.null(raw$range)) read_shape$numbers(raw$range, list("seen", name, "range"))
  if (!is.null(raw$unit)) read_shape$text(raw$unit, list("seen", name, "unit"))
  lapply(raw, unlist)
}

# A check stands among the turns, where it was made.
read_check <- function(raw, spot, place) {
  check_keys(raw, c("must_hold", "label", "learned"), spot)
  list(
    type = "check", formula = read_shape$formula(raw$must_hold, c(spot, list("must_hold"))),
    label = if (!is.null(raw$label)) read_shape$text(raw$label, c(spot, list("label"))),
    learned = if (!is.null(raw$learned)) read_shape$learned(raw$learned, c(spot, list("learned"))),
    place = place
  )
}

check_read_turn <- function(turn, place) {
  check_new_names(turn$makes)
  need <- setdiff(type_of_turn(turn$verb)$needs, names(turn))
  if (length(need)) {
    bad_spot(list("turns", place, turn$verb), paste0("`", need, "` is missing"), "Add it.")
  }
  check_turn(turn)
  turn$place <- place
  turn
}

check_results <- function(turns) {
  makes <- lapply(turns, function(turn) unique(turn$makes))
  twice <- which(duplicated(unlist(makes)))[1]
  if (is.na(twice)) return()
  place <- rep(seq_along(makes), lengths(makes))[twice]
  bad_spot(list("turns", place, turns[[place]]$verb), paste0("`", unlist(makes)[twice],
    "` is made twice"), "Give each variable its own name.")
}

# Each turn after those whose variables it reads.
order_turns <- function(turns) {
  made <- lapply(turns, `[[`, "makes")
  reads <- lapply(turns, step_reads)
  done <- ordered_by_need(made, reads)
  waiting <- setdiff(seq_along(turns), done)
  if (length(waiting)) refuse_cycle(turns, Filter(function(i) length(made[[i]]) > 0, waiting))
  turns[done]
}

step_reads <- function(step) {
  if (identical(step$type, "check")) formula_vars(parse_formula(step$formula)) else turn_reads(step)
}

refuse_cycle <- function(turns, waiting) {
  names <- vapply(turns[waiting], function(t) t$makes[1], "")
  bad_spot(list("turns", turns[[waiting[1]]]$place),
    paste("a cycle:", paste(names, collapse = ", "), "are made from each other"),
    "A variable can only be made from originals and from variables made without it.")
}
