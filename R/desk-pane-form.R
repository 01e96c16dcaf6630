# The pane of a form: its fields, each with its name, help and the error that belongs to it. The
# page reads what was typed from `data-field` and `data-kind`.

form_html <- function(state) {
  form <- state$form
  if (is.null(form)) return(NULL)
  tags <- htmltools::tags
  told <- desk_forms[[form$verb]]
  amends <- form$amends
  fields <- form_fields(form$verb)
  if (!is.null(amends)) fields <- fields[setdiff(names(fields), c("as", "replace"))]
  tags$form(id = "form", class = "form", `data-verb` = form$verb, autocomplete = "off",
    `aria-labelledby` = "form-title",
    tags$h3(id = "form-title", tabindex = "-1", if (is.null(amends)) told$ask else
      paste("Change how", name_list(amends), "was made:", told$ask)),
    tags$p(class = "quiet", told$when, "Nothing is recorded until you keep it."),
    if (!is.null(form$like)) tags$p(class = "quiet", "Filled in as in ", show_controls(form$like),
      ". Give the result its name and label."),
    if (isTRUE(form$restored)) tags$p(class = "quiet restored", "As you left it. ", if (is.null(
      amends)) button_html("Start anew", "ask", verb = form$verb, anew = "true", class = "link")),
    fields_html(fields, state),
    tags$p(class = "buttons keep", tags$button(type = "submit", class = "main", "Keep"),
      button_html("Leave it", "leave"), button_html("Help", "help", verb = form$verb),
      tags$a(class = "to-trial", href = "#pane-trial", "What would come of it")))
}

# What everybody is asked stands open; what is seldom needed is folded away, unless something is
# filled in there or an error belongs there.
fields_html <- function(fields, state) {
  typed <- state$form$typed
  seldom <- names(fields)[vapply(fields, `[[`, NA, "seldom")]
  seldom <- setdiff(seldom, c(names(compact_typed(typed)), state$tried$argument))
  late <- intersect(names(fields), c("as", "label", "high"))
  often <- c(setdiff(names(fields), c(seldom, late)), setdiff(late, seldom))
  htmltools::tagList(lapply(often, field_html, fields = fields, state = state),
    if (length(seldom)) folded_html("More", lapply(seldom, field_html, fields = fields,
      state = state)))
}

field_html <- function(argument, fields, state) {
  tags <- htmltools::tags
  field <- fields[[argument]]
  at <- list(id = paste0("f-", argument), argument = argument, field = field,
    typed = state$form$typed[[argument]], state = state)
  inside <- fields_of_page[[field$kind]](at)
  whole <- field$kind %in% kinds_of_many
  tags$div(class = paste("field", field$kind), `data-field` = argument, `data-kind` = field$kind,
    role = if (whole) "group", `aria-labelledby` = if (whole) paste0(at$id, "-name"),
    tags$div(class = "field-head", if (field$kind == "flag") inside else if (whole) {
      tags$div(class = "field-name", id = paste0(at$id, "-name"), field$label)
    } else {
      tags$label(class = "field-name", `for` = at$id, field$label)
    }, help_button(at)),
    if (field$kind != "flag") inside,
    if (field$kind %in% setdiff(names(said_kinds), "reasons")) tags$div(class = "read-as",
      `aria-live` = "polite"),
    if (!is.null(field$help)) tags$div(class = "help", id = paste0(at$id, "-help"), field$help),
    tags$div(class = "field-error", id = paste0(at$id, "-error"), role = "alert"))
}

# Kinds that are typed into more than one place.
kinds_of_many <- c("rules", "reasons", "codes", "named", "accepts", "names", "table", "pairs")

# For each kind of field what it is typed into; `at` is the field with its place and what stands in
# it.
fields_of_page <- list(
  text = function(at) input_html(at),
  path = function(at) input_html(at, class = "a-path"),
  separator = function(at) input_html(at, size = 10),
  texts = function(at) {
    one <- at$argument == "label" && length(at$state$chosen) < 2
    htmltools::tags$textarea(id = at$id, rows = if (one) 1 else 3,
      `aria-describedby` = described_by(at), at$typed %||% "")
  },
  choice = function(at) choice_html(at),
  flag = function(at) {
    htmltools::tags$label(class = "flag-line", htmltools::tags$input(id = at$id, type = "checkbox",
      checked = if (isTRUE(at$typed)) NA), at$field$label)
  },
  number = function(at) input_html(at, size = 10, inputmode = "decimal"),
  numbers = function(at) input_html(at),
  limits = function(at) input_html(at, size = 14),
  name = function(at) input_html(at, list = "variable-names"),
  names = function(at) chips_html(at),
  value = function(at) input_html(at, size = 10),
  values = function(at) input_html(at),
  formula = function(at) formula_html(at),
  condition = function(at) condition_field(at),
  moments = function(at) input_html(at, size = 14),
  named = function(at) named_html(at),
  rules = function(at) rules_html(at),
  accepts = function(at) lines_html(at, "Finding", "Reason", blank = FALSE),
  table = function(at) file_html(at),
  codes = function(at) codes_html(at),
  reasons = function(at) lines_html(at, "Reason", "Codes or a range", add = "Another reason"),
  pairs = function(at) lines_html(at, "Name in the file", "Variable", add = "Another")
)

input_html <- function(at, ...) {
  htmltools::tags$input(id = at$id, type = "text", value = if (!is_untyped(at$typed))
    paste(unlist(at$typed), collapse = " "), `aria-describedby` = described_by(at), spellcheck =
    "false", ...)
}

described_by <- function(at) {
  paste(c(if (!is.null(at$field$help)) paste0(at$id, "-help"), paste0(at$id, "-error")),
    collapse = " ")
}

# What the verb does anyway is chosen at first.
choice_html <- function(at) {
  verb <- at$state$form$verb
  usual <- if (is.null(verb)) names(at$field$choices)[1] else usual_choice(verb, at$argument)
  now <- at$typed %||% usual %||% at$field$start %||% ""
  values <- names(at$field$choices)
  htmltools::tags$select(id = at$id, `aria-describedby` = described_by(at),
    if (is.null(usual) && is.null(at$field$start)) htmltools::tags$option(value = "", "not stated"),
    lapply(seq_along(values), function(i) {
      htmltools::tags$option(value = values[i], selected = if (identical(values[i], now)) NA,
        at$field$choices[[i]])
    }))
}

usual_choice <- function(verb, argument) {
  usual <- usual_argument(verb, argument)
  if (is.character(usual)) usual[1]
}

# Variables that were taken, each with a way to let go of it, and where further ones are typed.
chips_html <- function(at) {
  tags <- htmltools::tags
  tags$div(class = "chips", lapply(unlist(at$typed), chip_html),
    tags$input(id = at$id, type = "text", list = "variable-names", class = "chip-input",
      `aria-label` = paste0(at$field$label, ": a name"), `aria-describedby` = described_by(at),
      spellcheck = "false"), if (is.null(at$state$form$verb) && length(at$state$chosen))
      tags$button(type = "button", class = "take-chosen", "Those chosen"))
}

chip_html <- function(name) {
  htmltools::tags$span(class = "chip", `data-name` = name, show_controls(name),
    htmltools::tags$button(type = "button", class = "chip-off", `aria-label` = paste("Without",
      show_controls(name)), "\u00d7"))
}

formula_html <- function(at) {
  htmltools::tagList(
    htmltools::tags$textarea(id = at$id, rows = 2, class = "code", spellcheck = "false",
      `aria-describedby` = described_by(at), at$typed %||% ""),
    htmltools::tags$p(class = "inline", htmltools::tags$label(`for` = paste0(at$id, "-put"),
      "Put in a variable"), htmltools::tags$input(id = paste0(at$id, "-put"), type = "text",
      list = "variable-names", class = "put-name", `data-into` = at$id)),
    formula_help_html(at$id, at$state))
}

# A condition is pointed at, or typed as a formula.
condition_field <- function(at) {
  htmltools::tagList(condition_html(at$id, at$typed), formula_help_html(at$id, at$state))
}

# For each chosen variable one value; a key of a test can be typed in one line, or come from a file.
named_html <- function(at) {
  tags <- htmltools::tags
  several <- at$argument == "key" && length(at$state$chosen) > 1
  htmltools::tagList(if (several) tags$p(class = "inline",
    tags$label(`for` = "key-line", "All in one line"), tags$input(id = "key-line", type = "text",
      class = "key-line", placeholder = "2 4 1 3, or BDAC", autocomplete = "off"),
    tags$label(`for` = "key-file", "or a file"), tags$input(id = "key-file", type = "file",
      class = "key-file"), tags$span(class = "key-told quiet", `aria-live` = "polite")),
  named_lines(at))
}

named_lines <- function(at) {
  lapply(seq_along(at$state$chosen), function(i) {
    name <- at$state$chosen[i]
    id <- paste0(at$id, "-", i)
    htmltools::tags$p(class = "inline", `data-name` = name, htmltools::tags$label(`for` = id,
      show_controls(name)), value_html(id, name, at$typed[[name]], at$state$book))
  })
}

# One of the values that were met, where these are few.
value_html <- function(id, name, now, book) {
  if (!facts_of(variable_in(book, name))$few) {
    return(htmltools::tags$input(id = id, type = "text", value = now))
  }
  met <- rule_values(book, name)$table
  met <- met[met$kind != "missing", ]
  htmltools::tags$select(id = id, htmltools::tags$option(value = "", "\u2014"),
    lapply(seq_len(nrow(met)), function(i) {
      htmltools::tags$option(value = met$value[i], selected = if (identical(met$value[i],
        show_value(now %||% "")[1]) || identical(met$label[i], now)) NA,
      level_words(met$value[i], met$label[i], FALSE))
    }))
}

# Lines of two texts each.
lines_html <- function(at, first, second, add = NULL, blank = TRUE) {
  typed <- as.list(at$typed)
  lines <- Map(function(a, b) list(a, b), names(typed), typed)
  if (blank) lines <- c(unname(lines), list(list("", "")))
  htmltools::tagList(
    htmltools::tags$div(class = "lines", `data-first` = first, `data-second` = second,
      lapply(seq_along(lines), function(i) line_html(lines[[i]], i, first, second))),
    if (!is.null(add)) htmltools::tags$button(type = "button", class = "add-line", add))
}

line_html <- function(line, i, first, second) {
  field <- function(value, words) {
    htmltools::tags$input(type = "text", value = paste(unlist(value), collapse = "; "),
      placeholder = words, `aria-label` = paste(words, i))
  }
  htmltools::tags$div(class = "line", field(line[[1]], first), field(line[[2]], second),
    htmltools::tags$span(class = "read-as"))
}

# A label for each code: those that are known, and those that were met.
codes_html <- function(at) {
  known <- as.list(at$typed)
  met <- if (length(at$state$chosen)) rule_values(at$state$book, at$state$chosen, 30)
  others <- if (met$more == 0) met$table$value[met$table$kind == "number"]
  others <- setdiff(others, unlist(known))
  rows <- c(Map(list, names(known), known), lapply(others, function(code) list("", code)))
  htmltools::tags$div(class = "codes-lines", lapply(seq_along(rows), function(i) {
    code <- show_value(unlist(rows[[i]][[2]]))
    htmltools::tags$p(class = "inline", `data-code` = code, htmltools::tags$label(`for` =
      paste0(at$id, "-", i), code), htmltools::tags$input(id = paste0(at$id, "-", i), type = "text",
      value = rows[[i]][[1]]))
  }), htmltools::tags$p(class = "inline", `data-code` = "", htmltools::tags$input(type = "text",
    class = "new-code", size = 6, `aria-label` = "Another code", placeholder = "code"),
  htmltools::tags$input(type = "text", `aria-label` = "Label of the other code",
    placeholder = "label")))
}

# A table: what is there, a file to choose, or a path on this machine.
file_html <- function(at) {
  tags <- htmltools::tags
  kept <- !is_untyped(at$typed) && !is.character(at$typed)
  path <- if (is.character(at$typed)) at$typed
  tags$div(class = "file", `data-kept` = if (kept) "true",
    if (is.data.frame(at$typed)) tags$p(class = "quiet", paste0(counted(nrow(at$typed), "row"),
      ", columns ", name_list(names(at$typed)))) else if (kept) tags$p(class = "quiet",
      "The one that was read."),
    tags$input(id = at$id, type = "file", `aria-label` = paste0(at$field$label, ": choose a file"),
      `aria-describedby` = described_by(at)),
    tags$p(class = "inline", tags$label(`for` = paste0(at$id, "-path"), "or its path here"),
      tags$input(id = paste0(at$id, "-path"), class = "path", type = "text", value = path)))
}
