#' @export
print.ableturn_items <- plainly(function(x, ...) {
  facts <- attr(x, "scale")
  say(c(
    title_line("Item analysis of ", counted(nrow(x), "item"), side = rows_of_items(x)),
    table_lines(items_shown(x)), alpha_words(facts), unlist(further_words(facts)),
      constant_words(facts),
    reversed_words(facts), reliability_lines(x)
  ))
  invisible(x)
})

# What is told beside alpha.
further_words <- function(facts) {
  error <- facts$sem
  edge <- facts$omega$edge
  compact(list(if (length(error)) folded("Standard error of measurement ",
    show_amount(error[["sum"]]),
    " of the sum, ", show_amount(error[["mean"]]), " of the mean"),
  if (!is.null(facts$omega)) folded("Omega total ", if (is.na(facts$omega$value))
    paste0("none: ", facts$omega$why) else two_digits(facts$omega$value)),
  if (length(edge)) warned(folded(glyph("!"), " Without anything of their own, so that omega is",
    " doubtful: ", paste(edge, collapse = ", "))),
  if (!is.null(facts$ordinal)) folded("Ordinal alpha ", two_digits(facts$ordinal),
    ", of what lies behind the answers, not of their sum")))
}

# The groups under each other.
reliability_lines <- function(x) {
  if (is.null(attr(x, "groups"))) return(NULL)
  differ <- attr(x, "differ")
  c("", table_lines(reliability_table(x)), if (isTRUE(differ$apart)) warned(folded(glyph("!"), " ",
    differ$words)) else if (!is.null(differ)) folded(differ$words))
}

reliability_table <- function(x) {
  groups <- attr(x, "groups")
  shown <- function(v) ifelse(is.finite(v), two_digits(v), "none")
  interval <- paste(two_digits(groups$low), "to", two_digits(groups$high))
  table <- data.frame(group = groups$group, rows = as_row_counts(groups$complete),
    alpha = shown(groups$alpha), "95 %" = ifelse(is.finite(groups$low), interval, ""),
    "SEM of the sum" = shown(groups$sem), check.names = FALSE)
  for (word in intersect(c("omega", "ordinal"),
    names(groups))) table[[word]] <- shown(groups[[word]])
  names(table)[1] <- show_controls(attr(x, "by"))
  table
}

#' @export
print.ableturn_working <- plainly(function(x, ...) {
  heads <- attr(x, "heads")
  for (row in unique(x$row)) {
    heading <- heads[[as.character(row)]] %||% paste("Row", row)
    say(c(title_line(heading), working_lines(x[x$row == row, ])))
  }
  invisible(x)
})

working_lines <- function(x) {
  gone <- ifelse(nzchar(x$reason), paste0(" (", x$reason, ")"), "")
  text <- paste0(x$variable, " = ", x$working, ifelse(x$how == "rule", ", becomes ", " = "),
    x$value, gone)
  unlist(lapply(text, folded))
}

#' @export
print.ableturn_news <- plainly(function(x, ...) {
  say(if (nrow(x)) news_lines(x) else "Nothing new: all values and shares are as on record.")
  invisible(x)
})

news_lines <- function(news) {
  if (is.null(news) || !nrow(news)) return(NULL)
  shown <- as.data.frame(utils::head(news, 12))
  more <- nrow(news) - nrow(shown)
  c(warned(folded(glyph("!"), " New in these data, not seen when the record was made:")),
    table_lines(shown), if (more) paste0("  and ", more, " more",
      for_reader(": new_in_data(book)", "", "")))
}

#' @export
print.ableturn_checks <- plainly(function(x, ...) {
  if (!nrow(x)) say(paste("Nothing must hold yet. State it:",
    for_reader("must_hold(book, children <= household)",
      "a step must_hold: \"children <= household\"", "A rule that must hold")))
  else say(c(title_line(counted(nrow(x), "check")), table_lines(as.data.frame(x)), failing_rows(x)))
  invisible(x)
})

failing_rows <- function(x) {
  named <- attr(x, "named")
  unlist(lapply(which(x$fails > 0), function(i) {
    shown <- utils::head(named[[i]], 12)
    more <- if (x$fails[i] > 12) paste0(", and ", grouped(x$fails[i] - 12), " more")
    remark_lines(paste0(x$condition[i], " fails for ", paste(shown, collapse = ", "), more))
  }))
}

#' @export
print.ableturn_comparison <- plainly(function(x, ...) {
  alone <- attr(x, "unmatched")
  title <- title_line("Compared: ", counted(attr(x, "variables"), "variable"), ", ",
    counted(attr(x, "matched"), "row"))
  rows <- paste0("Rows in one book alone: ", alone[1], " in the first, ", alone[2],
    " in the second")
  say(c(title, if (any(alone > 0)) folded(rows),
    if (nrow(x)) table_lines(as.data.frame(x)) else "  No difference."))
  invisible(x)
})

#' @export
print.ableturn_proof <- plainly(function(x, ...) {
  say(proof_lines(x))
  invisible(x)
})

proof_lines <- function(x) {
  proved <- isTRUE(attr(x, "proved"))
  scripts <- split_in_order(x, x$dialect)
  c(
    title_line(if (proved) "Proved" else "Not proved", side = if (is.null(attr(x, "of")))
      "each script ran in a fresh R process" else "the script ran in the database"),
    unlist(lapply(scripts, script_line, of = attr(x, "of")), use.names = FALSE),
    if (length(attr(x, "apart"))) folded(glyph("*"), " Not compared, as very many rows have a ",
      "part in each of their values: ", name_list(attr(x, "apart"))),
    if (!proved) failing_lines(x), raw_finding_lines(attr(x, "changed")),
    unlist(lapply(attr(x, "problems"), function(why) {
      folded(glyph("!"),
        " The script stopped: ", why)
    })),
    unlist(lapply(names(attr(x, "refused")), function(name) {
      folded(glyph("*"), " ", name, " script: not written. ", gsub("\n", " ",
        attr(x, "refused")[[name]], fixed = TRUE))
    }))
  )
}

# `of`: how many rows there are, where only some were compared.
script_line <- function(table, of = NULL) {
  good <- sum(table$differ == 0)
  folded(table$dialect[1], " script: ", good, " of ", counted(nrow(table), "variable"),
    " the same in ", if (is.null(of) || of == table$rows[1]) "all " else
      paste("all rows compared, "), counted(table$rows[1], "row"), if (!is.null(of) &&
      of > table$rows[1]) paste(" of", grouped(of)), largest_words(table))
}

largest_words <- function(table) {
  largest <- suppressWarnings(max(table$largest, na.rm = TRUE))
  if (is.finite(largest) && largest > 0) {
    paste0("; largest difference ", formatC(largest, digits = 2, format = "g"))
  }
}

failing_lines <- function(x) {
  bad <- x[x$differ > 0, ]
  if (nrow(bad)) table_lines(data.frame(script = bad$dialect, variable = bad$variable,
    "rows that differ" = bad$differ, "first row" = bad$first, check.names = FALSE))
}

#' @export
print.ableturn_refusals <- plainly(function(x, ...) {
  each <- split_in_order(x, x$what)
  say(c(title_line("What SQL is not written for", side = paste(unique(x$engine), collapse = ", ")),
    unlist(lapply(each, function(rows) {
      of_some <- length(unique(x$engine)) > nrow(rows)
      where <- if (of_some) paste0(" (", paste(rows$engine, collapse = ", "), ")")
      c(folded(glyph("*"), " ", rows$what[1], where, ": ", rows$why[1], "."),
        folded(rows$todo[1], indent = 4))
    }), use.names = FALSE)))
  invisible(x)
})

#' @export
print.ableturn_findings <- plainly(function(x, ...) {
  open <- x[!nzchar(x$accepted), ]
  say(c(
    title_line(finding_count(open), side = if (nrow(open) < nrow(x)) paste(nrow(x) - nrow(open),
      "accepted")),
    unlist(lapply(open_findings(x, open), finding_lines)),
    if (any(open$severity == "warn")) folded("What is meant as it is can be accepted on its turn: ",
      for_reader(paste0("accept = c(\"", open$id[1], "\" = \"the reason\")"),
        paste0("accept: [{finding: ", open$id[1], ", because: \"the reason\"}]"),
        "by Accept it, with the reason")),
    unlist(lapply(which(nzchar(x$accepted)), function(i) accepted_line(as.list(x[i, ]))))
  ))
  invisible(x)
})

# Those of many items that say the same, as one.
open_findings <- function(x, open) {
  found <- attr(x, "found")
  if (length(found) != nrow(x)) return(lapply(seq_len(nrow(open)), function(i) as.list(open[i, ])))
  lapply(join_alike(found[!nzchar(x$accepted)]), in_words)
}

finding_count <- function(open) {
  if (!nrow(open)) return("Nothing looks wrong.")
  paste0(counted(sum(open$severity == "warn"), "finding"), ", ",
    counted(sum(open$severity == "note"), "note"))
}

# What happened, then what to do; in no more lines than `most`, of which what to do comes first.
raw_finding_lines <- function(found) unlist(lapply(lapply(found, in_words), finding_lines))

finding_lines <- function(f, most = Inf) {
  sign <- if (f$severity == "warn") glyph("!") else glyph("*")
  todo <- folded(f$todo, indent = 4)
  tail <- for_reader(paste0(" [", f$id, "]"), paste0(" [", f$id, "]"), "")
  what <- folded(sign, " ", f$what, tail)
  room <- max(1, most - length(todo))
  if (length(what) > room) what <- cut_lines(folded(sign, " ", f$what), room, tail)
  c(if (f$severity == "warn") warned(what) else what, todo)
}

# The first lines, the last of them ending in what the others would have said at the end.
cut_lines <- function(lines, most, tail) {
  last <- paste(lines[most], trimws(lines[most + 1]) %|% "")
  c(lines[seq_len(most - 1)], paste0(shorten(last, page_width() - nchar(tail)), tail))
}

accepted_line <- function(f) {
  folded(glyph("*"), " accepted [", f$id, "] ", f$variable, ": ", f$accepted)
}

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
  found <- join_alike(found)
  shown <- lapply(utils::head(found, 4), in_words)
  more <- length(found) - length(shown)
  rest <- if (more) folded("and ", counted(more, "more finding"), ": ",
    for_reader("findings(book)", "ableturn findings SHEET", "Findings"))
  c(unlist(lapply(shown, finding_lines, most = 3)), rest)
}
