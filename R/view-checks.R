#' @export
print.ableturn_news <- function(x, ...) {
  say(if (nrow(x)) news_lines(x) else "Nothing new: all values and shares are as on record.")
  invisible(x)
}

news_lines <- function(news) {
  if (is.null(news) || !nrow(news)) return(NULL)
  shown <- as.data.frame(utils::head(news, 12))
  more <- nrow(news) - nrow(shown)
  c(warned(folded(glyph("!"), " New in these data, not seen when the record was made:")),
    table_lines(shown), if (more) paste0("  and ", more, " more", in_door_words(": new_in_data(book)", "")))
}

#' @export
print.ableturn_checks <- function(x, ...) {
  if (!nrow(x)) say(paste("Nothing must hold yet. State it:",
    in_door_words("must_hold(book, children <= household)", "a step must_hold: \"children <= household\"")))
  else say(c(title_line(counted(nrow(x), "check")), table_lines(as.data.frame(x)), failing_rows(x)))
  invisible(x)
}

failing_rows <- function(x) {
  named <- attr(x, "named")
  unlist(lapply(which(x$fails > 0), function(i) {
    shown <- utils::head(named[[i]], 12)
    more <- if (x$fails[i] > 12) paste0(", and ", grouped(x$fails[i] - 12), " more")
    remark_lines(paste0(x$condition[i], " fails for ", paste(shown, collapse = ", "), more))
  }))
}

#' @export
print.ableturn_comparison <- function(x, ...) {
  alone <- attr(x, "unmatched")
  title <- title_line("Compared: ", counted(attr(x, "variables"), "variable"), ", ", counted(attr(x, "matched"), "row"))
  rows <- paste0("Rows in one book alone: ", alone[1], " in the first, ", alone[2], " in the second")
  say(c(title, if (any(alone > 0)) folded(rows),
    if (nrow(x)) table_lines(as.data.frame(x)) else "  No difference."))
  invisible(x)
}
