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
