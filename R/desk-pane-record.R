# The pane on the right: what was done. A card for each step, and the tabs with the same work as
# calls, script, codebook, findings and picture.

steps_at_once <- 40

# A line for each step that opens, the newest first, from one on; `found`, of which steps.
record_html <- function(book, from = 1, search = "") {
  tags <- htmltools::tags
  found <- steps_found(book, search)
  shown <- found[seq_along(found) >= from & seq_along(found) < from + steps_at_once]
  if (from == 1 && !length(found)) return(tags$li(class = "quiet none", if (nzchar(search))
    "No step has this." else
    "Nothing was done yet. Each step will stand here, and can be changed or taken back."))
  htmltools::tagList(lapply(shown, step_html, book = book, open = !nzchar(search) &&
    identical(shown[1], length(steps_of(book)))), if (from + steps_at_once <= length(found))
    tags$div(class = "more", `data-list` = "record", `data-from` = from + steps_at_once))
}

# The places of the steps, the newest first, whose names, sentence or note hold all the words; a
# number is that of a step.
steps_found <- function(book, search) {
  places <- rev(seq_along(steps_of(book)))
  words <- words_sought(search)
  if (!length(words)) return(places)
  if (length(words) == 1 && words %in% places) return(as.integer(words))
  text <- vapply(places, function(place) {
    step <- steps_of(book)[[place]]
    lower_case(paste(c(place, short_step(book, place)$makes, ask_of_step(short_step(book, place)),
      step_in_words(step, book), step$turn$note), collapse = " "))
  }, "")
  places[hold_all(words, text)]
}

# The line of a step. The last one stands open. What depends on it is marked by the page when one
# points at it, from what each reads.
step_html <- function(place, book, open = FALSE) {
  tags <- htmltools::tags
  step <- short_step(book, place)
  tags$li(class = "card", `data-place` = place, `data-makes` = as_json(step$makes),
    `data-reads` = as_json(step$reads), tags$details(open = if (open) NA,
      tags$summary(tags$span(class = "place", place), " ",
        tags$span(class = "made", show_controls(name_list(step$makes, 3))), " ",
        tags$span(class = "quiet", ask_of_step(step)),
        if (step$open) tags$span(class = "sign", paste0(" \u25b2 ", counted(step$open, "finding"))),
        if (step$noted) tags$span(class = "quiet", " \u270e noted")),
      tags$div(class = "step-body", if (open) step_body_html(book, place))))
}

ask_of_step <- function(step) {
  switch(step$type, turn = lower_first(desk_forms[[step$verb]]$ask), define = "what it means",
    check = "a rule that must hold", step$type)
}

lower_first <- function(text) paste0(lower_case(substr(text, 1, 1)), substring(text, 2))

# What stands in a step that was opened.
step_body_html <- function(book, place) {
  tags <- htmltools::tags
  step <- desk_steps(book, place)[[1]]
  htmltools::tagList(
    tags$p(class = "says", show_controls(step$says)),
    if (!is.null(step$note) && step$type == "turn") tags$p(class = "note-of",
      tags$strong("Note: "), show_controls(step$note)),
    lapply(utils::head(step$valid, 1), function(words) tags$p(class = "quiet", words)),
    if (length(step$findings)) tags$ul(class = "findings", lapply(step$findings,
      open_finding_html)),
    if (length(step$accepted)) tags$ul(class = "findings accepted", lapply(step$accepted,
      accepted_finding_html)),
    step_buttons_html(step))
}

# The whole record, in the order of the steps, for a sheet of paper.
printed_record <- function(book) {
  tags <- htmltools::tags
  htmltools::tagList(tags$h1(paste("What was done:", data_title(book))),
    tags$ol(lapply(seq_along(steps_of(book)), function(place) {
      step <- desk_steps(book, place)[[1]]
      tags$li(tags$strong(show_controls(name_list(step$makes, 12))),
        tags$p(show_controls(step$says)),
        if (!is.null(step$note)) tags$p("Note: ", show_controls(step$note)),
        lapply(step$valid, tags$p), lapply(step$findings, function(f) tags$p("Open: ", f$what)),
        lapply(step$accepted, function(f) tags$p(f$what, " Accepted: ", show_controls(f$because))))
    })))
}

step_buttons_html <- function(step) {
  words <- name_list(step$makes, 4)
  button <- function(text, do, ...) button_html(text, do, ..., called = paste0(text, ": ", words))
  names <- as_json(step$makes)
  htmltools::tags$p(class = "buttons",
    if (length(step$makes)) button("Look at it", "choose", names = names),
    if (step$type == "turn") list(button("Change", "amend", name = step$makes[1]),
      button("Same for others", "copy", name = step$makes[1]),
      button("As template", "keep_template", name = step$makes[1]),
      button("Drop", "drop", name = step$makes[1])),
    if (step$type == "define") button("Change", "redefine", names = names),
    button_html("Undo all after it", "undo_to", place = step$place, called = paste(
      "Undo all after step", step$place)))
}

# What a record that is shown gets: the lines that are new or changed, and how many there are now.
record_changes <- function(screen, before) {
  now <- screen$state$book
  then <- before$state$book
  count <- length(steps_of(now))
  kept <- seq_len(min(count, length(steps_of(then))))
  changed <- c(kept[!vapply(kept, same_step, NA, book = now, before = then)],
    setdiff(seq_len(count), kept))
  if (length(changed) > steps_at_once) return(NULL)
  gone <- setdiff(seq_along(steps_of(then)), seq_len(count))
  list(do = "lines", list = "record", gone = as.list(gone), all = count,
    put = lapply(changed, function(place) {
      list(key = place, after = if (place < count) place + 1,
        html = as_html(step_html(place, now, place == count)))
    }))
}

# Whether a step and what it made are the same objects in two books.
same_step <- function(place, book, before) {
  step <- steps_of(book)[[place]]
  made <- function(of) lapply(step$turn$makes, function(name) derived_in(of, name))
  identical(step, steps_of(before)[[place]]) && all(same_objects(made(book), made(before)))
}

# A finding that nobody has judged: what is wrong, what to do, buttons that do it, and a place for
# the reason to accept it.
open_finding_html <- function(finding) {
  tags <- htmltools::tags
  tags$li(class = if (finding$severity == "warn") "open" else "note",
    tags$span(class = "sign", if (finding$severity == "warn") "finding" else "note"), " ",
    finding$what, " ", tags$span(class = "todo", finding$todo), advice_buttons(finding),
    folded_html("Accept it", tags$p(class = "inline accept",
      `data-name` = finding$variable, `data-finding` = finding$id,
      `data-of` = if (isTRUE(finding$of_data)) "data",
      tags$input(type = "text", class = "reason", placeholder = "the reason", `aria-label` =
        paste("Reason to accept:", finding$what)),
      tags$button(type = "button", class = "accept-it", "Accept"),
      tags$span(class = "field-error"))))
}

accepted_finding_html <- function(finding) {
  tags <- htmltools::tags
  tags$li(class = "note", finding$what, " ", tags$span(class = "because", tags$strong("Accepted: "),
    show_controls(finding$because)))
}

# Undo and redo, as far as there is something; and what finds a step.
record_tools_html <- function(screen) {
  tags <- htmltools::tags
  book <- screen$state$book
  past <- part_of_book(book, "past")
  undone <- part_of_book(book, "undone")
  some <- length(steps_of(book)) > 0
  htmltools::tagList(tags$p(class = "buttons", id = "undo-redo",
    button_html("Undo", "undo", off = is.null(past)),
    button_html("Redo", "redo", off = !length(undone)),
    button_html("Print", "print", off = !some)),
  tags$p(class = "inline", id = "find-step", hidden = if (length(steps_of(book)) < 4) NA,
    tags$input(type = "search", id = "record-search", placeholder = "Search, or a number",
      value = screen$find, autocomplete = "off",
      `aria-label` = "Search the steps: a number, a name or words")))
}

# The tabs: each a title and a function of the screen that gives what stands in it.
desk_tabs <- list(
  record = list(title = "Record", html = function(s) {
    htmltools::tagList(record_tools_html(s), htmltools::tags$ol(class = "cards", `data-into` =
      "record", reversed = NA, record_html(s$state$book, search = s$find)))
  }),
  rows = list(title = "Rows", html = function(s) grid_frame_html(s)),
  calls = list(title = "R calls", html = function(s) script_html(s$state$book, "ableturn")),
  script = list(title = "Base script", html = function(s) script_html(s$state$book, "base")),
  codebook = list(title = "Codebook", html = function(s) {
    htmltools::tags$div(`data-into` = "codebook", codebook_rows_html(s$state$book))
  }),
  findings = list(title = "Findings", html = function(s) findings_tab_html(s$state$book)),
  lineage = list(title = "Lineage", html = function(s) lineage_tab_html(s$state$book))
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
  of_data <- vapply(findings_of_data(book), finding_key, "")
  one <- function(finding) {
    finding$of_data <- finding_key(finding) %in% of_data
    open_finding_html(finding)
  }
  told <- as.data.frame(findings(book))
  told <- told[nzchar(told$accepted), ]
  back <- function(id) {
    if (id %in% names(info_of(book)$accept)) button_html("Accept it no longer", "accept_data",
      finding = id, back = "yes")
  }
  htmltools::tagList(
    if (any(open)) htmltools::tags$ul(class = "findings", lapply(all[open], function(finding) {
      htmltools::tagList(htmltools::tags$li(class = "of", finding$variable), one(finding))
    })) else htmltools::tags$p("None is open."),
    if (nrow(told)) folded_html(counted(nrow(told), "accepted finding"), htmltools::tags$ul(class =
      "findings", lapply(seq_len(nrow(told)), function(i) {
        htmltools::tagAppendChild(finding_html(told[i, ]), back(told$id[i]))
      }))))
}

lineage_tab_html <- function(book) {
  if (!length(derived_names(book))) return(nothing_made_html())
  picture_html(figure_lineage(book), "lineage", "Where the variables come from", 9, 7)
}
