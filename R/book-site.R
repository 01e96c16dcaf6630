# A site: where the rows of a book are, if not in memory. It answers with counts and sums, never
# with rows, unless somebody asks for rows. It is a list with a class, whose methods stand above,
# see base-hooks.R:
#   columns  for each column a vector without rows that has its type
#   rows     how many there are
#   most     how many distinct answers are fetched at once

is_on_site <- function(book) !is.null(info_of(book)$site)

# The distinct combinations of some originals as they came: `keys`, a list of values by name, and
# `rows`, how many hold each; NULL where there are more than `most`. A variable that is made at the
# site is named with its reason, see reason_key().
count_at_site <- function(site, names, most) UseMethod("count_at_site")

# Whether a column tells the rows apart: an error where it does not, see check_id().
check_id_at_site <- function(site, id) UseMethod("check_id_at_site")

# The columns of a site as a book holds them.
columns_at_site <- function(site) {
  lapply(site$columns, function(like) if (is.atomic(like)) far_values(like, site$rows) else like)
}

# The index of an original; NULL where its answers are not few.
index_at_site <- function(site, name) {
  found <- count_at_site(site, name, site$most)
  if (is.null(found)) return(NULL)
  list(codes = far_codes(site, found$keys), rows = found$rows,
    values = plain_values(found$keys[[1]]))
}

# The index of several columns together, see index_of_several().
index_of_far <- function(columns) {
  codes <- lapply(columns, function(column) column$cells$codes)
  most <- min(codes[[1]]$site$most, 50000)
  vars <- unique(unlist(lapply(codes, function(code) names(code$keys))))
  joint <- joint_keys(codes, vars, columns, most)
  if (is.null(joint)) return(NULL)
  places <- lapply(codes, function(code) {
    match(key_texts(joint$keys[names(code$keys)]), key_texts(code$keys))
  })
  list(codes = far_codes(joint_site(codes), joint$keys), rows = joint$rows, places = unname(places))
}

# Columns side by side in the cells that they span together, each of which stands for some rows,
# `times`.
columns_in_cells <- function(columns) {
  columns_in_few_cells(columns) %||% refuse_rows()
}

# NULL where these are too many to be fetched.
columns_in_few_cells <- function(columns) {
  index <- if (!any(vapply(columns, is_long, NA))) index_of_far(columns)
  if (is.null(index)) return(NULL)
  list(columns = Map(column_of_cells, columns, index$places), times = index$rows)
}

# One that has all variables already serves the others.
joint_keys <- function(codes, vars, columns, most) {
  whole <- which(vapply(codes, function(code) setequal(names(code$keys), vars), NA))
  if (length(whole)) {
    return(list(keys = codes[[whole[1]]]$keys, rows = columns[[whole[1]]]$cells$rows))
  }
  count_at_site(joint_site(codes), vars, most)
}

# The site of several indexes, with the variables that are made there: each index of one knows it as
# a draft in a book, see book-far.R.
joint_site <- function(codes) {
  site <- codes[[1]]$site
  books <- compact(lapply(codes, function(code) code$site$kept$book))
  if (!length(books)) return(site)
  site$drafts <- unlist(lapply(codes, function(code) code$site$drafts), recursive = FALSE)
  site$drafts <- site$drafts[!duplicated(names(site$drafts))]
  book <- books[[which.max(vapply(books, function(book) length(derived_names(book)), 1L))]]
  site$kept <- kept_book(with_parts(book, columns = replace(derived_of(book), names(site$drafts),
    site$drafts)))
  site
}

# A book in a place of its own: what is copied and compared with it is not gone through.
kept_book <- function(book) list2env(list(book = book), parent = emptyenv())

# Some rows of some originals as they came, as a data frame: those whose `where`, a list of values
# by name, holds one of these; without it all. They come in the order of the identifier, if any.
rows_at_site <- function(site, names, where = NULL, id = NULL) UseMethod("rows_at_site")

# A book in memory with rows of another: its originals behind some variables, and these made again
# by the record.
local_book <- function(book, names, where = NULL) {
  if (is.null(where)) refuse_many_cells(row_count(book) * length(names))
  needed <- behind(names, book)
  originals <- intersect(original_names(book), needed)
  site <- info_of(book)$site
  data <- rows_at_site(site, unique(c(info_of(book)$id, originals)), where, info_of(book)$id)
  info <- info_of(book)
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

# How many values of one variable, each with its rows, are fetched where a turn needs them all.
register_values <- 1e6

refuse_many_cells <- function(cells) {
  if (cells > cells_at_once && !isTRUE(getOption("ableturn.fetch"))) {
    fail("cells-many", cells = grouped(cells), most = grouped(cells_at_once))
  }
}
