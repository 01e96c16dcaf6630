# What a rule says of one variable, as a condition of a formula. `two_valued`: rows that are missing
# in the variable are false instead of undecided, as other rules name them.
condition_test <- function(name, matchers, two_valued, loose, world) {
  parts <- lapply(matchers, function(m) {
    test <- matcher_test(name, m, loose, world)
    answered <- call("!", call("unanswered", as.name(name)))
    if (two_valued && m$type != "missing") call("&", answered, test) else test
  })
  any_of_tests(parts)
}

matcher_test <- function(name, m, loose, world) {
  x <- as.name(name)
  if (inherits(world$column(name), "Date")) refuse_number_for_date(name, m)
  switch(m$type,
    values = values_test(x, m$values, loose, world),
    range = range_test(x, m), holding = holding_test(x, m, loose, world),
    missing = missing_test(x, m$kind, world)
  )
}

# A number would be taken for days since 1970.
refuse_number_for_date <- function(name, m) {
  number <- switch(m$type, values = is.numeric(m$values), range = any(is.finite(c(m$low, m$high))),
    FALSE)
  if (number) fail("rule-date", name = name, given = describe_matcher(m))
}

values_test <- function(x, values, loose, world) {
  name <- as.character(x)
  if (is.character(values)) {
    if (world$is_text(name)) return(text_test(x, values, loose))
    if (are_days(values, world$column(name))) {
      return(any_of_tests(lapply(values, function(v) call("==", x, call("as.Date", v)))))
    }
    values <- codes_of_labels(values, name, loose, world$meaning(name)$codes)
  }
  if (length(values) == 1) call("==", x, values) else call("%in%", x, values)
}

text_test <- function(x, values, loose) {
  if (!loose && all_ascii(values)) {
    return(if (length(values) == 1) call("==", x, values) else call("%in%", x, values))
  }
  as.call(c(list(as.name("spelled"), x), as.list(values), if (loose) list(loose = TRUE)))
}

# Texts such as "2031-03-01", which a formula compares with a date.
are_days <- function(values, x) inherits(x, "Date") && !anyNA(days_in_texts(values))

codes_of_labels <- function(labels, name, loose, codes) {
  if (loose && length(codes)) {
    loose_names <- loosen(names(codes))
    labels <- unlist(lapply(labels, function(label) {
      met <- unique(names(codes)[loose_names == loosen(label)])
      if (length(met)) met else label
    }))
  }
  codes_for(labels, name, codes)
}

range_test <- function(x, m) {
  low <- if (is.finite(m$low)) call(if (m$low_in) ">=" else ">", x, m$low)
  high <- if (is.finite(m$high)) call(if (m$high_in) "<=" else "<", x, m$high)
  if (is.null(low) && is.null(high)) return(call(">=", call("abs", x), 0)) # any number
  if (is.null(low)) high else if (is.null(high)) low else call("&", low, high)
}

missing_test <- function(x, kind, world) {
  if (kind == "any") return(call("unanswered", x))
  check_kind(as.character(x), kind, world)
  call("unanswered", x, kind)
}

# A text that holds a piece or fits a pattern; where values have labels, the codes whose label does.
holding_test <- function(x, m, loose, world) {
  name <- as.character(x)
  codes <- world$meaning(name)$codes
  if (!world$is_text(name)) return(call("%in%", x, codes_holding(m, name, loose, codes)))
  if (loose || m$whole) return(as.call(c(list(as.name("spelled"), x), as.list(m$pieces),
    if (loose) list(loose = TRUE),
    list(inside = if (m$regex) "patterns" else if (m$whole) "words" else "pieces"))))
  any_of_tests(lapply(m$pieces, function(piece) {
    as.call(c(list(as.name("grepl"), normal_text(piece), x), if (m$regex) list(regex = TRUE)))
  }))
}

# The values met, or the codes, that such a rule names.
values_holding <- function(m, source, world) {
  if (!world$is_text(source)) return(codes_holding(m, source, FALSE, world$meaning(source)$codes))
  met <- as.character(world$met(source)$values)
  met[texts_holding(met, m)]
}

codes_holding <- function(m, name, loose, codes) {
  if (!length(codes)) fail("holding-numbers", name = name)
  met <- unname(codes[texts_holding(names(codes), m, loose)])
  if (!length(met)) fail("holding-no-label", name = name, sought = describe_matcher(m),
    labels = quote_text(names(codes)))
  met
}

# Tests joined such that no test lies deeper than it must; the order makes no difference to the
# result.
all_of_tests <- function(tests) joined_tests("&", unname(tests))

any_of_tests <- function(tests) joined_tests("|", unname(tests))

joined_tests <- function(word, tests) {
  if (length(tests) < 4) return(Reduce(function(a, b) call(word, a, b), tests))
  half <- seq_len(length(tests) %/% 2)
  call(word, joined_tests(word, tests[half]), joined_tests(word, tests[-half]))
}
