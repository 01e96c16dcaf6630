# The pane in the middle: what is chosen, looked at; the question; and what was done last.

now_html <- function(state) {
  book <- state$book
  if (!length(state$chosen)) return(overview_html(book))
  if (length(state$chosen) == 1) look_html(state$chosen, book) else several_html(state$chosen, book)
}

now_title <- function(state) {
  chosen <- state$chosen
  if (!length(chosen)) return(data_title(state$book))
  if (length(chosen) > 1) return(paste0(length(chosen), " variables: ", name_list(chosen, 5)))
  named_label(state$book, chosen)
}

# Nothing is chosen: the data as a whole.
overview_html <- function(book) {
  tags <- htmltools::tags
  info <- info_of(book)
  told <- c(way_lines(info$shown), unsettled_lines(info$asked), mixed_lines(info$reading$mixed))
  htmltools::tagList(facts_html(counts_part(book, as.data.frame(findings(book)))),
    as_on_page(said_html(told, "How the file was read")),
    tags$p("Choose a variable on the left. Several can be chosen: by the boxes before their names,",
      "or with the shift key."),
    tags$p("The originals are never changed: what you make stands beside them."))
}

# One variable: its answers or figures, its picture, and what can be asked of it besides.
look_html <- function(name, book) {
  seen <- look_at(book, list(subject_of_variable(name, book)))
  subject <- attr(seen, "subjects")[[1]]
  table <- as.data.frame(seen)
  htmltools::tagList(
    meaning_html(name, book),
    htmltools::tagAppendAttributes(facts_html(figures_of(seen)), class = "figures"),
    answers_html(table),
    suspects_html(subject),
    all_values_html(name, table),
    picture_place("look", name),
    if (is_derived(book, name)) made_html(name, book),
    htmltools::tags$p(class = "buttons", button_html("What it means", "ask", verb = "define"),
      if (is_derived(book, name)) button_html("Change how it was made", "amend", name = name))
  )
}

meaning_html <- function(name, book) {
  # its label stands in the title, codes and missing answers in the table
  told <- meaning_in_words(meaning_in(book, name))
  entry <- told[!names(told) %in% c("Label", "Codes", "Missing")]
  if (!length(entry)) return(NULL)
  htmltools::tags$p(class = "quiet meaning", paste(paste0(names(entry), ": ", entry), collapse =
    "; "))
}

# How often each answer came, and what is missing, by its reasons.
answers_html <- function(table) {
  table <- table[table$part != "statistic", ]
  if (!nrow(table)) return(NULL)
  shown <- shown_rows(table)
  missing <- shown$part == "missing"
  cells <- data.frame(answer = ifelse(missing, "\u2014", shown$value),
    label = ifelse(missing, paste("missing:", shown$value), shown$label), rows = shown$rows,
    "%" = to_percent(shown$percent),
    "valid %" = ifelse(missing, "", to_percent(shown$valid_percent)), check.names = FALSE)
  if (all(missing)) cells["valid %"] <- NULL
  htmltools::tagList(table_html(cells, if (all(missing)) "Missing" else "Answers"),
    if (length(left_out(table, shown))) htmltools::tags$p(class = "quiet", left_out(table, shown)))
}

# All values of a variable, fetched when they are looked for; none where they stand there anyway.
all_values_html <- function(name, table) {
  listed <- table[table$part == "value", ]
  if (nrow(listed) && !length(left_out(table, shown_rows(table)))) return(NULL)
  folded_html("Its values", htmltools::tags$p(class = "inline", htmltools::tags$label(`for` =
    "value-search", "Holding"), htmltools::tags$input(id = "value-search", type = "search",
    `data-name` = name, autocomplete = "off")), htmltools::tags$div(id = "values", class = "tall",
    tabindex = "0", role = "region", `aria-label` = "Values"))
}

# Codes that look like missing ones, with the way to say so.
suspects_html <- function(subject) {
  said <- suspect_lines(subject)[1]
  if (!length(subject$suspects) || is.na(said)) return(NULL)
  htmltools::tags$div(class = "alarm", as_on_page(htmltools::tags$p(trimws(cli::ansi_strip(said)))),
    button_html("They are no answers: say why", "ask", verb = "define", suspects = "true"))
}

# A row is told by its number, in a table of a database by its identifier.
row_field <- function(book) {
  tags <- htmltools::tags
  if (!site_can(site_of(book), "row numbers")) {
    return(list(tags$label(`for` = "row", info_of(book)$id %||% "identifier"),
      tags$input(id = "row", type = "text")))
  }
  list(tags$label(`for` = "row", "Row"),
    tags$input(id = "row", type = "number", min = 1, max = row_count(book), value = 1))
}

working_on_desk <- function(book, name, row) {
  if (site_can(site_of(book), "row numbers")) {
    row <- suppressWarnings(as.integer(row))
    return(show_working(book, tidyselect::all_of(name), rows = row))
  }
  id <- if (!is.null(info_of(book)$id)) utils::type.convert(one_typed(row), as.is = TRUE)
  show_working(book, tidyselect::all_of(name), id = id)
}

# A derived variable: from what it was made, and how one row is worked out.
made_html <- function(name, book) {
  tags <- htmltools::tags
  crossed <- cross_part(name, book)
  htmltools::tagList(
    tags$p(class = "quiet", made_in_words(name, book)),
    if (!is.null(crossed)) folded_html("Old by new", table_html(crossed, paste("Rows of",
      derived_in(book, name)$from, "by", name))),
    folded_html("Work a row out", tags$p(class = "inline", row_field(book),
      button_html("Work it out", "working", name = name)), tags$div(id = "working",
      `aria-live` = "polite")),
    folded_html("Give it another name", tags$p(class = "inline", tags$label(`for` = "rename-to",
      "Name"), tags$input(id = "rename-to", type = "text", value = name, spellcheck = "false"),
    button_html("Rename", "rename", name = name)))
  )
}

# Several variables beside each other, and what two of them or a set of items are asked.
several_html <- function(names, book) {
  shown <- utils::head(names, 40)
  more <- length(names) - length(shown)
  numbers <- all(vapply(names, is_reckoned_with, NA, book = book))
  htmltools::tagList(
    table_html(several_table(shown, book), "What is chosen"),
    if (more) htmltools::tags$p(class = "quiet", paste("and", counted(more, "more variable"))),
    if (length(names) == 2) folded_html("One by the other", crossed_html(names, book)),
    if (numbers) htmltools::tags$p(class = "buttons", button_html("How they hang together",
      "items")), htmltools::tags$div(id = "items", `aria-live` = "polite"),
    htmltools::tags$p(class = "buttons", button_html("What they mean", "ask", verb = "define"))
  )
}

several_table <- function(names, book) {
  facts <- lapply(variables_in(book, names), facts_of)
  end <- function(name, fact, key) {
    type <- value_type(variable_in(book, name))
    if (type == "text" || is.na(fact[[key]])) return("")
    show_value(if (type == "date") as_date(fact[[key]]) else fact[[key]])
  }
  data.frame(variable = names, label = vapply(names, function(n) meaning_in(book, n)$label %||% "",
    ""), valid = vapply(facts, `[[`, 0, "valid"),
  missing = row_count(book) - vapply(facts, `[[`, 0, "valid"),
  lowest = unlist(Map(end, names, facts, "low")), highest = unlist(Map(end, names, facts, "high")),
  row.names = NULL)
}

crossed_html <- function(names, book) {
  few <- vapply(names, function(name) {
    is_counted(book, name) || facts_of(variable_in(book, name))$few
  }, NA)
  if (!all(few)) return(htmltools::tags$p("Too many different answers for a table."))
  table_html(crossed_table(names[1], names[2], book), paste("Rows of", names[1], "by", names[2]))
}

# A place that the page fills with a picture once everything else is there.
picture_place <- function(of, name) {
  htmltools::tags$div(class = "picture", `data-picture` = of, `data-name` = name)
}

look_picture <- function(name, book) {
  figure <- in_plain_settings(look_figure(look_at(book, list(subject_of_variable(name, book)))))
  bars <- nlevels(figure$data$key)
  height <- if (bars) 1.1 + 0.29 * bars else 2.5
  picture_html(figure, "look", paste0(named_label(book, name), ". ", validity_words(book, name),
    "."), height = height)
}

# The question, with the answers that make sense for what is chosen.
question_html <- function(state) {
  tags <- htmltools::tags
  if (!length(state$chosen) || !is.null(state$form)) return(NULL)
  forms <- fitting_forms(chosen_facts(state$book, state$chosen))
  others <- setdiff(vapply(all_desk_forms(), `[[`, "", "ask"), c(vapply(forms, `[[`, "", "ask"),
    desk_forms$define$ask))
  tags$section(`aria-labelledby` = "question-title",
    tags$h3(id = "question-title", tabindex = "-1", "What should become of it?"),
    tags$input(type = "search", id = "answer-search", placeholder = "Find, such as: regression",
      `aria-label` = "Find an answer", autocomplete = "off"),
    again_html(state), answers_in_groups(forms, starters_for(state)),
    if (length(others)) tags$p(class = "help", paste0("Not for what is chosen: ", paste(others,
      collapse = ", "), ". These want numbers, several variables, or few categories. Numbers of a",
      " nominal level count as names: What it means can say otherwise.")))
}

# The usual ones, then the others by what people want of them.
answers_in_groups <- function(forms, starters) {
  usual <- Filter(function(form) form$usual, c(starters, forms))
  others <- Filter(function(form) !form$usual, c(forms, starters))
  groups <- lapply(names(desk_groups), function(group) {
    these <- Filter(function(form) form$group == group, others)
    if (length(these)) htmltools::tags$div(class = "answer-group",
      htmltools::tags$h4(desk_groups[[group]]), answers_html_of(these))
  })
  htmltools::tagList(if (length(usual)) htmltools::tags$div(class = "answer-group",
    answers_html_of(usual)), groups)
}

answers_html_of <- function(forms) {
  htmltools::tags$div(class = "answers", lapply(forms, function(form) {
    button_html(htmltools::tagList(htmltools::tags$strong(form$ask), htmltools::tags$span(
      form$when)), "ask", verb = form$verb, starter = form$starter, class = "answer")
  }))
}

# What was done last: its receipt, or why it was not done.
last_html <- function(state) {
  if (!is.null(state$error) && is.null(state$form)) return(error_html(state$error))
  if (length(state$receipt)) htmltools::tagList(receipt_html(state$receipt, "What was done"))
}
