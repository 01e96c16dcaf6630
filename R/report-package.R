#' Hand on the whole work in one file
#'
#' `write_package()` puts everything that a stranger needs into one zip file: the data as plain CSV,
#' the originals apart, a Data Package descriptor, a codebook for programs (DDI-Codebook 2.5) and
#' one for people, the turn sheet, a script that needs no package, the report, how each variable
#' came about (W3C PROV-JSON), a README, and the SHA-256 of each file. It is opened again before it
#' takes its place: [turnbook()] opens it with all turns.
#'
#' `check_package()` tells whether anything in a package was changed since: each file by its
#' SHA-256, and each column of its data by making all turns anew. Somebody who changes a file and
#' its sum alike, and a turn and its column alike, is not found out.
#'
#' @param book A turnbook.
#' @param path The file to write or to check, ending in `.zip`; to check, also the
#'   `datapackage.json` of a package that was unpacked.
#' @param about What others should know of the data: a list with any of `title`, `description`,
#'   `creators`, `version`, `licence` (such as `"CC-BY-4.0"`, or its address), `citation` (how to
#'   cite the data), `contact` and `source`. All are texts; there may be several creators.
#' @param overwrite Replace the file if it exists.
#' @return `write_package()` the path, invisibly; `check_package()` a table with a row for each file
#'   and each column, and its `state`.
#' @section Errors: Class `ableturn_error`: `ableturn_error_file_exists`;
#'   `ableturn_error_package_needed` if zip is not installed, or what the report needs;
#'   `ableturn_error_package_unlike` if a column cannot be given back the same by a file.
#' @examplesIf rlang::is_installed(c("zip", "ggplot2", "svglite", "htmltools"))
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_bin(book, wait_min, as = "wait3", at = c(10, 30), accept = "boundary")
#' path <- tempfile(fileext = ".zip")
#' write_package(book, path, about = list(title = "Ferry panel", licence = "CC-BY-4.0"))
#' check_package(path)
#' turnbook(path)
#' @export
write_package <- function(book, path, about = NULL, overwrite = FALSE) {
  book <- as_book(book)
  need_given(path)
  check_ending(path, "zip", "A package")
  about <- check_about(about)
  need_package("zip", "a package to hand on")
  if (length(derived_names(book))) need_report()
  check_target(path, overwrite)
  check_not_source(path, book)
  room <- withr::local_tempdir()
  quietly <- function(code) collect_receipts(code)$value
  withr::with_dir(room, quietly(fill_package(book, about)))
  files <- sort_points(list.files(room))
  # The same book gives the same bytes, whenever it is packed.
  Sys.setFileTime(file.path(room, files), as.POSIXct("2000-01-01 12:00", tz = "UTC"))
  write_atomically(path, overwrite, function(put) {
    put_by_library(put, function(zipped) {
      zip::zip(zipped, files, root = room, mode = "cherry-pick")
      refuse_unlike(book, as_book(quietly(turnbook(zipped))))
    })
  })
  show_receipt(new_receipt(list(verb = "package", path = basename(path), files = files,
    size = file.size(path), lacking = setdiff(c("creators", "licence"), names(about))), list(),
  row_count(book)))
  invisible(path)
}

# All files, into the folder that is the working directory. All but the originals are written from
# the book that is opened from them, so that they fit each other.
fill_package <- function(book, about) {
  write_originals(book)
  write_descriptor_of_package(book, about)
  write_lines_whole(sheet_to_pack(book), sheet_file, TRUE)
  packed <- as_book(turnbook(descriptor_file))
  refuse_unlike(book, packed)
  packed <- with_parts(packed, info = replace(info_of(packed), c("title", "about", "table"),
    list(about$title %||% title_of(book), about, tables_of_package[["data"]])))
  write_table_of_package("data", columns_to_pack(packed), row_count(book))
  write_lines_whole(sheet_to_pack(packed), sheet_file, TRUE)
  write_descriptor_of_package(packed, about)
  write_codebook(packed, "codebook.xml")
  write_codebook(packed, "codebook.html")
  if (length(derived_names(packed))) {
    write_script(packed, "turns.R")
    report(packed, "report.html")
  }
  write_lines_whole(provenance_json(packed), "provenance.json", FALSE)
  write_lines_whole(readme_of_package(packed, about), "README.md", FALSE)
  files <- sort_points(list.files())
  write_lines_whole(paste0(vapply(files, sum_of_file, ""), "  ", files), sums_file, FALSE)
}

# The lines need not be read back here: the package is opened with them.
sheet_to_pack <- function(book) {
  info <- info_of(book)
  info[c("file", "stated")] <- list(descriptor_file, list(table = "originals"))
  emit_parts(sheet_parts(with_parts(book, info = info), whole = TRUE))
}

# Every column must come back the same; that a text is blank or not there is the same.
refuse_unlike <- function(book, packed) {
  held <- function(book, name) {
    x <- plain_values(original_in(book, name))
    column_fingerprint(if (is.character(x)) replace(x, x %in% "", NA) else x)
  }
  same_original <- function(name) held(book, name) == held(packed, name)
  same_derived <- function(name) {
    ours <- variable_in(book, name)
    theirs <- variable_in(packed, name)
    identical(plain_values(ours$x), plain_values(theirs$x)) &&
      identical(told_reasons(ours), told_reasons(theirs))
  }
  same <- c(vapply(original_names(book), same_original, NA), vapply(derived_names(book),
    same_derived, NA))
  if (!all(same)) fail("package-unlike", name = names(same)[!same])
}

word_errors(list(
  "package-unlike" = c("{name} would not come back the same from a file. Nothing was written.",
    "Turn such columns into plain numbers, texts or dates before the data are opened.")
))
