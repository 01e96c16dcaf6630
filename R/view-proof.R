#' @export
print.ableturn_proof <- function(x, ...) {
  say(proof_lines(x))
  invisible(x)
}

proof_lines <- function(x) {
  proved <- isTRUE(attr(x, "proved"))
  scripts <- split(x, factor(x$dialect, unique(x$dialect)))
  c(
    title_line(if (proved) "Proved" else "Not proved", side = "each script ran in a fresh R process"),
    unlist(lapply(scripts, script_line), use.names = FALSE),
    if (!proved) failing_lines(x), unlist(lapply(attr(x, "changed"), finding_lines)),
    unlist(lapply(attr(x, "problems"), function(why) folded(glyph("!"), " The script stopped: ", why)))
  )
}

script_line <- function(table) {
  good <- sum(table$differ == 0)
  folded(table$dialect[1], " script: ", good, " of ", counted(nrow(table), "variable"), " the same in all ",
    counted(table$rows[1], "row"), largest_words(table))
}

largest_words <- function(table) {
  largest <- suppressWarnings(max(table$largest, na.rm = TRUE))
  if (is.finite(largest) && largest > 0) paste0("; largest difference ", formatC(largest, digits = 2, format = "g"))
}

failing_lines <- function(x) {
  bad <- x[x$differ > 0, ]
  if (nrow(bad)) table_lines(data.frame(script = bad$dialect, variable = bad$variable,
    "rows that differ" = bad$differ, "first row" = bad$first, check.names = FALSE))
}
