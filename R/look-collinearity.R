#' How far predictors overlap
#'
#' The variance inflation of each variable of a set, 1/(1 - R squared) with the
#' others, over rows with every variable; and sets that add up exactly, such as
#' all dummies of one variable (the dummy trap).
#'
#' @param book A turnbook, or a data frame.
#' @param vars The predictors, a tidyselect selection of two or more.
#' @return A data frame with a row for each variable: `variable`, `label`, `vif`
#'   (Inf where it follows from the others) and `tolerance`; its attribute `complete` is
#'   the number of rows. It prints as a table.
#' @section Errors: `ableturn_error_one_item`, `ableturn_error_text_not_numbers`.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' collinearity(book, c(wait_min, hours, household, children))
#' @export
collinearity <- function(book, vars) {
  book <- as_book(book)
  names <- select_vars(book, rlang::enquo(vars))
  if (length(names) < 2) fail("one-predictor", name = names)
  check_numbers(names, world_of(book))
  site <- site_of(book)
  at <- nearest_site(site, names)
  spread <- products_at(at, lapply(names, as.name))
  if (spread$complete < length(names) + 2) {
    fail("few-complete", rows = counted(spread$complete, "row"))
  }
  vif <- vapply(seq_along(names), function(i) inflation_from(spread$cov, i), 0)
  trap <- trapped_sources(names, book, function(dummies) {
    at <- match(dummies, names)
    facts <- lapply(variables_in(book, dummies), facts_of)
    all(vapply(facts, function(f) all(f$values %in% 0:1), NA)) &&
      abs(sum(spread$mean[at]) - 1) < 1e-9 && abs(sum(spread$cov[at, at])) < 1e-9
  })
  collinearity_table(vif, names, book, spread$complete, trap)
}

# What the others leave of a variable follows from the covariances.
inflation_from <- function(cov, i) {
  sizes <- sqrt(diag(cov))
  r <- cov / outer(sizes, sizes)
  if (cov[i, i] == 0) return(Inf)
  kept <- setdiff(which(sizes > 0), i)
  parts <- eigen(r[kept, kept, drop = FALSE], symmetric = TRUE)
  use <- parts$values > 1e-11 * max(parts$values, 0)
  along <- crossprod(parts$vectors[, use, drop = FALSE], r[kept, i])
  left <- 1 - sum(along^2 / parts$values[use])
  if (left < 1e-10) Inf else 1 / left
}

collinearity_table <- function(vif, names, book, complete, trap) {
  out <- data.frame(variable = names, label = vapply(names,
    function(v) meaning_in(book, v)$label %||% "", ""), vif = vif,
  tolerance = 1 / vif, row.names = NULL)
  as_table(out, "ableturn_collinearity", complete = complete, trap = trap)
}

# Variables all of whose levels are in the set: their dummies add up to one, as `add_up` tells.
trapped_sources <- function(names, book, add_up) {
  dummies <- names[verbs_in(book, names) == "dummy"]
  sources <- vapply(dummies, function(name) derived_in(book, name)$from[1], "")
  Filter(function(source) sum(sources == source) > 1 && add_up(dummies[sources == source]),
    unique(sources))
}
