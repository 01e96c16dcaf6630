#' Analyse the items of a scale
#'
#' For each item its valid rows, mean and SD over these; over the rows with every
#' item its correlation with the sum of the others (corrected item-rest correlation) and
#' alpha without it; for the set Cronbach's alpha with its 95 percent interval,
#' standardized alpha and the mean
#' correlation between items. Says which item looks unreversed, and what alpha
#' would be with it reversed.
#'
#' Standardized alpha is k r/(1 + (k - 1) r) with r the mean correlation between items.
#' Alpha is k/(k - 1) (1 - sum of variances / variance of the sum) (Cronbach
#' 1951), over rows with every item. The interval is 1 - (1 - alpha) F with F at
#' .975 and .025 on n - 1 and (n - 1)(k - 1) degrees of freedom (Feldt 1965); there
#' is none with weights or pairwise.
#'
#' @param book A turnbook, or a data frame.
#' @param items The items, a tidyselect selection of two or more; or one composite, whose items are
#'   taken as they went into it, those reversed on the way as well.
#' @param weight A survey weight for each row.
#' @param pairwise Covariances from all rows that have both items, rather than
#'   from complete rows.
#' @param ... Not used.
#' @return A data frame with a row for each item: `item`, `label`, `n`, `missing`
#'   (percent), `mean`, `sd`, `item_rest`, `alpha_without`; its attribute `scale`
#'   holds `alpha`, `interval`, `standardized`, `mean_r`, `complete` rows, `constant`, items with
#'   one answer only, and `reversed`, alpha with each suspect item reversed, and `all_reversed`. It
#'   prints as a table.
#' @section Errors: `ableturn_error_one_item`, `ableturn_error_text_not_numbers`.
#' @references Cronbach, L. J. (1951). Coefficient alpha and the internal
#'   structure of tests. Psychometrika, 16, 297-334.
#'
#'   Feldt, L. S. (1965). The approximate sampling distribution of
#'   Kuder-Richardson reliability coefficient twenty. Psychometrika, 30, 357-370.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' item_analysis(book, st_1:st_6)
#' @export
item_analysis <- function(book, items, weight = NULL, pairwise = FALSE, ...) {
  refuse_dots(...)
  book <- as_book(book)
  on.exit(let_go_of_copies(book))
  names <- select_vars(book, rlang::enquo(items), "items")
  stated <- !missing(weight)
  weigh <- rlang::enquo(weight)
  check_flag(pairwise, "pairwise")
  weight <- weight_var(book, weigh, stated)
  if (is_score(names, book)) return(items_of_score(names, book, weight, pairwise))
  if (length(names) < 2) fail("one-item", name = names)
  check_numbers(names, world_of(book))
  turned <- names[verbs_in(book, names) == "reverse"]
  analyse_items(lapply(self_named(names), as.name), site_of(book), turned, weight, pairwise)
}

# Whether these are one composite.
is_score <- function(names, book) {
  length(names) == 1 && is_derived(book, names) && is_row_node(derived_in(book, names)$expr) &&
    length(row_items(derived_in(book, names)$expr)) > 1
}

# The items of a composite as they went into it, those reversed on the way as well.
items_of_score <- function(name, book, weight = NULL, pairwise = FALSE) {
  nodes <- row_items(variable_in(book, name)$expr)
  names(nodes) <- vapply(nodes, function(node) formula_vars(node)[1], "")
  turned <- verbs_in(book, names(nodes)) == "reverse" | vapply(nodes, is_turned_node, NA)
  analyse_items(nodes, site_of(book), names(nodes)[turned], weight, pairwise)
}

# `nodes`: the items as they go into a score, by the names of their variables; `weight`: the name of
# one, if any. Where they span few cells, these are asked in place of the rows.
analyse_items <- function(nodes, site, turned, weight = NULL, pairwise = FALSE) {
  at <- if (site_can(site, "values")) site else site_near(site, c(names(nodes), weight)) %||% site
  if (!is.null(weight)) check_weight(weight, at)
  spread <- products_at(at, unname(nodes), weight, pairwise = pairwise)
  if (!pairwise && spread$complete < 3) {
    fail("few-complete", rows = counted(spread$complete, "row"))
  }
  dimnames(spread$cov) <- list(names(nodes), names(nodes))
  parts <- lapply(self_named(names(nodes)), function(name) {
    item_answers(nodes[[name]], name, site, weight)
  })
  plain <- is.null(weight) && !pairwise
  finite <- function(x) ifelse(is.finite(x), x, NA_real_)
  out <- cbind(item_table(parts, site), item_rest = finite(item_rest(spread$cov)),
    alpha_without = finite(alpha_without(spread$cov)))
  row.names(out) <- NULL
  as_table(out, "ableturn_items", scale = scale_facts(spread, names(parts), !plain),
    answers = answer_shares(parts), turned = turned, weight = weight)
}

# The answers of an item: finite numbers `x`, NA for all others, and the weight `w` and rows `times`
# of each.
item_answers <- function(node, name, site, weight) {
  at <- nearest_site(site, c(name, weight))
  found <- counts_at(at, c(list(call("+", node, 0)), lapply(weight, as.name)),
    most = register_values)
  if (is.null(found)) refuse_answers(site$variable(name))
  w <- if (!is.null(weight)) as.double(as_number(found$keys[[2]])) %|% 0
  list(x = finite_numbers(found$keys[[1]]), w = w, times = found$rows)
}

# How the valid answers of each item are spread, in percent; many values in ten bands.
answer_shares <- function(parts) {
  all <- unlist(lapply(parts, `[[`, "x"), use.names = FALSE)
  ends <- range(all, na.rm = TRUE)
  few <- length(unique(all[!is.na(all)])) <= 12
  band <- function(x) {
    if (few) x else findInterval(x, seq(ends[1], ends[2], length.out = 11), rightmost.closed = TRUE)
  }
  do.call(rbind, lapply(names(parts), function(name) {
    part <- parts[[name]]
    use <- !is.na(part$x) & weighs(part$w)
    value <- band(part$x[use])
    each <- (if (is.null(part$w)) rep(1, sum(use)) else part$w[use]) * some_of(part$times, use)
    share <- tapply(each, value, sum)
    data.frame(item = name, value = as.numeric(names(share)),
      percent = 100 * as.vector(share) / sum(share))
  }))
}

# The rows whose weight counts.
weighs <- function(w) if (is.null(w)) TRUE else w > 0

item_table <- function(parts, site) {
  of <- function(told, type = 0) {
    vapply(parts, function(part) {
      use <- !is.na(part$x) & weighs(part$w)
      told(part, use, some_of(part$times, use))
    }, type)
  }
  data.frame(
    item = names(parts), label = vapply(names(parts),
      function(v) site$variable(v)$meaning$label %||% "", ""),
    n = of(function(part, use, times) as.integer(sum(use * part$times)), 1L),
    missing = of(function(part, use, times) {
      100 * sum(is.na(part$x) * part$times) / rows_in(part$x, part$times)
    }),
    mean = of(function(part, use, times) weighted_mean(part$x[use], part$w[use], times)),
    sd = of(function(part, use, times) weighted_sd(part$x[use], part$w[use], times))
  )
}

alpha_without <- function(cov) {
  if (ncol(cov) < 3) return(rep(NA_real_, ncol(cov)))
  vapply(seq_len(ncol(cov)), function(i) alpha_of(cov[-i, -i]), 0)
}

scale_facts <- function(spread, names, no_interval) {
  k <- length(names)
  alpha <- alpha_of(spread$cov)
  r <- suppressWarnings(stats::cov2cor(spread$cov))
  r <- r[upper.tri(r)]
  # an item without spread correlates with none
  mean_r <- if (any(is.finite(r))) mean(r[is.finite(r)]) else NA_real_
  rest <- item_rest(spread$cov)
  against <- which(rest < 0 & sum(rest < 0) <= k / 2)
  list(
    alpha = if (is.finite(alpha)) alpha else NA_real_, constant = names[diag(spread$cov) <= 0],
    interval = if (!no_interval && is.finite(alpha)) feldt_interval(alpha, spread$complete, k),
    standardized = k * mean_r / (1 + (k - 1) * mean_r), mean_r = mean_r, complete = spread$complete,
    reversed = vapply(setNames(against, names[against]), alpha_reversed, 0, cov = spread$cov),
    all_reversed = if (length(against) > 1) alpha_reversed(against, spread$cov)
  )
}

# Alpha with these items turned round.
alpha_reversed <- function(places, cov) {
  sign <- replace(rep(1, ncol(cov)), places, -1)
  alpha_of(cov * outer(sign, sign))
}

feldt_interval <- function(alpha, n, k) {
  1 - (1 - alpha) * stats::qf(c(0.975, 0.025), n - 1, (n - 1) * (k - 1))
}

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
