# XML as text, for documents that a library would put together one node after the other, with a walk
# along all of them for each.

xml_head <- "<?xml version=\"1.0\" encoding=\"UTF-8\"?>"

# Signs that XML cannot hold are shown as such.
no_xml <- "[\u0001-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]"

for_xml <- function(text) {
  text <- gsub(no_xml, "\ufffd", enc2utf8(as.character(text)), perl = TRUE)
  text <- gsub("<", "&lt;", gsub("&", "&amp;", text, fixed = TRUE), fixed = TRUE)
  gsub("\"", "&quot;", gsub(">", "&gt;", text, fixed = TRUE), fixed = TRUE)
}

# An element with other elements in it, each on lines of its own; none where there is nothing.
# Attributes that are NULL are left out.
xml_element <- function(element, inside = NULL, ...) {
  start <- paste0("<", element, xml_attributes(...))
  if (!length(inside)) return(paste0(start, "/>"))
  paste0(start, ">\n", paste(inside, collapse = "\n"), "\n</", element, ">")
}

# Elements with text in them, one for each text; NULL for none.
xml_text <- function(element, text, ...) {
  if (!length(text)) return(NULL)
  paste0("<", element, xml_attributes(...), ">", for_xml(text), "</", element, ">")
}

xml_attributes <- function(...) {
  given <- compact(list(...))
  if (length(given)) do.call(paste0, c(Map(function(key, value) {
    paste0(" ", key, "=\"", gsub("\n", "&#10;", gsub("\t", "&#9;", for_xml(value))), "\"")
  }, names(given), given), list("")))
}
