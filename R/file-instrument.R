#' @export
open_instrument.character <- function(file) {
  check_readable(file)
  lines <- readLines(file, encoding = "UTF-8", warn = FALSE)
  refuse_tags(lines, file)
  raw <- parse_yaml(paste(lines, collapse = "\n"), function(why) fail("instrument-yaml", path = file, why = why))
  if (is.list(raw$scales)) raw$scales <- lapply(raw$scales, with_norm_file, folder = dirname(file))
  raw
}

# A norm table may stand in a CSV file beside the instrument file.
with_norm_file <- function(scale, folder) {
  if (is.list(scale) && is.character(scale$norm) && length(scale$norm) == 1) {
    scale$norm <- as.list(read_data(file.path(folder, scale$norm)))
  }
  scale
}
