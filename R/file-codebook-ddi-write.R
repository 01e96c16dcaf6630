# A codebook written in DDI-Codebook 2.5; the order of its parts is that of the standard.

write_ddi <- plainly(function(book, path, overwrite) {
  info <- info_of(book)
  file <- info$table %||% info$file
  parts <- c(
    study_xml(title_of(book), info$about),
    if (!is.null(file)) xml_element("fileDscr", xml_element("fileTxt",
      xml_text("fileName", basename(file)))),
    xml_element("dataDscr", vapply(names(book), var_xml, "", book = book))
  )
  write_lines_whole(c(xml_head, xml_element("codeBook", parts, xmlns = "ddi:codebook:2_5",
    version = "2.5")), path, overwrite)
})

# What was said of the data as a whole, see `about` of write_package().
study_xml <- function(title, about) {
  within <- function(elements, text) {
    if (!length(text)) return(NULL)
    around <- rev(elements[-length(elements)])
    Reduce(function(inside, element) xml_element(element, inside), around,
      xml_text(elements[length(elements)], text))
  }
  citation <- c(within(c("titlStmt", "titl"), title), within(c("rspStmt", "AuthEnty"),
    about$creators), within(c("distStmt", "contact"), about$contact),
  within(c("verStmt", "version"), about$version), within("biblCit", about$citation))
  xml_element("stdyDscr", c(
    xml_element("citation", citation), within(c("stdyInfo", "abstract"), about$description),
    within(c("method", "dataColl", "sources", "dataSrc"), about$source),
    within(c("dataAccs", "useStmt", "conditions"), about$licence)
  ))
}

var_xml <- function(name, book) {
  m <- meaning_in(book, name)
  numeric <- is.numeric(column_of(variable_in(book, name))$x)
  parts <- c(
    xml_text("labl", m$label),
    if (length(m$limits)) xml_element("valrng", range_xml(m$limits)), invalid_xml(m$missing),
    xml_text("universe", m$asked_if), categories_xml(m),
    if (is_derived(book, name)) derivation_xml(name, book),
    xml_element("varFormat", type = if (numeric) "numeric" else "character"),
    xml_text("notes", m$note)
  )
  xml_element("var", parts, ID = var_id(name, book), name = name, nature = m$level,
    intrvl = if (length(m$codes)) "discrete")
}

# A name may hold what an identifier of XML may not.
var_id <- function(name, book) paste0("V", match(name, names(book)))

# `held`: whether each end is inside.
range_xml <- function(ends, held = c(TRUE, TRUE)) {
  ends <- as.numeric(ends)
  shown <- lapply(ends, function(end) if (is.finite(end)) show_number(end))
  names(shown) <- paste0(c("min", "max"), ifelse(held, "", "Exclusive"))
  do.call(xml_element, c(list("range", NULL), shown))
}

# Single values that stand for no answer, and stretches of them.
invalid_xml <- function(missing) {
  matchers <- unlist(unname(missing), recursive = FALSE)
  if (!length(matchers)) return(NULL)
  xml_element("invalrng", unlist(lapply(matchers, function(m) {
    c(if (m$type == "range") range_xml(c(m$low, m$high), c(m$low_in, m$high_in)),
      if (length(m$values)) paste0("<item VALUE=\"", for_xml(show_value(m$values)), "\"/>"))
  })))
}

categories_xml <- function(m) {
  gone <- rows_of_missing(m$missing)
  gone <- lapply(gone, `[`, !grepl(" ", gone$code, fixed = TRUE))
  category <- function(code, label, missing) {
    if (length(code)) paste0("<catgry", if (missing) " missing=\"Y\"", ">", xml_text("catValu",
      code), xml_text("labl", label), "</catgry>")
  }
  c(category(show_value(unname(m$codes)), names(m$codes), FALSE),
    category(gone$code, gone$reason, TRUE))
}

# From which variables, by which turn, and the lines of plain R that make it.
derivation_xml <- function(name, book) {
  derived <- derived_in(book, name)
  lines <- tryCatch(variable_lines_base(book, name, data_in_script(book)),
    ableturn_error = function(e) NULL)
  xml_element("derivation", c(xml_text("drvdesc", made_as(name, book)),
    if (length(lines)) xml_text("drvcmd", paste(lines, collapse = "\n"), syntax = "R")),
  var = paste(vapply(derived$from, var_id, "", book = book), collapse = " "))
}
