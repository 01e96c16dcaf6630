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
#' is none with weights or pairwise. The standard error of measurement is the SD of the sum times
#' sqrt(1 - alpha), and that of the mean a k-th of it.
#'
#' `omega = TRUE` adds omega total of the raw sum, (sum of l s)^2/((sum of l s)^2 + sum of u s^2),
#' with loadings l and uniquenesses u of one factor by maximum likelihood ([stats::factanal()]) and
#' SDs s
#' of the items (McDonald 1999); it needs three items. `ordinal = TRUE` adds ordinal alpha, k r/(1 +
#' (k - 1) r) with the mean r of polychoric correlations, in two steps without correction of empty
#' cells
#' (Olsson 1979; Zumbo et al. 2007), which needs the package mvtnorm. That is the reliability of a
#' score of what is thought to lie behind the answers, not of their sum (Chalmers 2018).
#'
#' With `by` all of these are told for each group. Of two groups the difference of alpha is tested
#' by W = (1 - alpha)/(1 - alpha) on n - 1 and n - 1 degrees of freedom (Feldt 1969); of more,
#' groups are
#' named whose intervals do not overlap, which is stricter than a test at 5 percent. Waves of the
#' same persons are not compared.
#'
#' @param book A turnbook, or a data frame.
#' @param items The items, a tidyselect selection of two or more; or one composite, whose items are
#'   taken as they went into it, those reversed on the way as well.
#' @param weight A survey weight for each row.
#' @param pairwise Covariances from all rows that have both items, rather than
#'   from complete rows.
#' @param by A variable whose groups are told apart, up to 30.
#' @param omega Whether omega is told as well.
#' @param ordinal Whether ordinal alpha is told as well.
#' @param ... Not used.
#' @return A data frame with a row for each item: `item`, `label`, `n`, `missing`
#'   (percent), `mean`, `sd`, `item_rest`, `alpha_without`; its attribute `scale`
#'   holds `alpha`, `interval`, `standardized`, `mean_r`, `complete` rows, `constant`, items with
#'   one answer only, and `reversed`, alpha with each suspect item reversed, and `all_reversed`,
#'   `sem`, the standard errors of measurement of `sum` and `mean`, `omega` and `ordinal`; its
#'   attribute `groups` has a row for each group: `group`, `complete`, `alpha`, `low` and `high` of
#'   its interval, `sem` of the sum, `omega`, `ordinal`. It prints as a table.
#' @section Errors: `ableturn_error_one_item`, `ableturn_error_text_not_numbers`.
#' @references Chalmers, R. P. (2018). On misconceptions and the limited usefulness of ordinal
#'   alpha. Educational and Psychological Measurement, 78, 1056-1071.
#'
#'   Cronbach, L. J. (1951). Coefficient alpha and the internal
#'   structure of tests. Psychometrika, 16, 297-334.
#'
#'   Feldt, L. S. (1965). The approximate sampling distribution of
#'   Kuder-Richardson reliability coefficient twenty. Psychometrika, 30, 357-370.
#'
#'   Feldt, L. S. (1969). A test of the hypothesis that Cronbach's alpha or Kuder-Richardson
#'   coefficient twenty is the same for two tests. Psychometrika, 34, 363-373.
#'
#'   McDonald, R. P. (1999). Test theory: a unified treatment. Erlbaum.
#'
#'   Olsson, U. (1979). Maximum likelihood estimation of the polychoric correlation coefficient.
#'   Psychometrika, 44, 443-460.
#'
#'   Zumbo, B. D., Gadermann, A. M., & Zeisser, C. (2007). Ordinal versions of coefficients alpha
#'   and theta for Likert rating scales. Journal of Modern Applied Statistical Methods, 6, 21-29.
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"),
#'   codebook = demo_file("ferry-survey.codebook.json"), id = person)
#' item_analysis(book, st_1:st_6)
#' item_analysis(book, tr_1:tr_4, by = gender_code, omega = TRUE)
#' @export
item_analysis <- function(book, items, weight = NULL, pairwise = FALSE, by = NULL, omega = FALSE,
                          ordinal = FALSE, ...) {
  refuse_dots(...)
  book <- as_book(book)
  on.exit(let_go_of_copies(book))
  names <- select_vars(book, rlang::enquo(items), "items")
  stated <- !missing(weight)
  weigh <- rlang::enquo(weight)
  for (argument in c("pairwise", "omega", "ordinal")) check_flag(get(argument), argument)
  group <- rlang::enquo(by)
  weight <- weight_var(book, weigh, stated)
  more <- list(omega = omega, ordinal = ordinal,
    by = if (!rlang::quo_is_null(group)) one_var(book, group, "by"))
  check_more(more, weight, pairwise)
  items <- if (is_score(names, book)) items_of_score(names, book) else items_as_they_are(names,
    book)
  out <- analyse_items(items$nodes, site_of(book), items$turned, weight, pairwise)
  with_more(out, items$nodes, book, more)
}

# What rests on complete rows of equal weight cannot be had otherwise.
check_more <- function(more, weight, pairwise) {
  asked <- names(Filter(function(x) is.character(x) || isTRUE(x), more))
  if (length(asked) && (pairwise || !is.null(weight))) {
    fail("reliability-weighted", argument = asked[1], what = if (pairwise) "pairwise" else "weight")
  }
  if (more$ordinal) need_package("mvtnorm", "ordinal alpha")
}

items_as_they_are <- function(names, book) {
  if (length(names) < 2) fail("one-item", name = names)
  check_numbers(names, world_of(book))
  list(nodes = lapply(self_named(names), as.name),
    turned = names[verbs_in(book, names) == "reverse"])
}

# What was asked for beside alpha.
with_more <- function(out, nodes, book, more) {
  site <- site_of(book)
  facts <- attr(out, "scale")
  if (more$omega || more$ordinal) {
    spread <- products_at(nearest_items(nodes, site), unname(nodes))
    dimnames(spread$cov) <- list(names(nodes), names(nodes))
    if (more$omega) facts$omega <- omega_of(spread)
    if (more$ordinal) facts$ordinal <- ordinal_alpha(nodes, nearest_items(nodes, site))
  }
  attr(out, "scale") <- facts
  if (!is.null(more$by)) {
    groups <- reliability_by(nodes, nearest_items(nodes, site, more$by), more$by, more)
    attr(out, "groups") <- groups
    attr(out, "by") <- more$by
    attr(out, "differ") <- group_differences(groups, shares_units(book, more$by))
  }
  out
}

nearest_items <- function(nodes, site, by = NULL) {
  names <- unique(c(unlist(lapply(nodes, formula_vars)), by))
  if (site_can(site, "values")) site else site_near(site, names) %||% site
}

# Whether these are one composite.
is_score <- function(names, book) {
  length(names) == 1 && is_derived(book, names) && is_row_node(derived_in(book, names)$expr) &&
    length(row_items(derived_in(book, names)$expr)) > 1
}

# The items of a composite as they went into it, those reversed on the way as well.
items_of_score <- function(name, book) {
  nodes <- row_items(variable_in(book, name)$expr)
  names(nodes) <- vapply(nodes, function(node) formula_vars(node)[1], "")
  turned <- verbs_in(book, names(nodes)) == "reverse" | vapply(nodes, is_turned_node, NA)
  list(nodes = nodes, turned = names(nodes)[turned])
}

analysis_of_score <- function(name, book) {
  items <- items_of_score(name, book)
  analyse_items(items$nodes, site_of(book), items$turned)
}

# `nodes`: the items as they go into a score, by the names of their variables; `weight`: the name of
# one, if any. Where they span few cells, these are asked in place of the rows.
analyse_items <- function(nodes, site, turned, weight = NULL, pairwise = FALSE) {
  at <- nearest_items(nodes, site, weight)
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
    sem = if (!no_interval) measurement_error(spread$cov, alpha),
    all_reversed = if (length(against) > 1) alpha_reversed(against, spread$cov)
  )
}

# Alpha with these items turned round.
alpha_reversed <- function(places, cov) {
  sign <- replace(rep(1, ncol(cov)), places, -1)
  alpha_of(cov * outer(sign, sign))
}
