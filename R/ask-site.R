# A site: where the rows of some variables are, and what questions are put to. There are three: rows
# in memory; answers in memory, each of which stands for several rows (`times`); a table of a
# database, on one server or several. What is wanted of rows is asked in one of ten kinds of
# question, and nothing that asks knows which site answers.
#
# A site knows variables by name, `variable(name)`; the formulas of a question name these. Groups
# come with their `keys`, a list of values for each formula that tells them apart, in the order of
# these: numbers upwards, texts by their letters, what is missing last. All counts are doubles.
#   kind      what it is about
#   given     what is asked with: formulas, unless said otherwise
#   gives     what is answered
new_kind <- function(kind, given, gives) list(kind = kind, given = given, gives = gives)

question_kinds <- list(
  new_kind("counts_at",
    paste("keys; where: a condition on the rows that count; sums: formulas of whole numbers;",
      "most: how many groups may be fetched; frequent: the most frequent alone, as many as that;",
      "sample: about 10,000 rows will do; likely: NULL where there are likely to be more"),
    "keys; rows: how many rows each group has; sums: a column for each. NULL for more than `most`"),
  new_kind("extent_at", "x, a number; keys",
    paste("keys; n: rows; valid: those with a number; rows: with a finite one; low, high: the ends",
      "of these; fractions: how many are not whole")),
  new_kind("moments_at", "x, a number; keys; weight: the name of a variable; of: what is wanted",
    paste("keys, none of which is missing; rows: with a finite number and a weight; sum, mean, sd,",
      "min, max")),
  new_kind("ranks_at", "x, a number; shares: numbers from 0 to 1; keys; weight",
    "keys; values: a row for each group, its quantile at each share"),
  new_kind("products_at", "xs, numbers; weight; pairwise; sample",
    "complete: the rows with all of them; cov, mean; some: whether it is a sample"),
  new_kind("differ_at", "a, b, names of variables or formulas; exact",
    "in how many rows they differ, and in how many one alone is missing"),
  new_kind("repeats_at", "keys",
    "values: the first combination that several rows hold; rows: how many more there are"),
  new_kind("steps_at", "order, unit, names; occasions: values in their order",
    "how many rows of a unit skip an occasion"),
  new_kind("rows_at", "names; where: values of variables; id: the variable to sort by",
    "a data frame"),
  new_kind("window_at",
    "names; where: a condition; order: see window_at(); id; from, n: which rows",
    "columns: x and reason of each variable; rows: their numbers; id: their identifiers")
)

counts_at <- function(site, keys = list(), where = NULL, most = Inf, ...) UseMethod("counts_at")

extent_at <- function(site, x, keys = list()) UseMethod("extent_at")

# Both at once, of a table.
numbers_at <- function(site, x, keys = list()) UseMethod("numbers_at")

moments_at <- function(site, x, keys = list(), weight = NULL, of = NULL) UseMethod("moments_at")

ranks_at <- function(site, x, shares, keys = list(), weight = NULL) UseMethod("ranks_at")

products_at <- function(site, xs, weight = NULL, ...) UseMethod("products_at")

differ_at <- function(site, a, b, exact, ...) UseMethod("differ_at")

# Those of some columns that may be the same as a variable, by what can be seen of them at a glance;
# none of them may be read otherwise than it came.
look_alike <- function(site, name, names) UseMethod("look_alike")

# Whether two variables or formulas are the same in every row: all are compared where those that are
# read first are the same.
are_equal <- function(site, a, b, exact) {
  seem_equal(site, a, b, exact) && differ_at(site, a, b, exact)$differ == 0
}

# Whether they are the same in the rows that are read first.
seem_equal <- function(site, a, b, exact) UseMethod("seem_equal")

repeats_at <- function(site, keys) UseMethod("repeats_at")

steps_at <- function(site, order, unit, occasions) UseMethod("steps_at")

rows_at <- function(site, names, where = NULL, id = NULL) UseMethod("rows_at")

# A site as it is asked about these variables, a function from a name to a variable.
scoped <- function(site, variable) UseMethod("scoped")

# With further variables, by the names they are to have in formulas.
also_knowing <- function(site, more) {
  before <- site$variable
  scoped(site, function(name) more[[name]] %||% before(name))
}

# What a site can do beside answering: "row numbers", "fingerprint", "scripts in R", ...
site_can <- function(site, ability) UseMethod("site_can")

# What some code asks, all of it about the same rows, whoever changes them meanwhile.
in_one_state <- function(site, code) UseMethod("in_one_state")

# A variable may be given by its name.
as_node <- function(x) if (is.character(x)) as.name(x) else x

# How many rows a condition is true for.
rows_where <- function(site, where) sum(counts_at(site, where = where, most = 1)$rows)

# A site without any variables that has the rows of one.
with_rows_of <- function(site, variable) UseMethod("with_rows_of")

# The answers of an original as they came, with an index, NULL where they are not few; its values
# and reasons; and what is known of these.
read_index <- function(site, variable) UseMethod("read_index")

read_original <- function(site, variable) UseMethod("read_original")

# Reads the answers of several originals at once, where that is faster than one by one.
read_together <- function(site, variables) UseMethod("read_together")

read_facts <- function(site, variable) UseMethod("read_facts")

# A site without its variables, as these keep it.
home <- function(site) UseMethod("home")

# Why a variable is missing in each row, as a place among its kinds; a question may ask for it.
reason_node <- function(name) call("reason of", as.name(name))

is_reason_node <- function(node) is.call(node) && identical(node[[1]], as.name("reason of"))

# A column as it came, in a question.
as_it_came <- function(name) call("as it came", as.name(name))

is_stored_node <- function(node) is.call(node) && identical(node[[1]], as.name("as it came"))
