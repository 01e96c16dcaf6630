# A book in memory with rows of another: its originals behind some variables, and these made again
# by the record. Of a book in memory it is the book itself.
local_book <- function(book, names, where = NULL) {
  site <- site_of(book)
  if (site_can(site, "values")) return(book)
  if (is.null(where)) refuse_many_cells(row_count(book) * length(names))
  needed <- behind(names, book)
  originals <- intersect(original_names(book), needed)
  info <- info_of(book)
  data <- rows_at(site, unique(c(info$id, originals)), where, info$id)
  info$rows <- nrow(data)
  info["site"] <- list(NULL)
  columns <- as.list(data)
  near <- new_turnbook(columns, meanings_of(book)[base::names(columns)], info)
  remade <- Filter(function(entry) {
    entry$type == "turn" && any(entry$turn$makes %in% needed)
  }, steps_of(book))
  Reduce(made_again, remade, near)
}

made_again <- function(near, entry) {
  made <- make_columns(near, entry$turn, entry$turn$learned %||% list())
  with_parts(near, columns = c(derived_of(near), made$columns), log = c(steps_of(near),
    list(entry)))
}

# Variables and all that they rest on, for whom they were asked as well; with others that the same
# turns make, as these are made again as a whole. What a turn makes may read what it made before.
behind <- function(names, book) {
  found <- character()
  while (length(names)) {
    name <- names[1]
    made <- if (is_derived(book, name)) union(name,
      steps_of(book)[[entry_of(book, name)]]$turn$makes) else with_asked(book, name)
    found <- c(found, made)
    reads <- lapply(intersect(made, derived_names(book)), function(one) derived_in(book, one)$reads)
    names <- setdiff(unique(c(names, unlist(reads))), found)
  }
  intersect(base::names(book), found)
}

cells_at_once <- 1e6

refuse_many_cells <- function(cells) {
  if (cells > cells_at_once && !isTRUE(getOption("ableturn.fetch"))) {
    fail("cells-many", cells = grouped(cells), most = grouped(cells_at_once))
  }
}
