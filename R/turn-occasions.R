# The order of occasions that are told by texts.

# The order of occasions that are text: by their codes, as numbers or as dates, and written down;
# any other text is refused, since sorting it would put "follow-up" before "start".
resolve_occasions <- function(node, world) {
  walk_formula(node, function(call) {
    order <- as.list(call)$order
    if (call_head(call) != "previous" || is.null(order) || !world$is_text(as.character(order))) {
      return(call)
    }
    call$steps <- occasion_call(as.character(order), world)
    call
  })
}

# Whether texts stand in an order by themselves or by their codes.
have_order <- function(texts, codes = NULL) {
  all(texts %in% codes) || all(grepl(plain_number, texts)) || all(grepl(iso_datetime, texts))
}

occasion_call <- function(name, world) {
  steps <- call("categories", as.name(name))
  texts <- world$met(name)$values
  sortable <- have_order(texts, world$meaning(name)$codes) ||
    world$is_recorded(list(of = formula_text(steps)))
  if (!sortable) fail("order-text", name = name, offer = offer_in_words(name,
    reading_offers(texts)), values = quote_text(utils::head(sort_points(texts), 5)))
  steps
}
