#' @include turn-type.R sheet-shape.R
NULL

#' The turn sheet
#'
#' A turn sheet is a text file (YAML) that holds the record of a book: which data, what the
#' originals mean, and every turn. [save_turns()] writes it and [apply_turns()] makes its turns
#' on data; the command line and the desk work with the same file. It may be written by hand, in
#' any order of turns. No code in it is ever run.
#'
#' @section Parts:
#' `able_turn: 1` comes first, the version of the form. `data` says how the data are opened
#' (`file`, `table`, `id`, `reading` as in [read_data()]) and what they were (`rows`, `sha256`);
#' `accept` beside these are findings about them that were judged. `seen` is what every source
#' held when the sheet was saved: [new_in_data()] compares with it. `define` says what originals
#' mean, with the arguments of [define()] as keys: `r sheet_keys(meaning_keys)`. `turns` is the
#' list of turns. Only `able_turn` must be there; what a sheet holds of `seen`, `sha256` and
#' `learned` is best left to [save_turns()].
#'
#' @section Turns:
#' A turn begins with its verb, which is followed by the names of what it makes: one, or as many
#' as there are in `from`. Its other keys are the arguments of the function of the same name
#' (`how: z` as `how = "z"` in [turn_standardize()]), and what may be left out there may be left
#' out here. Those in bold must be there.
#'
#' `r sheet_help()`
#'
#' Every turn may have `r sheet_keys(common_keys)`. A check, `must_hold: <formula>`, stands among
#' them with its `label`.
#'
#' @section Rules and values:
#' A rule has `code`, what its rows become (or `keep: true`), a `label`, and `when`, the
#' values it is for; `where: {q1: 2, q2: "3 .."}` names several variables, and `rest: true`
#' takes the rows that no other rule took. Values are numbers and texts as they stand, ranges
#' (`"1 .. 4"` holds both ends, `"30 .. < 60"` the first, `"5 .."` and `"< 3"` are open),
#' `{missing: any}` or `{missing: Refused}`, `{holding: bus}` as [holding()], `{text: "1 .. 4"}`
#' for a text that looks like a range, or a list of these.
#'
#' @section A sheet written by hand:
#'
#' `r sheet_example()`
#'
#' @return Nothing; this page is for reading.
#' @name turn_sheet
#' @seealso [save_turns()], [apply_turns()]
#' @examples
#' book <- apply_turns(demo_file("ferry-survey.csv"), demo_file("by-hand.turns.yaml"),
#'   codebook = demo_file("ferry-survey.codebook.json"))
NULL

# What is written for each shape of a key.
shapes_in_words <- c(
  names = "names", texts = "texts", text = "a text", word = "a word", flag = "true or false",
  number = "a number", numbers = "numbers", values = "values",
  value = "a number or a word", formula = "a formula",
  rules = "rules", matchers = "values and ranges", accepts = "findings that were judged",
  renames = "names given later", table = "columns of values",
  instrument = "scales as in [turn_instrument()]", meanings = "meanings", learned = "statistics",
  codes = "codes by label", missing = "values by reason"
)

# The keys of each kind of turn, for the help page.
sheet_help <- function() {
  paste0("* `", turn_verbs(), "`: ", vapply(turn_verbs(), function(verb) {
    type <- type_of_turn(verb)
    sheet_keys(type$keys[order(!names(type$keys) %in% c(type$needs, "from"))], type$needs)
  }, ""), collapse = "\n")
}

# Keys with what is written for each, those that must be there in bold.
sheet_keys <- function(keys, needed = character()) {
  named <- paste0("`", names(keys), "`")
  must <- names(keys) %in% needed
  named[must] <- paste0("**", named[must], "**")
  paste0(named, " (", shapes_in_words[keys], ")", collapse = ", ")
}

sheet_example <- function() {
  sheet <- system.file("extdata", "by-hand.turns.yaml", package = "ableturn")
  paste(c("```yaml", readLines(sheet), "```"), collapse = "\n")
}
