#' @export
print.ableturn_findings <- function(x, ...) {
  if (!all(c("id", "what", "todo") %in% names(x))) return(print_plain(x))
  open <- x[!nzchar(x$accepted), ]
  say(c(
    title_line(finding_count(open), side = if (nrow(open) < nrow(x)) paste(nrow(x) - nrow(open), "accepted")),
    unlist(lapply(seq_len(nrow(open)), function(i) finding_lines(as.list(open[i, ])))),
    unlist(lapply(which(nzchar(x$accepted)), function(i) accepted_line(as.list(x[i, ]))))
  ))
  invisible(x)
}

finding_count <- function(open) {
  if (!nrow(open)) return("Nothing looks wrong.")
  paste0(counted(sum(open$severity == "warn"), "finding"), ", ", counted(sum(open$severity == "note"), "note"))
}

# Three lines at most for what happened, then what to do.
finding_lines <- function(f) {
  sign <- if (f$severity == "warn") paste0(glyph("!"), " ") else paste0(glyph("*"), " ")
  what <- utils::head(folded(sign, f$what, " [", f$id, "]"), 3)
  todo <- utils::head(folded(f$todo, indent = 4), 2)
  c(if (f$severity == "warn") warned(what) else what, todo)
}

accepted_line <- function(f) folded(glyph("*"), " accepted [", f$id, "] ", f$variable, ": ", f$accepted)

# In a receipt: what its other lines do not tell already, the most serious first.
told_elsewhere <- c("unmatched", "key-unmatched", "boundary", "text-number", "must-hold", "no-spread", "group-boundary")

# Whether a finding about gaps says all that no rule caught.
all_in_gaps <- function(part) {
  ids <- vapply(part$found, `[[`, "", "id")
  "range-gap" %in% ids && !"unmatched" %in% ids
}

receipt_findings <- function(parts) {
  found <- unlist(lapply(parts, `[[`, "found"), recursive = FALSE)
  found <- Filter(function(f) !f$id %in% told_elsewhere && is.null(f$because), found)
  found <- found[!duplicated(vapply(found, function(f) paste(f$id, f$source, f$values), ""))]
  found <- found[order(vapply(found, `[[`, "", "severity") != "warn")]
  shown <- utils::head(found, 4)
  more <- length(found) - length(shown)
  c(unlist(lapply(shown, finding_lines)), if (more) folded("and ", counted(more, "more finding"), ": findings(book)"))
}
