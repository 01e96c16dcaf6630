#' @include file-read.R
NULL

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
  if (!file.exists(path)) {
    fail("file-missing", path = name, hint = near_hint(name, list.files(folder)))
  }
  path
}
