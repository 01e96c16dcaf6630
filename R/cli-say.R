# What the command line says when it is asked for help, or used wrongly.
cli_help <- function(lines) {
  writeLines(lines)
  0L
}

# Lines for people: nothing in them can steer the terminal.
cli_write <- function(lines, to = stdout()) writeLines(for_terminal(lines), to)

# Tables for programs are as they are, but on a terminal.
cli_table <- function(text) {
  lines <- strsplit(text, "\n", fixed = TRUE)[[1]]
  writeLines(if (isatty(stdout())) show_controls(lines, "\t") else lines)
}

cli_wrong <- function(message, help) {
  cli_write(c(paste("ableturn:", show_controls(message)), if (is.null(help)) "Try: ableturn --help" else help),
    stderr())
  2L
}
