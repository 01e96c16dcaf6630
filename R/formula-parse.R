# A formula from its text, by R's parser; nothing is run.
parse_formula <- function(text, path = NULL) {
  if (!is.character(text) || length(text) != 1) {
    if (is.numeric(text) && length(text) == 1) return(text)
    fail("formula-not-text", path = path)
  }
  turned <- turns_direction(text)
  parsed <- tryCatch(parse(text = if (turned) swap_signs(text, direction_signs,
    stand_ins) else text, keep.source = FALSE,
  encoding = "UTF-8"), error = identity)
  if (inherits(parsed, "error")) fail_parse(text, conditionMessage(parsed), path)
  if (length(parsed) != 1) {
    fail("formula-count", count = length(parsed), shown = paste0("  ", text), path = path)
  }
  refuse_depth(parsed[[1]], text, path)
  tidy_node(if (turned) with_direction(parsed[[1]]) else parsed[[1]])
}

# Signs that change the direction of writing may stand in names, but R's parser refuses them: others
# stand in for them while it reads.
direction_signs <- "\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"
stand_ins <- paste0("\U000f202a\U000f202b\U000f202c\U000f202d\U000f202e",
  "\U000f2066\U000f2067\U000f2068\U000f2069")

turns_direction <- function(text) {
  !all_ascii(text) && grepl(paste0("[", direction_signs, "]"), enc2utf8(text), perl = TRUE)
}

swap_signs <- function(text, from, to) stringi::stri_trans_char(text, from, to)

with_direction <- function(node) {
  if (is.symbol(node) &&
    nzchar(as.character(node))) return(as.name(swap_signs(as.character(node), stand_ins,
    direction_signs)))
  if (is.character(node)) return(swap_signs(node, stand_ins, direction_signs))
  if (is.call(node)) for (i in seq_along(node)) node[i] <- list(with_direction(node[[i]]))
  node
}

# Formulas are walked level by level; what is nested deeper than this is refused before anything
# walks it.
most_levels <- 100

refuse_depth <- function(node, text, path) {
  if (nchar(text, "bytes") <= most_levels) return(invisible())
  level <- list(node)
  depth <- 0
  while (length(level)) {
    depth <- depth + 1
    if (depth > most_levels) fail("formula-deep", most = most_levels,
      shown = paste0("  ", substr(text, 1, 60), " ..."), path = path)
    level <- unlist(lapply(Filter(is.call, level), as.list), recursive = FALSE, use.names = FALSE)
  }
}

fail_parse <- function(text, message, path) {
  at <- as.integer(regmatches(message, regexec(":([0-9]+):([0-9]+):", message))[[1]][2:3])
  lines <- strsplit(text, "\n")[[1]]
  line <- lines[min(length(lines), max(1, at[1], na.rm = TRUE))]
  if (grepl("unexpected (end of input|INCOMPLETE_STRING)", message)) {
    fail("formula-unfinished", shown = paste0("  ", text), path = path)
  }
  mark <- if (!is.na(at[2])) paste0("\n  ", strrep(" ", max(0, at[2] - 1)), "^")
  shown <- paste0("  ", line, mark)
  unquoted <- gsub("\"[^\"]*\"|'[^']*'|`[^`]*`", "", text)
  word <- Filter(function(word) grepl(paste0("\\b", word, "\\b"), unquoted),
    names(signs_for_words))[1]
  if (length(word) && !is.na(word)) fail("formula-worded", word = word,
    sign = signs_for_words[[word]], shown = shown, path = path)
  chain <- grepl("[<>]=?[^<>=&|,]+[<>]=?", unquoted)
  if (chain) fail("chained-comparison", shown = shown, path = path)
  id <- if (grepl(",", unquoted, fixed = TRUE)) "formula-comma" else "formula-broken"
  fail(id, shown = shown, path = path)
}

# Words that people write for signs, the plainest last.
signs_for_words <- c(between = "x >= 1 & x <= 5", is = "==, or is.na(x) for what is missing",
  "in" = "x %in% c(1, 2)", and = "&", or = "|", not = "!")

# Constants as constants: -1 is a number, TRUE a truth value, c(1, 2) one vector.
tidy_node <- function(node) {
  if (!is.call(node)) return(if (is.integer(node)) as.double(node) else node)
  if (identical(node[[1]], as.name("=")) && length(node) == 3) return(node)
  parts <- as.list(node)
  for (i in seq_along(parts)[-1]) parts[i] <- list(tidy_node(parts[[i]]))
  fold_constant(as.call(parts))
}

fold_constant <- function(node) {
  args <- as.list(node)[-1]
  plain <- length(args) && all(vapply(args, function(a) is.numeric(a) || is.character(a), NA))
  if (!plain || !is.symbol(node[[1]]) || !is.null(names(args))) return(node)
  head <- as.character(node[[1]])
  if (head == "-" && length(args) == 1 && is.numeric(args[[1]])) return(-args[[1]])
  if (head == "c") return(unlist(args))
  node
}

# The variables a formula reads, in order, without its temporary names.
formula_vars <- function(node) {
  if (uses(node, "<-")) vars_but(node, character()) else all.vars(node)
}

# Whether a word stands somewhere in a formula.
uses <- function(node, words) any(words %in% all.names(node))

vars_but <- function(node, temporary) {
  if (is.symbol(node)) return(setdiff(as.character(node), temporary))
  if (!is.call(node)) return(character())
  seen <- character()
  for (part in as.list(node)[-1]) {
    if (is_assignment(part)) temporary <- c(temporary, as.character(part[[2]]))
    seen <- c(seen, vars_but(if (is_assignment(part)) part[[3]] else part, temporary))
  }
  unique(seen)
}

# The variables that an option such as within = c(a, b) names; NULL where it is anything else.
option_vars <- function(node) {
  if (is.symbol(node)) return(as.character(node))
  parts <- if (is.call(node) && identical(node[[1]], as.name("c"))) as.list(node)[-1]
  if (length(parts) && all(vapply(parts, is.symbol, NA))) vapply(parts, as.character, "")
}

# Unnamed arguments of a call.
row_items <- function(node) {
  args <- as.list(node)[-1]
  args[!nzchar(names(args) %||% rep("", length(args)))]
}

# `node` with every call changed by `change`, innermost first.
walk_formula <- function(node, change) {
  if (!is.call(node)) return(node)
  for (i in seq_along(node)[-1]) node[[i]] <- walk_formula(node[[i]], change)
  change(node)
}

# All calls of one word in a formula.
calls_of <- function(node, word) {
  found <- list()
  if (!uses(node, word)) return(found)
  walk_formula(node, function(call) {
    if (identical(call[[1]], as.name(word))) found <<- c(found, list(call))
    call
  })
  unique(found)
}

# `node` with names replaced by other nodes.
replace_names <- function(node, by) {
  if (is.symbol(node)) return(by[[as.character(node)]] %||% node)
  if (!is.call(node)) return(node)
  for (i in seq_along(node)[-1]) node[[i]] <- replace_names(node[[i]], by)
  node
}
