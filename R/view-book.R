#' @export
print.ableturn_book <- plainly(function(x, ...) {
  info <- info_of(x)
  say(c(
    title_line("Turnbook", if (!is.null(info$file)) paste0("  ", basename(info$file)),
      side = "originals are read-only"),
    folded(counted(info$rows, "row"), if (!is.null(info$id)) paste0(", identified by ", info$id)),
    paste0("  ", counted(length(original_names(x)), "original"), ", ",
      counted(length(derived_names(x)), "derived variable")),
    if (length(info$odd)) folded("Left out: ", paste(info$odd, collapse = " ")),
    if ("NA" %in% info$reading$na) folded("In this file NA stands for a blank answer",
      if (length(info$reading$kept_na)) paste0(", but not in ", name_list(info$reading$kept_na)),
      "."),
    way_lines(info$shown, indent = 2),
    variable_lines(original_names(x)), derived_lines(x), open_line(x)
  ))
  invisible(x)
})

# What looks wrong and nobody has judged.
open_line <- function(book) {
  open <- findings(book, accepted = FALSE)
  if (!nrow(open)) return(NULL)
  line <- paste0("  ", finding_count(open), " open: findings(book) tells them")
  if (any(open$severity == "warn")) warned(line) else line
}

variable_lines <- function(names) {
  shown <- utils::head(names, 60)
  more <- length(names) - length(shown)
  folded("Originals: ", paste(show_controls(shown), collapse = " "),
    if (more) paste(" and", more, "more"))
}

derived_lines <- function(book) {
  if (!length(derived_names(book))) {
    return(
      "  Nothing made yet. look(book) shows what is here, turn_recode() and others make from it.")
  }
  all <- turns(book)
  shown <- utils::head(all, 24)
  more <- nrow(all) - nrow(shown)
  c("", turns_lines(shown),
    if (more) paste0("  and ", grouped(more), " more: turns(book) lists all"))
}

#' @export
print.ableturn_turns <- plainly(function(x, ...) {
  if (!nrow(x)) say("No turns made yet.") else say(turns_lines(x))
  invisible(x)
})

turns_lines <- function(x) table_lines(turns_table(x))

turns_table <- function(x) {
  data.frame(
    name = x$name, turn = x$turn, from = x$from, label = x$label, valid = x$valid,
    missing = x$missing
  )
}

#' @export
print.ableturn_codebook <- plainly(function(x, ...) {
  for (i in seq_len(nrow(x))) say(entry_lines(x[i, ]))
  invisible(x)
})

entry_lines <- function(entry) {
  told <- c(codes = "Codes", missing = "Missing", limits = "Limits", asked = "Asked if",
    high = "High", unit = "Unit", note = "Note",
    source = "Made by")
  if (entry$source == "original") told <- told[names(told) != "source"]
  lines <- unlist(lapply(names(told), function(key) {
    if (nzchar(entry[[key]])) folded(told[[key]], ": ", entry[[key]])
  }))
  label <- if (nzchar(entry$label)) paste0("  ", entry$label)
  c(title_line(entry$name, label,
    side = paste(c(entry$level, entry$type)[nzchar(c(entry$level, entry$type))], collapse = ", ")),
  lines)
}

# What a codebook file says, as a list of R: nothing in it can steer the terminal.
#' @export
print.codebook_file <- plainly(function(x, ...) {
  lines <- utils::capture.output(print(lapply(unclass(x), unclass)))
  cat(for_terminal(lines), sep = "\n")
  invisible(x)
})
