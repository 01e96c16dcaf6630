# Files that the layers below ask for by their names.

#' @export
open_data.character <- function(data, blank = NULL) {
  read <- read_data(data, blank)
  out <- list(
    data = read, file = data, name = file_variable(data, names(read)),
    reading = attr(read, "reading"), spelling = attr(read, "spelling")
  )
  attributes(out$data)[c("reading", "spelling")] <- NULL
  out
}

#' @export
open_rules.character <- function(rules) read_data(rules)

# A short name for the data in scripts.
file_variable <- function(path, taken) if ("survey" %in% taken) "survey_data" else "survey"

#' @export
open_instrument.character <- function(file) {
  check_readable(file)
  lines <- file_lines(file)
  refuse_tags(lines, file)
  raw <- parse_yaml(paste(lines, collapse = "\n"), function(why) fail("instrument-yaml", path = file, why = why))
  if (is.list(raw$scales)) raw$scales <- lapply(raw$scales, with_norm_file, path = file)
  raw
}

# A norm table may stand in a CSV file beside the instrument file.
with_norm_file <- function(scale, path) {
  if (is.list(scale) && is.character(scale$norm) && length(scale$norm) == 1) {
    scale$norm <- as.list(read_data(file_beside(scale$norm, dirname(path), "file-outside", path)))
  }
  scale
}

#' A file of the demo survey
#'
#' The made-up Lantern Isles ferry panel: two waves, a codebook, an answer key,
#' a crosswalk, a norm table, recode rules and an instrument file.
#'
#' @param name Name of the file; left out, all names are given.
#' @return The path of the file, or the names.
#' @section Errors: `ableturn_error_file_missing`.
#' @examples
#' demo_file()
#' @export
demo_file <- function(name = NULL) {
  folder <- system.file("extdata", package = "ableturn")
  if (is.null(name)) return(list.files(folder))
  path <- file.path(folder, name)
  if (!file.exists(path)) fail("file-missing", path = name, hint = near_hint(name, list.files(folder)))
  path
}
