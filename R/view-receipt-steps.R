# Receipts of steps that are no turns.
definition_lines <- function(receipt) {
  counts <- receipt$parts
  counts <- counts[lengths(counts) > 0]
  told <- unlist(lapply(names(utils::head(counts, 12)), function(name) {
    gone <- counts[[name]]
    folded(name, ": ", counted(sum(gone), "row"), " now missing (", listed(gone), ")")
  }))
  others <- utils::tail(counts, -12)
  if (length(others)) told <- c(told, folded("and in ",
    counted(length(others), "more variable"), " ",
    counted(sum(unlist(others)), "answer"), " now missing"))
  remade <- if (length(receipt$turn$users)) folded("Made again: ",
    paste(receipt$turn$users, collapse = ", "))
  answered <- receipt$turn$answered
  contradiction <- if (length(answered)) paste0("Answered though not asked, now missing: ",
    paste0(names(answered), " (", answered, ")", collapse = ", "))
  makes <- receipt$turn$makes
  what <- if (length(makes) > 12) counted(length(makes), "variable") else name_list(makes)
  role <- if (identical(receipt$turn$role, "weight")) folded("Taken as the weight wherever a call ",
    "takes one and none is given.")
  c(title_line("Defined ", what), told, role, reading_lines(receipt$turn$reading), remade,
    remark_lines(contradiction), failing_line(receipt$turn$failing))
}

# What could not be read, of each variable.
reading_lines <- function(reading) {
  unlist(lapply(names(reading), function(name) {
    r <- reading[[name]]
    lost <- if (!is.null(r$lost)) remark_lines(paste0("Not readable in `", name, "`: ",
      rows_in_words(
        quote_text(r$lost$value), r$lost$rows)))
    c(lost, if (r$percent) remark_lines(paste0("`", name, "` has a percent sign in ",
      counted(r$percent, "row"), ": 12 % is read as 12")))
  }))
}

failing_line <- function(failing) {
  if (!length(failing)) return(NULL)
  warned(folded(glyph("!"), " Must hold and does not: ",
    paste0(names(failing)[1], " (", counted(failing[1], "row"), ")"),
    if (length(failing) > 1) paste0(", and ", counted(length(failing) - 1, "more check"),
      for_reader(": checks(book)", ""))))
}

amend_lines <- function(receipt) {
  turn <- receipt$turn
  changed <- turn$rows_changed
  table <- data.frame(variable = names(changed), "rows that differ" = unname(changed),
    check.names = FALSE)
  c(
    title_line("Amended: ", name_list(turn$makes),
      side = paste0(turn$evaluated, " of ", counted(turn$of, "turn"), " evaluated")),
    table_lines(utils::head(table, 12)),
    if (nrow(table) > 12) paste0("  and ", counted(nrow(table) - 12, "more variable")),
    if (length(turn$gone)) warned(folded(glyph("!"), " No longer made: ",
      paste(turn$gone, collapse = ", "))),
    failing_line(turn$failing)
  )
}

# Columns that are named after a level which is called otherwise now.
followed_lines <- function(renamed) {
  if (length(renamed)) remark_lines(paste0("Named after its level, so renamed: ",
    paste(names(renamed), "is now", renamed, collapse = ", ")))
}

rename_lines <- function(turn) {
  c(title_line("Renamed: ", name_list(turn$was)),
    folded(name_list(paste(turn$was, "is now", turn$makes), 12)),
    if (length(turn$users)) folded("Followed by: ", name_list(turn$users, 12)),
    if (turn$checks) folded("and by ", counted(turn$checks, "check")))
}

check_receipt_lines <- function(receipt) {
  result <- receipt$turn$result
  failing <- receipt$turn$id
  told <- folded("Holds in ", counted(result[["holds"]], "row"), ", fails in ",
    grouped(result[["fails"]]), ", cannot be told in ", grouped(result[["open"]]))
  shown <- utils::head(failing, 12)
  more <- if (length(failing) > 12) paste0(", and ", grouped(length(failing) - 12), " more")
  c(title_line("Must hold: ", receipt$turn$formula, side = receipt$turn$label), told,
    if (result[["fails"]]) remark_lines(paste0("Fails for ", paste(shown, collapse = ", "), more)))
}

left_out_lines <- function(turn) {
  by <- turn$rename[turn$left_out]
  folded("In the file ", paste(by, "is named", names(by), collapse = ", "),
    "; left out there: the original ", paste(turn$left_out, collapse = ", "), indent = 0)
}

# Columns that a book cannot hold.
# Texts that a spreadsheet would run.
written_as_read_lines <- function(turn) {
  c(folded("Written as read: ", name_list(turn$names), ". ", for_reader("values = \"typed\"",
    "--values typed", "Values as typed"), " has the texts.", indent = 0),
    if (length(turn$unfit)) warned(folded(glyph("!"), " Texts that do not fit are missing there: ",
      name_list(paste0(names(turn$unfit), " (", grouped(turn$unfit), ")")), ".", indent = 0)))
}

formula_cell_lines <- function(turn) {
  warned(folded(glyph("!"), " A spreadsheet that opens this file would take texts for formulas: ",
    listed(turn$hits), ". To make them harmless there: formulas = \"mark\".", indent = 0))
}

# A table in a transaction that the analyst has open.
within_lines <- function(turn) {
  folded(glyph("*"), " ", turn$table, " is written within your transaction: it is there for ",
    "others with your COMMIT, and gone with your ROLLBACK.", indent = 0)
}

# A sheet held steps that the book which goes on does not have.
aside_lines <- function(turn) {
  warned(folded(glyph("!"), " ", turn$sheet,
    " held steps that this book does not have. They are kept in ",
    basename(turn$aside), ".", indent = 0))
}

# A step that was undone or done again.
named_step_lines <- function(said, receipt) title_line(said, named_step(receipt$turn$step))

named_step <- function(step) {
  switch(step$type,
    turn = paste0(step$verb, " of ", name_list(step$makes)),
    define = paste0("definition of ", name_list(step$vars)),
    amend = paste0("amendment of ", name_list(step$makes)),
    drop = paste0("dropping ", name_list(step$makes)),
    rename = paste0("renaming of ", name_list(step$makes)),
    check = paste0("check that ", step$formula)
  )
}

replay_lines <- function(receipt) {
  learned <- if (receipt$turn$recorded) "learned values as recorded" else "learned values refitted"
  rests <- receipt$turn$learned
  c(title_line("Replayed ", receipt$turn$sheet, side = paste0(grouped(receipt$rows),
    " rows, ", learned)),
  turns_lines(receipt$turn$made), unlist(lapply(receipt$parts, replay_notes)),
  if (length(rests)) folded(
    if (receipt$turn$recorded) "Values on record were used" else "Values were refitted",
    " for: ", name_list(rests, 12)),
  raw_finding_lines(receipt$turn$learned_now),
  skipped_lines(receipt$turn$skipped), news_lines(receipt$turn$news),
  failing_line(receipt$turn$failing), raw_finding_lines(receipt$turn$changed))
}

skipped_lines <- function(skipped) {
  if (!length(skipped$lacking)) return(NULL)
  warned(folded(glyph("!"), " Not made, as columns are lacking (",
    name_list(skipped$lacking), "): ", name_list(skipped$made)))
}

replay_notes <- function(part) {
  notes <- c(unreadable_line(part$unreadable), unmatched_line(part$unmatched),
    own_remarks(Filter(function(remark) !isTRUE(remark$plain), part$remarks)))
  if (length(notes)) c(show_controls(paste0("  ", part$name)), paste0("  ", notes))
}
