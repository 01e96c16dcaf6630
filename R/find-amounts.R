# Findings about amounts: numbers that are too far off, or no amounts at all.
find_in_amounts <- function(made, reckoned, book) {
  verb <- made$turn$verb
  asks <- is.null(made$out$rules) && any(c("==", "!=", "%in%") %in% made$words)
  c(
    list(if (asks) never_held(made), if (verb == "standardize") reference_far(made),
      if (verb == "compute" && length(made$out$from) > 1) distant_results(made)),
    if (verb %in% c("reverse", "rescale") && length(made$turn$limits) == 2)
      list(limits_unreached(made$sources[[made$out$from[1]]], made)),
    if (verb %in% c("standardize", "bin", "composite")) lapply(reckoned, scored_identifier,
      made = made, book = book),
    lapply(Filter(Negate(is_made), reckoned), distant_values, made = made)
  )
}

# Texts that a formula or condition names and the variable never holds. Rules tell of theirs, and a
# codebook may list answers that nobody gave.
never_held <- function(made) {
  found <- list()
  walk_formula(made$out$expr, function(call) {
    parts <- as.list(call)[-1]
    named <- vapply(parts, is.symbol, NA)
    if (call_head(call) %in% c("==", "!=", "%in%") && sum(named) == 1) {
      texts <- parts[[which(!named)]]
      name <- as.character(parts[[which(named)]])
      if (is.character(texts) && name %in% names(made$sources)) {
        found[[name]] <<- c(found[[name]], texts)
      }
    }
    call
  })
  for (name in names(found)) {
    lost <- texts_never_held(found[[name]], made$sources[[name]])
    if (length(lost)) return(new_finding("never-held", made$out$name, source = name, values = lost))
  }
}

# In quotes, each with the text that may be meant.
texts_never_held <- function(texts, variable) {
  seen <- if (has_text(variable)) answers_listed(variable)
  if (is.null(seen)) return(NULL)
  met <- normal_text(as.character(seen$values))
  known <- c(met, normal_text(c(names(variable$meaning$codes), unlist(lapply(
    variable$meaning$missing, function(kind) lapply(kind, `[[`, "values"))))))
  lost <- setdiff(normal_text(texts), known)
  if (!length(met) || !length(lost)) return(NULL)
  near <- vapply(lost, nearest, "", known = met)
  paste0(quote_text(lost), ifelse(is.na(near), "", paste0(" (there is ",
    quote_text(near), ")")), recycle0 = TRUE)
}

# Published norms that put nearly all rows on a fraction of the usual width, or on many times it.
reference_far <- function(made) {
  reference <- made$turn$reference
  if (!is.numeric(reference)) return(NULL)
  seen <- seen_numbers(made$sources[[made$out$from[1]]])
  if (sum(seen$rows) < 30) return(NULL)
  ends <- quantiles_seen(seen, c(0.025, 0.5, 0.975))
  width <- (ends[3] - ends[1]) / reference[2]
  usual <- 2 * stats::qnorm(0.975)
  if (width >= usual / 2 && width <= 4 * usual) return(NULL)
  new_finding("reference-far", made$out$name, source = made$out$from[1],
    reference = paste0("mean ", brief_number(reference[1]), ", SD ", brief_number(reference[2])),
    values = paste(brief_number(ends[1]), "to", brief_number(ends[3])))
}

# The numbers of a variable in order, each with its rows; of a long column those of a sample of
# 10,000 rows; none of a table's where they are too many.
seen_numbers <- function(variable) {
  if (value_type(variable) != "number") return(no_numbers)
  if (is_seen_in_part(variable)) {
    x <- values_of(variable)
    return(number_counts(as.double(x[hint_rows(length(x))])))
  }
  if (is.null(answers_listed(variable))) no_numbers else numbers_of(variable)[c("values", "rows")]
}

is_seen_in_part <- function(variable) {
  facts <- facts_of(variable)
  site_can(variable$site, "values") && !facts$few && facts$valid > 100000
}

quantiles_seen <- function(seen, shares) {
  upto <- cumsum(as.double(seen$rows))
  seen$values[findInterval(shares * upto[length(upto)], upto, left.open = TRUE) + 1L]
}

# Limits that were stated for a turn, whose end nobody reaches though all other answers are given.
limits_unreached <- function(source, made) {
  limits <- as.double(made$turn$limits)
  if (is.null(source) || diff(limits) > 10) return(NULL)
  seen <- seen_numbers(source)
  if (sum(seen$rows) < 100 || !is_whole(c(limits, seen$values))) return(NULL)
  lacking <- setdiff(seq(limits[1], limits[2]), seen$values)
  inner <- lacking[lacking > min(seen$values) & lacking < max(seen$values)]
  if (!length(lacking) || length(inner)) return(NULL)
  new_finding("limits-unreached", made$out$name, source = source$name,
    limits = range_words(limits), values = show_number(lacking))
}

# A number that tells the rows apart in equal steps is a name, not an amount.
scored_identifier <- function(source, made, book) {
  is_id <- identical(source$name, info_of(book)$id)
  if (is_id || numbers_the_rows(source)) {
    new_finding("scored-identifier", made$out$name, source = source$name,
      values = if (is_id) "it is the identifier of the rows" else "it numbers the rows one by one")
  }
}

numbers_the_rows <- function(source) {
  if (is_made(source)) return(FALSE)
  facts <- facts_of(source)
  n <- facts$valid
  if (n < 20 || !isTRUE(facts$high - facts$low == n - 1)) return(FALSE)
  value_type(source) == "number" && has_whole_values(source) &&
    is.null(repeats_at(site_of_one(source), list(as.name(source$name))))
}

# One to five values that lie by themselves, of variables without limits.
distant_values <- function(source, made) {
  if (length(source$meaning$limits)) return(NULL)
  if (is.null(source$far)) source$far <- distant_numbers(source)
  far <- source$far
  if (length(far$values)) new_finding("far-value", made$out$name, source = source$name,
    of = source$name, values = rows_in_words(show_number(far$values), far$rows))
}

# The same of what several variables give together, as a weight and a height of one person.
distant_results <- function(made) {
  far <- distant_numbers(made$column)
  if (length(far$values)) new_finding("far-value", made$out$name, source = made$out$from,
    of = made$out$name, values = rows_in_words(brief_number(far$values), far$rows))
}

# Numbers further off than 8 median distances from the median, in five rows at most, and further
# from all others than 3 times the width of the middle 98 percent of these.
distant_numbers <- function(variable) {
  seen <- seen_numbers(variable)
  if (sum(seen$rows) < 30 || length(seen$values) < 10) return(no_numbers)
  middle <- quantiles_seen(seen, 0.5)
  off <- abs(seen$values - middle)
  order <- order(off)
  spread <- 1.4826 * quantiles_seen(list(values = off[order], rows = seen$rows[order]), 0.5)
  if (spread == 0) return(no_numbers)
  far <- numbers_beyond(variable, seen, middle + c(-8, 8) * spread)
  if (!length(far$values)) return(no_numbers)
  ends <- quantiles_seen(lapply(seen, `[`, off <= 8 * spread), c(0.01, 0.99))
  lapply(far, `[`, pmax(far$values - ends[2], ends[1] - far$values) > 3 * diff(ends))
}

# The numbers beyond some ends, with their rows; none where these are more than five.
numbers_beyond <- function(variable, seen, ends) {
  if (is_seen_in_part(variable)) {
    x <- values_of(variable)
    rows <- rows_outside(x, ends[1], ends[2], 5L)
    return(counts_of(as.double(x[rows]), sort))
  }
  far <- seen$values < ends[1] | seen$values > ends[2]
  if (sum(seen$rows[far]) > 5) no_numbers else lapply(seen, `[`, far)
}

no_numbers <- list(values = numeric(), rows = integer())

# A statistic that was learned while a weight stands unused beside it.
unused_weight <- function(book) {
  steps <- lapply(Filter(function(e) e$type == "turn", steps_of(book)), `[[`, "turn")
  of <- unlist(lapply(steps, function(turn) vapply(turn$learned, `[[`, "", "of")))
  learned <- grepl("^(mean|sd|median|mad|quantile|cut_points|distribution|sum)\\(", of)
  weighted <- any(grepl("weight = ", of, fixed = TRUE)) ||
    any(lengths(lapply(steps, `[[`, "weight")))
  if (!any(learned) || weighted) return(NULL)
  weight <- Find(function(name) is_weight(name, book), original_names(book))
  if (!is.null(weight)) list(c(new_finding("unused-weight", weight, values = of[learned][1]),
    turn = "book"))
}

# By its label, or by its name where its mean is near 1 too: a weight of bodies has others.
is_weight <- function(name, book) {
  label <- meaning_in(book, name)$label %||% ""
  if (grepl("(survey|sampling|design|person|case) weight|weighting", label, ignore.case = TRUE)) {
    return(TRUE)
  }
  if (!grepl("(^|[_.])(p?weights?|wgt|wt)($|[_.])", name, ignore.case = TRUE)) return(FALSE)
  seen <- seen_numbers(variable_in(book, name))
  mean <- sum(seen$values * seen$rows) / sum(seen$rows)
  length(seen$values) > 5 && all(seen$values >= 0) && isTRUE(mean > 0.5 && mean < 2)
}
