# What is told when a file or a codebook is opened.

# How columns of a file are read that are typed in a way of their own, those that are not, and what
# no book can hold.
open_lines <- function(turn) {
  c(if (length(turn$own)) paste0("Read the sheet ", turn$own, ", with the codebook beside it."),
    second_line_lines(turn$second), line_aside_lines(turn$aside), way_lines(turn$ways),
    unsettled_lines(turn$asked), sign_lines(turn$signs),
    mixed_lines(turn$mixed),
    odd_lines(turn$odd), altered_lines(turn$altered), passing_lines(turn$passing),
    beyond_lines(turn$beyond))
}

second_line_lines <- function(texts) {
  if (!length(texts)) return(NULL)
  shown <- paste0(utils::head(names(texts), 3), " ", quote_text(shorten(utils::head(texts, 3), 40)))
  c(warned(folded(glyph("!"), " The first row looks like a second line under the names: ",
    paste(c(shown, if (length(texts) > 3) "and more"), collapse = ", "),
    ". Say what it is, labels or something to be left out:", indent = 0)),
  paste0("    ", for_reader("reading = list(second_line = \"labels\"), or \"left out\"",
    "--reading 'second_line: labels', or 'second_line: left out'",
    "say so where the file is opened")))
}

# A line of data that is taken for labels would be lost.
line_aside_lines <- function(texts) {
  if (!length(texts)) return(NULL)
  numbers <- texts[stand_so(texts) & !are_blank(texts)]
  c(folded("A second line under the names is no row of data: ", name_list(names(texts), 8), ".",
    indent = 0),
  if (length(numbers)) warned(folded(glyph("!"), " It holds numbers or dates, as a row of data ",
    "does: ", name_list(paste(names(numbers), numbers), 4),
    ". If it is one, leave out second_line.", indent = 0)))
}

way_lines <- function(shown, indent = 0) {
  if (!length(shown)) return(NULL)
  ways <- vapply(shown, `[[`, "", "way")
  told <- vapply(unique(ways), function(way) {
    of_way <- names(ways)[ways == way]
    paste0(way, ": ", name_list(of_way), " (", quote_text(shown[[of_way[1]]]$example), ")")
  }, "")
  folded("Read by ", paste(told, collapse = "; "), ".", indent = indent)
}

unsettled_lines <- function(asked) {
  if (!length(asked)) return(NULL)
  alike <- vapply(asked, function(told) paste(told$ways, collapse = " or "), "")
  unlist(lapply(split(names(asked), alike), function(names) {
    name <- names[1]
    ways <- asked[[name]]$ways
    unfit <- asked[[name]]$unfit
    may_be <- if (length(ways) > 1) paste(ways, collapse = " or ") else
      paste0(if (grepl("decimal", ways)) "a number (" else "a date (", ways, ") or something else")
    said <- paste(quote_text(ways), collapse = " or ")
    call <- for_reader(
      paste0("reading = list(columns = c(", quote_name(name), " = ", said, "))"),
      paste0("--reading 'columns: {", name, ": ", said, "}'"),
      paste0("What it means, read as ", said))
    c(warned(folded(glyph("!"), " ", name_list(names), if (length(names) > 1) " stay text: " else
      " stays text: ", quote_text(asked[[name]]$example), " may be ", may_be,
    if (length(unfit)) paste0(" (", quote_text(unfit), " is none)"),
    ". If it is to be read, say how:", indent = 0)), paste0("    ", show_controls(call)))
  }))
}

# Texts that may stand for no answer, by what they were taken for.
sign_lines <- function(signs) {
  if (!length(signs)) return(NULL)
  alike <- vapply(signs, function(told) paste(told$sign, told$taken), "")
  unlist(lapply(split(names(signs), alike), function(names) {
    first <- signs[[names[1]]]
    rows <- vapply(signs[names], `[[`, 1, "rows")
    c(warned(folded(glyph("!"), " ", first$sign, " in ",
      name_list(paste0(names, " (", grouped(rows), ")"), 8), ": blank or an answer? Taken for ",
      if (first$taken == "blank") "blank" else "an answer", ". Say which:", indent = 0)),
    paste0("    ", for_reader(paste0("reading = list(blank = \"", first$sign, "\"), or blank = ",
      "character() for an answer"), paste0("--reading 'blank: [\"", first$sign,
      "\"]', or 'blank: []' for an answer"), "say so where the file is opened")))
  }))
}

# What a codebook says that no variable here can mean.
unused_lines <- function(turn) {
  warned(folded(glyph("!"), " Not used of ", turn$path, ": ",
    name_list(turn$unused, 8), ".", indent = 0))
}

# Cells of a spreadsheet that hold text in a column of numbers.
mixed_lines <- function(mixed) {
  unlist(lapply(names(mixed), function(name) {
    cells <- paste0(mixed[[name]]$cells, " ", quote_text(shorten(mixed[[name]]$texts, 20)))
    warned(folded(glyph("!"), " ", name, " holds text among its numbers, so all of it is text: ",
      name_list(cells, 5), ".", indent = 0))
  }))
}

odd_lines <- function(odd) {
  if (length(odd)) warned(folded(glyph("!"),
    " Left out, as they hold something other than numbers, text, dates or truth values: ",
    paste(odd, collapse = ", "), ". Turn them into plain columns first if you need them.",
    indent = 0))
}

# Files of a package that are not what they were.
altered_lines <- function(files) {
  if (length(files)) warned(folded(glyph("!"), " Changed since it was packed: ", name_list(files),
    ". ", for_reader("check_package()", "ableturn unpack --check", "checking the package in R"),
    " tells more.", indent = 0))
}

passing_lines <- function(servers) {
  if (length(servers)) warned(folded(glyph("!"), " Its rows lie on ", name_list(servers),
    " and all pass through the server that is asked, which takes long. With the extension dblink",
    " there, and columns of the same names, they are asked where they lie.", indent = 0))
}

# A view, or a table with policies: what whoever made it wrote runs when it is read.
beyond_lines <- function(kind) {
  if (length(kind)) folded(glyph("*"), " This ", if (kind == "view") "is a view" else
    "table has policies", ": what it works out, and with which functions, was written by whoever ",
  "made it.", indent = 0)
}

# What was put into a package.
package_lines <- function(turn) {
  c(folded("Packed into ", turn$path, " (", size_in_words(turn$size), "): ",
    name_list(turn$files, 20), ". It was opened again, and gives the same columns.", indent = 0),
  if (length(turn$lacking)) folded(glyph("!"), " Not stated: ", paste(turn$lacking,
    collapse = ", "), ". ", for_reader("about = list(creators = ..., licence = ...)",
    "--about \"creators: ..., licence: ...\"", "Naming who made it and what others may do"),
    " tells others what they may do.", indent = 0))
}

size_in_words <- function(bytes) {
  if (bytes < 1e6) paste(ceiling(bytes / 1e3), "kB") else paste(round(bytes / 1e6, 1), "MB")
}

# How a copy of a book was changed by something that keeps no record.
changed_copy_lines <- function(turn) {
  told <- c(if (length(turn$rows)) paste0("rows: ", grouped(turn$rows[1]), " before, ",
    grouped(turn$rows[2]), " now"),
  if (length(turn$changed)) paste0("changed: ", name_list(turn$changed)),
  if (length(turn$gone)) paste0("gone: ", name_list(turn$gone)),
  if (length(turn$new)) paste0("new: ", name_list(turn$new)))
  warned(folded(glyph("!"), " These data were changed after their turns by something that keeps ",
    "no record (", paste(told, collapse = "; "), "). All columns count as originals from here on, ",
    "with their labels; what was recorded before is with the book that you had.", indent = 0))
}
