# A turn as it is made from what a verb is given, and the checks that several kinds of turn share.

new_turn <- function(verb, makes, from = NULL, ...) {
  given <- list(verb = verb, makes = makes, from = from, ...)
  given <- compact(given)
  if (!is.null(given[["label"]]) && !is.character(given[["label"]])) {
    check_text(given[["label"]], "label")
  }
  for (argument in c("note", "high")) check_text(given[[argument]], argument)
  structure(given, class = c(paste0(verb, "_turn"), "ableturn_turn"))
}

# A field of a turn by its whole name: `weight` is never taken for `weights`.
#' @export
`$.ableturn_turn` <- .subset2

# Findings that the analyst has judged, with the reasons: c("open-range" = "99 is a real age").
read_accept <- function(accept) {
  if (is.null(accept)) return(NULL)
  if (!is.character(accept) || anyNA(accept)) fail("bad-accept", got = describe_type(accept))
  alone <- !nzchar(names(accept) %||% rep("", length(accept)))
  ids <- ifelse(alone, accept, names(accept) %||% "")
  odd <- setdiff(ids, finding_ids())
  if (length(odd)) fail("unknown-finding", finding = odd, hint = near_hint(odd[1], finding_ids()),
    known = finding_ids())
  setNames(unname(ifelse(alone, "judged", accept)), ids)
}

# An argument that says nothing when it has its usual value.
drop_default <- function(value, usual) if (!identical(value, usual)) value

check_carry <- function(turn) {
  if (is.numeric(turn$missing)) fail("missing-value", name = turn$from[1] %||% "x")
  check_choice(turn$missing %||% "carry", "missing", c("carry", "plain"))
}

# Text may hold numbers; where it holds none, nothing can be reckoned with it.
check_numbers <- function(names, world, dates = FALSE) {
  if (!dates) refuse_days(names, world)
  for (name in names) {
    if (!is.character(world$column(name))) next
    texts <- world$met(name)$values
    if (length(texts) && all(is.na(as_number(texts)))) fail("text-not-numbers", name = name,
      offer = offer_in_words(name, reading_offers(texts)))
  }
}

# Dates are no amounts: their days since 1970 would be a result that nobody means.
refuse_days <- function(names, world) {
  for (name in names) {
    if (inherits(world$column(name), "Date")) fail("date-not-number", name = name)
  }
}

# A kind of missing answer that a rule or a formula asks for must be one the variable can have.
check_kind <- function(name, kind, world) {
  known <- world$kinds(name)
  if (kind %in% known) return(invisible())
  fail("unknown-kind", kind = kind, name = name, known = quote_text(known),
    hint = near_hint(kind, known))
}
