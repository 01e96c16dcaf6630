# What a site (see book-site.R) is asked about formulas that are worked out where the rows are. The
# book has all variables that these read; `within`: formulas whose combinations are the groups.

# The combinations of some formulas: `keys`, a list of values for each of them, and `rows`, how many
# rows hold each; NULL where there are more than `most`, or, with `frequent`, the most frequent.
# Only rows for which `where` is true count; as a `hint` it is about 10,000 rows that are asked, if
# the site can choose these.
groups_at_site <- function(site, book, nodes, most, ...) UseMethod("groups_at_site")

# How many rows a formula is true for.
rows_where <- function(book, node) {
  as.integer(sum(groups_at_site(info_of(book)$site, book, list(), 1, node)$rows))
}

# The first combination of some formulas that several rows hold, and how many more rows than one for
# each there are; NULL where there is none.
repeats_at_site <- function(site, book, nodes) UseMethod("repeats_at_site")

# Whether a call of previous() can be answered there: an error where it cannot.
check_unit_at_site <- function(site, book, call) UseMethod("check_unit_at_site")

# How many rows of a unit come two occasions or more after the row before.
gaps_at_site <- function(site, book, order, unit) UseMethod("gaps_at_site")

# The sum over all rows of some formulas that give whole numbers: how often something holds.
# tallies_by_at_site() gives them for the values of another formula: `keys`, and `told`, a row for
# each of these.
tallies_at_site <- function(site, book, nodes) UseMethod("tallies_at_site")

tallies_by_at_site <- function(site, book, nodes, by) UseMethod("tallies_by_at_site")

# In how many of a thousand rows, whichever are read first, each of some `others` differs from a
# variable, as rows_that_differ() has it; `exact`: also numbers that are nearly equal.
unlike_first_at_site <- function(site, book, name, others, exact) UseMethod("unlike_first_at_site")

# Of a formula that gives numbers, in each group: how many rows it has, `n`, how many of these are
# `valid`, how many `rows` have a finite number, the lowest and highest of these, and how many are
# not whole, `parts`.
ends_at_site <- function(site, book, node, within = list()) UseMethod("ends_at_site")

# Its exact sum in each group. `scale`, a power of two, is not below any number in size. Each number
# becomes four whole numbers of 22 bits, whose sums are exact in any order; these come back.
parts_at_site <- function(site, book, node, scale, within = list()) UseMethod("parts_at_site")

# The finite numbers at some ranks, from 0, in each group.
ranks_at_site <- function(site, book, node, ranks, within = list()) UseMethod("ranks_at_site")

# Over the rows in which all of some formulas have a number: how many `rows` there are, the `sums`
# of the distances from the numbers `centre`, and of their `products`, two by two. With a `weight`
# only rows count in which it is above zero, each with it; `weight` is the sum of these. As a `hint`
# it is about 10,000 rows that are asked, always the same, if the site can choose these: `some`.
products_at_site <- function(site, book, nodes, centre, ...) UseMethod("products_at_site")

# The same rows and distances, with the total of these in each row: `rows`, the `sums`, their
# `squares` and `products` with the total, and `total`, its own sum and square.
totals_at_site <- function(site, book, nodes, centre) UseMethod("totals_at_site")

# What is known of a formula that gives numbers, in each group: `keys` and, as moments() tells it, a
# row each. The squares are those of the distances from a number near the mean, for whole numbers a
# whole one.
moments_at_site <- function(site, book, node, within = list()) {
  ends <- ends_at_site(site, book, node, within)
  some <- ends$told$rows > 0
  keys <- lapply(ends$keys, `[`, some)
  told <- lapply(ends$told, `[`, some)
  if (!any(some)) return(list(keys = keys, told = no_moments()))
  sum_of <- function(node, scale) {
    found <- parts_at_site(site, book, node, scale, within)
    if (length(keys)) found$parts[match(key_texts(keys), key_texts(found$keys)), , drop = FALSE]
    else found$parts
  }
  scale <- scale_above(c(told$low, told$high))
  sums <- sum_of(node, scale)
  known <- function(squares, unit, centre) {
    moments_of_parts(told$rows, told$low, told$high, sums, scale, squares, unit, centre)
  }
  centre <- known(0 * sums, 1, 0 * told$low)[, "mean"]
  if (all(told$parts == 0)) centre <- round(centre)
  unit <- scale_above(c(told$high - centre, centre - told$low))
  squares <- sum_of(squares_node(node, centre, keys, within, unit), 2)
  list(keys = keys, told = known(squares, unit, centre))
}

no_moments <- function() {
  moments_of_parts(numeric(), numeric(), numeric(), matrix(0, 0, 4), 1, matrix(0, 0, 4), 1,
    numeric())
}
