#' @rdname write_package
#' @export
check_package <- function(path) {
  check_readable(path)
  if (!identical(format_to_read(path)$name, "data package")) {
    broken_package(path, "it is a table or something else")
  }
  folder <- folder_of_package(path, withr::local_tempdir())
  if (!length(sums_in_package(folder))) {
    broken_package(path, "it has no list of sums, ", sums_file, ", as write_package() makes one")
  }
  found <- rows_of_all(list(file_states(folder), column_states(folder)))
  as_table(found, "ableturn_package_check")
}

# Each file that is there or should be.
file_states <- function(folder) {
  sums <- sums_in_package(folder)
  there <- setdiff(list.files(folder, recursive = TRUE), sums_file)
  names <- union(names(sums), there)
  state <- vapply(names, function(name) {
    if (!name %in% there) return("missing")
    if (!name %in% names(sums)) return("added")
    if (sum_of_file(file.path(folder, name)) == sums[[name]]) "as packed" else "changed"
  }, "")
  quick_table(part = rep("file", length(names)), name = names, state = unname(state))
}

# Each column of the data beside what the sheet makes of the originals.
column_states <- function(folder) {
  at <- file.path(folder, descriptor_file)
  made <- collect_receipts(columns_to_pack(as_book(turnbook(at))))$value
  there <- collect_receipts(read_settled(at, list(table = "data")))$value$data
  names <- union(names(made), names(there))
  state <- vapply(names, function(name) {
    if (!name %in% names(there)) return("missing")
    if (!name %in% names(made)) return("added")
    if (identical(write_field(there[[name]]), write_field(made[[name]]))) "as packed" else
      "not what the turns make"
  }, "")
  quick_table(part = rep("column", length(names)), name = names, state = unname(state))
}

#' @export
print.ableturn_package_check <- plainly(function(x, ...) {
  cat(for_terminal(package_check_lines(x)), sep = "\n")
  invisible(x)
})

package_check_lines <- function(x) {
  odd <- x$state != "as packed"
  if (any(odd)) return(c(warned(paste0(glyph("!"), " ", counted(sum(odd), "part"),
    " of ", length(odd), " changed since it was packed:")),
  table_lines(quick_table(part = x$part[odd], name = x$name[odd], state = x$state[odd]))))
  paste0("Nothing changed since it was packed: ", counted(sum(x$part == "file"), "file"), ", ",
    counted(sum(x$part == "column"), "column"), ".")
}

# The files of a package, into a new or an empty folder.
unpack_package <- function(path, folder) {
  check_readable(path)
  if (!is_zipped(path)) broken_package(path, "it is not a zip file")
  if (length(list.files(folder, all.files = TRUE, no.. = TRUE))) {
    fail("folder-full", folder = folder)
  }
  unzip_into(checked_zip(path), folder)
}

word_errors(list(
  "folder-full" = c("There is something in {folder} already. Nothing was unpacked.",
    "Name a folder that is empty or not there yet.", sheet = "Name another with --out.")
))
