# Tells where in the sheet something is wrong; the reader of the file turns it into an error
# that names the line.
bad_spot <- function(spot, why, todo) {
  signalCondition(structure(class = c("ableturn_sheet_spot", "condition"),
    list(message = why, call = NULL, spot = spot, todo = todo)))
  fail("sheet-at", path = "sheet", line = "?", where = spot_text(spot), why = why, todo = todo)
}

# Errors of the core, told with their spot.
at_spot <- function(spot, code) {
  tryCatch(code, ableturn_error = function(e) {
    if (inherits(e, "ableturn_error_sheet_at")) stop(e)
    lines <- strsplit(conditionMessage(e), "\n", fixed = TRUE)[[1]]
    last <- length(lines)
    bad_spot(spot, paste(lines[-last], collapse = "\n"), e$in_sheet %||% lines[last])
  })
}

spot_text <- function(spot) {
  out <- ""
  for (step in spot) {
    out <- if (is.numeric(step)) paste0(out, "[", step, "]") else paste0(out, if (nzchar(out)) ".", step)
  }
  if (nzchar(out)) out else "the sheet"
}

check_keys <- function(raw, known, spot) {
  strange <- setdiff(names(raw), known)
  if (length(strange)) {
    bad_spot(c(spot, list(strange[1])), paste0("unknown key `", strange[1], "`", near_hint(strange[1], known)),
      paste0("Known here: ", paste(known, collapse = ", "), "."))
  }
}

# Raises what is wrong at a spot of a sheet, with the line it stands on.
fail_at_line <- function(spot, lines, path) {
  fail("sheet-at",
    path = path, line = line_of(spot$spot, lines), where = spot_text(spot$spot),
    why = conditionMessage(spot), todo = spot$todo
  )
}

# The first line at which the spot exists: the shortest beginning of the file that holds it. What holds it
# once holds it from there on, so that the search halves what is left.
line_of <- function(spot, lines) {
  low <- 0
  high <- length(lines)
  if (!begins_with_spot(high, spot, lines)) return("?")
  while (high - low > 1) {
    middle <- (low + high) %/% 2
    if (begins_with_spot(middle, spot, lines)) high <- middle else low <- middle
  }
  high
}

# Whether the first `n` lines hold the spot, or, where they end inside something, the lines that begin before.
begins_with_spot <- function(n, spot, lines) {
  for (end in n:max(1, n - 20)) {
    begun <- tryCatch(
      yaml::yaml.load(paste(lines[seq_len(end)], collapse = "\n"), eval.expr = FALSE, handlers = yaml_line_handlers),
      error = function(e) NULL, warning = function(w) NULL
    )
    if (!is.null(begun)) return(holds_spot(begun, spot))
  }
  FALSE
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
