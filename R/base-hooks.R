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
  new_hook("count_at_site", "book", "sql", "the answers of columns that stay where they are"),
  new_hook("groups_at_site", "book", "sql", "how many rows hold what is worked out there"),
  new_hook("repeats_at_site", "book", "sql", "what several rows share there"),
  new_hook("check_unit_at_site", "book", "sql", "whether the rows of a unit are together there"),
  new_hook("gaps_at_site", "book", "sql", "how many rows skip an occasion there"),
  new_hook("tallies_at_site", "book", "sql", "how often something holds there"),
  new_hook("tallies_by_at_site", "book", "sql", "the same in groups"),
  new_hook("unlike_first_at_site", "book", "sql", "in how many of some rows columns differ"),
  new_hook("ends_at_site", "book", "sql", "the lowest and highest number there"),
  new_hook("parts_at_site", "book", "sql", "an exact sum there"),
  new_hook("ranks_at_site", "book", "sql", "the numbers at some ranks there"),
  new_hook("products_at_site", "book", "sql", "sums of products there"),
  new_hook("totals_at_site", "book", "sql", "sums of products with the total there"),
  new_hook("rows_at_site", "book", "sql", "some of their rows"),
  new_hook("check_id_at_site", "book", "sql", "whether such a column tells the rows apart"),
  new_hook("read_in_blocks", "sql", "file", "the columns of a file, some rows at a time"),
  new_hook("rows_by_script", "script", "sql", "what a script gives for some rows there"),
  new_hook("ids_at_site", "script", "sql", "identifiers for a proof"),
  new_hook("open_codebook", "book", "file", "the meanings behind a path"),
  new_hook("open_rules", "turn", "file", "the table of rules, codes or norms behind a path"),
  new_hook("open_instrument", "turn", "file", "the instrument behind a path"),
  new_hook("ready_sheet", "book", "sheet", "whether a new sheet can be kept at a path"),
  new_hook("keep_sheet", "book", "sheet", "the sheet as it is to be after a step"),
  new_hook("conditionMessage", "base", "view",
    "the words of a receipt and of progress, which are conditions")
)
