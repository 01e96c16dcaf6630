#' @include base-files.R
NULL

# Data Packages, also those that were handed on with their turns. The descriptor of such a one says
# under `turns` which `sheet` makes the derived variables, and `of` which of its tables.

file_format("data package", character(), typed = TRUE,
  is = function(start, at) {
    is_zip_with(start, at, descriptor_file) ||
      (basename(at) == descriptor_file && begins_with(start, 0x7b))
  },
  read = function(path, stated) read_package_table(path, stated),
  with_turns = function(path, stated) turns_packed(path, stated)
)

# How the originals of such a package are to be read, the files of both that are no longer as they
# were packed, and `finish`, a function that makes the turns in the book of them; NULL of any other
# Data Package.
turns_packed <- function(path, stated, frame = parent.frame(2)) {
  folder <- folder_of_package(path, withr::local_tempdir(.local_envir = frame))
  parsed <- descriptor_in(folder, path)
  turns <- part_of(parsed, "turns")
  if (is.null(turns)) return(NULL)
  for (key in c("sheet", "of")) if (!is_one(part_of(turns, key), is.character)) {
    broken_package(path, "its descriptor does not say under `turns` which ", key, " is meant")
  }
  resource <- resource_to_read(part_of(parsed, "resources"), turns$of, path)
  stated$table <- turns$of
  stated$unpacked <- folder
  stated$columns <- stated$columns %||% character()
  sheet <- sheet_in_package(turns$sheet, folder, path)
  list(
    stated = stated, finish = function(book) make_packed_turns(book, sheet),
    altered = altered_files(folder, c(descriptor_file, turns$sheet, resource$path))
  )
}

# Errors name the sheet as it is called in the package.
sheet_in_package <- function(name, folder, path) {
  file_beside(name, folder, "file-outside", path)
  withr::with_dir(folder, read_sheet(name))
}

make_packed_turns <- function(book, sheet) {
  force(book) # what opening has to tell is shown before receipts are collected
  # the sheet was made on these data, whatever the package is called now
  if (length(sheet$data$file)) sheet$data$file <- basename(info_of(book)$file)
  if (length(sheet$data$id)) book <- with_id(book, known_id(sheet$data$id, book))
  replay(book, with_columns_there(sheet, names(book), FALSE), TRUE)
}

# The list of files with the SHA-256 of each, as programs for such sums write it.
sums_file <- "checksums.sha256"

# The sums by file; none where the package has no such list.
sums_in_package <- function(folder) {
  at <- file.path(folder, sums_file)
  if (!file.exists(at)) return(character())
  lines <- grep("^[0-9a-f]{64} [ *].", file_lines(at), value = TRUE)
  setNames(substr(lines, 1, 64), substring(lines, 67))
}

# Those of some files that are not what they were when the list was made, or are not on it; where
# there is no list, the list itself: a package with turns is never made without.
altered_files <- function(folder, files) {
  sums <- sums_in_package(folder)
  if (!length(sums)) return(sums_file)
  Filter(function(name) {
    at <- file.path(folder, name)
    !name %in% names(sums) || !file.exists(at) || sum_of_file(at) != sums[[name]]
  }, files)
}
