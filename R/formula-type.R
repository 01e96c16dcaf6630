# What a formula gives: "number", "text", "truth" or "date". `type_of(name)` tells it of a variable.
result_type <- function(node, type_of) {
  if (is.symbol(node)) return(type_of(as.character(node)))
  if (!is.call(node)) return(constant_type(node))
  head <- call_head(node)
  if (head == "{") return(block_type(node, type_of))
  gives <- formula_words[[head]]$gives %||% "number"
  if (gives == "first") return(result_type(node[[2]], type_of))
  if (has_word_trait(head, "may give a date")) return(dated_type(node, head, type_of))
  if (gives != "same") return(gives)
  common_type(vapply(value_parts(node, head), result_type, "", type_of = type_of))
}

# The result is a date because an argument is one.
dated_type <- function(node, head, type_of) {
  if (head %in% c("+", "-") && length(node) == 3) {
    return(chain_type(chain_of(node, c("+", "-")), type_of))
  }
  type <- result_type(node[[2]], type_of)
  if (head == "previous") return(type)
  dated <- head != "group" || node$how %in% words_with("may give a date")
  if (type == "date" && dated) "date" else "number"
}

# Days added to a date or taken from it give a date, all else a number.
chain_type <- function(chain, type_of) {
  type <- result_type(chain$first, type_of)
  for (i in seq_along(chain$words)) {
    other <- result_type(chain$rights[[i]], type_of)
    dates <- (type == "date") + (other == "date")
    type <- if (dates == 1 && (type == "date" || chain$words[i] == "+")) "date" else "number"
  }
  type
}

# The parts of a call that may become its value.
value_parts <- function(node, head) {
  if (head == "if") node <- if_to_choose(node)
  parts <- row_items(node)
  if (!head %in% c("if", "choose")) return(parts)
  choices <- choose_parts(node)
  c(choices$values, list(choices$default))
}

# Where texts and numbers meet, all are numbers.
common_type <- function(types) {
  types <- unique(types[types != "any"])
  if (length(types) == 1) types else if (length(types)) "number" else "any"
}

constant_type <- function(value) {
  if (length(value) == 1 && is.na(value)) return("any")
  if (inherits(value, "Date")) return("date")
  if (is.character(value)) "text" else if (is.logical(value)) "truth" else "number"
}

block_type <- function(node, type_of) {
  for (step in as.list(node)[-1]) {
    if (is_assignment(step)) {
      type_of <- with_temporary(step, type_of)
    } else {
      type <- result_type(step, type_of)
    }
  }
  type
}

# The types of variables and of all temporary names of a formula.
with_temporaries <- function(node, type_of) {
  for (step in calls_of(node, "<-")) type_of <- with_temporary(step, type_of)
  type_of
}

# The types that are known inside a block after a step has named something.
with_temporary <- function(step, type_of) {
  force(type_of)
  name <- as.character(step[[2]])
  type <- result_type(step[[3]], type_of)
  function(asked) if (asked == name) type else type_of(asked)
}

# The text variables that a formula reads as numbers.
texts_as_numbers <- function(node, is_text) {
  if (!any(vapply(all.vars(node), function(name) isTRUE(is_text(name)), NA))) return(character())
  type_of <- function(name) if (isTRUE(is_text(name))) "text" else "number"
  found <- character()
  walk_formula(node, function(call) {
    parts <- number_places(call, type_of)
    texts <- Filter(function(p) is.symbol(p) && type_of(as.character(p)) == "text", parts)
    found <<- c(found, vapply(texts, as.character, ""))
    call
  })
  unique(found)
}

# The parts of a call that are read as numbers.
number_places <- function(call, type_of) {
  head <- call_head(call)
  parts <- as.list(call)[-1]
  if (identical(formula_words[[head]]$takes, "number")) return(parts)
  chooses <- head %in% c("if", "choose", "first_valid")
  values <- if (head %in% c("==", "!=", "%in%")) parts else if (chooses) value_parts(call, head)
  types <- vapply(values, result_type, "", type_of = type_of)
  if (common_type(types) == "number") values
}
