# What a report says, whatever it is written in.

# All of one derived variable.
variable_part <- function(name, book, told) {
  derived <- derived_in(book, name)
  meaning <- derived$meaning
  list(
    name = name, label = meaning$label %||% name, search = search_text(name, derived),
    facts = variable_facts(name, book),
    words = made_in_words(name, book), formula = shorten(formula_text(derived$expr), 400, "\u2026"),
    rules = rule_table(derived), cross = cross_part(name, book),
    findings = told[told$variable == name, ],
    working = working_part(name, book), script = script_part(name, book)
  )
}

# The lines that make the variable, in the script of the whole.
script_part <- function(name, book) {
  if (!site_can(site_of(book), "scripts in R")) {
    return(list(title = "In the SQL script", lines = variable_lines_sql(book, name)))
  }
  list(title = "In the base R script", lines = variable_lines_base(book, name, info_of(book)$name))
}

search_text <- function(name, derived) {
  lower_case(paste(c(name, derived$meaning$label, derived$from, derived$verb), collapse = " "))
}

variable_facts <- function(name, book) {
  derived <- derived_in(book, name)
  meaning <- derived$meaning
  facts <- derived$facts
  range <- value_range(derived)
  c(
    "From" = paste(derived$from, collapse = ", "), "Made by" = derived$verb,
    "Level" = meaning$level, "Direction" = if (length(direction_in_words(meaning))) paste("high =",
      direction_in_words(meaning)),
    "Unit" = meaning$unit, "Codes" = if (length(meaning$codes)) codes_in_words(meaning$codes),
    "Valid rows" = paste(grouped(facts$valid), "of", grouped(row_count(book))),
    "Missing" = if (length(missing_of(derived))) listed(missing_of(derived)),
    "Range" = if (length(range)) paste(brief_range(range), collapse = " to "),
    "Note" = meaning$note,
    "Learned" = paste(unlist(lapply(derived$learned, learned_in_words)), collapse = "; ")
  )
}

brief_range <- function(range) if (inherits(range, "Date")) format(range) else brief_number(range)

# The arithmetic of the first row that has a value.
working_part <- function(name, book) {
  if (!site_can(site_of(book), "row numbers")) return(working_by_id(name, book))
  row <- which(!is.na(column_of(variable_in(book, name))$x))[1]
  if (is.na(row)) return(NULL)
  steps <- as.data.frame(show_working(book, tidyselect::all_of(name), rows = row))
  list(row = paste("row", row), lines = trimws(working_lines(steps)))
}

# Of a table: of the first of some rows, told by the identifier; none where that is not known.
working_by_id <- function(name, book) {
  info <- info_of(book)
  if (is.null(info$id)) return(NULL)
  ids <- ids_at(info$site, info$id, 50)
  near <- book_of_ids(book, name, ids)
  row <- which(!is.na(column_of(variable_in(near, name))$x))[1]
  if (is.na(row)) return(NULL)
  steps <- as.data.frame(show_working(near, tidyselect::all_of(name), rows = row))
  list(row = paste(info$id, show_value(original_in(near, info$id)[row])),
    lines = trimws(working_lines(steps)))
}

# What was done, in one table.
summary_part <- function(book, told) {
  c(counts_part(book, told),
    "Fingerprint of the originals" = if (site_can(site_of(book), "fingerprint")) {
      paste0(substr(fingerprint_of(book), 1, 16), "\u2026")
    })
}

# As far as it is known without going through all data.
counts_part <- function(book, told) {
  info <- info_of(book)
  open <- told[!nzchar(told$accepted), ]
  c(
    "Data" = data_title(book), "Rows" = grouped(row_count(book)),
    "Identified by" = info$id, "Original variables" = grouped(length(original_names(book))),
    "Derived variables" = grouped(length(derived_names(book))),
    "Open findings" = paste0(sum(open$severity == "warn"), " and ",
      counted(sum(open$severity == "note"), "note")),
    "Accepted findings" = if (nrow(told) > nrow(open)) grouped(nrow(told) - nrow(open))
  )
}

# Source by result, where there is one source.
cross_part <- function(name, book) {
  from <- derived_in(book, name)$from
  if (length(from) != 1) return(NULL)
  if (!is_counted(book, name) && !facts_of(variable_in(book, name))$few) return(NULL)
  crossed_table(from, name, book)
}

# The rows of one variable by another, where they fit a page.
crossed_table <- function(from, name, book) {
  # of a table of a database so many combinations are not fetched
  both <- tryCatch(cross_two(from, name, book), ableturn_error_rows_stay = function(e) NULL)
  if (is.null(both)) return(NULL)
  wide <- cross_wide(both)
  if (nrow(wide$rows) > 40 || nrow(wide$columns) > 12) return(NULL)
  heads <- level_words(wide$columns$column, wide$columns$column_label, wide$columns$column_missing)
  body <- as.data.frame(wide$cells)
  body[] <- lapply(body, function(n) ifelse(n == 0, "", grouped(n)))
  names(body) <- heads
  cbind(setNames(data.frame(level_words(wide$rows$row, wide$rows$row_label, wide$rows$row_missing)),
    from), body)
}

# How a variable is made, in a sentence.
made_in_words <- function(name, book) paste0(upper_first(made_shortly(name, book)), ".")

made_shortly <- function(name, book) shorten(made_as(name, book), 400, "\u2026")

# A methods paragraph, a sentence for each turn, ready for a paper.
methods_words <- function(book) {
  turns <- Filter(function(entry) entry$type == "turn", steps_of(book))
  told <- vapply(turns, function(entry) methods_sentence(entry$turn, book), "")
  c(told, paste0("All ", grouped(length(derived_names(book))),
    " variables were derived with Able Turn ",
    utils::packageVersion("ableturn"), "; the originals (", grouped(row_count(book)),
    " rows) were not changed."))
}

methods_sentence <- function(turn, book) {
  name <- turn$makes[1]
  if (length(turn$makes) > 1) return(several_sentence(turn, book))
  derived <- derived_in(book, name)
  called <- paste0(upper_first(derived$meaning$label %||% name), " (", name, ")")
  rest <- paste0("n = ", grouped(derived$facts$valid), spread_words(name, book))
  how <- made_shortly(name, book)
  alpha <- if (has_trait(derived$verb, "scores items") &&
    is_row_node(derived$expr)) alpha_of_score(name, book)
  paste0(called, " was ", how, " (", paste(c(rest, alpha), collapse = ", "), ").",
    codes_sentence(derived, book))
}

several_sentence <- function(turn, book) {
  derived <- derived_in(book, turn$makes[1])
  paste0(grouped(length(turn$makes)), " variables (", name_list(turn$makes, 6), ") were made by ",
    type_of_turn(derived$verb)$doing, " from ",
    from_in_words(unique(unlist(lapply(turn$makes, function(v) derived_in(book, v)$from)))), ".")
}

spread_words <- function(name, book) {
  derived <- derived_in(book, name)
  if (!is.numeric(derived$x[0]) || length(derived$meaning$codes) || derived$facts$valid < 2 ||
    identical(derived$meaning$level, "nominal")) {
    return("")
  }
  told <- moments_at(site_of_one(derived), as.name(name), of = c("mean", "sd"))
  paste0(", M = ", two_digits(told$mean), ", SD = ", two_digits(told$sd))
}

alpha_of_score <- function(name, book) {
  facts <- tryCatch(attr(analysis_of_score(name, book), "scale"), ableturn_error = function(e) NULL)
  if (length(facts)) paste("Cronbach's alpha =", two_digits(facts$alpha))
}

codes_sentence <- function(derived, book) {
  if (is.null(derived$rules)) return("")
  table <- rule_table(derived)
  label <- ifelse(nzchar(table$label), table$label, table$code)
  paste0(" Its values are ", paste0(label, " (", table[["made from"]], "; n = ",
    grouped(table$rows), ")", collapse = ", "), ".")
}

upper_first <- function(text) paste0(upper_case(substr(text, 1, 1)), substring(text, 2))
