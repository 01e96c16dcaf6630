# Findings about the variables that a turn reads: originals whose answers look odd, and amounts that
# are none, or too far off.
find_in_sources <- function(made, book) {
  originals <- Filter(Negate(is_made), made$sources)
  reckoned <- reckoned_with(made)
  c(
    undeclared_missing(originals, made),
    unlist(lapply(originals, find_in_original, made = made, book = book), recursive = FALSE),
    lapply(reckoned, category_arithmetic, made = made),
    if (!is.null(made$receipt$unreadable)) list(text_numbers(made)),
    find_in_amounts(made, reckoned, book)
  )
}

find_in_original <- function(source, made, book) {
  if (has_text(source)) return(list(blank_or_answer(source, made, book)))
  if (inherits(values_of(source), "Date")) return(list(undeclared_days(source, made)))
  meaning <- source$meaning
  facts <- facts_of(source)
  limits <- as.double(meaning$limits)
  off <- length(limits) && isTRUE(facts$low < limits[1] || facts$high > limits[2])
  list(
    if (off) beyond_limits_finding(source, numbers_of(source), made$out),
    if (length(meaning$codes) >= 3) label_gap(source, numbers_of(source), made$out)
  )
}

# A text that may stand for no answer, and nothing says whether it does: no `blank` was stated when
# the file was read, it is no declared missing code, and no rule or formula names it.
blank_or_answer <- function(source, made, book) {
  info <- info_of(book)
  if (!is.null(info$stated$blank)) return(NULL)
  told <- info$reading$signs[[source$name]]
  if (identical(told$taken, "blank")) {
    return(sign_finding(source, made, told$sign, told$rows, "blank", info$file))
  }
  met <- answers_listed(source)
  if (is.null(met)) return(NULL)
  settled <- c(texts_named(made), names(source$meaning$codes),
    if (source$name %in% info$reading$quoted_na) "NA")
  signs <- setdiff(c("NA", signs_of_none), settled)
  hit <- match(signs, met$values, nomatch = 0L)
  if (any(hit > 0)) sign_finding(source, made, met$values[hit], met$rows[hit], "an answer",
    info$file)
}

# Of a file it is said how it is to be read.
sign_finding <- function(variable, made, signs, rows, taken, from) {
  source <- variable$name
  sign <- quote_text(signs[1])
  how <- if (!is.null(from)) for_reader(paste0("reading = list(blank = ", sign,
    "), or blank = character()"), paste0("under data: reading: {blank: [", sign,
    "]}, or blank: []"), paste0(sign, " stands for a blank, or is an answer, as the file is read"))
  new_finding("blank-or-answer", made$out$name, source = source, taken = taken,
    values = rows_in_words(quote_text(signs), rows),
    say = how %||% for_reader(paste0("define(book, ", source, ", missing = c(\"No answer\" = ",
      sign, ")), or accept it"), paste0("under define: ", source, ": {missing: {\"No answer\": [",
      sign, "]}}, or accept it"), "by What it means, or accept it"))
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
undeclared_missing <- function(sources, made) {
  held <- lapply(sources, undeclared_codes, made = made)
  held <- held[lengths(held) > 0]
  if (!length(held)) return(NULL)
  codes <- vapply(held, function(codes) paste(show_number(codes), collapse = " "), "")
  lapply(unname(split(names(held), factor(codes, unique(codes)))), function(names) {
    each <- lapply(sources[names], numbers_of)
    values <- held[[names[1]]]
    rows <- rowSums(vapply(each, function(seen) {
      as.double(seen$rows[match(values, seen$values)])
    }, values + 0) |> matrix(nrow = length(values)))
    told <- suspects_found("undeclared-missing", made$out$name, names, values,
      list(values = values, rows = rows))
    told$held <- list(names = names, values = values, rows = rows)
    held_by(told, names)
  })
}

# Such a finding about these variables.
held_by <- function(found, names) {
  several <- length(names) > 1
  found$pieces$source <- names
  found$pieces$which <- if (several) paste0("c(", paste(names, collapse = ", "), ")") else names
  found$pieces$hold <- if (several) "hold" else "holds"
  found
}

# Findings of several turns about the same codes as one, of all variables that hold them.
join_alike <- function(found) {
  codes <- vapply(found, function(f) {
    if (is.null(f$held)) "" else paste(f$severity, f$because, f$pieces$codes)
  }, "")
  told <- lapply(which(!(nzchar(codes) & duplicated(codes))), function(i) {
    alike <- if (nzchar(codes[i])) found[codes == codes[i]]
    if (length(alike) < 2) return(found[[i]])
    names <- unique(unlist(lapply(alike, function(f) f$held$names)))
    once <- alike[!duplicated(vapply(alike, function(f) paste(f$held$names, collapse = " "), ""))]
    rows <- Reduce(`+`, lapply(once, function(f) f$held$rows))
    joined <- held_by(found[[i]], names)
    joined$pieces$values <- rows_in_words(show_number(found[[i]]$held$values), rows)
    joined
  })
  told
}

# What looks like undeclared missing codes and no rule names; open-range tells of those it catches.
undeclared_codes <- function(source, made) {
  suspects <- if (value_type(source) == "number") suspects_of(source)
  if (!length(suspects)) return(numeric())
  named <- unlist(lapply(made$out$rules, function(r) {
    of_source <- unlist(unname(r$where[names(r$where) %in% source$name]), recursive = FALSE)
    lapply(c(r$when, of_source), `[[`, "values")
  }))
  by_range <- is_single_rule_set(made$out) && !is.null(open_range(made))
  if (by_range) numeric() else setdiff(suspects, named)
}

# The same of dates, in which programs write a certain day where there is none.
undeclared_days <- function(source, made) {
  met <- few_answers(source)
  if (is.null(met)) return(NULL)
  days <- suspect_days(met$values, met$rows)
  days <- days[!format(days) %in% texts_named(made)]
  if (length(days)) new_finding("undeclared-missing", made$out$name, source = source$name,
    hold = "holds", which = source$name, codes = paste0("\"...\" = ",
      quote_text(as_written(days, source)), collapse = ", "),
    values = rows_in_words(format(days), met$rows[match(days, met$values)]))
}

# Days as the texts of an original have them that is read as dates: missing answers are declared as
# they stand there.
as_written <- function(days, source) {
  way <- source$meaning$read
  if (is.null(way)) return(format(days))
  texts <- as.character(counts_at(site_of_one(source), list(as_it_came(source$name)))$keys[[1]])
  texts[!is.na(texts) & read_texts_as(normal_text(texts), way) %in% days]
}

# Values outside the limits that are defined; where one factor brings them all inside, another unit.
beyond_limits_finding <- function(variable, seen, out) {
  source <- variable$name
  limits <- as.double(variable$meaning$limits)
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
label_gap <- function(source, seen, out) {
  codes <- source$meaning$codes
  if (!is.numeric(codes) || length(codes) < 3) return(NULL)
  gap <- !seen$values %in% codes
  if (!any(gap) || sum(gap) >= length(codes)) return(NULL)
  new_finding("label-gap", out$name, source = source$name,
    values = rows_in_words(show_number(seen$values[gap]), seen$rows[gap]))
}

# The sources that a turn reckons with, rather than compares or looks up.
reckoned_with <- function(made) {
  if (!has_trait(made$turn$verb, "reckons")) return(list())
  made$sources[intersect(made$out$from, number_sources(made$out))]
}

# Codes that are names, reckoned with as numbers; or whose level nobody has stated.
category_arithmetic <- function(source, made) {
  meaning <- source$meaning
  if (!is.null(meaning$level) && meaning$level != "nominal") return(NULL)
  facts <- facts_of(source)
  if (has_text(source) || (facts$few && length(facts$values) < 3)) return(NULL)
  if (identical(meaning$level, "nominal")) {
    return(new_finding("category-arithmetic", made$out$name, source = source$name))
  }
  if (!all_labelled(facts, meaning$codes)) return(NULL)
  others <- made$sources[setdiff(intersect(made$turn$from, names(made$sources)), source$name)]
  shared <- any(vapply(others, function(other) {
    identical(names(other$meaning$codes), names(meaning$codes))
  }, NA))
  if (!shared) new_finding("number-as-level", made$out$name, source = source$name)
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

text_numbers <- function(made) {
  lost <- made$receipt$unreadable
  texts <- c(numbers_in_text(made$out$expr, made$sources), dates_in_text(made$out$expr,
    made$sources))
  met <- (answers_listed(made$sources[[texts[[1]]]]) %||% list(values = lost$value))$values
  offers <- reading_offers(as.character(met))
  new_finding("text-number", made$out$name, source = texts,
    values = rows_in_words(lost$value, lost$rows), offer = offer_in_words(texts[[1]], offers))
}
