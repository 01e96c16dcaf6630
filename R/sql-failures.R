# What can go wrong in a database that no question of ours is to blame for, by what the engine says
# of it: what is said of the database, and what to do.
new_failure <- function(says, what, advice) list(says = says, what = what, advice = advice)

database_failures <- list(
  new_failure("lock timeout|could not obtain lock|is locked|Could not set lock",
    "is held by somebody else",
    "Ask again when they are done. It was waited for: a minute, where no other time is set."),
  new_failure("statement timeout", "takes longer to answer than it may",
    "Give it more time: DBI::dbExecute(con, \"SET statement_timeout = 0\"), or open fewer rows."),
  new_failure("No space left|exceeds temp_file_limit|could not extend|disk is full|disk full",
    "has no room left", "Make room on its disk, or ask who runs it."),
  new_failure("out of memory|could not allocate|memory exhausted", "has not enough memory for this",
    "Give it more (in DuckDB: SET memory_limit), or open a view of fewer rows."),
  new_failure(paste0("(column|relation) .* does not exist|no such (column|table)|",
    "(column|Table with name) .* (not found|does not exist)|cached plan must not change"),
    "no longer has what was opened",
    "Open the table again with turnbook(): a column of it is gone or of another type."),
  new_failure("permission denied|not authorized", "does not allow this",
    "Ask who runs it for the right to read these columns, or to make a table there."),
  new_failure("terminating connection|server closed the connection|no connection to the server",
    "was lost on the way",
    "Ask again; if that fails too, connect anew and open the table again."),
  new_failure("", "cannot be worked with", "Check the address, the server and your rights there.")
)

failure_of <- function(why) {
  Find(function(failure) grepl(failure$says, why, ignore.case = TRUE), database_failures)
}
