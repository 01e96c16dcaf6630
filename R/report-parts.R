# What a report says, whatever it is written in.

# All of one derived variable.
variable_part <- function(name, book, told) {
  made <- derived_in(book, name)
  meaning <- made$meaning
  list(
    name = name, label = meaning$label %||% name, search = search_text(name, made), facts = variable_facts(name, book),
    words = made_in_words(name, book), formula = shorten(formula_text(made$expr), 400, "\u2026"),
    rules = rule_table(made), cross = cross_part(name, book), findings = told[told$variable == name, ],
    working = working_part(name, book), script = variable_lines_base(book, name, info_of(book)$name)
  )
}

search_text <- function(name, made) lower_case(paste(c(name, made$meaning$label, made$from, made$verb), collapse = " "))

variable_facts <- function(name, book) {
  made <- derived_in(book, name)
  meaning <- made$meaning
  facts <- made$facts
  range <- value_range(made)
  c(
    "From" = paste(made$from, collapse = ", "), "Made by" = made$verb, "Level" = meaning$level,
    "Direction" = if (length(direction_in_words(meaning))) paste("high =", direction_in_words(meaning)),
    "Unit" = meaning$unit, "Codes" = if (length(meaning$codes)) codes_in_words(meaning$codes),
    "Valid rows" = paste(grouped(facts$valid), "of", grouped(row_count(book))),
    "Missing" = if (length(count_kinds(made))) listed(count_kinds(made)),
    "Range" = if (length(range)) paste(brief_range(range), collapse = " to "), "Note" = meaning$note,
    "Learned" = paste(unlist(lapply(made$learned, learned_in_words)), collapse = "; ")
  )
}

brief_range <- function(range) if (inherits(range, "Date")) format(range) else brief_number(range)

# The arithmetic of the first row that has a value.
working_part <- function(name, book) {
  row <- which(!is.na(column_in(book, name)$x))[1]
  if (is.na(row)) return(NULL)
  steps <- as.data.frame(show_working(book, tidyselect::all_of(name), rows = row))
  list(row = row, lines = trimws(working_lines(steps)[-1]))
}

data_title <- function(book) {
  file <- info_of(book)$file
  if (is.null(file)) info_of(book)$name else basename(file)
}

# What was done, in one table.
summary_part <- function(book, told) {
  info <- info_of(book)
  open <- told[!nzchar(told$accepted), ]
  c(
    "Data" = data_title(book), "Rows" = grouped(row_count(book)),
    "Identified by" = info$id, "Original variables" = grouped(length(original_names(book))),
    "Derived variables" = grouped(length(derived_names(book))),
    "Open findings" = paste0(sum(open$severity == "warn"), " and ", counted(sum(open$severity == "note"), "note")),
    "Accepted findings" = if (nrow(told) > nrow(open)) grouped(nrow(told) - nrow(open)),
    "Fingerprint of the originals" = paste0(substr(info$fingerprint, 1, 16), "\u2026")
  )
}

# Source by result, where there is one source.
cross_part <- function(name, book) {
  from <- derived_in(book, name)$from
  if (length(from) != 1) return(NULL)
  if (!is_counted(book, name) && !facts_of(book, name)$few) return(NULL)
  wide <- cross_wide(cross_two(from, name, book))
  if (nrow(wide$rows) > 40 || nrow(wide$columns) > 12) return(NULL)
  heads <- level_words(wide$columns$column, wide$columns$column_label, wide$columns$column_missing)
  body <- as.data.frame(wide$cells)
  body[] <- lapply(body, function(n) ifelse(n == 0, "", grouped(n)))
  names(body) <- heads
  cbind(setNames(data.frame(level_words(wide$rows$row, wide$rows$row_label, wide$rows$row_missing)), from), body)
}
