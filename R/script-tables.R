# Tables, ranks and groups in base R.
table_calls <- function(state, number, book, type) {
  list(
    lookup = function(node, write) table_code(node, write, state),
    rows_below = function(node, write) rank_code(node, write, state, number, book),
    rows_equal = function(node, write) rank_code(node, write, state, number, book),
    cuts_below = function(node, write) {
      x <- finite_code(node[[2]], number(node[[2]], write), book)
      paste0("findInterval(", x, ", ", write(node[[3]]), ", left.open = TRUE)")
    },
    kept_between = function(node, write) {
      paste0("pmax(", write(node[[3]]), ", pmin(", write(node[[4]]), ", ",
        finite_code(node[[2]], number(node[[2]], write), book), "))")
    },
    baseline = function(node, write) paste0("(", write(node[[2]]), ")"),
    group = function(node, write) group_code(node, write, number, book, type)
  )
}

# A table that has a name gets a line of its own, any other stands where it is used.
table_code <- function(node, write, state) {
  parts <- unname(row_items(node)[-1])
  place <- seq_along(parts) %% 2 == 1
  old <- vapply(parts[!place], function(keys) constant_code(keys, "old", state), "")
  index <- paste0("match(", vapply(parts[place], write, ""), ", ", old, ")", collapse = ", ")
  if (length(old) > 1) index <- paste0("cbind(", index, ")")
  called <- as.list(node)$called
  values <- shaped_code(node[[2]], lengths(parts[!place]))
  if (is.null(called)) values <- short_or_named(values, "new", state)
  code <- paste0(values, "[", index, "]")
  if (inherits(node[[2]], "Date")) code <- paste0("as.Date(", code, ")")
  if (is.null(called)) return(code)
  name <- free_names(called, state)
  put_before(state, paste0(name, " <- ", code))
  name
}

# A table of dates is one of texts, as an array has no class.
shaped_code <- function(values, sizes) {
  if (inherits(values, "Date")) values <- format(values)
  plain <- fold_call("c(", vapply(values, write_constant, ""))
  if (length(sizes) == 1) {
    plain
  } else {
    paste0("array(", plain, ", c(", paste(sizes, collapse = ", "), "))")
  }
}

constant_code <- function(values, name, state) {
  if (inherits(values, "Date")) return(short_or_named(write_constant(values), name, state))
  short_or_named(fold_call("c(", vapply(values, write_constant, "")), name, state)
}

# Long constants get a line of their own.
short_or_named <- function(code, name, state) {
  if (nchar(code) <= 48) return(code)
  known <- state$constants[[code]]
  if (!is.null(known)) return(known)
  free <- free_names(name, state)
  put_before(state, paste0(free, " <- ", code))
  state$constants[[code]] <- free
  free
}

# The rows below a value and those equal to it, each a line before the result.
rank_code <- function(node, write, state, number, book) {
  key <- paste(formula_text(node[[2]]), write_constant(node[[3]]), write_constant(node[[4]]))
  if (is.null(state$ranks[[key]])) state$ranks[[key]] <- rank_lines(node,
    finite_code(node[[2]], number(node[[2]], write), book), state)
  state$ranks[[key]][[if (call_head(node) == "rows_below") 1 else 2]]
}

rank_lines <- function(node, x, state) {
  names <- free_names(c("at", "upto", "below", "equal"), state)
  near <- near_enough(node[[3]])
  off <- function(sign) if (near > 0) paste0(x, sign, write_constant(near)) else x
  within <- function(shifted, open = "") {
    paste0("c(0, ", names[2], ")[findInterval(", shifted, ", ", names[1], open, ") + 1]")
  }
  put_before(state, c(
    paste0(names[1], " <- ", fold_call("c(", vapply(node[[3]], write_constant, "")),
      side_remark("the values learned")),
    paste0(names[2], " <- ", fold_call("c(", vapply(node[[4]], write_constant, "")),
      side_remark("rows at or below each")),
    paste0(names[3], " <- ", within(off(" - "), ", left.open = TRUE")),
    paste0(names[4], " <- ", within(off(" + ")), " - ", names[3])
  ))
  names[3:4]
}

# A statistic of the row's group. ave() joins the texts of several groups, and numbers are equal to
# it by 15 digits: so groups are told apart by their place among the values.
group_code <- function(node, write, number, book, type) {
  how <- as.list(node)$how
  parts <- row_items(node)
  groups <- vapply(parts[-1], write, "")
  gone <- paste0("is.na(", groups, ")", collapse = " | ")
  if (length(groups) > 1 || !is_told_apart(parts[[2]], book)) {
    groups <- paste0("match(", groups, ", ", groups, ")")
  }
  x <- finite_code(parts[[1]], if (how == "valid") write(parts[[1]]) else number(parts[[1]], write),
    book)
  by <- paste(groups, collapse = ", ")
  code <- switch(how,
    size = paste0("ave(rep(1, length(", groups[1], ")), ", by, ", FUN = length)"),
    valid = paste0("ave(as.numeric(!is.na(", x, ")), ", by, ", FUN = sum)"),
    paste0("ave(as.numeric(", x, "), ", by, ", FUN = function(v) if (all(is.na(v))) NA else ", how,
      "(v, na.rm = TRUE))")
  )
  code <- paste0("ifelse(", gone, ", NA,\n", code, ")")
  if (type(node) == "date") paste0("as.Date(", code_text("1970-01-01"), ") + floor(", code,
    ")") else code
}

# Whether the values of a group are texts, or whole numbers, which R tells apart by what it writes.
is_told_apart <- function(node, book) {
  if (!is.symbol(node)) return(FALSE)
  name <- as.character(node)
  has_text(variable_in(book, name)) || has_whole_values(variable_in(book, name))
}

# Infinite values take no part in statistics.
finite_code <- function(node, code, book) {
  endless <- vapply(intersect(formula_vars(node), names(book)), function(name) {
    x <- values_of(variable_in(book, name))
    is.double(x) && any(is.infinite(x))
  }, NA)
  if (any(endless)) paste0("ifelse(is.finite(", code, "), ", code, ", NA)") else code
}

# Row functions: the items side by side, the number of valid ones, then the score.
row_code <- function(word, number, state) {
  function(node, write) {
    items <- vapply(row_items(node), number, "", write = write)
    names <- free_names(c("items", "n_valid"), state)
    options <- as.list(node)
    need <- options$at_least %||% length(items)
    put_before(state, c(
      fold_call(paste0(names[1], " <- cbind("), items),
      paste0(names[2], " <- rowSums(!is.na(", names[1], "))")
    ))
    if (word == "row_valid") return(names[2])
    score <- row_score_code(word, names[1], names[2], options, length(items))
    if (!is.null(options$digits)) score <- round_code(score, options$digits, options$half, state)
    paste0("ifelse(", names[2], " >= ", need, ", ", score, ", NA)")
  }
}

round_code <- function(x, digits, half, state) {
  if (!identical(half, "up")) return(paste0("round(", x, ", ", digits, ")"))
  name <- free_names("size", state)
  signs <- if (digits < 0) c(" / ", " * ") else c(" * ", " / ")
  ten <- paste0(signs, write_constant(10^abs(digits)))
  if (digits == 0) ten <- c("", "")
  value <- free_names("value", state)
  put_before(state, c(paste0(value, " <- ", x),
    paste0(name, " <- abs(", value, ")", ten[1], side_remark("halves go away from zero")),
    paste0(name, " <- floor(", name, ") + (", name, " - floor(", name, ") >= ",
      write_constant(0.5 - half_guard), ")")))
  paste0("sign(", value, ") * ", if (nzchar(ten[2])) paste0("(", name, ten[2], ")") else name)
}

row_score_code <- function(word, items, n_valid, options, k) {
  if (!is.null(options$weights)) return(weighted_score_code(word, items, options))
  switch(word,
    row_mean = paste0("rowMeans(", items, ", na.rm = TRUE)"),
    row_sum = paste0("rowSums(", items, ", na.rm = TRUE)",
      if (isTRUE(options$prorate)) paste0(" * (", k, " / ", n_valid, ")")),
    paste0("apply(", items, ", 1, function(x) if (all(is.na(x))) NA else ",
      formula_words[[word]]$how, "(x, na.rm = TRUE))")
  )
}

weighted_score_code <- function(word, items, options) {
  weights <- write_constant(options$weights)
  total <- paste0("colSums(t(", items, ") * ", weights, ", na.rm = TRUE)")
  held <- paste0("colSums(t(!is.na(", items, ")) * ", weights, ")")
  if (word == "row_mean") return(paste0(total, " / ", held))
  if (isTRUE(options$prorate)) paste0(total, " * sum(", weights, ") / ", held) else total
}
