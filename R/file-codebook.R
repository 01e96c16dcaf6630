#' Read and write codebook files
#'
#' Three kinds of file are read. What a file says beyond what a variable can mean here is told.
#'
#' A Data Package (version 2) descriptor with a Table Schema, in JSON. Used are `title` (label),
#' `description` (note), `categories`, `categoriesOrdered`, `missingValues` and
#' `constraints`; what the standard has no word for is in the extra properties
#' `level`, `high`, `low`, `unit`, `askedIf`, `read` and `derivedFrom`. `decimalChar`, `groupChar`
#' and the `format` of dates say how texts are read, as `read` of [define()] does.
#'
#' A codebook in DDI-Codebook 2.5, in XML. Used are of each `var` its `labl`, `qstnLit` (note),
#' `catgry` with its `missing`, `invalrng`, `valrng`, and `nature`.
#'
#' A table, in any format of [read_data()], with a row for each code of each variable, and columns
#' named `variable`, `label`, `code`, `code label`, `missing`, and, where they are there, `level`,
#' `unit`, `note`, `minimum` and `maximum`; `question`, `value`, `value label` and other words that
#' are usual count as well. Where `variable` is empty, the row goes on with the one above. `missing`
#' says yes, or why such an answer is missing.
#'
#' @param path The file.
#' @return `read_codebook()` gives a list of meanings, named by variable, to be
#'   given to [turnbook()]; `write_codebook()` the path, invisibly.
#' @section Errors: `ableturn_error_codebook`, which names the field.
#' @examples
#' read_codebook(demo_file("ferry-survey.codebook.json"))$crossings
#' @export
read_codebook <- function(path) {
  check_readable(path)
  sign <- first_sign(path)
  read <- if (sign == "<") read_ddi else
    if (sign == "{" || ending_of(path) == "json") read_descriptor else read_codebook_table
  book <- read(path)
  unused <- attr(book, "unused")
  if (length(unused)) show_receipt(new_receipt(list(verb = "codebook", path = basename(path),
    unused = unused), list(), length(book)))
  structure(book, class = "codebook_file", unused = NULL)
}

# The first letter of a file, whatever marks of byte order and blanks stand before it.
first_sign <- function(path) {
  bytes <- first_bytes(absolute_path(path), 200)
  rawToChar(bytes[bytes > as.raw(0x20) & bytes < as.raw(0x7f)][1])
}

read_descriptor <- function(path) {
  broken <- function(...) fail("codebook", path = path, why = paste0(...))
  parsed <- tryCatch(parsed_json(file_text(path)), error = identity)
  if (inherits(parsed, "ableturn_error")) stop(parsed)
  if (inherits(parsed, "error")) broken("it is not valid JSON")
  fields <- codebook_fields(parsed)
  if (!length(fields)) broken("it describes no fields (resources[1].schema.fields)")
  meanings_of_fields(fields, path)
}

# What the fields of a schema mean. `common`: what stands for no answer in all that say nothing of
# it themselves.
meanings_of_fields <- function(fields, path, common = NULL) {
  broken <- function(...) fail("codebook", path = path, why = paste0(...))
  names <- lapply(fields, part_of, "name")
  bad <- which(!vapply(names, function(name) is_one(name, is.character) && nzchar(name), NA))
  if (length(bad)) broken("field ", bad[1], " has no name")
  names <- unlist(names)
  twice <- names[duplicated(names)]
  if (length(twice)) broken("field ", twice[1], " stands twice")
  fields <- lapply(fields, function(field) {
    if (is.null(part_of(field, "missingValues"))) c(field, list(missingValues = common)) else field
  })
  setNames(Map(read_field, fields, names, path), names)
}

# The fields of the first table, wherever a descriptor has them; none where it has another form.
codebook_fields <- function(parsed) {
  resources <- part_of(parsed, "resources")
  first <- if (is.list(resources) && length(resources) && is.null(names(resources))) resources[[1]]
  found <- part_of(part_of(first, "schema"), "fields") %||% part_of(part_of(parsed, "schema"),
    "fields") %||%
    part_of(parsed, "fields")
  if (is.list(found) && is.null(names(found))) found
}

# A part of a mapping by its whole name; NULL of anything else.
part_of <- function(x, key) if (is.list(x) && key %in% names(x)) x[[key]]

#' @export
open_codebook.character <- function(codebook) {
  note_opened(codebook)
  read_codebook(codebook)
}

#' @export
open_codebook.codebook_file <- function(codebook) codebook

read_field <- function(field, name, path) {
  get <- function(key) part_of(field, key)
  as_meaning(path, name,
    check_meaning(
      label = get("title"), note = get("description"), codes = read_categories(get("categories")),
      missing = read_missing(get("missingValues")), limits = read_limits(get("constraints")),
      level = get("level") %||% if (isTRUE(get("categoriesOrdered"))) "ordinal",
      high = get("high"), low = get("low"), unit = get("unit"),
      asked_if = read_asked(get("askedIf")), read = get("read") %||% read_way(get),
      role = known_role(get("role")), set = get("set")
    ))
}

# What the standard says of how numbers and dates are typed.
read_way <- function(get) {
  if (identical(get("decimalChar"), ",")) return("decimal comma")
  if (get("type") %||% "" %in% c("number", "integer") && identical(get("groupChar"), ",")) {
    return("decimal point")
  }
  if (!identical(get("type"), "date")) return(NULL)
  start <- substr(get("format") %||% "", 1, 2)
  switch(start, "%d" = "day first", "%m" = "month first")
}

read_categories <- function(categories) {
  if (!length(categories)) return(NULL)
  pairs <- lapply(as.list(categories), read_pair, key = "categories")
  values <- unlist(lapply(pairs, `[[`, "value"))
  setNames(values, vapply(pairs, `[[`, "", "label"))
}

# A value and its label, or a value alone.
read_pair <- function(entry, key) {
  value <- if (is.list(entry)) part_of(entry, "value") else entry
  label <- (if (is.list(entry)) part_of(entry, "label")) %||% value
  plain <- function(x) is_one(x, function(v) is.character(v) || is.numeric(v) || is.logical(v))
  if (!plain(value) || !plain(label)) fail("codebook-pair", key = key)
  list(value = value, label = show_value(label))
}

# The empty text is blank and needs no reason.
read_missing <- function(entries) {
  pairs <- lapply(as.list(entries), read_pair, key = "missingValues")
  pairs <- Filter(function(pair) !identical(pair$value, ""), pairs)
  if (!length(pairs)) return(NULL)
  values <- lapply(pairs, function(p) read_code(p$value))
  names(values) <- vapply(pairs, missing_reason, "")
  values
}

missing_reason <- function(pair) {
  if (pair$label == show_value(pair$value)) paste("Code", pair$label) else pair$label
}

read_limits <- function(constraints) {
  limits <- list(part_of(constraints, "minimum"), part_of(constraints, "maximum"))
  if (all(vapply(limits, is_one, NA, type = is.numeric))) unlist(limits)
}

# A condition that can be read; whether it fits the data shows when these are opened.
read_asked <- function(text) {
  if (is_one(text, is.character)) formula_text(parse_formula(text)) else text
}

#' @rdname read_codebook
#' @param book A turnbook.
#' @param overwrite Replace a file that exists.
#' @details `write_codebook()` writes a descriptor to a `.json` file; a table as above to a `.csv`
#'   or `.tsv` file; DDI-Codebook 2.5 to an `.xml` file, where each derived variable has its
#'   `derivation`: from which variables, how in words, and the lines of R; and to an `.html` file a
#'   page to read, with how often each answer came (texts that have no codes are only counted).
#' @export
write_codebook <- function(book, path, overwrite = FALSE) {
  book <- as_book(book)
  need_given(path)
  check_ending(path, c(names(codebook_formats), "json"), "A codebook")
  check_not_source(path, book)
  ending <- ending_of(path)
  write <- if (nzchar(ending)) codebook_formats[[ending]]
  (write %||% write_descriptor_of_data)(book, path, overwrite)
}

# How codebooks are written, by the ending of the file: functions of a book, a path, and whether a
# file may be replaced.
codebook_formats <- new.env(parent = emptyenv())

codebook_format <- function(ending, write) assign(ending, write, codebook_formats)

codebook_format("xml", function(book, path, overwrite) write_ddi(book, path, overwrite))

for (ending in c("csv", "tsv")) codebook_format(ending, function(book, path, overwrite) {
  write_codebook_table(book, path, overwrite)
})

write_descriptor_of_data <- function(book, path, overwrite) {
  file <- info_of(book)$file
  name <- tolower(gsub("[^A-Za-z0-9._-]+", "-", sub("\\.[^.]*$", "", basename(file %||% "survey"))))
  resource <- list(name = name, path = if (!is.null(file)) basename(file),
    schema = list(fields = lapply(names(book), write_descriptor, book = book),
      missingValues = list("")))
  descriptor <- list("$schema" = data_package_profile, resources = list(compact(resource)))
  write_lines_whole(json_text(descriptor), path, overwrite)
}

data_package_profile <- "https://datapackage.org/profiles/2.0/datapackage.json"

json_text <- function(x) jsonlite::toJSON(x, auto_unbox = TRUE, pretty = TRUE, digits = NA)

write_descriptor <- function(name, book) {
  m <- meaning_in(book, name)
  field <- list(
    name = name, title = m$label, description = m$note,
    type = schema_type(column_of(variable_in(book, name))$x),
    categories = write_pairs(unname(m$codes), names(m$codes)),
    categoriesOrdered = if (identical(m$level, "ordinal") && length(m$codes)) TRUE,
    missingValues = write_missing(m$missing),
    constraints = if (length(m$limits)) list(minimum = m$limits[1], maximum = m$limits[2]),
    level = m$level, high = m$high, low = m$low, unit = m$unit, askedIf = m$asked_if, read = m$read,
    role = m$role, set = m$set,
    decimalChar = if (identical(m$read, "decimal comma")) ",",
    groupChar = switch(m$read %||% "", "decimal comma" = ".", "decimal point" = ","),
    derivedFrom = if (is_derived(book, name)) as.list(derived_in(book, name)$from)
  )
  compact(field)
}

schema_type <- function(x) {
  if (is.character(x)) "string" else if (inherits(x,
    "Date")) "date" else if (is.logical(x)) "boolean"
  else if (is_whole(x)) "integer" else "number"
}

write_pairs <- function(values, labels) {
  if (length(values)) {
    Map(function(v, l) list(value = v, label = l), values, labels, USE.NAMES = FALSE)
  }
}

# Ranges have no place in the standard; the values are what it can hold.
write_missing <- function(missing) {
  pairs <- unlist(lapply(names(missing), function(kind) {
    values <- unlist(lapply(missing[[kind]], `[[`, "values"))
    write_pairs(show_value(values), rep(kind, length(values)))
  }), recursive = FALSE)
  if (length(pairs)) c(list(list(value = "", label = "blank")), pairs)
}
