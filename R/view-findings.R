#' @export
print.ableturn_findings <- function(x, ...) {
  open <- x[!nzchar(x$accepted), ]
  say(c(
    title_line(finding_count(open), side = if (nrow(open) < nrow(x)) paste(nrow(x) - nrow(open), "accepted")),
    unlist(lapply(seq_len(nrow(open)), function(i) finding_lines(as.list(open[i, ])))),
    if (any(open$severity == "warn")) folded("What is meant as it is can be accepted on its turn: ",
      in_door_words(paste0("accept = c(\"", open$id[1], "\" = \"the reason\")"),
        paste0("accept: [{finding: ", open$id[1], ", because: \"the reason\"}]"))),
    unlist(lapply(which(nzchar(x$accepted)), function(i) accepted_line(as.list(x[i, ]))))
  ))
  invisible(x)
}

finding_count <- function(open) {
  if (!nrow(open)) return("Nothing looks wrong.")
  paste0(counted(sum(open$severity == "warn"), "finding"), ", ", counted(sum(open$severity == "note"), "note"))
}

# What happened, then what to do; in no more lines than `most`, of which what to do comes first.
finding_lines <- function(f, most = Inf) {
  sign <- if (f$severity == "warn") glyph("!") else glyph("*")
  todo <- folded(f$todo, indent = 4)
  what <- cut_lines(folded(sign, " ", f$what, " [", f$id, "]"), max(1, most - length(todo)), paste0(" [", f$id, "]"))
  c(if (f$severity == "warn") warned(what) else what, todo)
}

# The first lines, the last of them ending in what the others would have said at the end.
cut_lines <- function(lines, most, tail) {
  if (length(lines) <= most) return(lines)
  last <- paste(lines[most], trimws(lines[most + 1]))
  c(lines[seq_len(most - 1)], paste0(shorten(last, page_width() - nchar(tail)), tail))
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
  rest <- if (more) folded("and ", counted(more, "more finding"), ": ",
    in_door_words("findings(book)", "ableturn findings SHEET"))
  c(unlist(lapply(shown, finding_lines, most = 3)), rest)
}
