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

# The index of several columns together: its codes, how many rows are in each of its cells, and the
# `places` of these in the cells of each column. NULL where there would be too many of them.
index_of_several <- function(columns, rows) {
  UseMethod("index_of_several", columns[[1]]$cells$codes)
}

#' @export
index_of_several.default <- function(columns, rows) {
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
