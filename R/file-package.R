# A Data Package (version 2, https://datapackage.org): a descriptor beside its files, or with them
# in a zip file. One of its resources is the table; what its schema says is the codebook.

read_package_table <- function(path, stated) {
  folder <- stated$unpacked %||% folder_of_package(path, withr::local_tempdir())
  parsed <- descriptor_in(folder, path)
  resource <- resource_to_read(part_of(parsed, "resources"), stated$table, path)
  at <- file_beside(resource$path, folder, "file-outside", path)
  check_readable(at)
  if (!is_zipped(path)) note_opened(at)
  format <- format_to_read(at)
  if (format$name == "data package") broken_package(path, "it names a package as its table")
  stated$table <- stated$unpacked <- NULL
  if (!format$typed) stated <- with_dialect(stated, resource)
  data <- format$read(at, stated)
  reading <- attr(data, "reading")
  reading$format <- format$name
  reading[[if (is_zipped(path)) "member" else "file"]] <- resource$path
  reading$codebook <- codebook_of_resource(resource, path)
  attr(data, "reading") <- reading
  data
}

is_zipped <- function(path) identical(packing_of(absolute_path(path)), "zip")

descriptor_in <- function(folder, path) {
  if (!file.exists(file.path(folder, descriptor_file))) {
    broken_package(path, "it has no descriptor, ", descriptor_file)
  }
  tryCatch(parsed_json(file_text(file.path(folder, descriptor_file))),
    error = function(e) broken_package(path, "its descriptor is not valid JSON"))
}

descriptor_file <- "datapackage.json"

# Where the files of a package lie; those of a zip file are put into `room`. Opening and checking a
# package both begin here.
folder_of_package <- function(path, room) {
  if (!is_zipped(path)) return(dirname(absolute_path(path)))
  unzip_into(checked_zip(path), room)
  room
}

broken_package <- function(path, ...) fail("package-broken", path = path, why = paste0(...))

resource_to_read <- function(resources, table, path) {
  broken <- function(...) broken_package(path, ...)
  if (!is.list(resources) || !length(resources)) broken("it names no resources")
  names <- vapply(resources, function(r) as.character(part_of(r, "name") %||% "")[1], "")
  if (is.null(table) && length(resources) > 1) fail("which-table", path = path, known = names)
  if (!is.null(table) && !table %in% names) fail("no-such-table", path = path, table = table,
    known = names, hint = near_hint(table, names))
  resource <- resources[[if (is.null(table)) 1 else match(table, names)]]
  files <- unlist(part_of(resource, "path"))
  if (!is.character(files) || length(files) != 1) {
    broken("the resource ", names[1], " is not in one file of its own")
  }
  if (grepl("^[a-z]+://", files)) {
    broken("its data are elsewhere (", files, "), and nothing is fetched")
  }
  resource$path <- files
  resource
}

# What the descriptor says of how the file is typed, where nothing else was stated: what parts its
# fields, which texts are blank, and which columns hold texts, whatever these look like.
with_dialect <- function(stated, resource) {
  schema <- part_of(resource, "schema")
  separator <- part_of(part_of(resource, "dialect"), "delimiter")
  if (is.null(stated$separator) && is_one(separator, is.character)) {
    stated$separator <- check_choice(separator, "separator", separators_known)
  }
  if (is.null(stated$blank) && "missingValues" %in% names(schema)) {
    blank <- Filter(is.character, as.list(part_of(schema, "missingValues")))
    stated$blank <- setdiff(unlist(blank), "") %||% character()
  }
  fields <- Filter(function(field) is_one(part_of(field, "name"), is.character),
    as.list(part_of(schema, "fields")))
  stated$texts <- vapply(Filter(holds_texts, fields), part_of, "", "name")
  stated
}

# Also numbers and dates that are typed in a way of their own are texts until they are read.
holds_texts <- function(field) {
  get <- function(key) part_of(field, key)
  identical(get("type"), "string") || !is.null(get("read")) || !is.null(read_way(get))
}

# What has a label stands for a reason; single texts are blanks, see with_dialect().
codebook_of_resource <- function(resource, path) {
  fields <- codebook_fields(list(resources = list(resource)))
  if (!length(fields)) return(NULL)
  common <- Filter(is.list, as.list(part_of(part_of(resource, "schema"), "missingValues")))
  structure(meanings_of_fields(fields, path, common), class = "codebook_file")
}

word_errors(list(
  "package-broken" = c("{path} is no Data Package that can be opened: {why}.",
    "Open the table itself, or see what its descriptor, datapackage.json, says.")
), unread = TRUE)
