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
