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
  call[[side]] <- codes_for(call[[side]], name, meaning_of(name)$codes)
  call
}

# Codes of labels; text that is a plain number is that number.
codes_for <- function(labels, name, codes) {
  found <- unname(codes[match(normal_text(labels), normal_text(names(codes) %||% character()))])
  if (is.null(found)) found <- rep(NA, length(labels))
  plain <- is.na(found) & grepl(plain_number, labels)
  found[plain] <- as.numeric(labels[plain])
  lost <- labels[is.na(found)]
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
