# Random draws and the normal distribution in SQL.

# The quantile of the normal distribution by rational approximations (Wichura 1988, algorithm AS
# 241, PPND16), each a column.
normal_quantile_in_sql <- function(node, state) {
  p <- hold_term(number_of(sql_term(node[[2]], state), state), "share", state)
  hold <- function(sql, called, level) hold_term(new_term(sql, "number", level), called, state)
  q <- hold(paste0(p$sql, " - 0.5"), "q", p$level)
  near <- hold(case_sql(paste0("ABS(", q$sql, ") <= 0.425"), paste0("0.180625 - ", q$sql, " * ",
    q$sql)), "r_near", q$level)
  end <- case_sql(paste(q$sql, "< 0"), p$sql, paste("1 -", p$sql))
  end <- hold(case_sql(paste0("ABS(", q$sql, ") > 0.425 AND ", p$sql, " > 0 AND ", p$sql, " < 1"),
    end), "end", q$level)
  root <- hold(paste0("SQRT(-", fill_sql(state$engine$ln, end$sql), ")"), "r_far", end$level)
  far <- function(condition, shift) {
    hold(case_sql(paste(root$sql, condition), paste0(root$sql, " - ", shift)), "r_far", root$level)
  }
  r <- list(near, far("<= 5", "1.6"), far("> 5", "5"))
  parts <- Map(function(term, top, below) {
    fraction <- paste(polynomial_sql(term$sql, top, state), "/",
      polynomial_sql(term$sql, below, state))
    hold(fraction, "part", term$level)
  }, r, quantile_tops, quantile_bottoms)
  tail <- function(part) case_sql(paste(q$sql, "< 0"), paste0("-", part), part)
  level <- top_level(parts)
  new_term(case_sql(paste(vapply(r, `[[`, "", "sql"), "IS NOT NULL"),
    c(paste(q$sql, "*", parts[[1]]$sql), tail(parts[[2]]$sql), tail(parts[[3]]$sql))), "number",
  level)
}

# By Horner's rule, the constant first.
polynomial_sql <- function(x, coefficients, state) {
  number <- vapply(coefficients, state$engine$number, "")
  sql <- number[length(number)]
  for (c in rev(number[-length(number)])) sql <- paste0("(", sql, " * ", x, " + ", c, ")")
  sql
}

quantile_tops <- list(
  c(3.3871328727963666080, 1.3314166789178437745e2, 1.9715909503065514427e3,
    1.3731693765509461125e4, 4.5921953931549871457e4, 6.7265770927008700853e4,
    3.3430575583588128105e4, 2.5090809287301226727e3),
  c(1.42343711074968357734, 4.63033784615654529590, 5.76949722146069140550,
    3.64784832476320460504, 1.27045825245236838258, 2.41780725177450611770e-1,
    2.27238449892691845833e-2, 7.74545014278341407640e-4),
  c(6.65790464350110377720, 5.46378491116411436990, 1.78482653991729133580,
    2.96560571828504891230e-1, 2.65321895265761230930e-2, 1.24266094738807843860e-3,
    2.71155556874348757815e-5, 2.01033439929228813265e-7)
)

quantile_bottoms <- list(
  c(1, 4.2313330701600911252e1, 6.8718700749205790830e2, 5.3941960214247511077e3,
    2.1213794301586595867e4, 3.9307895800092710610e4, 2.8729085735721942674e4,
    5.2264952788528545610e3),
  c(1, 2.05319162663775882187, 1.67638483018380384940, 6.89767334985100004550e-1,
    1.48103976427480074590e-1, 1.51986665636164571966e-2, 5.47593808499534494600e-4,
    1.05075007164441684324e-9),
  c(1, 5.99832206555887937690e-1, 1.36929880922735805310e-1, 1.48753612908506148525e-2,
    7.86869131145613259100e-4, 1.84631831751005468180e-5, 1.42151175831644588870e-7,
    2.04426310338993978564e-15)
)

# A share between 0 and 1 from the row identifier and a seed, by whole numbers: the steps of
# uniform_draw(), a stage each.
draw_in_sql <- function(node, state) uniform_term(id_terms(node[[2]], state), node[[3]], state)

uniform_term <- function(id, seed, state) {
  key <- seed %% draw_prime
  prime <- number_sql(draw_prime, state$engine)
  mixed <- function(first, second) {
    mixing_stages(mixing_stages(first, NULL, key, state), second, key, state)
  }
  high <- mixed(id[[1]], id[[2]])
  low <- mixed(id[[2]], id[[1]])
  real <- state$engine$real
  sum <- paste0("(", cast_sql(high$sql, real), " + (", cast_sql(low$sql, real), " + 0.5) / ", prime,
    ")")
  new_term(paste(sum, "/", prime), "number", top_level(list(high, low)), 7)
}

# Eight rounds of adding and cubing modulo the prime.
mixing_stages <- function(term, plus, key, state) {
  prime <- number_sql(draw_prime, state$engine)
  modulo <- function(sql) fill_sql(state$engine$modulo, sql, prime)
  for (i in seq_len(draw_rounds)) {
    added <- number_sql(key + i * 7919, state$engine)
    also <- if (i == 1 && !is.null(plus)) paste0(" + ", plus$sql)
    sum <- paste0("(", term$sql, also, " + ", added, ")")
    level <- top_level(c(list(term), if (i == 1) compact(list(plus))))
    y <- modulo(sum)
    cubed <- modulo(paste0(modulo(paste0("(", y, " * ", y, ")")), " * ", y))
    term <- hold_term(new_term(cubed, "whole", level), "mix", state)
  }
  term
}

# The identifier as two whole numbers below the prime.
id_terms <- function(node, state) {
  term <- sql_term(node, state)
  if (term$type == "text") {
    longest <- most_letters(node, state)
    return(lapply(c(257, 65537), text_number_term, term = term, longest = longest, state = state))
  }
  held <- hold_term(number_of(term, state), "id", state)
  prime <- number_sql(draw_prime, state$engine)
  whole <- if (state$engine$name == "sqlite") "INTEGER" else "BIGINT"
  goes_in <- function(x) {
    sql <- floor_sql(paste0(x$sql, " / ", prime), state)
    hold_term(new_term(sql, "number", x$level), "times", state)
  }
  times <- goes_in(held)
  again <- goes_in(times)
  left <- function(x, times) {
    sql <- cast_sql(paste0(x$sql, " - ", times$sql, " * ", prime), whole)
    hold_term(new_term(sql, "whole", top_level(list(x, times))), "id", state)
  }
  list(left(held, times), left(times, again))
}

# A text as a number: its characters as the figures of one to this base, modulo the prime.
text_number_term <- function(base, term, longest, state) {
  held <- hold_term(term, "id", state)
  if (longest > 200) refuse_in_sql("long_text", "a draw", state$engine)
  powers <- Reduce(function(power, i) (power * base) %% draw_prime, seq_len(longest), 1,
    accumulate = TRUE)
  whole <- if (state$engine$name == "sqlite") "INTEGER" else "BIGINT"
  digit <- function(i) {
    character <- paste0("SUBSTR(", held$sql, ", LENGTH(", held$sql, ") - ", i, ", 1)")
    code <- cast_sql(fill_sql(state$engine$code_point, character), whole)
    case_sql(paste0("LENGTH(", held$sql, ") > ", i),
      paste0(code, " * ", number_sql(powers[i + 1], state$engine)), "0")
  }
  sum <- folded_sum(vapply(seq_len(longest) - 1, digit, ""))
  sql <- fill_sql(state$engine$modulo, paste0("(", sum, ")"), number_sql(draw_prime, state$engine))
  sql <- case_sql(paste(held$sql, "IS NOT NULL"), sql)
  hold_term(new_term(sql, "whole", held$level), "id", state)
}

most_letters <- function(node, state) {
  max(1, nchar(values_held(state$variable(as.character(node)))), na.rm = TRUE)
}

# Two shares make a normal draw (Box and Muller 1958).
normal_draw_in_sql <- function(node, state) {
  id <- id_terms(node[[2]], state)
  share <- lapply(node[[3]] + normal_keys, function(seed) {
    hold_term(uniform_term(id, seed, state), "share", state)
  })
  ln <- fill_sql(state$engine$ln, share[[1]]$sql)
  turn <- number_sql(2 * pi, state$engine)
  new_term(paste0("SQRT(-2 * ", ln, ") * COS(", turn, " * ", share[[2]]$sql, ")"), "number",
    top_level(share), 7)
}
