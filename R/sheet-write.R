#' Save the turns as a sheet
#'
#' Writes the record as a turn sheet: plain YAML that can be read, amended and
#' replayed with [apply_turns()]. It holds what the originals mean as far as the
#' turns read them, so that it needs no codebook. The same book always gives the
#' same bytes, and the file appears whole or not at all.
#'
#' @param book A turnbook.
#' @param path The file to write, by custom ending in `.turns.yaml`.
#' @param overwrite Replace a file that exists.
#' @return The path, invisibly.
#' @section Errors: `ableturn_error_file_exists`, `ableturn_error_file_unwritable`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' path <- tempfile(fileext = ".turns.yaml")
#' save_turns(book, path)
#' cat(readLines(path), sep = "\n")
#' @export
save_turns <- function(book, path, overwrite = FALSE) {
  write_lines_whole(sheet_lines(as_book(book)), path, overwrite)
}

#' @export
ready_sheet.character <- function(sheet) {
  if (file.exists(sheet)) fail("sheet-there", path = sheet)
  check_target(sheet, FALSE)
}

#' @export
keep_sheet.character <- function(sheet, book) save_turns(book, sheet, overwrite = TRUE)

sheet_version <- 1

sheet_lines <- function(book) {
  sheet <- list(
    able_turn = sheet_version, data = sheet_data(book), seen = sheet_seen(book), define = sheet_definitions(book),
    turns = lapply(stated_turns(book), sheet_step)
  )
  emit_lines(sheet[!vapply(sheet, is.null, NA)])
}

sheet_data <- function(book) {
  info <- held(book, "info")
  data <- list(file = info$file, id = if (!is.null(info$id)) bare(info$id), rows = info$rows,
    sha256 = info$fingerprint)
  data[!vapply(data, is.null, NA)]
}

# What the originals looked like when the record was made, so that new data can be compared.
sheet_seen <- function(book) {
  recorded <- held(book, "info")$seen
  read <- unlist(lapply(held(book, "columns"), `[[`, "reads"))
  seen <- lapply(self_named(intersect(original_names(book), read)), function(name) {
    flow(recorded[[name]] %||% profile_of(name, book))
  })
  if (length(seen)) seen
}

# The turns and checks on the record, with what was later stated about their variables.
stated_turns <- function(book) {
  log <- held(book, "log")
  lapply(Filter(function(e) e$type != "define", log), function(e) {
    if (e$type == "check") e else with_definitions(e$turn, log)
  })
}

sheet_step <- function(step) if (identical(step$type, "check")) sheet_check(step) else sheet_turn(step)

sheet_check <- function(check) {
  out <- list(must_hold = check$formula, label = check$label)
  out <- out[!vapply(out, is.null, NA)]
  if (length(check$learned)) out$learned <- lapply(check$learned, sheet_learned)
  out
}

# What the originals mean: those that a turn reads, and those that were defined.
sheet_definitions <- function(book) {
  read <- unlist(lapply(held(book, "columns"), `[[`, "reads"))
  vars <- with_asked(book, intersect(original_names(book), c(read, defined_vars(book))))
  vars <- intersect(original_names(book), vars)
  meanings <- lapply(self_named(vars), function(name) sheet_meaning(meaning_in(book, name)))
  meanings <- meanings[lengths(meanings) > 0]
  if (length(meanings)) meanings
}

# The originals that the analyst defined.
defined_vars <- function(book) {
  defined <- unlist(lapply(held(book, "log"), function(e) if (e$type == "define") e$vars))
  intersect(original_names(book), defined)
}

sheet_meaning <- function(m) {
  out <- list(
    label = m$label, codes = if (length(m$codes)) labelled_flow(as.list(m$codes)),
    missing = if (length(m$missing)) labelled_flow(lapply(m$missing, sheet_matchers)),
    level = if (!is.null(m$level)) bare(m$level), limits = m$limits, high = m$high, low = m$low,
    unit = m$unit, note = m$note, asked_if = m$asked_if
  )
  out[!vapply(out, is.null, NA)]
}

sheet_turn <- function(turn) {
  out <- list(bare(named_results(turn)))
  names(out) <- turn$verb
  for (key in setdiff(names(keys_of(turn$verb)), "learned")) {
    if (!is.null(turn[[key]])) out[[key]] <- sheet_value(turn[[key]], keys_of(turn$verb)[[key]])
  }
  if (length(turn$learned)) out$learned <- lapply(turn$learned, sheet_learned)
  out
}

sheet_value <- function(value, shape) {
  switch(shape,
    names = bare(value),
    word = bare(value),
    matchers = sheet_matchers(value),
    table = flow(value),
    accepts = unname(Map(function(id, why) flow(list(finding = bare(id), because = why)), names(value), value)),
    instrument = nested_flow(value),
    rules = lapply(value, sheet_rule),
    meanings = flow(lapply(value, function(m) flow(sheet_meaning(m)))),
    value
  )
}

# Lists in lists, each on one line.
nested_flow <- function(value) if (is.list(value)) flow(lapply(value, nested_flow)) else value

sheet_learned <- function(note) {
  note <- note[!vapply(note, is.null, NA)]
  if (!is.null(note$groups)) note$groups <- flow(note$groups)
  flow(note)
}

sheet_rule <- function(rule) {
  keeps <- is_unchanged(rule$code)
  out <- c(
    if (keeps) list(keep = TRUE) else list(code = if (is.na(rule$code)) NA else rule$code),
    if (length(rule$when)) list(when = sheet_matchers(rule$when)),
    if (length(rule$where)) list(where = flow(lapply(rule$where, sheet_matchers))),
    if (rule$rest) list(rest = TRUE),
    if (!is.null(rule$label)) list(label = rule$label)
  )
  flow(out)
}

sheet_matchers <- function(matchers) {
  if (length(matchers) == 1) sheet_matcher(matchers[[1]]) else flow(lapply(unname(matchers), sheet_matcher))
}

sheet_matcher <- function(m) {
  switch(m$type,
    values = if (is.character(m$values)) flow(list(text = m$values)) else m$values,
    range = write_range(m),
    missing = flow(list(missing = if (m$kind == "any") bare("any") else m$kind))
  )
}
