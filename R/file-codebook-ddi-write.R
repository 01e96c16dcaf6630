# A codebook written in DDI-Codebook 2.5; the order of its parts is that of the standard.

write_ddi <- function(book, path, overwrite) {
  need_package("xml2", "DDI codebooks")
  info <- info_of(book)
  parsed <- xml2::xml_new_root("codeBook", xmlns = "ddi:codebook:2_5", version = "2.5")
  add_study(xml2::xml_add_child(parsed, "stdyDscr"), title_of(book), info$about)
  file <- info$table %||% info$file
  if (!is.null(file)) add_text(parsed, c("fileDscr", "fileTxt", "fileName"), basename(file))
  data <- xml2::xml_add_child(parsed, "dataDscr")
  for (name in names(book)) add_var(data, name, book)
  write_lines_whole(strsplit(as.character(parsed), "\n", fixed = TRUE)[[1]], path, overwrite)
}

# What was said of the data as a whole, see `about` of write_package().
add_study <- function(study, title, about) {
  citation <- xml2::xml_add_child(study, "citation")
  add_text(citation, c("titlStmt", "titl"), title)
  if (length(about$creators)) {
    responsible <- xml2::xml_add_child(citation, "rspStmt")
    for (name in about$creators) add_text(responsible, "AuthEnty", name)
  }
  if (!is.null(about$contact)) add_text(citation, c("distStmt", "contact"), about$contact)
  if (!is.null(about$version)) add_text(citation, c("verStmt", "version"), about$version)
  if (!is.null(about$citation)) add_text(citation, "biblCit", about$citation)
  if (!is.null(about$description)) add_text(study, c("stdyInfo", "abstract"), about$description)
  if (!is.null(about$source)) add_text(study, c("method", "dataColl", "sources", "dataSrc"),
    about$source)
  if (!is.null(about$licence)) add_text(study, c("dataAccs", "useStmt", "conditions"),
    about$licence)
}

# A text inside of elements, one in the other; signs that XML cannot hold are shown as such.
no_xml <- "[\u0001-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]"

add_text <- function(node, elements, text, ...) {
  for (element in elements) node <- xml2::xml_add_child(node, element)
  text <- gsub(no_xml, "\ufffd", enc2utf8(text), perl = TRUE)
  xml2::xml_set_text(node, text)
  attributes <- list(...)
  for (key in names(attributes)) xml2::xml_set_attr(node, key, attributes[[key]])
  invisible(node)
}

add_var <- function(data, name, book) {
  m <- meaning_in(book, name)
  var <- xml2::xml_add_child(data, "var", ID = var_id(name, book), name = name)
  if (!is.null(m$level)) xml2::xml_set_attr(var, "nature", m$level)
  if (length(m$codes)) xml2::xml_set_attr(var, "intrvl", "discrete")
  if (!is.null(m$label)) add_text(var, "labl", m$label)
  if (length(m$limits)) add_range(xml2::xml_add_child(var, "valrng"), m$limits)
  add_invalid(var, m$missing)
  if (!is.null(m$asked_if)) add_text(var, "universe", m$asked_if)
  add_categories(var, m)
  if (is_derived(book, name)) add_derivation(var, name, book)
  x <- column_in(book, name)$x
  xml2::xml_add_child(var, "varFormat", type = if (is.numeric(x)) "numeric" else "character")
  if (!is.null(m$note)) add_text(var, "notes", m$note)
}

# A name may hold what an identifier of XML may not.
var_id <- function(name, book) paste0("V", match(name, names(book)))

# `held`: whether each end is inside.
add_range <- function(node, ends, held = c(TRUE, TRUE)) {
  range <- xml2::xml_add_child(node, "range")
  keys <- paste0(c("min", "max"), ifelse(held, "", "Exclusive"))
  for (i in which(is.finite(as.numeric(ends)))) {
    xml2::xml_set_attr(range, keys[i], show_number(as.numeric(ends[i])))
  }
}

# Single values that stand for no answer, and stretches of them.
add_invalid <- function(var, missing) {
  matchers <- unlist(unname(missing), recursive = FALSE)
  if (!length(matchers)) return()
  node <- xml2::xml_add_child(var, "invalrng")
  for (m in matchers) {
    if (m$type == "range") add_range(node, c(m$low, m$high), c(m$low_in, m$high_in))
    for (value in show_value(m$values)) xml2::xml_add_child(node, "item", VALUE = value)
  }
}

add_categories <- function(var, m) {
  gone <- rows_of_missing(m$missing)
  single <- !grepl(" ", gone$code, fixed = TRUE)
  add <- function(code, label, missing) {
    node <- xml2::xml_add_child(var, "catgry")
    if (missing) xml2::xml_set_attr(node, "missing", "Y")
    add_text(node, "catValu", code)
    add_text(node, "labl", label)
  }
  Map(add, show_value(unname(m$codes)), names(m$codes), FALSE)
  Map(add, gone$code[single], gone$reason[single], TRUE)
}

# From which variables, by which turn, and the lines of plain R that make it.
add_derivation <- function(var, name, book) {
  derived <- derived_in(book, name)
  node <- xml2::xml_add_child(var, "derivation", var = paste(vapply(derived$from, var_id, "",
    book = book), collapse = " "))
  add_text(node, "drvdesc", made_as(name, book))
  lines <- tryCatch(variable_lines_base(book, name, data_in_script(book)),
    ableturn_error = function(e) NULL)
  if (length(lines)) add_text(node, "drvcmd", paste(lines, collapse = "\n"), syntax = "R")
}
