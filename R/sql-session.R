# A driver may connect anew where a connection was lost: what had been set in the session is gone
# then, and with it whose rights count and how dates are told. So it is remembered of PostgreSQL,
# and told with each question in which process of the server, and as whom, it is answered.
sessions <- new.env(parent = emptyenv())
sessions$known <- list()

session_settings <- c("timezone", "row_security", "statement_timeout")

# What is asked beside the settings of a question, see ask_postgresql().
session_sql <- paste(c("pg_catalog.pg_backend_pid() AS process", "CURRENT_USER AS role",
  paste0("pg_catalog.current_setting('", session_settings, "') AS ", session_settings)),
collapse = ", ")

# How a transaction is left that was begun in the session of the question before; in another it is
# left at once.
in_same_session <- function(connection, told, leave) {
  tryCatch(check_session(connection, told), error = function(e) {
    leave(FALSE)
    stop(e)
  })
  leave
}

# Refuses a question in a session that is another than that of the question before, unless the same
# is set in it.
check_session <- function(connection, told) {
  told <- lapply(as.list(told)[c("process", "role", session_settings)], as.character)
  at <- Position(function(known) identical(known$connection, connection), sessions$known)
  if (is.na(at)) return(remember_session(connection, told))
  before <- sessions$known[[at]]$told
  other <- names(told)[!unlist(Map(identical, told, before))]
  if ("process" %in% other && length(other) > 1) {
    lost <- setdiff(other, "process")
    fail("session-lost", what = paste0(lost, " = ", unlist(before[lost])))
  }
  sessions$known[[at]]$told <- told
  invisible()
}

remember_session <- function(connection, told) {
  open <- Filter(function(known) DBI::dbIsValid(known$connection), sessions$known)
  sessions$known <- c(open, list(list(connection = connection, told = told)))
  invisible()
}

word_errors(list(
  "session-lost" = c(paste("The connection to the database was lost and made anew, without what",
    "was set in it before: {what}. Nothing was asked."),
    "Set it again on this connection, or connect anew and open the table again.")
))
