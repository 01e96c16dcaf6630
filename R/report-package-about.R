# What is said about a package as a whole, and its README for people.

# What can be said, and under which name it stands in the README.
about_fields <- c(title = "Title", description = "Description", creators = "Creators",
  version = "Version", licence = "Licence", citation = "To cite", contact = "Contact",
  source = "Source")

check_about <- function(about) {
  if (is.null(about)) return(list())
  if (!is.list(about) || (length(about) && !is_named(about))) {
    fail("bad-about", got = describe_type(about))
  }
  for (key in names(about)) {
    if (!key %in% names(about_fields)) fail("about-key", key = key,
      hint = near_hint(key, names(about_fields)), known = names(about_fields))
    if (key == "creators") {
      if (!is.character(about[[key]]) || anyNA(about[[key]])) {
        fail("bad-creators", got = describe_type(about[[key]]))
      }
    } else {
      check_text(about[[key]], key, none = FALSE)
    }
  }
  about
}

# What the standard has a word for, in its form.
described <- function(about) {
  list(
    title = about$title, description = about$description, version = about$version,
    licenses = if (!is.null(about$licence)) list(licence_described(about$licence)),
    contributors = lapply(about$creators, function(name) {
      list(title = name, roles = list("author"))
    }),
    sources = if (!is.null(about$source)) list(list(title = about$source)),
    citation = about$citation, contact = about$contact
  )
}

licence_described <- function(licence) {
  if (grepl("^https?://", licence)) return(list(path = licence))
  if (grepl("^[A-Za-z0-9._-]+$", licence)) return(list(name = licence))
  list(name = "other", title = licence)
}

# What lies in a package, in the order in which a stranger will want it.
files_of_package <- c(
  "data.csv" = "All columns: the originals as they came, then the derived variables. A column
    ending in _why tells why a derived answer is missing.",
  "codebook.html" = "What each variable means, to read.",
  "report.html" = "How each derived variable was made, with figures, findings and the rows each
    rule caught, to read.",
  "codebook.xml" = "The codebook for programs (DDI-Codebook 2.5).",
  "datapackage.json" = "The same for programs that know Data Packages (version 2).",
  "originals.csv" = "The original columns alone.",
  "turns.yaml" = "Everything that was done, as plain text.",
  "turns.R" = "The same as a script for R that needs no package; run it in this folder.",
  "provenance.json" = "From which variables and by which step each came about (W3C PROV-JSON).",
  "checksums.sha256" = "The SHA-256 of each file; `sha256sum -c checksums.sha256` compares them."
)

sheet_file <- "turns.yaml"

told_of_file <- function(name) gsub("\\s+", " ", files_of_package[[name]])

readme_of_package <- plainly(function(book, about) {
  there <- files_of_package[file.exists(names(files_of_package)) |
    names(files_of_package) == sums_file]
  said <- vapply(names(about_fields), function(key) {
    paste(about[[key]] %||% "not stated", collapse = "; ")
  }, "")
  c(
    paste("#", text_markdown(info_of(book)$title)), "",
    paste0("- ", about_fields, ": ", text_markdown(said)), "",
    paste0(counted(row_count(book), "row"), ", ", counted(length(original_names(book)),
      "original column"), ", ", counted(length(derived_names(book)), "derived variable"), "."), "",
    "## What is here", "",
    paste0("- `", names(there), "`: ", vapply(names(there), told_of_file, "")), "",
    "## How to go on", "",
    "In R, with the package ableturn, this opens the data with all derived variables:", "",
    paste0("    book <- ableturn::turnbook(\"", descriptor_file, "\")"), "",
    "The zip file itself can be opened the same way. On the command line, in this folder:", "",
    paste("    ableturn prove", sheet_file), ""
  )
})

word_errors(list(
  "bad-about" = c("`about` must be a list that says what the data are, not {got}.",
    "Write about = list(title = \"Ferry panel\", licence = \"CC-BY-4.0\")."),
  "about-key" = c("`about` has an entry {key}, which has no place in a package.{hint}",
    "Known are {known}."),
  "about-text" = c("The text {text} after --about does not say what the data are.",
    "Write --about \"title: Ferry panel, licence: CC-BY-4.0\"."),
  "bad-creators" = c("`creators` must be names, not {got}.",
    "Write creators = c(\"A. Berg\", \"C. Dahl\").",
    desk = "Write one name on each line.",
    desk_what = "Names are needed, not {got}.")
))
