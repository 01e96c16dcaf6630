# Rows with the same answers get the same result, so a formula is worked out once for each of them:
# the cells. They are a site of their own, each of whose rows stands for some of the data.
#   site    the cells that some row is in
#   exact   whether their values are those of the data, rather than one for a stretch of them
#   spread  makes of a column that was worked out for them one of all rows

# The cells that a result may be worked out for; NULL where that is no help. Row functions over
# items in memory, and what depends on other rows, are worked out for the rows there.
cells_behind <- function(out, site) {
  names <- names_needed(out)
  by_rows <- site_can(site, "values") && (is_row_node(out$expr) || reads_other_rows(out$expr))
  if (!length(names) || by_rows) return(NULL)
  variables <- lapply(self_named(names), site$variable)
  if (all_few(variables)) return(joint_cells(variables, site$rows))
  if (length(names) == 1 && site_can(site, "values")) cells_of_stretches(variables[[1]], out$expr)
}

# The variables that a column is made from or that its formula reads.
names_needed <- function(out) unique(c(out$from, formula_vars(out$expr)))

# Words whose result depends on more than the row itself.
reads_other_rows <- function(expr) uses(expr, words_with("reads other rows"))

all_few <- function(variables) {
  all(vapply(variables, function(variable) !is.null(cells_of(variable)), NA))
}

# Where some variables are best asked about side by side: in memory the rows, of a table the cells
# that they span together, if these are not too many. `many`: up to a million cells are fetched.
nearest_site <- function(site, names, many = FALSE) UseMethod("nearest_site")

#' @export
nearest_site.ableturn_memory <- function(site, names, many = FALSE) site

#' @export
nearest_site.ableturn_table_site <- function(site, names, many = FALSE) {
  site_near(site, names) %||% (if (many) site_fetched(site, names)) %||% site
}

# Cells of a table as a site; NULL where they are too many.
site_near <- function(site, names) {
  variables <- lapply(self_named(unique(names)), site$variable)
  if (length(variables) && all_few(variables)) joint_cells(variables, site$rows)$site
}

# The same of up to a million cells, which are fetched for this once.
site_fetched <- function(site, names) {
  nodes <- unlist(lapply(names, function(name) list(as.name(name), reason_node(name))))
  found <- counts_at(site, nodes, most = register_values)
  if (is.null(found)) return(NULL)
  variables <- lapply(self_named(names), site$variable)
  columns <- Map(function(variable, i) {
    column <- column_of(variable)
    reasoned_column(as_column(found$keys[[2 * i - 1]], column$x), as.integer(found$keys[[2 * i]]),
      column$kinds)
  }, variables, seq_along(names))
  site_of_columns(columns, variables, as_row_counts(found$rows))
}

# Each combination of the variables' cells; they may share one index.
joint_cells <- function(variables, rows) {
  columns <- lapply(variables, column_of)
  index <- index_of_several(unname(columns), rows)
  if (is.null(index)) return(NULL)
  met <- which(index$rows > 0)
  short <- Map(function(column, places) column_of_cells(column, places[met]), columns, index$places)
  new_cells(short, variables, index, met)
}

# A formula that only compares its variable with numbers gives the same between two of them.
cells_of_stretches <- function(variable, expr) {
  points <- compared_with(expr, variable$name)
  if (!length(points)) return(NULL)
  source <- column_of(variable)
  if (!is.numeric(source$x) || length(points) + length(source$kinds) > 100) return(NULL)
  probes <- stretch_values(points)
  if (is.null(probes)) return(NULL)
  found <- stretch_index(source$x, source$why, points, length(source$kinds))
  met <- which(found$rows > 0)
  small <- pick_rows(cell_column(probes, source$kinds), met)
  new_cells(setNames(list(small), variable$name), setNames(list(variable), variable$name), found,
    met, exact = FALSE)
}

new_cells <- function(columns, variables, index, met, exact = TRUE) {
  list(site = site_of_columns(columns, variables, index$rows[met]), exact = exact,
    spread = function(column) column_of_rows(column, index$codes, index$rows, met))
}

# Short columns as a site, in place of the variables that they belong to; each row stands for
# `times` rows.
site_of_columns <- function(columns, variables, times) {
  short <- Map(short_variable, variables, columns[names(variables)])
  new_memory_site(function(name) short[[name]], length(times), times)
}

short_variable <- function(variable, column) {
  altered(variable, raw = NULL, x = column$x, why = column$why, kinds = column$kinds, cells = NULL,
    long = NULL, facts = NULL, site = in_memory)
}

# What is in memory, without any variables: rows and their number are those of the variables.
in_memory <- structure(list(), class = "ableturn_memory")

# A value below, on and between each of the points; none where two are so close that none fits.
stretch_values <- function(points) {
  between <- (points[-1] + points[-length(points)]) / 2
  probes <- c(-Inf, rbind(points, c(between, Inf)))
  if (!is.unsorted(probes, strictly = TRUE)) probes
}

# The numbers that the formula compares the variable with; NULL if it does anything else with it.
compared_with <- function(expr, name) {
  if (is.symbol(expr)) return(NULL)
  if (!is.call(expr)) return(numeric())
  head <- call_head(expr)
  args <- as.list(expr)[-1]
  if (head == "unanswered") return(numeric())
  if (head %in% c(words_with("compares"), "%in%")) return(constants_beside(args, name))
  if (!head %in% c("choose", "if", "&", "|", "!", "(")) return(NULL)
  points <- lapply(args, compared_with, name = name)
  if (!any(vapply(points, is.null, NA))) sort(unique(unlist(points)))
}

constants_beside <- function(sides, name) {
  symbols <- vapply(sides, is.symbol, NA)
  numbers <- Filter(is.numeric, sides)
  if (sum(symbols) == 1 && length(numbers) == 1 && all(is.finite(numbers[[1]]))) {
    as.double(numbers[[1]])
  }
}

# The column of those who were asked, worked out for cells; NULL where these are not few.
asked_by_cells <- function(column, asked, variable, site) {
  others <- variable$asked
  if (is.null(column$cells) || !all_few(others)) return(NULL)
  index <- index_of_several(c(list(column), lapply(unname(others), column_of)),
    sum(column$cells$rows))
  if (is.null(index)) return(NULL)
  small <- Map(function(other, places) column_of_cells(column_of(other), places), others,
    index$places[-1])
  small <- site_of_columns(small, others, index$rows)
  made <- set_not_asked(column_of_cells(column, index$places[[1]]),
    as_truth(evaluate(asked, small)), index$rows)
  c(column_of_rows(made, index$codes, index$rows), made["answered_unasked"])
}

# The index of several columns together: its codes, how many rows are in each of its cells, and the
# `places` of these in the cells of each column. NULL where there would be too many of them.
index_of_several <- function(columns, rows) {
  if (inherits(columns[[1]]$cells$codes, "far_codes")) return(index_of_far(columns))
  codes <- lapply(columns, function(column) column$cells$codes)
  own <- match_objects(codes)
  first <- unique(own)
  sizes <- lengths(lapply(columns[first], function(column) column$cells$rows))
  if (length(first) == 1) {
    return(c(columns[[first]]$cells[c("codes", "rows")],
      list(places = rep(list(seq_len(sizes)), length(own)))))
  }
  if (prod(sizes) > min(4096, rows / 4)) return(NULL)
  places <- unclass(expand.grid(lapply(sizes, seq_len), KEEP.OUT.ATTRS = FALSE))
  c(joint_index(unname(codes[first]), sizes), list(places = unname(places)[match(own, first)]))
}

# One row for each value and for each kind of missing.
cell_column <- function(values, kinds) {
  new_column(c(values, rep(values[NA_integer_], length(kinds))), seq_along(kinds), kinds)
}

# Some rows of a column, each with its reason.
pick_rows <- function(column, at, kinds = column$kinds) {
  kind <- rep(NA_integer_, length(column$x))
  kind[is.na(column$x)] <- column$why
  x <- column$x[at]
  new_column(x, kind[at][is.na(x)], kinds)
}

# For whom a question was asked: a condition kept as text, with codes for labels.
asked_node <- function(meaning) if (!is.null(meaning$asked_if)) parse_formula(meaning$asked_if)
