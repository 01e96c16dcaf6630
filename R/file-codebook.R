#' Read and write codebook files
#'
#' The codebook file is an open standard: a Data Package (version 2) descriptor
#' with a Table Schema, in JSON. Used are `title` (label), `description` (note),
#' `categories`, `categoriesOrdered`, `missingValues` and
#' `constraints`; what the standard has no word for is in the extra properties
#' `level`, `high`, `low`, `unit`, `askedIf` and `derivedFrom`.
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
  parsed <- tryCatch(jsonlite::fromJSON(path, simplifyVector = FALSE), error = identity)
  if (inherits(parsed, "error")) fail("codebook", path = path, why = "it is not valid JSON")
  fields <- codebook_fields(parsed)
  if (!length(fields)) fail("codebook", path = path, why = "it describes no fields (resources[1].schema.fields)")
  names <- vapply(fields, function(f) f$name %||% "", "")
  if (any(!nzchar(names))) fail("codebook", path = path,
    why = paste("field", which(!nzchar(names))[1], "has no name"))
  meanings <- Map(read_field, fields, names, path)
  names(meanings) <- names
  structure(meanings, class = "codebook_file")
}

codebook_fields <- function(parsed) {
  parsed$resources[[1]]$schema$fields %||% parsed$schema$fields %||% parsed$fields
}

#' @export
open_codebook.character <- function(codebook) read_codebook(codebook)

#' @export
open_codebook.codebook_file <- function(codebook) codebook

read_field <- function(field, name, path) {
  tryCatch(
    check_meaning(
      label = field$title, note = field$description, codes = read_categories(field$categories),
      missing = read_missing(field$missingValues), limits = read_limits(field$constraints),
      level = field$level %||% if (isTRUE(field$categoriesOrdered)) "ordinal",
      high = field$high, low = field$low, unit = field$unit, asked_if = field$askedIf
    ),
    ableturn_error = function(e) {
      fail("codebook", path = path, why = paste0("field ", name, ": ", conditionMessage(e)))
    }
  )
}

read_categories <- function(categories) {
  if (!length(categories)) return(NULL)
  pairs <- lapply(categories, read_pair)
  codes <- unlist(lapply(pairs, `[[`, "value"))
  names(codes) <- vapply(pairs, `[[`, "", "label")
  codes
}

read_pair <- function(entry) {
  if (!is.list(entry)) return(list(value = entry, label = as.character(entry)))
  list(value = entry$value, label = as.character(entry$label %||% entry$value))
}

# The empty text is blank and needs no reason.
read_missing <- function(entries) {
  entries <- Filter(function(e) !identical(read_pair(e)$value, ""), entries)
  if (!length(entries)) return(NULL)
  pairs <- lapply(entries, read_pair)
  values <- lapply(pairs, function(p) read_code(p$value))
  names(values) <- vapply(pairs, missing_reason, "")
  values
}

missing_reason <- function(pair) {
  if (pair$label == show_value(pair$value)) paste("Code", pair$label) else pair$label
}

read_limits <- function(constraints) {
  limits <- c(constraints$minimum, constraints$maximum)
  if (length(limits) == 2 && is.numeric(limits)) limits
}

#' @rdname read_codebook
#' @param book A turnbook.
#' @param overwrite Replace a file that exists.
#' @export
write_codebook <- function(book, path, overwrite = FALSE) {
  book <- as_book(book)
  name <- tolower(gsub("[^A-Za-z0-9._-]+", "-",
    sub("\\.[^.]*$", "", basename(held(book, "info")$file %||% "survey"))))
  resource <- list(
    name = name, path = if (!is.null(held(book, "info")$file)) basename(held(book, "info")$file),
    schema = list(fields = lapply(names(book), write_descriptor, book = book), missingValues = list(""))
  )
  descriptor <- list(
    "$schema" = "https://datapackage.org/profiles/2.0/datapackage.json",
    resources = list(resource[!vapply(resource, is.null, NA)])
  )
  json <- jsonlite::toJSON(descriptor, auto_unbox = TRUE, pretty = TRUE, digits = NA)
  write_lines_whole(json, path, overwrite)
}

write_descriptor <- function(name, book) {
  m <- meaning_in(book, name)
  field <- list(
    name = name, title = m$label, description = m$note, type = schema_type(column_in(book, name)$x),
    categories = write_pairs(unname(m$codes), names(m$codes)),
    categoriesOrdered = if (identical(m$level, "ordinal") && length(m$codes)) TRUE,
    missingValues = write_missing(m$missing),
    constraints = if (length(m$limits)) list(minimum = m$limits[1], maximum = m$limits[2]),
    level = m$level, high = m$high, low = m$low, unit = m$unit, askedIf = m$asked_if,
    derivedFrom = if (is_derived(book, name)) as.list(held(book, "columns")[[name]]$from)
  )
  field[!vapply(field, is.null, NA)]
}

schema_type <- function(x) {
  if (is.character(x)) "string" else if (inherits(x, "Date")) "date" else if (is.logical(x)) "boolean"
  else if (is_whole(x)) "integer" else "number"
}

write_pairs <- function(values, labels) {
  if (length(values)) Map(function(v, l) list(value = v, label = l), values, labels, USE.NAMES = FALSE)
}

# Ranges have no place in the standard; the values are what it can hold.
write_missing <- function(missing) {
  pairs <- unlist(lapply(names(missing), function(kind) {
    values <- unlist(lapply(missing[[kind]], `[[`, "values"))
    write_pairs(show_value(values), rep(kind, length(values)))
  }), recursive = FALSE)
  if (length(pairs)) c(list(list(value = "", label = "blank")), pairs)
}
