# What look() has seen of a variable as a table.

# The table of one group.
group_table <- function(label, place, subject, seen, groups, weight) {
  of_group <- function(found) {
    if (is.null(groups$keys)) return(rep(TRUE, length(found$rows)))
    found$keys[[1]] %in% groups$keys[place]
  }
  valid <- rows_of_group(seen$valid, of_group(seen$valid))
  gone <- rows_of_group(seen$gone, of_group(seen$gone))
  main <- switch(subject$kind,
    counts = value_rows(valid, subject$meaning$codes, !is.null(weight)),
    times = time_rows(seen$times, groups$keys[place], valid, !is.null(weight)),
    statistic_rows(rows_of_group(seen$stats, of_group(seen$stats)), subject$kind, valid,
      !is.null(weight)))
  out <- rows_of_all(list(main, missing_rows(gone, subject$variable, !is.null(weight))))
  told <- total_weight(valid, !is.null(weight))
  out$percent <- 100 * out$weighted / (told + total_weight(gone, !is.null(weight)))
  out$valid_percent <- ifelse(out$part == "value", 100 * out$weighted / told, NA)
  do.call(quick_table, c(list(variable = rep(subject$name, nrow(out)),
    group = rep(label, nrow(out))), out))
}

# Some groups of what was counted.
rows_of_group <- function(found, which) {
  part <- some_groups(found[c("keys", setdiff(names(found), c("keys", "others")))], which(which))
  c(part, found["others"])
}

weights_of <- function(found, weighted) if (weighted) found$sums[, 1] else found$rows

total_weight <- function(found, weighted) {
  sum(weights_of(found, weighted)) + sum(found$others)
}

rows_of_look <- function(part, value, label, rows, weighted, amount = NA_real_) {
  quick_table(
    part = rep(part, length(value)), value = value, label = label,
    rows = as_row_counts(rep_len(rows, length(value))),
    weighted = as.double(rep_len(weighted, length(value))),
    amount = rep_len(amount, length(value))
  )
}

# The values that were met, and those that have a label and were not.
value_rows <- function(valid, codes, weighted) {
  met <- valid$keys[[length(valid$keys)]]
  if (!is.null(valid$others)) return(frequent_rows(valid, met))
  values <- category_order(c(met, unname(codes)[!codes %in% met]), codes)
  at <- match(values, met)
  rows_of_look("value", show_value(values), telling_label(values, codes) %|% "",
    valid$rows[at] %|% 0, weights_of(valid, weighted)[at] %|% 0)
}

frequent_rows <- function(valid, met) {
  rest <- valid$others
  rows <- c(valid$rows, if (rest) rest)
  rows_of_look("value", c(met, if (rest) "..."), rep(c("", "all others"), c(length(met), rest > 0)),
    rows, rows)
}

statistic_rows <- function(known, kind, valid, weighted) {
  stats <- if (length(known$rows)) unlist(known[c("rows", "mean", "sd", "min", "cuts", "max")])
  statistic_table(stats, kind, valid, weighted)
}

statistic_names <- c("valid", "mean", "sd", "lowest", "quarter", "median", "three quarters",
  "highest")

# The statistics that looking at a number shows, weighted if asked.
statistic_table <- function(stats, kind, valid, weighted) {
  if (is.null(stats)) stats <- c(0, rep(NA_real_, 7))
  names(stats) <- statistic_names
  if (!is.na(stats[["valid"]]) && stats[["valid"]] < 2) stats[["sd"]] <- NA_real_
  if (kind %in% c("dates", "times")) stats <- stats[c("valid", "lowest", "median", "highest")]
  rows_of_look("statistic", names(stats), rep("", length(stats)), sum(valid$rows),
    total_weight(valid, weighted), unname(stats))
}

# The times themselves, as they are written; of a median between two, the one below.
time_rows <- function(times, key, valid, weighted) {
  use <- is.finite(times$seconds) & (if (is.null(times$group)) TRUE else times$group %in% key)
  if (!is.null(times$w)) use <- use & times$w > 0
  x <- times$seconds[use]
  w <- if (!is.null(times$w) && !all(times$w[use] == 1)) times$w[use]
  n <- times$rows[use]
  stats <- if (length(x)) c(sum(n), NA, NA, min(x), weighted_quantiles(x, w, c(0.25, 0.5, 0.75), n),
    max(x))
  out <- statistic_table(stats, "times", valid, weighted)
  at <- vapply(out$amount, function(amount) {
    near <- which(x <= amount)
    if (length(near)) near[which.max(x[near])] else NA_integer_
  }, 1L)
  out$label <- ifelse(out$value == "valid", "", times$texts[use][at] %|% "")
  out
}

missing_rows <- function(gone, variable, weighted) {
  kinds <- column_of(variable)$kinds
  place <- gone$keys[[length(gone$keys)]]
  at <- match(seq_along(kinds), place)
  out <- rows_of_look("missing", kinds, rep("", length(kinds)), gone$rows[at] %|% 0,
    weights_of(gone, weighted)[at] %|% 0)
  out[out$rows > 0, ]
}
