# What the command line says when it is asked for help, or used wrongly.
cli_help <- function(lines) {
  writeLines(lines)
  0L
}

cli_wrong <- function(message, help) {
  writeLines(c(paste("ableturn:", message), if (is.null(help)) "Try: ableturn --help" else help), stderr())
  2L
}
