# Puts codes where a formula names them by their labels: island == "Northholm" becomes island == 1.
resolve_labels <- function(node, meaning_of, is_text) {
  walk_formula(node, function(call) {
    head <- call_head(call)
    if (!head %in% c("==", "!=", "%in%")) return(call)
    for (side in 2:3) {
      other <- call[[5 - side]]
      if (is.character(call[[side]]) && is.symbol(other)) {
        call <- resolve_side(call, side, as.character(other), meaning_of, is_text)
      }
    }
    call
  })
}

resolve_side <- function(call, side, name, meaning_of, is_text) {
  if (is_text(name)) return(resolve_spelling(call, side, name))
  codes <- codes_for(call[[side]], name, meaning_of(name)$codes)
  if (length(codes) > 1 && call_head(call) != "%in%") {
    among <- call("%in%", as.name(name), codes)
    return(if (call_head(call) == "!=") call("!", among) else among)
  }
  call[[side]] <- codes
  call
}

# All codes of some labels; text that is a plain number is that number.
codes_for <- function(labels, name, codes) unlist(codes_of_each(labels, name, codes), use.names = FALSE)

# The codes of each label: a label may stand for several.
codes_of_each <- function(labels, name, codes) {
  known <- normal_text(names(codes) %||% character())
  found <- lapply(normal_text(labels), function(label) unname(codes[known == label]))
  plain <- lengths(found) == 0 & grepl(plain_number, labels)
  found[plain] <- as.list(as.numeric(labels[plain]))
  lost <- labels[lengths(found) == 0]
  if (length(lost)) {
    fail("no-such-label", name = name, label = lost, hint = near_hint(lost[1], names(codes)),
      labels = if (length(codes)) quote_text(names(codes)) else "none")
  }
  found
}

# Text beyond ASCII is compared in one normal form, by the spellings that are in the data.
resolve_spelling <- function(call, side, name) {
  texts <- call[[side]]
  if (all_ascii(texts)) return(call)
  match <- as.call(c(list(as.name("spelled"), as.name(name)), as.list(texts)))
  if (call_head(call) == "!=") call("!", match) else match
}
