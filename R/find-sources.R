# Findings about the originals that a turn reads.
find_in_sources <- function(made, book) {
  sources <- intersect(vars_behind(made$out), original_names(book))
  c(
    undeclared_missing(sources, made, book), lapply(sources, undeclared_days, made, book),
    unlist(lapply(sources, find_in_source, made = made, book = book), recursive = FALSE),
    lapply(reckoned_with(made, book), category_arithmetic, made = made, book = book),
    list(text_numbers(made, book))
  )
}

find_in_source <- function(source, made, book) {
  text <- has_text(variable_in(book, source))
  if (!text && !is.numeric(values_of(variable_in(book, source)))) return(NULL)
  meaning <- meaning_in(book, source)
  list(
    if (text) blank_or_answer(source, made, book),
    if (length(meaning$limits)) beyond_limits_finding(source, numbers_of(variable_in(book, source)),
      meaning, made$out),
    if (length(meaning$codes)) label_gap(source, numbers_of(variable_in(book, source)), meaning, made$out)
  )
}

# A text that may stand for no answer, and nothing says whether it does: no `blank` was stated when
# the file was read, it is no declared missing code, and no rule or formula names it.
blank_or_answer <- function(source, made, book) {
  info <- info_of(book)
  if (!is.null(info$stated$blank)) return(NULL)
  told <- info$reading$signs[[source]]
  if (identical(told$taken, "blank")) {
    return(sign_finding(source, made, told$sign, told$rows, "blank", info$file))
  }
  met <- answers_listed(variable_in(book, source))
  if (is.null(met)) return(NULL)
  settled <- c(texts_named(made), names(meaning_in(book, source)$codes),
    if (source %in% info$reading$quoted_na) "NA")
  signs <- setdiff(c("NA", signs_of_none), settled)
  hit <- match(signs, met$values, nomatch = 0L)
  if (any(hit > 0)) sign_finding(source, made, met$values[hit], met$rows[hit], "an answer",
    info$file)
}

# Of a file it is said how it is to be read.
sign_finding <- function(source, made, signs, rows, taken, from) {
  sign <- quote_text(signs[1])
  how <- if (!is.null(from)) in_door_words(paste0("reading = list(blank = ", sign,
    "), or blank = character()"), paste0("under data: reading: {blank: [", sign,
    "]}, or blank: []"))
  new_finding("blank-or-answer", made$out$name, source = source, taken = taken,
    values = rows_in_words(quote_text(signs), rows),
    say = how %||% in_door_words(paste0("define(book, ", source, ", missing = c(\"No answer\" = ",
      sign, ")), or accept it"), paste0("under define: ", source, ": {missing: {\"No answer\": [",
      sign, "]}}, or accept it")))
}

# The texts that rules and formulas name.
texts_named <- function(made) {
  found <- character()
  walk_formula(made$out$expr, function(call) {
    found <<- c(found, unlist(Filter(is.character, as.list(call)[-1])))
    call
  })
  found
}

# Told once for all sources that hold the same codes.
undeclared_missing <- function(sources, made, book) {
  held <- lapply(self_named(sources), undeclared_codes, made = made, book = book)
  held <- held[lengths(held) > 0]
  codes <- vapply(held, function(codes) paste(show_number(codes), collapse = " "), "")
  lapply(unname(split(names(held), factor(codes, unique(codes)))), function(names) {
    each <- lapply(variables_in(book, names), numbers_of)
    values <- held[[names[1]]]
    rows <- rowSums(vapply(each, function(seen) {
      as.double(seen$rows[match(values, seen$values)])
    }, values + 0) |> matrix(nrow = length(values)))
    told <- suspects_found("undeclared-missing", made$out$name, names, values,
      list(values = values, rows = rows))
    several <- length(names) > 1
    told$pieces$which <- if (several) paste0("c(", paste(names, collapse = ", "), ")") else names
    told$pieces$hold <- if (several) "hold" else "holds"
    told
  })
}

# The same of dates, in which programs write a certain day where there is none.
undeclared_days <- function(source, made, book) {
  met <- if (inherits(values_of(variable_in(book, source)), "Date")) few_answers(variable_in(book, source))
  if (is.null(met)) return(NULL)
  days <- suspect_days(met$values, met$rows)
  days <- days[!format(days) %in% texts_named(made)]
  if (length(days)) new_finding("undeclared-missing", made$out$name, source = source,
    hold = "holds", which = source, codes = paste0("\"...\" = ", quote_text(as_written(days, source,
      book)), collapse = ", "),
    values = rows_in_words(format(days), met$rows[match(days, met$values)]))
}

# Days as the texts of an original have them that is read as dates: missing answers are declared as
# they stand there.
as_written <- function(days, source, book) {
  way <- meaning_in(book, source)$read
  if (is.null(way)) return(format(days))
  texts <- as.character(counts(site_of(book), list(as_it_came(source)))$keys[[1]])
  texts[!is.na(texts) & read_texts_as(normal_text(texts), way) %in% days]
}

# What looks like undeclared missing codes and no rule names; open-range tells of those it catches.
undeclared_codes <- function(source, made, book) {
  if (has_text(variable_in(book, source)) || !is.numeric(values_of(variable_in(book, source)))) return(numeric())
  suspects <- suspects_of(variable_in(book, source))
  if (!length(suspects)) return(numeric())
  named <- unlist(lapply(made$out$rules, function(r) {
    of_source <- unlist(unname(r$where[names(r$where) %in% source]), recursive = FALSE)
    lapply(c(r$when, of_source), `[[`, "values")
  }))
  suspects <- setdiff(suspects, named)
  by_range <- is_single_rule_set(made$out) && !is.null(open_range(made$out, book))
  if (by_range) numeric() else suspects
}

# Values outside the limits that are defined; where one factor brings them all inside, another unit.
beyond_limits_finding <- function(source, seen, meaning, out) {
  limits <- as.double(meaning$limits)
  off <- (seen$values < limits[1] | seen$values > limits[2])
  if (!any(off)) return(NULL)
  values <- seen$values[off]
  told <- rows_in_words(show_number(values), seen$rows[off])
  two <- sum(seen$rows[off]) >= 2
  factor <- if (two && all(values > limits[2])) slip_factor(values, seen$values[!off])
  times <- if (two && all(values < limits[1] & values > 0)) slip_factor(1 / values,
    1 / seen$values[!off])
  if (length(times)) {
    return(new_finding("unit-slip", out$name, source = source, word = "multiplied by", sign = "*",
      factor = times, test = "<", values = told))
  }
  if (length(factor)) {
    return(new_finding("unit-slip", out$name, source = source, word = "divided by", sign = "/",
      factor = factor, test = ">", values = told))
  }
  new_finding("beyond-limits", out$name, source = source,
    limits = paste(show_number(limits), collapse = " to "), values = told)
}

# The factor that brings values among the ordinary ones; of a few whole codes it must give one of
# these.
slip_factor <- function(values, ordinary) {
  codes <- length(ordinary) <= 12 && all(ordinary == round(ordinary))
  if (!length(ordinary)) return(NULL)
  fits <- function(v) {
    if (codes) all(v %in% ordinary) else all(v >= min(ordinary) & v <= max(ordinary))
  }
  utils::head(Filter(function(f) fits(values / f), c(10, 100, 1000, 60, 2.54)), 1)
}

# A few whole codes without a label, among others that have one.
label_gap <- function(source, seen, meaning, out) {
  codes <- meaning$codes
  if (!is.numeric(codes) || length(codes) < 3) return(NULL)
  gap <- !seen$values %in% codes
  if (!any(gap) || sum(gap) >= length(codes)) return(NULL)
  new_finding("label-gap", out$name, source = source,
    values = rows_in_words(show_number(seen$values[gap]), seen$rows[gap]))
}

reckoned_with <- function(made, book) {
  if (!has_trait(made$turn$verb, "reckons")) return(character())
  intersect(intersect(made$out$from, names(book)), number_sources(made$out))
}

# Codes that are names, reckoned with as numbers; or whose level nobody has stated.
category_arithmetic <- function(source, made, book) {
  facts <- facts_of(variable_in(book, source))
  meaning <- meaning_in(book, source)
  if (has_text(variable_in(book, source)) || (facts$few && length(facts$values) < 3)) return(NULL)
  if (identical(meaning$level, "nominal")) {
    return(new_finding("category-arithmetic", made$out$name, source = source))
  }
  if (!is.null(meaning$level) || !all_labelled(facts, meaning$codes)) return(NULL)
  shared <- any(vapply(setdiff(made$turn$from, source), function(v) {
    identical(names(meaning_in(book, v)$codes), names(meaning$codes))
  }, NA))
  if (!shared) new_finding("number-as-level", made$out$name, source = source)
}

all_labelled <- function(facts, codes) {
  length(codes) >= 3 && facts$few && all(facts$values %in% codes)
}

# The variables that a formula reckons with, rather than compares or looks up.
number_sources <- function(out) {
  found <- character()
  walk_formula(out$expr, function(call) {
    if (has_word_trait(call_head(call), "reckons")) {
      parts <- if (call_head(call) == "group") row_items(call)[1] else row_items(call)
      found <<- c(found, vapply(Filter(is.symbol, parts), as.character, ""))
    }
    call
  })
  unique(c(found, if (!is.null(out$rules) &&
    any(vapply(out$rules, function(r) length(range_ends(r$when)) > 0, NA))) out$from))
}

text_numbers <- function(made, book) {
  lost <- made$receipt$unreadable
  if (is.null(lost)) return(NULL)
  texts <- c(numbers_in_text(made$out$expr, made$sources), dates_in_text(made$out$expr,
    made$sources))
  met <- (answers_listed(made$sources[[texts[[1]]]]) %||% list(values = lost$value))$values
  offers <- reading_offers(as.character(met))
  new_finding("text-number", made$out$name, source = texts,
    values = rows_in_words(lost$value, lost$rows), offer = offer_in_words(texts[[1]], offers))
}
