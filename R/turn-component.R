#' @include turn-type.R
NULL

#' Score items by their first principal component
#'
#' An index of several variables, each weighted by how much it has in common with the others, such
#' as an index of wealth from what a household owns (Filmer and Pritchett 2001). Means, SDs,
#' loadings and eigenvalues are learned when the turn is made and applied to later data; published
#' loadings
#' can be given.
#'
#' With the correlations of the items, over rows that have all of them, lambda being the largest
#' eigenvalue and v its vector, the score is sum(v (x - m)/s)/sqrt(lambda), with mean 0 and variance
#' 1 in these rows; with covariances sum(v (x - m))/sqrt(lambda). The loadings that are shown are
#' the correlations of the items with the score. The sign is such that the item `positive` has a
#' positive
#' loading; left out, most of the items (of as many, those of the larger sum; of equal sums, the
#' first item). Given `loadings` l may be on any scale: the score is sum(l (x - m)/s), divided by
#' its SD in
#' the rows that it is learned from, and keeps their sign.
#'
#' Every item is needed. With `at_least`, a missing item counts its mean, and the receipt shows in
#' how many rows; it is learned from complete rows all the same. Where two components are equally
#' large there is no first one, which is refused.
#'
#' @inheritParams turn_recode
#' @param items The items, a tidyselect selection: amounts, scores, 0/1 columns, not nominal codes.
#' @param positive The item that is to load positively.
#' @param loadings Published loadings: numbers named by the items, or a data frame or CSV file with
#'   the columns `item`, `loading` and, for published moments, `mean` and `sd`.
#' @param of What is taken apart: `"correlation"`, or `"covariance"` for items in one unit.
#' @param at_least How many valid items a score needs; left out, all of them.
#' @param ... Not used; the arguments after it are written in full.
#' @param as Name of the score.
#' @return The book with the score.
#' @section Errors: Class `ableturn_error`: `ableturn_error_component_constant`,
#'   `ableturn_error_component_tied`, `ableturn_error_component_nominal`.
#' @references Filmer, D., & Pritchett, L. H. (2001). Estimating wealth effects without expenditure
#'   data - or tears: an application to educational enrollments in states of India. Demography, 38,
#'   115-132.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' book <- turn_component(book, st_1:st_6, as = "strain_c", positive = st_1, at_least = 5)
#' @export
turn_component <- function(book, items, positive = NULL, loadings = NULL, of = "correlation",
                           at_least = NULL, ..., as = NULL, label = NULL, note = NULL, high = NULL,
                           accept = NULL, replace = FALSE) {
  refuse_dots(...)
  from <- select_vars(book, rlang::enquo(items), "items")
  up <- rlang::enquo(positive)
  turn <- new_turn("component", one_name(as, "component"), from = from,
    positive = if (!rlang::quo_is_null(up)) one_var(book, up, "positive"),
    loadings = loadings_table(loadings, from), of = drop_default(of, "correlation"),
    at_least = at_least, label = label, note = note, high = high, accept = read_accept(accept)
  )
  make_turn(book, turn, replace)
}

turn_type("component",
  keys = c(from = "names", label = "texts", positive = "names", loadings = "table", of = "word",
    at_least = "number"),
  needs = "from", main = c(items = "from"), doing = "a principal component",
  says = function(derived, turn) {
    paste0("the first principal component of ", length(turn$from), " items (",
      in_a_row(turn$from), ")", if (!is.null(turn$loadings)) ", by given loadings")
  },
  traits = c("reckons", "may be constant by mistake")
)

# Loadings as columns in the order of the items, whatever they came as.
loadings_table <- function(loadings, items) {
  if (is.null(loadings)) return(NULL)
  if (names_a_table(loadings)) loadings <- open_rules(loadings)
  if (is.numeric(loadings) && !is.null(names(loadings))) {
    loadings <- list(item = names(loadings), loading = unname(loadings))
  }
  if (!is.list(loadings) || !all(c("item", "loading") %in% names(loadings))) fail("loadings-form")
  place <- match(items, as.character(loadings$item))
  if (anyNA(place)) fail("loadings-lost", name = items[is.na(place)])
  columns <- intersect(c("item", "loading", "mean", "sd"), names(loadings))
  table <- lapply(loadings[columns], function(column) plain_values(column)[place])
  table$item <- items
  table
}

#' @export
check_turn.component_turn <- function(turn) {
  if (length(turn$from) < 2) fail("one-item", name = turn$from)
  check_choice(turn$of %||% "correlation", "of", c("correlation", "covariance"))
  if (!is.null(turn$at_least)) check_threshold(turn$at_least, 1, length(turn$from))
  strange <- setdiff(turn$positive, turn$from)
  if (length(strange)) fail("positive-not-item", name = strange)
  if (!is.null(turn$loadings)) check_loadings(turn)
}

check_loadings <- function(turn) {
  table <- turn$loadings
  lost <- setdiff(c("item", "loading"), names(table))
  if (length(lost)) fail("loadings-form")
  if (length(turn$positive)) fail("loadings-sign")
  numbers <- unlist(table[setdiff(names(table), "item")])
  if (!is.numeric(numbers) || !all(is.finite(numbers)) || any(table$sd <= 0)) {
    fail("loadings-numbers")
  }
  if (is.null(table$mean) != is.null(table$sd)) fail("loadings-moments")
}

#' @export
more_reads.component_turn <- function(turn) turn$from

#' @export
lower.component_turn <- function(turn, world) {
  check_numbers(turn$from, world)
  for (name in turn$from) refuse_nominal_item(name, world)
  parts <- if (is.null(turn$loadings)) own_component(turn, world) else given_component(turn, world)
  options <- list(at_least = turn$at_least %||% length(turn$from))
  terms <- Map(function(name, mean, by) call("*", call("(", call("-", as.name(name), mean)), by),
    turn$from, parts$mean, parts$by)
  list(new_lowered(turn$makes, as.call(c(list(as.name("row_sum")), unname(terms), options)),
    component_meaning(turn, world, parts), notes = parts$notes, remarks = parts$remarks))
}

# Codes that are names have no distances; no and yes have one.
refuse_nominal_item <- function(name, world) {
  if (!identical(world$meaning(name)$level, "nominal")) return(invisible())
  values <- as_number(world$values(name))
  if (length(unique(values[!is.na(values)])) > 2) fail("component-nominal", name = name)
}

component_call <- function(word, turn, ...) {
  as.call(c(list(as.name(word)), lapply(turn$from, as.name), compact(list(...))))
}

# What the data give: the mean and the factor of each item, with what was learned.
own_component <- function(turn, world) {
  learn <- function(word) {
    world$learn(component_call(word, turn, of = turn$of, positive = turn$positive))
  }
  notes <- lapply(c("component_means", "component_sds", "component_vector",
    "component_eigenvalues"), learn)
  part <- lapply(notes, function(note) as.double(as_number(note$is)))
  if (any(lengths(part) != length(turn$from)) || !all(is.finite(unlist(part)))) {
    fail("component-record", items = length(turn$from))
  }
  root <- sqrt(part[[4]][1])
  covariance <- identical(turn$of, "covariance")
  sizes <- if (covariance) 1 else part[[2]]
  loadings <- part[[3]] * root / if (covariance) part[[2]] else 1
  list(mean = part[[1]], by = part[[3]] / (sizes * root), notes = notes, loadings = loadings,
    remarks = component_remarks(turn, loadings, part[[4]], notes[[1]]$rows))
}

# By published loadings, and published moments where there are some.
given_component <- function(turn, world) {
  table <- turn$loadings
  moments <- if (is.null(table$mean)) {
    lapply(c("component_means", "component_sds"), function(word) {
      world$learn(component_call(word, turn))
    })
  }
  mean <- table$mean %||% as.double(moments[[1]]$is)
  by <- as.double(table$loading) / (table$sd %||% as.double(moments[[2]]$is))
  size <- world$learn(component_call("component_size", turn, by = by))
  list(mean = as.double(mean), by = by / as.double(size$is), notes = c(moments, list(size)),
    loadings = as.double(table$loading), remarks = list(loadings_remark(turn, table$loading)))
}

component_remarks <- function(turn, loadings, values, rows) {
  share <- values[1] / sum(values)
  weak <- values[1] < 1.5 * values[2]
  low <- turn$from[abs(loadings) < 0.2]
  compact(list(
    loadings_remark(turn, loadings),
    new_remark("Share of the variance", paste0(round(100 * share), " % (eigenvalue ",
      show_number(signif(values[1], 3)), ", the second ", show_number(signif(values[2], 3)), ")"),
    if (share < 1 / 3 && !weak) "component-share", plain = TRUE),
    if (weak) new_remark("There is hardly a first component", paste0("eigenvalues ",
      show_number(signif(values[1], 3)), " and ", show_number(signif(values[2], 3))),
    "component-weak"),
    if (length(low)) new_remark("Items that hardly belong to it", in_a_row(low), "component-item")
  ))
}

loadings_remark <- function(turn, loadings) {
  new_remark("Loadings", paste(turn$from, two_digits(loadings), collapse = ", "), plain = TRUE)
}

component_meaning <- function(turn, world, parts) {
  up <- turn$positive %||% turn$from[which.max(parts$loadings)]
  worked_out <- new_meaning(label = paste("First component of", length(turn$from), "items"),
    level = "interval", high = world$meaning(up)$high)
  finish_meaning(turn, worked_out)
}
