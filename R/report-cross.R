# Source by result, where there is one source.
cross_part <- function(name, book) {
  from <- held(book, "columns")[[name]]$from
  if (length(from) != 1) return(NULL)
  if (!is_counted(book, name) && !facts_of(book, name)$few) return(NULL)
  wide <- cross_wide(cross_two(from, name, book))
  if (nrow(wide$rows) > 40 || nrow(wide$columns) > 12) return(NULL)
  heads <- level_words(wide$columns$column, wide$columns$column_label, wide$columns$column_missing)
  body <- as.data.frame(wide$cells)
  body[] <- lapply(body, function(n) ifelse(n == 0, "", grouped(n)))
  names(body) <- heads
  cbind(stats::setNames(data.frame(level_words(wide$rows$row, wide$rows$row_label, wide$rows$row_missing)), from), body)
}
