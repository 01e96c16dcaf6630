#' @include base-xml.R
NULL

# A spreadsheet in OpenDocument, with a sheet for each of some tables.

write_opendocument <- function(sheets, path) {
  room <- withr::local_tempdir()
  put <- function(name, ...) {
    at <- file(file.path(room, name), "wb")
    on.exit(close(at))
    writeBin(charToRaw(enc2utf8(paste0(c(...), collapse = ""))), at)
  }
  dir.create(file.path(room, "META-INF"))
  put("mimetype", opendocument_kind)
  put("META-INF/manifest.xml", xml_head, "<manifest:manifest manifest:version=\"1.2\" ",
    namespace_of("manifest", "manifest"), ">", manifest_entry("/", opendocument_kind),
    manifest_entry("content.xml", "text/xml"), "</manifest:manifest>")
  put("content.xml", content_start, unlist(Map(sheet_xml, sheets, names(sheets))), content_end)
  # Programs tell the kind of file by its first part, which stands there as it is.
  zip::zip(path, "mimetype", root = room, mode = "cherry-pick", compression_level = 0)
  zip::zip_append(path, c("META-INF", "content.xml"), root = room, mode = "cherry-pick")
}

opendocument_kind <- "application/vnd.oasis.opendocument.spreadsheet"

namespace_of <- function(prefix, name) {
  paste0("xmlns:", prefix, "=\"urn:oasis:names:tc:opendocument:xmlns:", name, ":1.0\"")
}

manifest_entry <- function(path, kind) {
  paste0("<manifest:file-entry manifest:full-path=\"", path, "\" manifest:media-type=\"", kind,
    "\"/>")
}

# Days are shown with the year first.
content_start <- paste0(xml_head, "<office:document-content office:version=\"1.2\" ",
  paste(mapply(namespace_of, c("office", "table", "text", "style", "number"), c("office", "table",
    "text", "style", "datastyle")), collapse = " "), "><office:automatic-styles>",
  "<number:date-style style:name=\"N1\"><number:year number:style=\"long\"/><number:text>-",
  "</number:text><number:month number:style=\"long\"/><number:text>-</number:text>",
  "<number:day number:style=\"long\"/></number:date-style><style:style style:name=\"day\" ",
  "style:family=\"table-cell\" style:data-style-name=\"N1\"/></office:automatic-styles>",
  "<office:body><office:spreadsheet>")

content_end <- "</office:spreadsheet></office:body></office:document-content>"

sheet_xml <- function(table, name) {
  header <- paste0("<table:table-row>", paste(text_cells(names(table)), collapse = ""),
    "</table:table-row>")
  cells <- do.call(paste0, c(unname(lapply(table, column_xml)), list("")))
  rows <- if (nrow(table)) paste0("<table:table-row>", cells, "</table:table-row>")
  c(paste0("<table:table table:name=\"", for_xml(name), "\">"), header, rows, "</table:table>")
}

column_xml <- function(x) {
  if (is.logical(x) && all(is.na(x))) x <- as.character(x)
  cells <- if (inherits(x, "Date")) value_cells("date", "date-value", format(x), "day") else
    if (is.logical(x)) value_cells("boolean", "boolean-value", tolower(x)) else
    if (is.numeric(x) && !is.object(x)) number_cells(x) else text_cells(show_value(x))
  ifelse(is.na(x), "<table:table-cell/>", cells)
}

value_cells <- function(type, attribute, value, style = NULL) {
  paste0("<table:table-cell office:value-type=\"", type, "\" office:", attribute, "=\"", value,
    "\"", if (!is.null(style)) paste0(" table:style-name=\"", style, "\""), "><text:p>", value,
    "</text:p></table:table-cell>")
}

# What is no number for a spreadsheet is text.
number_cells <- function(x) {
  ifelse(is.finite(x), value_cells("float", "value", exact_figures(x)), text_cells(show_number(x)))
}

# Lines are paragraphs, and blanks stand as elements, as others would be put together.
text_cells <- function(text) {
  text <- for_xml(text)
  text <- gsub("\t", "<text:tab/>", gsub("\r\n?|\n", "</text:p><text:p>", text))
  text <- gsub("(</?text:p>) ", "\\1<text:s/>", text)
  text <- gsub("^ | $|(?<= ) ", "<text:s/>", text, perl = TRUE)
  paste0("<table:table-cell office:value-type=\"string\"><text:p>", text,
    "</text:p></table:table-cell>")
}
