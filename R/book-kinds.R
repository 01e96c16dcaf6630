# A formula may ask for a missing kind of a derived variable. It is put in terms of the
# originals, so that every back end can tell kinds apart by their codes alone.
rewrite_kinds <- function(node, book) {
  walk_formula(node, function(call) {
    asks <- call_head(call) == "unanswered" && length(call) == 3
    if (!asks || !is_derived(book, as.character(call[[2]]))) return(call)
    kind_condition(as.character(call[[2]]), call[[3]], book)
  })
}

# The reasons for which a variable may be missing, whether or not a row is now.
kinds_known <- function(book, name) {
  if (!is_derived(book, name)) return(c("blank", names(meaning_in(book, name)$missing)))
  made <- held(book, "columns")[[name]]
  carried <- if (length(made$from) == 1) kinds_known(book, made$from)
  unique(c(carried, made$rule_kinds[!is.na(made$rule_kinds)], setdiff(standard_kinds, "blank")))
}

kind_condition <- function(name, kind, book) {
  if (!is_derived(book, name)) return(call("unanswered", as.name(name), kind))
  made <- held(book, "columns")[[name]]
  gone <- call("unanswered", as.name(name))
  if (kind == "too few items") return(gone)
  if (is.call(made$expr) && call_head(made$expr) == "choose") {
    rule <- rule_condition(made, kind)
    if (!is.null(rule)) return(rule)
  }
  call("&", gone, source_condition(made$from, kind, book))
}

rule_condition <- function(made, kind) {
  parts <- choose_parts(made$expr)
  hit <- made$rule_kinds %in% kind
  if (!any(hit) && kind != "unmatched") return(NULL)
  values <- as.list(as.numeric(hit))
  pairs <- unlist(Map(list, parts$tests, values), recursive = FALSE)
  chosen <- as.call(c(list(as.name("choose")), unname(pairs), as.numeric(kind == "unmatched")))
  call("==", call("first_valid", chosen, 0), 1)
}

source_condition <- function(from, kind, book) {
  any_missing <- Reduce(function(a, b) call("|", a, b), lapply(from, function(v) call("unanswered", as.name(v))))
  if (kind == "a source is missing") return(any_missing)
  if (kind %in% c("undefined", "unreadable")) return(call("!", any_missing))
  kind_condition(from[1], kind, book)
}
