# How a variable is made, in a sentence.
made_in_words <- function(name, book) paste0(upper_first(made_as(name, book)), ".")

# The same as what follows "was".
made_as <- function(name, book) {
  made <- held(book, "columns")[[name]]
  turn <- held(book, "log")[[entry_of(book, name)]]$turn
  from <- paste(made$from, collapse = ", ")
  within <- if (length(turn$within)) paste(" within", paste(turn$within, collapse = ", "))
  switch(made$verb,
    recode = paste0("recoded from ", from, " by ", counted(length(made$rules), "rule")),
    reverse = paste0("turned round: ", formula_text(made$expr)),
    composite = , instrument = score_in_words(made, from),
    standardize = paste0("the ", form_words[[turn$how %||% "z"]], " of ", turn$from[1], within),
    bin = paste0("made of ", from, " in ", counted(length(made$meaning$codes), "band")),
    collapse = paste0("merged from the categories of ", from),
    dummy = paste0("one of ", length(turn$makes), " columns that code ", made$from[1], " for a regression (",
      turn$coding %||% "indicator", " coding)"),
    flag = paste0("1 where ", turn$formula, " holds, else 0"),
    compute = paste0("worked out as ", shorten(turn$formula, 200, "\u2026")),
    crosswalk = paste0("looked up in a table by ", from),
    norm = paste0("scaled by a norm table from ", from),
    group = paste0("the ", turn$how %||% "mean", " of ", turn$from[1], within),
    change = paste0("the ", turn$how %||% "difference", " of ", turn$from[1], " from the occasion before, of the same ",
      turn$unit),
    paste0("made by ", verb_words(made$verb), " from ", from)
  )
}

verb_words <- function(verb) {
  known <- c(reverse = "reversing", rescale = "rescaling", dummy = "dummy-coding", recode = "recoding",
    flag = "flagging",
    compute = "one formula", instrument = "an instrument", standardize = "standardizing", interact = "multiplying",
    bin = "putting into bands", collapse = "merging", key = "an answer key", tally = "counting answers",
    composite = "scoring", crosswalk = "a table", norm = "a norm table", change = "comparing occasions",
    group = "groups")
  known[verb] %|% verb
}

form_words <- c(z = "z score", t = "T score", iq = "score of mean 100 and SD 15", sten = "sten score",
  stanine = "stanine", percentile = "percentile rank", normal = "normal score of the rank",
  pomp = "percent of the maximum possible", robust = "distance from the median in MADs",
  centred = "distance from the mean", minmax = "place between lowest and highest")

score_in_words <- function(made, from) {
  if (!is_row_node(made$expr)) return(paste0("scored from ", from))
  how <- sub("^row_", "", call_head(made$expr))
  items <- row_items(made$expr)
  least <- as.list(made$expr)$at_least %||% length(items)
  turned <- vapply(Filter(is.call, items), function(node) formula_vars(node)[1], "")
  paste0("the ", how, " of ", length(items), " items (", from, "), for rows with ",
    if (least == length(items)) "all of them" else paste("at least", least), " valid",
    if (length(turned)) paste0("; reworked on the way: ", paste(turned, collapse = ", ")),
    if (isTRUE(as.list(made$expr)$prorate)) "; prorated")
}

# A methods paragraph, a sentence for each turn, ready for a paper.
methods_words <- function(book) {
  turns <- Filter(function(entry) entry$type == "turn", held(book, "log"))
  told <- vapply(turns, function(entry) methods_sentence(entry$turn, book), "")
  c(told, paste0("All ", grouped(length(derived_names(book))), " variables were derived with Able Turn ",
    utils::packageVersion("ableturn"), "; the originals (", grouped(row_count(book)), " rows) were not changed."))
}

methods_sentence <- function(turn, book) {
  name <- turn$makes[1]
  if (length(turn$makes) > 1) return(several_sentence(turn, book))
  made <- held(book, "columns")[[name]]
  called <- paste0(upper_first(made$meaning$label %||% name), " (", name, ")")
  rest <- paste0("n = ", grouped(made$facts$valid), spread_words(made))
  how <- made_as(name, book)
  alpha <- if (made$verb %in% c("composite", "instrument") && is_row_node(made$expr)) alpha_of_score(name, book)
  paste0(called, " was ", how, " (", paste(c(rest, alpha), collapse = ", "), ").", codes_sentence(made, book))
}

several_sentence <- function(turn, book) {
  made <- held(book, "columns")[[turn$makes[1]]]
  paste0(grouped(length(turn$makes)), " variables (", name_list(turn$makes, 6), ") were made by ",
    verb_words(made$verb), " from ",
    from_in_words(unique(unlist(lapply(turn$makes, function(v) held(book, "columns")[[v]]$from)))), ".")
}

spread_words <- function(made) {
  x <- made$x[!is.na(made$x)]
  if (!is.numeric(x) || length(made$meaning$codes) || length(x) < 2) return("")
  paste0(", M = ", two_digits(mean(x)), ", SD = ", two_digits(stats::sd(x)))
}

alpha_of_score <- function(name, book) {
  facts <- tryCatch(attr(items_of_score(name, book), "scale"), ableturn_error = function(e) NULL)
  if (length(facts)) paste("Cronbach's alpha =", two_digits(facts$alpha))
}

codes_sentence <- function(made, book) {
  if (is.null(made$rules)) return("")
  table <- rule_table(made)
  label <- ifelse(nzchar(table$label), table$label, table$code)
  paste0(" Its values are ", paste0(label, " (", table[["made from"]], "; n = ", grouped(table$rows), ")",
    collapse = ", "), ".")
}

upper_first <- function(text) paste0(upper_case(substr(text, 1, 1)), substring(text, 2))
