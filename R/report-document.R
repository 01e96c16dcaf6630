# What is printed, in a document that knitr makes (R Markdown, Quarto): as tables and paragraphs of
# the document's own format in place of lines for a terminal. A part of it is a data frame, a table;
# a text, a paragraph; or a part_title().
document_parts <- function(x) UseMethod("document_parts")

part_title <- function(...) structure(paste0(...), class = "ableturn_part_title")

# Lines as a paragraph.
in_one <- function(lines) {
  if (length(lines)) trimws(gsub("\\s+", " ", paste(cli::ansi_strip(lines), collapse = " ")))
}

#' @export
document_parts.ableturn_look <- function(x) {
  by <- attr(x, "by")
  unlist(lapply(attr(x, "subjects"), function(subject) {
    table <- x[x$variable == subject$name, ]
    c(list(part_title(paste(c(subject$name, subject$meaning$label), collapse = ": "))),
      look_parts(table, subject, by),
      lapply(list(suspect_lines(subject), spelling_line(table, subject), offer_line(subject),
        infinite_line(subject), direction_line(subject)), in_one))
  }), recursive = FALSE)
}

look_parts <- function(table, subject, by) {
  counts <- subject$kind == "counts"
  if (!is.null(by)) {
    groups <- split_in_order(table, table$group)
    return(list(if (counts) paste0("By ", by, ": rows and percent of the valid"),
      if (counts) by_count_table(table, groups) else by_summary_table(groups, subject, by)))
  }
  if (counts) {
    kept <- shown_rows(table)
    return(list(count_table(kept), in_one(left_out(table, kept))))
  }
  stats <- table[table$part == "statistic", ]
  list(as.data.frame(as.list(setNames(statistic_words(stats, subject$kind), stats$value)),
    check.names = FALSE), in_one(missing_lines(table)))
}

#' @export
document_parts.ableturn_cross <- function(x) {
  unlist(lapply(attr(x, "tables") %||% list(x), function(one) {
    rows <- counted(sum(one$rows), "row")
    list(part_title(paste(attr(one, "vars"), collapse = " by "), ", ", rows),
      cross_table(cross_wide(one)))
  }), recursive = FALSE)
}

#' @export
document_parts.ableturn_findings <- function(x) {
  open <- x[!nzchar(x$accepted), ]
  accepted <- x[nzchar(x$accepted), ]
  list(part_title(finding_count(open)), data.frame("what is found" = open$what,
    "what to do" = open$todo, finding = open$id, check.names = FALSE), data.frame(
    accepted = accepted$what, because = accepted$accepted))
}

#' @export
document_parts.ableturn_items <- function(x) {
  facts <- attr(x, "scale")
  c(list(part_title("Item analysis of ", counted(nrow(x), "item"), ", ", rows_of_items(x)),
    items_shown(x)),
  lapply(compact(c(list(alpha_words(facts)), further_words(facts), list(constant_words(facts),
    reversed_words(facts)))), in_one),
  if (!is.null(attr(x, "groups"))) list(reliability_table(x)))
}

#' @export
document_parts.ableturn_together <- function(x) {
  table <- as.data.frame(x)
  table[c("percent", "percent_answers")] <- lapply(table[c("percent", "percent_answers")],
    to_percent)
  names(table) <- c("answer", "label", "rows", "% of rows", "% of answers")
  list(part_title("Answers together, ", show_amount(attr(x, "of")), " rows with an answer"), table)
}

#' @export
document_parts.ableturn_turns <- function(x) {
  if (nrow(x)) list(turns_table(x)) else list("No turns made yet.")
}

#' @export
document_parts.ableturn_codebook <- function(x) {
  table <- as.data.frame(x)
  list(table[vapply(table, function(column) any(nzchar(column)), NA)])
}

#' @export
document_parts.ableturn_proof <- function(x) {
  proved <- isTRUE(attr(x, "proved"))
  c(list(part_title(if (proved) "Proved" else "Not proved")),
    lapply(unname(split_in_order(x, x$dialect)), function(table) {
      in_one(script_line(table, attr(x, "of")))
    }), if (!proved) list(in_one(failing_lines(x))))
}

#' @export
document_parts.ableturn_lineage <- function(x) {
  table <- as.data.frame(x)
  list(data.frame(variable = paste0(strrep("\u00a0\u00a0\u00a0", table$depth), table$name),
    label = table$label,
    by = table$by))
}

#' @export
document_parts.ableturn_working <- function(x) {
  heads <- attr(x, "heads")
  unlist(lapply(unique(x$row), function(row) {
    c(list(part_title(heads[[as.character(row)]] %||% paste("Row", row))),
      lapply(working_lines(x[x$row == row, ]), in_one))
  }), recursive = FALSE)
}

# Tables as they are, under what stands over them in print.
#' @export
document_parts.default <- function(x) {
  if (nrow(x)) list(as.data.frame(x)) else list(in_one(utils::capture.output(print(x))))
}

#' @export
document_parts.turnbook <- function(x) {
  book <- as_book(x)
  info <- info_of(book)
  list(part_title("Turnbook", if (!is.null(info$file)) paste0("  ", basename(info$file))),
    paste0(counted(info$rows, "row"), ", ", counted(length(original_names(book)), "original"), ", ",
      counted(length(derived_names(book)), "derived variable"), "."),
    if (length(derived_names(book))) turns_table(turns(book)))
}

# A receipt is short there: what was made of what, of how many rows, and what looks wrong.
#' @export
document_parts.ableturn_receipt_data <- function(x) {
  if (length(x$parts) > 3) return(list(paste0(counted(length(x$parts), "variable"), " by ",
    x$turn$verb, ": ", name_list(vapply(x$parts, `[[`, "", "name"), 8), ".")))
  unlist(lapply(x$parts, function(part) {
    found <- lapply(Filter(function(f) is.null(f$because), part$found), in_words)
    c(list(paste0(part$name, if (!is.null(part$label) && part$label != part$name) {
      paste0(": ", part$label)
    }, ". Made by ", x$turn$verb,
    if (length(part$from)) paste(" of", from_in_words(part$from)), ". ",
    in_one(validity_line(part, x$rows)), ".")),
    lapply(found, function(f) paste(glyph(if (f$severity == "warn") "!" else "*"), f$what)))
  }), recursive = FALSE)
}

in_document <- plainly(function(x) {
  knitr::asis_output(written_parts(document_parts(x), form_of_document()))
})

#' @exportS3Method knitr::knit_print
knit_print.ableturn_look <- function(x, ...) in_document(x)

#' @exportS3Method knitr::knit_print
knit_print.ableturn_cross <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_findings <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_items <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_together <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_disagreements <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_turns <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_codebook <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_proof <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_lineage <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_working <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_collinearity <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_news <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_rows <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_checks <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_comparison <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_summary <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.ableturn_refusals <- knit_print.ableturn_look

#' @exportS3Method knitr::knit_print
knit_print.turnbook <- knit_print.ableturn_look

# A figure of ours, with the text that it has for those who do not see it; its file is named by what
# it shows, so that a chunk may have several.
#' @exportS3Method knitr::knit_print
knit_print.ableturn_figure <- function(x, options, ...) {
  own <- form_of_document() == "markdown" && is.null(options$fig.cap) && is.null(options$fig.alt)
  if (!own) return(print(x))
  drawn_at <- tempfile(fileext = if (identical(options$dev[1], "pdf")) ".pdf" else ".png")
  ggplot2::ggsave(drawn_at, x, width = options$fig.width, height = options$fig.height,
    dpi = options$dpi)
  place <- knitr::fig_path(paste0("-", substr(tools::md5sum(drawn_at), 1, 8), ".",
    tools::file_ext(drawn_at)), options, NULL)
  file <- if (grepl("^(/|[A-Za-z]:)", place)) place else
    file.path(knitr::opts_knit$get("output.dir"), place)
  dir.create(dirname(file), FALSE, TRUE)
  file.copy(drawn_at, file, overwrite = TRUE)
  words <- text_markdown(ggplot2::get_alt_text(x))
  knitr::asis_output(paste0("\n![", words, "](", place, ")<!-- -->\n"))
}

# Receipts of turns are a quotation; what else is told stands as any message.
#' @exportS3Method knitr::sew
sew.ableturn_receipt <- function(x, options, ...) {
  parts <- if (is.null(step_receipts[[x$receipt$turn$verb]])) plainly(document_parts)(x$receipt)
  if (!length(parts) || form_of_document() != "markdown") return(NextMethod())
  text <- vapply(parts, text_markdown, "")
  paste0("\n\n", paste0("> ", text, collapse = "  \n"), "\n\n")
}
