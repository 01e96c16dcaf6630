# A turn sheet from its file: what the originals mean, and the turns in an order in which each
# can be made. Nothing in it is run; formulas are parsed and checked by the formula language.
read_sheet <- function(path) {
  check_readable(path)
  lines <- readLines(path, encoding = "UTF-8", warn = FALSE)
  refuse_tags(lines, path)
  raw <- parse_yaml(paste(lines, collapse = "\n"), function(why) fail("sheet-yaml", path = path, why = why))
  withCallingHandlers(
    read_parts(raw, path),
    ableturn_sheet_spot = function(spot) fail_at_line(spot, lines, path)
  )
}

# Words such as No and On stay text; 010 is ten; times and dates stay text.
yaml_handlers <- list(
  "bool#yes" = function(x) if (x %in% c("true", "True", "TRUE")) TRUE else x,
  "bool#no" = function(x) if (x %in% c("false", "False", "FALSE")) FALSE else x,
  "int" = as.numeric, "int#oct" = as.numeric, "int#hex" = identity,
  "int#base60" = identity, "float#base60" = identity, "seq" = identity,
  "timestamp#iso8601" = identity, "timestamp#ymd" = identity, "timestamp#spaced" = identity
)

parse_yaml <- function(text, broken) {
  read <- tryCatch(
    yaml::yaml.load(enc2utf8(text), eval.expr = FALSE, handlers = yaml_handlers),
    error = identity
  )
  if (inherits(read, "error")) broken(conditionMessage(read))
  read
}

# A tag could name code to run; quoted text and remarks may hold any sign.
refuse_tags <- function(lines, path) {
  bare <- gsub("\"(\\\\.|[^\"\\\\])*\"|'[^']*'", "\"\"", lines)
  bare <- sub("(^|\\s)#.*$", "", bare)
  tag <- regmatches(bare, regexpr("(^|[\\s\\[{,:])(![^\\s,\\]}]*)", bare, perl = TRUE))
  line <- grep("(^|[\\s\\[{,:])(![^\\s,\\]}]*)", bare, perl = TRUE)
  if (length(line)) fail("sheet-tag", path = path, line = line[1], tag = trimws(sub("^[\\[{,:]", "", tag[1])))
}

read_parts <- function(raw, path) {
  if (!is.list(raw) || is.null(names(raw)) || !"able_turn" %in% names(raw)) {
    fail("sheet-not-one", path = path, why = "it has no line able_turn")
  }
  if (!identical(as.numeric(unlist(raw$able_turn)), sheet_version)) {
    fail("sheet-version", path = path, version = paste(unlist(raw$able_turn)), known = sheet_version)
  }
  check_keys(raw, c("able_turn", "data", "seen", "define", "turns"), NULL)
  check_keys(raw$data, c("file", "id", "rows", "sha256"), "data")
  seen <- Map(read_seen, raw$seen, names(raw$seen))
  turns <- Map(read_turn, raw$turns, seq_along(raw$turns))
  check_results(turns)
  list(data = raw$data, seen = seen, define = read_meanings(raw$define, list("define")), turns = order_turns(turns),
    path = path)
}

read_turn <- function(raw, place) {
  spot <- list("turns", place)
  if (is.list(raw) && "must_hold" %in% names(raw)) return(read_check(raw, spot, place))
  if (!is.list(raw) || is.null(names(raw))) bad_spot(spot, "it is no turn", "Write it as: - recode: name")
  verb <- intersect(names(raw), names(turn_keys))
  if (length(verb) != 1) {
    bad_spot(c(spot, list(names(raw)[1])),
      paste0("`", names(raw)[1], "` is no turn", near_hint(names(raw)[1], names(turn_keys))),
      paste0("A turn is one of: ", paste(names(turn_keys), collapse = ", "), "."))
  }
  keys <- keys_of(verb)
  check_keys(raw, c(verb, names(keys)), spot)
  makes <- read_shape$names(raw[[verb]], c(spot, list(verb)))
  given <- raw[intersect(names(keys), names(raw))]
  read <- Map(function(value, key) read_shape[[keys[[key]]]](value, c(spot, list(key))), given, names(given))
  if (isTRUE(read$valid_count)) makes <- c(makes, paste0(makes, "_n"))
  at_spot(spot, check_read_turn(do.call(new_turn, c(list(verb = verb, makes = makes), read)), place))
}

read_seen <- function(raw, name) {
  check_keys(raw, c("rows", "missing", "values", "range"), list("seen", name))
  lapply(raw, unlist)
}

# A check stands among the turns, where it was made.
read_check <- function(raw, spot, place) {
  check_keys(raw, c("must_hold", "label", "learned"), spot)
  list(
    type = "check", formula = read_shape$formula(raw$must_hold, c(spot, list("must_hold"))),
    label = if (!is.null(raw$label)) read_shape$text(raw$label, c(spot, list("label"))),
    learned = if (!is.null(raw$learned)) read_shape$learned(raw$learned, c(spot, list("learned"))), place = place
  )
}

check_read_turn <- function(turn, place) {
  check_new_names(turn$makes)
  need <- setdiff(needed_keys[turn$verb], names(turn))
  if (length(need)) bad_spot(list("turns", place, turn$verb), paste0("`", need, "` is missing"), "Add it.")
  check_turn(turn)
  turn$place <- place
  turn
}

check_results <- function(turns) {
  makes <- lapply(turns, function(turn) unique(turn$makes))
  twice <- which(duplicated(unlist(makes)))[1]
  if (is.na(twice)) return()
  place <- rep(seq_along(makes), lengths(makes))[twice]
  bad_spot(list("turns", place, turns[[place]]$verb), paste0("`", unlist(makes)[twice], "` is made twice"),
    "Give each variable its own name.")
}

# Each turn after those whose variables it reads.
order_turns <- function(turns) {
  made <- lapply(turns, `[[`, "makes")
  reads <- lapply(turns, step_reads)
  done <- integer()
  waiting <- seq_along(turns)
  while (length(waiting)) {
    open <- unlist(made[waiting])
    ready <- Position(function(i) !any(reads[[i]] %in% open), waiting)
    if (is.na(ready)) refuse_cycle(turns, Filter(function(i) length(made[[i]]) > 0, waiting))
    done <- c(done, waiting[ready])
    waiting <- waiting[-ready]
  }
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
