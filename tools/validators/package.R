# Reads the Data Package and the DDI codebook that make.R wrote by packages that others made, and
# compares them with expected.json. Use: Rscript package.R FOLDER
folder <- commandArgs(TRUE)[1]
inside <- function(...) file.path(folder, ...)
expected <- jsonlite::read_json(inside("expected.json"))
columns <- c(expected$columns, expected$reasons)

tell <- function(file, reader, problems, what) {
  said <- if (length(problems)) paste(utils::head(problems, 3), collapse = "; ") else what
  cat(if (length(problems)) "FAILED" else "ok", file, reader, paste0(said, "\n"), sep = "\t")
}

same_values <- function(column, given) {
  wanted <- vapply(column$values, function(v) if (is.null(v)) NA_character_ else v, "")
  if (column$type == "number") {
    return(isTRUE(all.equal(as.numeric(wanted), as.numeric(given), tolerance = 1e-15)))
  }
  if (column$type == "date") given <- format(as.Date(given))
  identical(ifelse(is.na(given), "", as.character(given)), ifelse(is.na(wanted), "", wanted))
}

compare <- function(file, reader, data) {
  off <- Filter(function(column) !same_values(column, data[[column$name]]), columns)
  tell(file, reader, vapply(off, function(column) paste("values of", column$name), ""),
    sprintf("%d columns, %d values", length(columns), length(columns) * nrow(data)))
}

same_pairs <- function(a, b) {
  in_order <- function(x) as.character(unlist(x)[order(names(x))])
  setequal(names(a), names(b)) && identical(in_order(a), in_order(b))
}

# Labels and reasons by code, from the fields of the schema as a reader gives them.
compare_codes <- function(file, reader, fields) {
  by_code <- function(pairs) {
    pairs <- Filter(function(pair) is.list(pair) && !identical(pair$value, ""), pairs)
    stats::setNames(lapply(pairs, `[[`, "label"), vapply(pairs, function(p) {
      format(p$value, scientific = FALSE)
    }, ""))
  }
  names(fields) <- vapply(fields, `[[`, "", "name")
  problems <- unlist(lapply(expected$columns, function(column) {
    field <- fields[[column$name]]
    c(if (!same_pairs(by_code(field$categories), column$labels)) paste("labels of", column$name),
      if (!same_pairs(by_code(field$missingValues), column$missing)) paste("reasons of",
        column$name))
  }))
  count <- function(key) sum(lengths(lapply(expected$columns, `[[`, key)))
  tell(file, reader, problems, sprintf("%d labels, %d codes with a reason", count("labels"),
    count("missing")))
}

descriptor <- inside("package", "datapackage.json")
read <- frictionless::read_package(descriptor)
fields <- frictionless::schema(read, "data")$fields
compare_codes("package/datapackage.json", "frictionless (R)", fields)
compare("package/data.csv", "frictionless (R)", frictionless::read_resource(read, "data"))

opened <- datapackage::open_datapackage(descriptor)
resource <- datapackage::dp_resource(opened, "data")
compare("package/data.csv", "datapackage (R)", as.data.frame(datapackage::dp_get_data(resource)))
compare_codes("package/datapackage.json", "datapackage (R)", lapply(columns, function(column) {
  unclass(datapackage::dp_field(resource, column$name))
}))

schema <- xml2::read_xml(system.file("codebook.xsd", package = "rddi"))
book <- xml2::read_xml(inside("package", "codebook.xml"))
valid <- xml2::xml_validate(book, schema)
xml2::xml_set_name(xml2::xml_find_first(book, "//*[local-name()='catValu']"), "value")
spoiled <- xml2::xml_validate(book, schema)
tell("package/codebook.xml", "XSD of DDI-Codebook 2.5 (libxml2)", c(attr(valid, "errors"),
  if (spoiled) "an element of another name is valid"), "valid; spoiled, it is not")
