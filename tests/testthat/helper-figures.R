# What stands in a figure, and whether it can be drawn without a warning.
texts_in <- function(figure) {
  built <- ggplot2::ggplot_build(figure)
  unlist(lapply(built$data, function(layer) as.character(layer$label)))
}
drawn <- function(figure) {
  file <- tempfile(fileext = ".svg")
  svglite::svglite(file, width = 11.6, height = 7.3)
  on.exit(grDevices::dev.off())
  expect_no_warning(print(figure))
  invisible(file)
}
# The places of all words of an SVG: their left, right and top edges in points.
word_places <- function(file) {
  lines <- grep("<text", readLines(file, warn = FALSE), value = TRUE)
  number <- function(pattern, default) {
    found <- regmatches(lines, regexec(pattern, lines))
    vapply(found, function(m) if (length(m) == 2) as.numeric(m[2]) else default, 0)
  }
  turned <- grepl("rotate", lines)
  x <- number(" x='([-0-9.]+)'", NA)
  wide <- number("textLength='([0-9.]+)px'", 0)
  ends <- ifelse(grepl("text-anchor(='|: )end", lines), 1,
    ifelse(grepl("text-anchor(='|: )middle", lines), 0.5, 0))
  out <- data.frame(left = x - ends * wide, right = x + (1 - ends) * wide,
    y = number(" y='([-0-9.]+)'", NA),
    size = number("font-size: ([0-9.]+)px", 10), text = gsub("<[^>]+>", "", lines))
  out[!turned & nzchar(trimws(out$text)), ]
}
overlapping <- function(places) {
  if (nrow(places) < 2) return(character())
  pairs <- utils::combn(nrow(places), 2)
  a <- places[pairs[1, ], ]
  b <- places[pairs[2, ], ]
  meet <- a$left < b$right - 1 & b$left < a$right - 1 & abs(a$y - b$y) < 0.75 * pmin(a$size, b$size)
  paste(a$text, "over", b$text)[meet]
}
expect_readable <- function(figure) {
  places <- word_places(drawn(figure))
  expect_equal(overlapping(places), character())
  expect_gte(min(places$left), -1)
  expect_lte(max(places$right), 11.6 * 72 + 1)
  expect_gte(min(places$size), 7)
}
