# The pane on the right: what was done. A card for each step, and the tabs with the same work as
# calls, script, codebook, findings and picture.

steps_at_once <- 40

# Cards in the order of the steps, from one place on.
record_html <- function(book, from = 1) {
  steps <- desk_steps(book, from - 1 + seq_len(steps_at_once))
  tags <- htmltools::tags
  next_one <- from + steps_at_once
  if (from == 1 && !length(steps)) return(tags$li(class = "quiet",
    "Nothing was done yet. Each step will stand here, and can be changed or taken back."))
  htmltools::tagList(lapply(steps, step_html), if (next_one <= length(steps_of(book)))
    tags$div(class = "more", `data-list` = "record", `data-from` = next_one))
}

# What depends on the variables of a step is marked by the page when one points at it.
step_html <- function(step) {
  tags <- htmltools::tags
  made <- step$type == "turn"
  words <- name_list(step$makes, 4)
  tags$li(class = "card", `data-makes` = as_json(step$makes), `data-users` = as_json(step$users),
    tags$div(class = "card-title", tags$span(class = "place", step$place),
      if (made) button_html(show_controls(words), "choose", names = as_json(step$makes),
        class = "link") else tags$span(words)),
    tags$p(class = "says", show_controls(step$says)),
    lapply(utils::head(step$valid, 1), function(words) tags$p(class = "quiet", words)),
    if (length(step$findings)) tags$ul(class = "findings", lapply(step$findings,
      open_finding_html)),
    if (made) tags$p(class = "buttons",
      button_html("Change", "amend", name = step$makes[1], called = paste("Change", words)),
      button_html("Drop", "drop", name = step$makes[1], called = paste("Drop", words))))
}

as_json <- function(texts) as.character(jsonlite::toJSON(as.character(texts)))

# A finding that nobody has judged: what is wrong, what to do, and a place for the reason to accept
# it.
open_finding_html <- function(finding) {
  tags <- htmltools::tags
  tags$li(class = if (finding$severity == "warn") "open" else "note",
    tags$span(class = "sign", if (finding$severity == "warn") "finding" else "note"), " ",
    finding$what, " ", tags$span(class = "todo", finding$todo),
    if (!is.null(finding$variable)) folded_html("Accept it", tags$p(class = "inline accept",
      `data-name` = finding$variable, `data-finding` = finding$id,
      tags$input(type = "text", class = "reason", placeholder = "the reason", `aria-label` =
        paste("Reason to accept", finding$id, "of", finding$variable)),
      tags$button(type = "button", class = "accept-it", "Accept"))))
}

# Undo and redo, as far as there is something.
undo_html <- function(book) {
  past <- part_of_book(book, "past")
  undone <- part_of_book(book, "undone")
  htmltools::tags$p(class = "buttons", button_html("Undo", "undo", off = is.null(past)),
    button_html("Redo", "redo", off = !length(undone)))
}

# The tabs: each a title and a function of the book that gives what stands in it.
desk_tabs <- list(
  record = list(title = "Record", html = function(book) {
    htmltools::tagList(undo_html(book), htmltools::tags$ol(class = "cards", `data-into` = "record",
      record_html(book)))
  }),
  calls = list(title = "R calls", html = function(book) script_html(book, "ableturn")),
  script = list(title = "Base script", html = function(book) script_html(book, "base")),
  codebook = list(title = "Codebook", html = function(book) {
    htmltools::tags$div(`data-into` = "codebook", codebook_rows_html(book))
  }),
  findings = list(title = "Findings", html = function(book) findings_tab_html(book)),
  lineage = list(title = "Lineage", html = function(book) lineage_tab_html(book))
)

nothing_made_html <- function() htmltools::tags$p(class = "quiet", "Nothing was made yet.")

script_html <- function(book, dialect) {
  if (!length(derived_names(book))) return(nothing_made_html())
  lines <- in_plain_settings(script_lines(book, dialect))
  htmltools::tags$pre(class = "said", tabindex = "0", role = "group",
    `aria-label` = dialects[[dialect]]$title, show_controls(paste(lines, collapse = "\n"), "\n\t"))
}

# The meaning of every variable, so many at a time.
codebook_rows_html <- function(book, from = 1) {
  names <- names(book)
  shown <- names[seq_along(names) >= from & seq_along(names) < from + steps_at_once]
  htmltools::tagList(printed_html(codebook_of(book, shown), "Codebook"),
    if (from + steps_at_once <= length(names)) htmltools::tags$div(class = "more",
      `data-list` = "codebook", `data-from` = from + steps_at_once))
}

findings_tab_html <- function(book) {
  all <- lapply(all_findings(book), in_words)
  if (!length(all)) return(htmltools::tags$p("Nothing looks wrong."))
  open <- vapply(all, function(finding) is.null(finding$because), NA)
  own <- derived_names(book)
  one <- function(finding) {
    if (!isTRUE(finding$variable %in% own)) finding$variable <- NULL
    open_finding_html(finding)
  }
  told <- as.data.frame(findings(book))
  told <- told[nzchar(told$accepted), ]
  htmltools::tagList(
    if (any(open)) htmltools::tags$ul(class = "findings", lapply(all[open], function(finding) {
      htmltools::tagList(htmltools::tags$li(class = "of", finding$variable), one(finding))
    })) else htmltools::tags$p("None is open."),
    if (nrow(told)) folded_html(counted(nrow(told), "accepted finding"), htmltools::tags$ul(class =
      "findings", lapply(seq_len(nrow(told)), function(i) finding_html(told[i, ])))))
}

lineage_tab_html <- function(book) {
  if (!length(derived_names(book))) return(nothing_made_html())
  picture_html(figure_lineage(book), "lineage", "Where the variables come from", 9, 7)
}
