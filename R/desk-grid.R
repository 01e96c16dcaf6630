# The rows of the data in a grid, fetched as they come into sight. What they are sorted and filtered
# by is for looking only. Each derived variable that is chosen stands beside its sources; all others
# follow.

#   where  a condition as it was typed, "" for all rows; sort, a name or ""; down
#   known  what was worked out of these for a book: see known_grid(); NULL before
new_grid <- function() list(where = "", sort = "", down = FALSE, known = NULL)

most_cells_in_sight <- 4000

grid_frame_html <- function(screen) {
  tags <- htmltools::tags
  htmltools::tagList(
    tags$details(class = "grid-filter", open = if (nzchar(screen$grid$where)) NA,
      tags$summary("Only rows for which"),
      condition_html("grid-where", screen$grid$where, "In a formula: crossings > 4")),
    tags$p(class = "inline quiet", tags$span(id = "grid-told", `aria-live` = "polite"),
      tags$button(type = "button", id = "grid-plain", hidden = NA, "All rows, as they stand")),
    tags$div(class = "field-error", id = "grid-error", role = "alert"),
    tags$div(id = "grid", class = "grid", role = "grid", tabindex = "0", `aria-label` =
      "Rows of the data; Enter shows the working of a row", `data-sort` = screen$grid$sort,
      `data-down` = if (screen$grid$down) "true", tags$div(class = "grid-all")),
    tags$div(id = "row-working", `aria-live` = "polite"))
}

# A window of the grid as the page asks for it; what the page says of the condition and the order
# holds from then on.
grid_answer <- function(screen, event) {
  grid <- screen$grid
  asked <- list(where = one_typed(event$where %||% ""), sort = one_typed(event$sort %||% ""),
    down = isTRUE(event$down))
  if (!asked$sort %in% names(screen$state$book)) asked$sort <- ""
  grid[names(asked)] <- asked
  known <- tryCatch(known_grid(grid, screen$state$book), error = identity)
  if (inherits(known, "error")) return(list(screen = screen, says = list(list(do = "grid",
    error = as.list(error_words_of(known))))))
  grid$known <- known
  screen$grid <- grid
  list(screen = screen, says = list(c(list(do = "grid"), grid_window(screen, event))))
}

# The site with the condition, and in memory the rows in their order, worked out once for a book.
known_grid <- function(grid, book) {
  key <- list(grid[c("where", "sort", "down")], steps_of(book))
  if (identical(grid$known$key, key)) return(grid$known)
  text <- if (nzchar(grid$where)) formula_text(typed_formula(grid$where))
  at <- rows_site(book, text)
  order <- if (nzchar(grid$sort)) list(list(by = as.name(grid$sort), down = grid$down))
  order <- order %||% list()
  here <- site_can(site_of(book), "row numbers")
  c(at, list(key = key, order = order, here = here,
    places = if (here) places_in_order(at$site, at$where, order)))
}

# The cells in sight, as texts.
grid_window <- function(screen, event) {
  book <- screen$state$book
  known <- screen$grid$known
  place <- function(key, most) {
    said <- suppressWarnings(as.integer(event[[key]]))
    max(1, min(if (length(said) == 1 && !is.na(said)) said else 1, max(1, most)))
  }
  all <- grid_columns(screen$state)
  first <- place("column", length(all))
  names <- all[seq(first, length.out = min(place("columns", 60), length(all) - first + 1))]
  from <- place("from", known$rows)
  n <- min(place("n", 200), floor(most_cells_in_sight / length(names)))
  id <- info_of(book)$id
  rows <- if (known$here) window_of(known$places %||% as.double(known$rows), from, n)
  seen <- if (known$here) pick_window(known$site, names, rows, id) else
    window_at(known$site, names, known$where, known$order, id, from, n)
  list(all = known$rows, head = id %||% "row", of = row_count(book), from = from, column = first,
    count = length(all),
    columns = unname(lapply(names, grid_column, seen = seen, book = book)),
    heads = as.list(row_heads(seen, from)), keys = as.list(row_keys(seen)))
}

# Those that are chosen, beside what they are made from, then all others.
grid_columns <- function(state) {
  first <- if (length(state$chosen)) names_beside(state$chosen, state$book)
  union(first, names(state$book))
}

grid_column <- function(name, seen, book) {
  column <- seen$columns[[name]]
  list(name = name, label = meaning_in(book, name)$label %||% "",
    made = is_derived(book, name),
    cells = as.list(show_controls(row_cells(column$x, column$reason,
      meaning_in(book, name)$codes))), gone = as.list(is.na(column$x)))
}

# What a row is called at its left, and what it is asked about by: its number, or its identifier.
row_heads <- function(seen, from) {
  if (!is.null(seen$id)) return(show_value(seen$id))
  if (!is.null(seen$rows)) show_value(seen$rows) else show_value(from - 1 +
    seq_along(seen$columns[[1]]$x))
}

row_keys <- function(seen) {
  if (!is.null(seen$rows)) seen$rows else if (!is.null(seen$id)) show_value(seen$id) else NULL
}

# The working of a row, of the derived variables that are chosen, else of those made last.
row_working_html <- function(state, key) {
  made <- intersect(state$chosen, derived_names(state$book))
  if (!length(made)) made <- utils::tail(derived_names(state$book), 5)
  if (!length(made)) return(htmltools::tags$p(class = "quiet",
    "Nothing was made here whose working could be shown."))
  htmltools::tagList(lapply(made, function(name) {
    printed_html(working_on_desk(state$book, name, key), paste("The working of", name))
  }))
}

# The values of a variable that hold a text in their value or label, with their rows.
values_listed_html <- function(name, book, text, most = 100) {
  found <- values_found(name, book, text)
  shown <- utils::head(found, most)
  htmltools::tagList(htmltools::tags$p(class = "quiet", counted(nrow(found), "value")),
    if (nrow(shown)) table_html(shown, paste("Values of", name)),
    if (nrow(found) > nrow(shown)) htmltools::tags$p(class = "quiet", paste("and",
      counted(nrow(found) - nrow(shown), "more value"), "- search for them")))
}

values_found <- function(name, book, text) {
  found <- counts_at(site_of(book), list(as.name(name)), most = 1e5)
  if (is.null(found)) found <- counts_at(site_of(book), list(as.name(name)), most = 5000,
    frequent = TRUE)
  values <- found$keys[[1]]
  some <- !is.na(values)
  out <- data.frame(value = show_value(values[some]),
    label = label_of(values[some], meaning_in(book, name)$codes) %|% "", rows = found$rows[some])
  out[hold_all(words_sought(text), lower_case(paste(out$value, out$label))), , drop = FALSE]
}
