# Dates, earlier occasions and draws in base R.
time_calls <- function(state, type) {
  list(
    as.Date = function(node, write) date_code(node[[2]], write, type),
    year = function(node, write) part_code(node, write, "%Y"),
    month = function(node, write) part_code(node, write, "%m"),
    day = function(node, write) part_code(node, write, "%d"),
    weekday = function(node, write) part_code(node, write, "%u"),
    years_between = function(node, write) years_code(node, write, state),
    months_between = function(node, write) months_code(node, write, state),
    hour = function(node, write) hour_code(write(node[[2]])),
    hours_between = function(node, write) hours_code(node, write, state),
    previous = function(node, write) previous_code(node, write, state),
    uniform_draw = function(node, write) draw_code(node, write, state, type),
    normal_draw = function(node, write) {
      draw_code(node, write, state, type)
      share <- vapply(node[[3]] + normal_keys, draw_share, "", state = state)
      paste0("sqrt(-2 * log(", share[1], ")) * cos(2 * pi * ", share[2], ")")
    }
  )
}

part_code <- function(node, write, part) {
  paste0("as.numeric(format(", write(node[[2]]), ", ", code_text(part), "))")
}

date_code <- function(node, write, type) {
  if (type(node) == "date" || is.character(node)) return(paste0("as.Date(", write(node), ")"))
  text <- write(node)
  paste0("as.Date(ifelse(grepl(", code_text(iso_datetime), ", ", text, "), ", text, ", NA), ",
    code_text("%Y-%m-%d"), ")")
}

# Days are added to dates; between two dates there are days.
sum_code <- function(word, type, number) {
  function(node, write) {
    as_numbers <- function(part) number(part, write)
    chain <- chain_of(node, c("+", "-"))
    plain <- length(node) == 2 ||
      !any(vapply(c(list(chain$first), chain$rights), type, "") == "date")
    if (plain) return(write_plain(node, word, as_numbers))
    dates <- c(type(node[[2]]), type(node[[3]])) == "date"
    if (all(dates) && word == "-") {
      return(paste0("as.numeric(", write_plain(node, word, write), ")"))
    }
    if (type(node) != "date") return(write_plain(node, word, as_numbers))
    write_plain(node, word,
      function(part) if (type(part) == "date") write(part) else number(part, write))
  }
}

years_code <- function(node, write, state) {
  names <- calendar_lines(c("born", "then"), node, write, state)
  paste0("(", names[2], "$year - ", names[1], "$year - (100 * ", names[2], "$mon + ", names[2],
    "$mday < 100 * ", names[1], "$mon + ", names[1], "$mday))")
}

months_code <- function(node, write, state) {
  names <- calendar_lines(c("begun", "then"), node, write, state)
  paste0("(12 * (", names[2], "$year - ", names[1], "$year) + ", names[2], "$mon - ", names[1],
    "$mon - (", names[2], "$mday < ", names[1], "$mday))")
}

# Lines that take two dates apart, under names like those wished for.
calendar_lines <- function(wished, node, write, state) {
  names <- free_names(wished, state)
  put_before(state, paste0(names, " <- as.POSIXlt(", c(write(node[[2]]), write(node[[3]])), ")"))
  names
}

timed_code <- function(x) {
  paste0("ifelse(grepl(", code_text(iso_datetime), ", ", x, ") & nchar(", x, ") > 10, ", x, ", NA)")
}

hour_code <- function(x) paste0("as.numeric(substr(", timed_code(x), ", 12, 13))")

# A function of the script: seconds since 1970, by the distance from universal time where the text
# has it.
hours_code <- function(node, write, state) {
  name <- free_names(c("seconds", "zoned"), state)
  zone <- code_text(zone_end)
  put_before(state, c(
    paste0(name[2], " <- function(x) grepl(", zone, ", x)"),
    paste0(name[1], " <- function(x) {"),
    paste0("  x <- ", timed_code("x")),
    paste0("  away <- ifelse(", name[2], "(x) & !endsWith(x, ", code_text("Z"), "), gsub(",
      code_text(":"), ", ",
      code_text(""), ", sub(", code_text("^.*([-+])"), ", ", code_text("\\1"), ", x)), ",
      code_text("+0000"), ")"),
    paste0("  86400 * as.numeric(as.Date(substr(x, 1, 10), ", code_text("%Y-%m-%d"), ")) +",
      " 3600 * as.numeric(substr(x, 12, 13)) +"),
    paste0("    60 * as.numeric(substr(x, 15, 16)) + as.numeric(sub(",
      code_text("^.{16}:?([0-9.]*).*$"), ", ", code_text("0\\1"), ", x)) -"),
    paste0("    60 * ifelse(startsWith(away, ", code_text("-"),
      "), -1, 1) * (60 * as.numeric(substr(away, 2, 3)) + ", "as.numeric(substr(away, 4, 5)))"),
    "}"
  ))
  parts <- c(write(node[[2]]), write(node[[3]]))
  paste0("ifelse(", name[2], "(", parts[1], ") == ", name[2], "(", parts[2], "), (", name[1], "(",
    parts[2], ") - ", name[1], "(", parts[1], ")) / 3600, NA)")
}

# The row of the occasion before, worked out once for each unit and order.
previous_code <- function(node, write, state) {
  args <- as.list(node)
  x <- write(args[[2]])
  if (strength(args[[2]]) < 20) x <- paste0("(", x, ")")
  order <- write(args$order)
  if (!is.null(args$steps)) order <- paste0("match(", order, ", ", write(args$steps), ")")
  skip <- isTRUE(args$skip_missing)
  key <- paste(c(write(args$unit), order, if (skip) x), collapse = " ")
  if (is.null(state$earlier[[key]])) {
    state$earlier[[key]] <- if (skip) last_valid_lines(x, write(args$unit), order, state) else
      earlier_lines(write(args$unit), order, state)
  }
  paste0(x, "[", state$earlier[[key]], "]")
}

earlier_lines <- function(unit, order, state) {
  name <- free_names(c("rows", "earlier"), state)
  put_before(state, c(
    paste0(name[1], " <- order(", unit, ", ", order, ", method = ", code_text("radix"), ")"),
    paste0(name[2], " <- rep(NA_integer_, length(", name[1], "))",
      side_remark("for each row, that of the occasion before")),
    paste0(name[2], "[", name[1], "] <- ifelse(duplicated(", unit, "[", name[1],
      "]), c(NA, head(", name[1], ", -1))[seq_along(", name[1], ")], NA)"),
    paste0(name[2], "[is.na(", unit, ") | is.na(", order, ")] <- NA")
  ))
  name[2]
}

# The same for the nearest earlier row with a valid answer.
last_valid_lines <- function(x, unit, order, state) {
  name <- free_names(c("rows", "last", "earlier"), state)
  put_before(state, c(
    paste0(name[1], " <- order(", unit, ", ", order, ", method = ", code_text("radix"), ")"),
    paste0(name[2], " <- ave(ifelse(is.na(", x, "[", name[1], "]), 0, seq_along(", name[1],
      ")), match(", unit, ", ", unit, ")[", name[1],
      "],\n  FUN = function(v) c(0, cummax(v)[-length(v)]))"),
    paste0(name[3], " <- rep(NA_integer_, length(", name[1], "))",
      side_remark("for each row, the nearest earlier one with an answer")),
    paste0(name[3], "[", name[1], "] <- ", name[1], "[ifelse(", name[2], " > 0, ", name[2],
      ", NA)]"),
    paste0(name[3], "[is.na(", unit, ") | is.na(", order, ")] <- NA")
  ))
  name[3]
}

# Draws: the same whole-number steps as in memory, all below 2^53.
draw_code <- function(node, write, state, type) {
  if (is.null(state$draws)) {
    state$draws <- free_names(c("p", "mix", "a", "b", "share"), state)
    id <- write(node[[2]])
    put_before(state, draw_lines(state$draws, id, type(node[[2]]) == "text"))
  }
  draw_share(state, node[[3]])
}

draw_share <- function(state, seed) {
  paste0(state$draws[5], "(", write_constant(seed %% draw_prime), ")")
}

draw_lines <- function(n, id, text) {
  each <- function(base) {
    paste0("vapply(", id, ", function(t) Reduce(function(h, code) (h * ", base,
      " + code) %% ", n[1], ",\n    utf8ToInt(enc2utf8(t)), 0), 0)")
  }
  c(
    paste0(n[1], " <- ", write_constant(draw_prime),
      side_remark("a prime; cubing modulo it mixes the identifiers")),
    paste0(n[2], " <- function(x, key) {"),
    paste0("  for (i in 1:", draw_rounds, ") {"),
    paste0("    x <- (x + key + i * 7919) %% ", n[1]),
    paste0("    x <- ((x * x) %% ", n[1], " * x) %% ", n[1]),
    "  }", "  x", "}",
    paste0(n[3], " <- ", if (text) each(257) else paste0(id, " %% ", n[1])),
    paste0(n[4], " <- ", if (text) each(65537) else paste0("floor(", id, " / ", n[1],
      ") %% ", n[1])),
    paste0(n[5], " <- function(key) (", n[2], "(", n[2], "(", n[3], ", key) + ", n[4], ", key) + (",
      n[2], "(", n[2], "(", n[4], ", key) + ", n[3], ", key) + 0.5) / ", n[1], ") / ", n[1])
  )
}
