# Rules on the table of values itself: each answer with its rows, and beside it what it becomes.

rules_html <- function(at) {
  tags <- htmltools::tags
  state <- at$state
  verb <- state$form$verb
  chosen <- state$chosen
  met <- rule_values(state$book, chosen)
  filled <- rules_as_table(at$typed, met$table)
  cases <- are_cases(at$typed)
  choosable <- verb == "recode" && length(chosen) > 1 && is.null(state$form$amends)
  tags$div(class = "rules", `data-before` = "kept",
    if (choosable) which_rules_html(cases),
    tags$div(class = "by-value", hidden = if (cases) NA,
      values_html(met, filled, verb, chosen),
      if (verb == "recode" || length(filled$ranges)) ranges_html(filled$ranges)),
    if (choosable || cases) tags$div(class = "by-case", hidden = if (!cases) NA,
      cases_html(filled$cases, if (length(chosen)) chosen else case_names(filled$cases))),
    if (verb == "recode") rest_html(filled$rest),
    if (verb == "recode") tags$div(class = "labels", `data-labels` = labels_as_json(filled$labels),
      tags$div(class = "field-name", "Labels of the new codes"),
      tags$div(class = "label-lines")))
}

which_rules_html <- function(cases) {
  one <- function(value, words, on) {
    htmltools::tags$label(htmltools::tags$input(type = "radio", name = "which-rules", value = value,
      checked = if (on) NA), words)
  }
  htmltools::tags$div(class = "which", role = "radiogroup",
    `aria-label` = "What the rules are about",
    one("value", "each variable by the same rules", !cases),
    one("case", "groups from all of them together", cases))
}

values_html <- function(met, filled, verb, chosen) {
  tags <- htmltools::tags
  table <- met$table
  row <- function(i) {
    missing <- table$kind[i] == "missing"
    words <- if (missing) paste("missing:", table$value[i]) else
      level_words(table$value[i], table$label[i], FALSE)
    tags$tr(`data-value` = table$value[i], `data-kind` = table$kind[i],
      tags$th(scope = "row", show_controls(words)),
      tags$td(class = "number", grouped(table$rows[i])),
      tags$td(tags$input(type = "text", size = 8, class = "becomes", value = filled$values[i],
        spellcheck = "false", `aria-label` = paste(show_controls(words), "becomes"))),
      tags$td(class = "now"))
  }
  tags$div(class = "scroll tall", tabindex = "0", role = "region", `aria-label` = "Table of values",
    tags$table(class = "values", tags$thead(tags$tr(tags$th(scope = "col", name_list(chosen, 3)),
      tags$th(scope = "col", "rows"), tags$th(scope = "col", if (verb == "collapse")
        "merged into" else "becomes"), tags$th(scope = "col", "so far"))),
    tags$tbody(lapply(seq_len(nrow(table)), row))),
    if (met$more) tags$p(class = "quiet", paste("and", counted(met$more, "more value"),
      "- a range takes them")))
}

# Ranges and what else is named, each typed once. One is left to be filled in.
ranges_html <- function(ranges) {
  tags <- htmltools::tags
  line <- function(range, i) {
    tags$div(class = "line range", tags$input(type = "text", class = "when", value = range$when,
      placeholder = "1 .. 4", `aria-label` = paste("Range", i)), tags$span("becomes"),
    tags$input(type = "text", class = "becomes", size = 8, value = range$becomes,
      `aria-label` = paste("Range", i, "becomes")), tags$span(class = "read-as"))
  }
  ranges <- c(ranges, list(list(when = "", becomes = "")))
  tags$div(class = "ranges", tags$div(class = "field-name", "Ranges"),
    tags$div(class = "lines", Map(line, ranges, seq_along(ranges))),
    tags$div(class = "help", "1 .. 4 or 1-4 is from 1 to 4; 30+ is 30 and more; < 30 is below 30;",
      "up to 4 takes 4 as well. \"holding: bus\" takes texts with that word; a dot (.) makes what",
      "is missing."))
}

case_names <- function(cases) unique(unlist(lapply(cases, function(case) names(case$where))))

# A row for each group: what holds of each variable, and its code.
cases_html <- function(cases, names) {
  tags <- htmltools::tags
  row <- function(case, i) {
    tags$tr(class = "case", lapply(names, function(name) {
      tags$td(tags$input(type = "text", class = "when", size = 10, `data-name` = name,
        value = case$where[name] %|% "", `aria-label` = paste(show_controls(name), "of group", i)))
    }), tags$td(tags$input(type = "text", class = "becomes", size = 6, value = case$becomes,
      `aria-label` = paste("Group", i, "becomes"))))
  }
  cases <- c(cases, list(list(where = setNames(rep("", length(names)), names), becomes = "")))
  tags$div(class = "cases", tags$div(class = "scroll", tabindex = "0", role = "region",
    `aria-label` = "Groups", tags$table(tags$thead(tags$tr(lapply(names, function(name) {
      tags$th(scope = "col", show_controls(name))
    }), tags$th(scope = "col", "becomes"))),
    tags$tbody(unname(Map(row, cases, seq_along(cases)))))),
  tags$div(class = "help", "In each row: a value or a range of each variable, such as 1, 30 .. or",
    "< 40; left empty, any. The first row that fits counts."))
}

rest_html <- function(rest) {
  tags <- htmltools::tags
  words <- c(none = "becomes missing, and is told by value", keep = "stays as it is",
    code = "becomes this code:")
  tags$div(class = "rest line", tags$label(`for` = "rest", "All the rest"),
    tags$select(id = "rest", lapply(names(words), function(how) {
      tags$option(value = how, selected = if (identical(how, rest$how)) NA, words[[how]])
    })), tags$input(id = "rest-code", type = "text", class = "becomes", size = 8, `aria-label` =
      "Code of the rest", value = if (identical(rest$how, "code")) rest$code,
    hidden = if (!identical(rest$how, "code")) NA))
}

labels_as_json <- function(labels) {
  pairs <- unname(Map(list, names(labels), unname(unlist(labels))))
  as.character(jsonlite::toJSON(pairs, auto_unbox = TRUE))
}

# What becomes of each value so far, as the trial has it: told beside the value. Of several
# variables that of the first is told.
becomes_so_far <- function(state) {
  made <- state$tried$receipt$turn$makes
  if (!length(made) || !state$form$verb %in% c("recode", "collapse")) return(NULL)
  source <- derived_in(state$tried$book, made[1])$from
  if (length(source) != 1) return(NULL)
  both <- cross_two(source, made[1], state$tried$book)
  once <- !duplicated(paste(both$row, both$row_missing))
  words <- level_words(both$column, both$column_label, both$column_missing)
  lost <- both$column_missing & both$column == "unmatched"
  Map(function(value, missing, words, lost) {
    words <- if (lost) "not yet taken" else words
    list(value = value, missing = missing, words = words, lost = lost)
  }, both$row[once], both$row_missing[once], words[once], lost[once])
}
