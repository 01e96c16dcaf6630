#' Replay a turn sheet on data
#'
#' Opens the data, states what the originals mean, and makes every turn of the
#' sheet. Reading a sheet runs no code of its author's: formulas are parsed and
#' checked by the formula language.
#'
#' @param data A data frame, the path of a file, see [read_data()], or a connection to a database.
#' @param sheet The path of a turn sheet.
#' @param codebook,id As in [turnbook()]; the sheet holds what its turns need to know.
#' @param learned `"recorded"` uses the statistics on the sheet (means, cut points, ...;
#'   those of groups where there were up to 100 of them), `"refit"` learns them anew from
#'   these data. What a sheet that was written by hand does not hold is learned from these
#'   data and told.
#' @param accept Findings about the data as a whole that you have judged, with the reason:
#'   `c("data-changed" = "three ages corrected")`, or "new-code", "stale-learned", "must-hold". The
#'   sheet keeps them.
#' @param rename Columns that have other names in these data than on the sheet: `c(age = "AGE_YRS")`
#'   takes `AGE_YRS` for what the sheet calls `age`. The book then holds a data frame rather than a
#'   file.
#' @param skip Where columns are lacking, make what can be made and list what could not, rather than
#'   stop.
#' @param reading How the file is to be read, see [read_data()]; left out, as on the sheet.
#' @param table Where `data` is a connection to a database: the name of the table.
#' @param engine For a file that is larger than the memory, see [turnbook()].
#' @param ... Not used; the arguments after it are written in full.
#' @return A turnbook with all variables of the sheet.
#' @section Errors: `ableturn_error_sheet_columns` names all columns that are lacking;
#'   `ableturn_error_sheet_at` and others of class `ableturn_error` name the line and the place in
#'   the sheet.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_flag(book, wait_min > median(wait_min), as = "long_wait")
#' path <- tempfile(fileext = ".turns.yaml")
#' save_turns(book, path)
#' next_wave <- apply_turns(demo_file("ferry-wave2.csv"), path)
#' @export
apply_turns <- function(data, sheet, ..., codebook = NULL, id = NULL, learned = "recorded",
                        accept = NULL, rename = NULL, skip = FALSE, reading = NULL,
                        table = NULL, engine = NULL) {
  refuse_dots(...)
  need_given(sheet)
  at <- data_at(data, table, engine)
  data <- at$data
  check_flag(skip, "skip")
  check_choice(learned, "learned", c("recorded", "refit"))
  read <- read_sheet(sheet)
  if (!is.character(data) && !is.null(reading)) fail("reading-frame")
  if (is.character(data)) reading <- reading %||% as_on_sheet(read$data)
  if (!is.null(rename)) data <- renamed_data(data, rename, reading)
  identifier <- rlang::enquo(id)
  opened <- opened_for_sheet(data, reading, at$table)
  opened$name <- opened$name %||% data_name(NULL, names(opened$data))
  book <- book_of(opened, codebook)
  named <- if (rlang::quo_is_null(identifier)) read$data$id else select_vars(book, identifier, "id")
  if (length(named)) book <- with_id(book, known_id(named, book))
  as_frame(replay(book, with_columns_there(read, names(book), skip), learned == "recorded",
    read_accept(accept)))
}

opened_for_sheet <- function(data, reading, table) {
  if (is.character(data)) return(open_data(data, reading, table))
  if (inherits(data, "DBIConnection")) return(open_data(data, NULL, table))
  open_data(as_plain_data(data), NULL, table)
}

# What a column is read as stands in a sheet that was saved from data; nothing else is found out
# anew. One that was written by hand leaves it open.
as_on_sheet <- function(stated) {
  reading <- stated$reading
  if (!is.null(stated$sha256)) {
    reading$columns <- structure(reading$columns %||% character(), all_known = TRUE)
  }
  reading
}

known_id <- function(id, book) if (id %in% names(book)) id else fail_unknown(id, names(book))

replay <- plainly(function(book, sheet, recorded, accept = NULL) {
  for (name in intersect(names(sheet$seen), original_names(book))) {
    refuse_unit_changed(name, sheet$seen[[name]]$unit, given_units(variable_in(book, name)))
  }
  replayed <- collect_receipts(replay_steps(book, sheet, recorded))
  info <- info_of(replayed$value)
  info$seen <- sheet$seen
  info$learned_now <- if (recorded) learned_meanwhile(replayed$value, sheet)
  info$recorded <- sheet$data
  info$accept <- c(accept, sheet$accept)
  compared <- with_parts(replayed$value, info = info)
  if (!recorded) info["seen"] <- list(NULL)
  book <- with_parts(replayed$value, info = info)
  told <- replay_told(book, sheet, recorded, new_in_data(compared))
  parts <- unlist(lapply(replayed$receipts, turn_parts), recursive = FALSE)
  show_receipt(new_receipt(told, parts, row_count(book)))
  book
})

# A span of time may come in other units, as R chooses them by the values.
refuse_unit_changed <- function(name, recorded, unit) {
  if (is.null(recorded) || is.null(unit) || recorded == unit) return(invisible())
  fail("unit-changed", name = name, unit = unit, recorded = recorded)
}

replay_steps <- function(book, sheet, recorded) {
  lines <- sheet$lines
  withCallingHandlers(
    {
      for (name in names(sheet$define)) {
        book <- at_spot(list("define", name), replay_definition(book, name, sheet$define[[name]]))
      }
      progress <- progress_of(length(sheet$turns), "turn")
      for (i in seq_along(sheet$turns)) {
        turn <- sheet$turns[[i]]
        book <- at_spot(list("turns", turn$place), replay_turn(book, turn, recorded))
        progress(i)
      }
      book
    },
    ableturn_sheet_spot = function(spot) fail_at_line(spot, lines, sheet$path)
  )
}

# What some code gives, and its receipts, which are not shown.
collect_receipts <- function(code) {
  receipts <- list()
  value <- withCallingHandlers(code, ableturn_receipt = function(shown) {
    receipts <<- c(receipts, list(shown$receipt))
    tryInvokeRestart("muffleMessage")
  })
  list(value = value, receipts = receipts)
}

# What a sheet that is replayed as recorded should hold and does not: the names of what was learned
# from these data all the same.
learned_meanwhile <- function(book, sheet) {
  lacking <- Filter(function(step) !length(step$learned), sheet$turns)
  of_turns <- Filter(function(name) any(vapply(derived_in(book, name)$learned, is_to_be_kept, NA)),
    intersect(unlist(lapply(lacking, `[[`, "makes")), derived_names(book)))
  of_checks <- unlist(lapply(lacking, function(step) {
    if (identical(step$type, "check")) step$formula
  }))
  learned <- Filter(function(entry) any(vapply(entry$learned, is_to_be_kept, NA)),
    check_entries(book))
  c(of_turns, intersect(of_checks, vapply(learned, `[[`, "", "formula")))
}

# Spellings are those of the data at hand, whatever a record says.
is_to_be_kept <- function(note) note_word(note) != "spelled" && is_kept_on_sheet(note)

replay_told <- function(book, sheet, recorded, news) {
  learned <- derived_names(book)[lengths(lapply(derived_of(book), `[[`, "learned")) > 0]
  kept <- unlist(lapply(sheet$turns, function(step) if (length(step$learned)) step$makes))
  list(
    verb = "replay", sheet = basename(sheet$path), recorded = recorded,
    made = turns(book), news = news,
    skipped = sheet$skipped, learned = if (recorded) intersect(learned, kept) else learned,
    learned_now = learned_now_finding(book), failing = failing_checks(book),
    changed = changed_finding(book)
  )
}

turn_parts <- function(receipt) if (receipt$turn$verb != "define") receipt$parts

# What the codebook says already is no step of the analyst's.
replay_definition <- function(book, name, meaning) {
  if (!name %in% names(book)) fail_unknown(name, names(book))
  known <- meaning_in(book, name)
  if (identical(merge_meaning(known, meaning), known)) return(book)
  define_vars(book, name, meaning)
}

# What is on record is not used; it tells which levels the names were made for.
to_refit <- function(turn) {
  turn$refit <- TRUE
  turn
}

replay_turn <- function(book, turn, recorded) {
  if (identical(turn$type, "check")) {
    return(hold_check(book, turn$formula, turn$label, if (recorded) turn$learned))
  }
  lost <- setdiff(turn_reads(turn[names(turn) != "formula"]), names(book))
  if (length(lost)) fail_unknown(lost, names(book))
  if (!recorded) turn <- to_refit(turn)
  turn$place <- NULL
  make_turn(book, turn)
}

# A sheet on data whose columns are named otherwise, or are lacking.

# The data with the names that the sheet uses.
renamed_data <- function(data, rename, reading = NULL) {
  if (!is.character(rename) || anyNA(rename) || !is_named(rename)) {
    fail("rename-form", got = describe_type(rename))
  }
  data <- if (is.character(data)) open_data(data, reading)$data else as_plain_data(data)
  lost <- setdiff(rename, names(data))
  if (length(lost)) fail_unknown(lost, names(data))
  taken <- intersect(names(rename), setdiff(names(data), rename))
  if (length(taken)) fail("sheet-rename-taken", name = taken)
  names(data)[match(rename, names(data))] <- names(rename)
  data
}

as_plain_data <- function(data) {
  if (inherits(data, "turnbook")) fail("open-book")
  if (is.data.frame(data)) data else fail("not-data", got = describe_type(data))
}

# The sheet as far as its columns are there; what is left out stands in `skipped`. Without `skip`
# several columns that are lacking are told at once.
with_columns_there <- function(sheet, known, skip) {
  lacking <- setdiff(names(sheet$define), known)
  skipped <- character()
  kept <- vapply(sheet$turns, function(turn) {
    lost <- setdiff(reads_of_step(turn), c(known, skipped))
    fine <- !length(lost) && !any(reads_of_step(turn) %in% skipped)
    if (fine) {
      known <<- c(known, turn$makes)
    } else {
      skipped <<- c(skipped, turn$makes %||% turn$formula)
    }
    lacking <<- c(lacking, lost)
    fine
  }, NA)
  lacking <- unique(lacking)
  if (length(lacking) > 1 && !skip) fail("sheet-columns", path = sheet$path, names = lacking)
  if (!skip) return(sheet) # a single one is told where the sheet names it
  sheet$define <- sheet$define[setdiff(names(sheet$define), lacking)]
  sheet$turns <- sheet$turns[kept]
  sheet$skipped <- list(made = skipped, lacking = lacking)
  sheet
}

# What a turn or a check reads; a formula that cannot be parsed is told where it stands.
reads_of_step <- function(turn) {
  tryCatch(
    if (identical(turn$type,
      "check")) formula_vars(parse_formula(turn$formula)) else turn_reads(turn),
    ableturn_error = function(e) character()
  )
}
