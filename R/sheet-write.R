sheet_version <- 1

# A sheet in parts, so that what has not changed need not be made again: `head`, `seen` and
# `define`, each a list of values to emit, and `steps`, each with its lines. `known` are the steps
# of the time before. A `whole` sheet also says what originals mean that no turn reads.
sheet_parts <- plainly(function(book, known = NULL, whole = FALSE) {
  list(
    head = list(able_turn = sheet_version, data = sheet_data(book)), seen = sheet_seen(book),
    define = sheet_definitions(book, whole), steps = step_lines(stated_turns(book), known)
  )
})

step_lines <- function(steps, known) {
  lapply(seq_along(steps), function(i) {
    old <- if (i <= length(known)) known[[i]]
    if (!is.null(old) && identical(old$step, steps[[i]])) return(old)
    list(step = steps[[i]], lines = emit_item(sheet_step(steps[[i]]), 2))
  })
}

emit_parts <- function(parts) {
  c(emit_lines(parts$head), if (length(parts$seen)) c("seen:", seen_lines(parts$seen)),
    if (length(parts$define)) emit_lines(list(define = parts$define)),
    if (length(parts$steps)) c("turns:",
      unlist(lapply(parts$steps, `[[`, "lines"))) else "turns: []")
}

# What was seen of each original; written once while it stays the same, as a live sheet is written
# at each step.
seen_lines <- function(seen) {
  unlist(Map(function(name, entry) {
    key <- paste0("v", substr(name, 1, 200))
    known <- seen_written[[key]]
    if (identical(known$of, list(name, entry))) return(known$lines)
    lines <- emit_entry(name, entry, 2)
    assign(key, list(of = list(name, entry), lines = lines), seen_written)
    lines
  }, names(seen), seen), use.names = FALSE)
}

seen_written <- new.env(parent = emptyenv())

sheet_lines <- function(book) emit_parts(sheet_parts(book))

sheet_data <- function(book) {
  info <- info_of(book)
  data <- list(file = info$file, table = if (!is.null(info$site)) info$name,
    id = if (!is.null(info$id)) bare(info$id), rows = info$rows,
    reading = stated_reading(info$stated),
    sha256 = if (is_to_be_fingerprinted(book)) fingerprint_of(book),
    accept = if (length(info$accept)) sheet_value(info$accept, "accepts"))
  compact(data)
}

# A sheet that is only kept aside does not wait for that of large data: it is taken while nothing
# else is done, and stands there from then on.
is_to_be_fingerprinted <- function(book) {
  cells <- as.double(row_count(book)) * length(original_names(book))
  aside <- inherits(info_of(book)$sheet, "rescue_sheet")
  site_can(site_of(book), "fingerprint") && !(aside && cells > 5e6 && !is_fingerprinted(book))
}

# How the file was said to be read; with names and texts as they stand.
stated_reading <- function(stated) {
  stated <- stated[names(stated) != "columns" | lengths(stated) > 0]
  if (!length(stated)) return(NULL)
  lapply(stated, function(x) if (is.null(names(x))) x else labelled_flow(as.list(x)))
}

# What the originals looked like when the record was made, so that new data can be compared.
sheet_seen <- function(book) {
  recorded <- info_of(book)$seen
  read <- unlist(lapply(derived_of(book), `[[`, "reads"))
  seen <- lapply(self_named(intersect(original_names(book), read)), function(name) {
    flow(recorded[[name]] %||% profile_of(variable_in(book, name), row_count(book)))
  })
  if (length(seen)) seen
}

# The turns and checks on the record, with what was later stated about their variables.
stated_turns <- function(book) {
  log <- steps_of(book)
  stated <- Filter(function(e) e$type == "define", log)
  defined <- unlist(lapply(stated, `[[`, "vars"))
  lapply(Filter(function(e) e$type != "define", log), function(e) {
    if (e$type == "check") e else if (any(e$turn$makes %in% defined)) with_definitions(e$turn,
      stated) else e$turn
  })
}

sheet_step <- function(step) {
  if (identical(step$type, "check")) sheet_check(step) else sheet_turn(step)
}

sheet_check <- function(check) {
  out <- list(must_hold = check$formula, label = check$label)
  out <- compact(out)
  learned <- Filter(is_kept_on_sheet, check$learned)
  if (length(learned)) out$learned <- lapply(learned, sheet_learned)
  out
}

# What the originals mean: those that a turn reads, and those that were defined.
sheet_definitions <- function(book, whole = FALSE) {
  read <- if (whole) original_names(book) else unlist(lapply(derived_of(book), `[[`, "reads"))
  vars <- with_asked(book, intersect(original_names(book), c(read, defined_vars(book))))
  vars <- intersect(original_names(book), vars)
  meanings <- lapply(self_named(vars), function(name) sheet_meaning(meaning_in(book, name)))
  meanings <- meanings[lengths(meanings) > 0]
  if (length(meanings)) meanings
}

# The originals that the analyst defined.
defined_vars <- function(book) {
  defined <- unlist(lapply(steps_of(book), function(e) if (e$type == "define") e$vars))
  intersect(original_names(book), defined)
}

sheet_meaning <- function(m) {
  out <- list(
    label = m$label, codes = sheet_codes(m$codes),
    missing = if (length(m$missing)) labelled_flow(lapply(m$missing, sheet_matchers)),
    level = if (!is.null(m$level)) bare(m$level), limits = m$limits, high = m$high, low = m$low,
    unit = m$unit, note = m$note, asked_if = m$asked_if, read = m$read,
    role = if (!is.null(m$role)) bare(m$role), set = m$set
  )
  compact(out)
}

# Codes by their labels; where a label stands for several codes, one by one.
sheet_codes <- function(codes) {
  if (!length(codes)) return(NULL)
  if (!anyDuplicated(names(codes))) return(labelled_flow(as.list(codes)))
  flow(Map(function(code, label) flow(list(code = code, label = label)), unname(codes),
    names(codes), USE.NAMES = FALSE))
}

sheet_turn <- function(turn) {
  out <- list(bare(named_results(turn)))
  names(out) <- turn$verb
  refuse_unknown_fields(turn)
  for (key in setdiff(names(keys_of(turn$verb)), "learned")) {
    if (!is.null(turn[[key]])) out[[key]] <- sheet_value(turn[[key]], keys_of(turn$verb)[[key]])
  }
  learned <- Filter(is_kept_on_sheet, turn$learned)
  if (length(learned)) out$learned <- lapply(learned, sheet_learned)
  out
}

# Values of very many groups are learned anew wherever the turn is made, and so are the texts that
# hold one of several answers.
is_kept_on_sheet <- function(note) {
  !is_split_note(note) && (!length(note$groups) || length(note$is) <= most_groups_on_record)
}

# A field that the kind of turn does not know would be lost.
refuse_unknown_fields <- function(turn) {
  odd <- setdiff(names(turn), c("verb", "makes", "place", names(keys_of(turn$verb))))
  if (length(odd)) fail("field-unknown", verb = turn$verb, field = odd)
}

sheet_value <- function(value, shape) {
  switch(shape,
    names = bare(value),
    word = bare(value),
    value = if (is.character(value)) bare(value) else value,
    matchers = sheet_matchers(value),
    table = flow(value), renames = labelled_flow(as.list(value)),
    accepts = unname(Map(function(id, why) flow(list(finding = bare(id), because = why)),
      names(value), value)),
    instrument = nested_flow(value),
    rules = lapply(value, sheet_rule),
    meanings = flow(lapply(value, function(m) flow(sheet_meaning(m)))),
    value
  )
}

# Lists in lists, each on one line.
nested_flow <- function(value) if (is.list(value)) flow(lapply(value, nested_flow)) else value

sheet_learned <- function(note) {
  note <- compact(note)
  if (!is.null(note$groups)) note$groups <- flow(note$groups)
  flow(note)
}

sheet_rule <- function(rule) {
  keeps <- is_unchanged(rule$code)
  out <- c(
    if (keeps) list(keep = TRUE) else list(code = if (is.na(rule$code)) NA else rule$code),
    if (length(rule$when)) list(when = sheet_matchers(rule$when)),
    if (length(rule$where)) list(where = sheet_where(rule$where)),
    if (rule$rest) list(rest = TRUE),
    if (!is.null(rule$label)) list(label = rule$label)
  )
  flow(out)
}

# Two conditions on one variable stand one after the other.
sheet_where <- function(where) {
  each <- lapply(where, sheet_matchers)
  if (!anyDuplicated(names(each))) {
    flow(each)
  } else {
    flow(lapply(seq_along(each), function(i) flow(each[i])))
  }
}

sheet_matchers <- function(matchers) {
  if (length(matchers) == 1) {
    sheet_matcher(matchers[[1]])
  } else {
    flow(lapply(unname(matchers), sheet_matcher))
  }
}

sheet_matcher <- function(m) {
  switch(m$type,
    values = if (is.character(m$values)) flow(list(text = m$values)) else m$values,
    range = if (is_any_number(m)) flow(list(number = bare("any"))) else write_range(m),
    holding = flow(list(holding = if (m$regex) flow(list(regex = m$pieces)) else
      if (m$whole) m$pieces else flow(list(inside = m$pieces)))),
    missing = flow(list(missing = if (m$kind == "any") bare("any") else m$kind))
  )
}
