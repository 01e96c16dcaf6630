#' @include desk-acts.R desk-state.R
NULL

# The same again: a step is kept in mind to be made of other variables, too; and templates, steps
# that are kept from one desk to the next, each as a turn sheet of one step in the analyst's own
# folder. What is read from there is data, as any sheet.

add_acts(list(
  copy = function(state, event) {
    name <- made_on_desk(state, event$name)
    state$copied <- copied_turn(turn_of(state$book, name), name)
    state
  },
  again = function(state, event) with_copied(state, state$copied),
  template = function(state, event) {
    kept <- templates_kept()
    called <- one_typed(event$name)
    if (!called %in% names(kept)) fail("desk-act", act = called)
    with_copied(state, kept[[called]])
  },
  keep_template = function(state, event) {
    name <- made_on_desk(state, event$name)
    called <- if (is_untyped(event$to)) name else one_typed(event$to)
    keep_template(state$book, name, called)
    state$templates <- (state$templates %||% 0) + 1
    state
  },
  drop_template = function(state, event) {
    unlink(template_path(one_typed(event$name)))
    state$templates <- (state$templates %||% 0) + 1
    state
  }
), desk_acts)

copied_turn <- function(turn, called) {
  list(verb = turn$verb, typed = form_of_turn(turn)$typed, called = called)
}

# The form of the step, filled in for what is chosen now: without the name and label of its result,
# and without what was said of variables that are not chosen.
with_copied <- function(state, copied) {
  if (is.null(copied)) return(state)
  state <- with_form(keep_unfinished(state), copied$verb)
  typed <- copied$typed[setdiff(names(copied$typed), c("as", "label", "accept", "note", "replace"))]
  fields <- form_fields(copied$verb)
  for (argument in names(typed)) {
    if (fields[[argument]]$kind == "named") {
      typed[[argument]] <- typed[[argument]][intersect(names(typed[[argument]]), state$chosen)]
    }
  }
  state$form$typed[names(typed)] <- typed
  state$form$like <- copied$called
  state$form$filled <- (state$form$filled %||% 0) + 1
  with_trial(state)
}

template_folder <- function() file.path(tools::R_user_dir("ableturn", "data"), "templates")

# The name of a template is text: its file is called by a sum of it, and holds it as the note.
template_path <- function(called) {
  file.path(template_folder(), paste0(substr(sha256(charToRaw(enc2utf8(called))), 1, 16),
    ".turns.yaml"))
}

keep_template <- function(book, name, called) {
  turn <- turn_of(book, name)
  turn$learned <- NULL
  turn$note <- called
  dir.create(template_folder(), recursive = TRUE, showWarnings = FALSE, mode = "0700")
  lines <- emit_parts(list(head = list(able_turn = sheet_version), steps = step_lines(list(turn),
    NULL)))
  write_lines_whole(lines, template_path(called), TRUE)
}

# All that can be read, by their names.
templates_kept <- function() {
  paths <- list.files(template_folder(), "[.]turns[.]yaml$", full.names = TRUE)
  kept <- lapply(paths, function(path) {
    tryCatch({
      turn <- read_sheet(path)$turns[[1]]
      copied_turn(turn, turn$note %||% turn$makes[1])
    }, error = function(e) NULL)
  })
  kept <- compact(kept)
  names(kept) <- vapply(kept, `[[`, "", "called")
  kept[order(names(kept))]
}

# Above the question: what may be done again with what is chosen.
again_html <- function(state) {
  tags <- htmltools::tags
  verbs <- vapply(fitting_forms(chosen_facts(state$book, state$chosen)), `[[`, "", "verb")
  fits <- function(copied) !is.null(copied) && copied$verb %in% verbs
  kept <- Filter(fits, templates_kept())
  tile <- function(copied, do, ...) {
    button_html(htmltools::tagList(tags$strong(show_controls(paste("As in", copied$called))),
      tags$span(desk_forms[[copied$verb]]$ask)), do, ..., class = "answer")
  }
  tiles <- c(if (fits(state$copied)) list(tile(state$copied, "again")),
    lapply(kept, function(copied) {
      tags$div(class = "template", tile(copied, "template", name = copied$called),
        button_html("\u00d7", "drop_template", name = copied$called, class = "chip-off",
          called = paste("Without the template", copied$called)))
    }))
  if (length(tiles)) htmltools::tagList(tags$h4("The same again"), tags$div(class = "answers",
    unname(tiles)))
}
