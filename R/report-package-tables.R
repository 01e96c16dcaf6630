# The two tables of a package, and what its descriptor says of each.

tables_of_package <- c(data = "data.csv", originals = "originals.csv")

write_originals <- function(book) {
  names <- original_names(book)
  columns <- lapply(self_named(names), written_values, book = book, keep_codes = TRUE,
    typed = TRUE)
  write_table_of_package("originals", columns, row_count(book))
}

write_table_of_package <- function(name, columns, rows) {
  write_atomically(tables_of_package[[name]], FALSE, function(put) {
    formats$csv$write(columns, rows, put, list(separator = ",", decimal = "."))
  })
}

# All columns, with the codes of what is missing, and why derived answers are.
columns_to_pack <- function(book) {
  columns <- lapply(self_named(names(book)), written_values, book = book, keep_codes = TRUE,
    typed = TRUE)
  why <- reason_columns(book, derived_names(book))
  places <- c(seq_along(columns), match(names(why), names(columns)) + 0.5)
  names(why) <- names_of_reasons(book)[names(why)]
  c(columns, why)[order(places)]
}

# Under which names it is told why derived variables are missing, by variable; none has the name of
# another.
names_of_reasons <- function(book) {
  made <- Filter(function(name) anyNA(column_of(variable_in(book, name))$x), derived_names(book))
  free <- make.unique(c(names(book), paste0(made, "_why")), sep = "_")
  setNames(utils::tail(free, length(made)), made)
}

# Two tables: all columns, and the originals alone, of which the sheet makes the others.
write_descriptor_of_package <- function(book, about) {
  tables <- tables_of_package[file.exists(tables_of_package)]
  resources <- unname(Map(describe_table, names(tables), tables, MoreArgs = list(book = book)))
  descriptor <- c(list("$schema" = data_package_profile, name = "package"), described(about),
    list(resources = resources, turns = list(sheet = sheet_file, of = "originals")))
  write_lines_whole(json_text(compact(descriptor)), descriptor_file, TRUE)
}

describe_table <- function(name, path, book) {
  fields <- lapply(if (name == "originals") original_names(book) else names(book),
    write_descriptor, book = book)
  if (name == "data") fields <- with_reasons(fields, names_of_reasons(book))
  list(
    name = name, path = path, description = told_of_file(path), type = "table", format = "csv",
    mediatype = "text/csv", encoding = "utf-8", bytes = file.size(path),
    hash = paste0("sha256:", sum_of_file(path)),
    schema = list(fields = fields, missingValues = list(""))
  )
}

with_reasons <- function(fields, reasons) {
  unlist(lapply(fields, function(field) {
    why <- reasons[field$name]
    c(list(field), if (!is.na(why)) list(list(name = unname(why), type = "string",
      title = paste("Why", field$name, "is missing"))))
  }), recursive = FALSE)
}
