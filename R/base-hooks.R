# Where a lower room needs what a higher one does, it calls a generic function of its own, and the
# higher room gives the method for its class: that is a hook. All of them stand here; the test of
# the layers holds this table against the code.
#   hook    the generic function
#   called  the room that defines and calls it
#   given   the rooms whose methods answer
#   for_    what it is for
new_hook <- function(hook, called, given, for_) {
  list(hook = hook, called = called, given = given, for_ = for_)
}

hooks <- list(
  new_hook("as_book", "turn", "book", "a data frame, or a turnbook, as a turnbook"),
  new_hook("selectable", "turn", "book", "the columns that a selection may name"),
  new_hook("make_turn", "turn", "book", "the book with the variables of a turn"),
  new_hook("find_all", "book", "find", "what looks wrong with a variable that was just made"),
  new_hook("open_data", "book", c("file", "sql"), "the table behind a path or a connection"),
  new_hook("open_in_place", "book", "sql", "a file as a table of a database that reads it"),
  new_hook("scoped", "ask", "sql", "a site with other variables"),
  new_hook("site_can", "ask", "sql", "what a site can do"),
  new_hook("home", "ask", "sql", "a site without its variables"),
  new_hook("with_rows_of", "ask", "sql", "a site of the rows of a variable"),
  new_hook("counts_at", "ask", "sql", "a question, see question_kinds"),
  new_hook("extent_at", "ask", "sql", "a question"),
  new_hook("numbers_at", "ask", "sql", "ends and moments in one question"),
  new_hook("moments_at", "ask", "sql", "a question"),
  new_hook("ranks_at", "ask", "sql", "a question"),
  new_hook("products_at", "ask", "sql", "a question"),
  new_hook("differ_at", "ask", "sql", "a question"),
  new_hook("seem_equal", "ask", "sql", "a question"),
  new_hook("look_alike", "ask", "sql", "which columns may be the same as one"),
  new_hook("repeats_at", "ask", "sql", "a question"),
  new_hook("steps_at", "ask", "sql", "a question"),
  new_hook("rows_at", "ask", "sql", "a question"),
  new_hook("window_at", "ask", "sql", "a question"),
  new_hook("in_one_state", "ask", "sql", "all questions about the same rows"),
  new_hook("read_together", "ask", "sql", "the answers of several originals in one pass"),
  new_hook("check_unit", "ask", "sql", "whether the rows of a unit are together"),
  new_hook("check_id", "book", "sql", "whether a column tells the rows apart"),
  new_hook("new_indexed", "meaning", "ask", "a column of an index"),
  new_hook("read_in_blocks", "sql", "file", "the columns of a file, some rows at a time"),
  new_hook("default_weight", "turn", "book", "the weight that a book states"),
  new_hook("rows_by_script", "script", "sql", "what a script gives for some rows there"),
  new_hook("ids_at", "script", "sql", "identifiers for a proof"),
  new_hook("open_codebook", "book", "file", "the meanings behind a path"),
  new_hook("open_rules", "turn", "file", "the table of rules, codes or norms behind a path"),
  new_hook("open_instrument", "turn", "file", "the instrument behind a path"),
  new_hook("ready_sheet", "book", "sheet", "whether a new sheet can be kept at a path"),
  new_hook("keep_sheet", "book", "sheet", "the sheet as it is to be after a step"),
  new_hook("conditionMessage", "base", "view",
    "the words of a receipt and of progress, which are conditions")
)
