# Raises what is wrong at a spot of a sheet, with the line it stands on.
fail_at_line <- function(spot, lines, path) {
  fail("sheet-at",
    path = path, line = line_of(spot$spot, lines), where = spot_text(spot$spot),
    why = conditionMessage(spot), todo = spot$todo
  )
}

# The first line at which the spot exists: the shortest beginning of the file that holds it.
line_of <- function(spot, lines) {
  for (n in seq_along(lines)) {
    begun <- tryCatch(
      yaml::yaml.load(paste(lines[seq_len(n)], collapse = "\n"), eval.expr = FALSE, handlers = yaml_line_handlers),
      error = function(e) NULL, warning = function(w) NULL
    )
    if (holds_spot(begun, spot)) return(n)
  }
  "?"
}

yaml_line_handlers <- list("bool#yes" = identity, "bool#no" = identity, "seq" = identity)

holds_spot <- function(tree, spot) {
  for (step in spot) {
    if (!is.list(tree)) return(FALSE)
    if (is.numeric(step)) {
      if (length(tree) < step) return(FALSE)
    } else if (!step %in% names(tree)) {
      return(FALSE)
    }
    tree <- tree[[step]]
  }
  length(spot) > 0
}
