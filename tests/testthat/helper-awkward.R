# Data that are odd in one way each: what is made of them must be made, or refused in words.
frames <- list(
  "no rows" = data.frame(x = numeric(), y = numeric(), g = character()),
  "one row" = data.frame(x = 3, y = 1, g = "a"),
  "all missing" = data.frame(x = c(NA_real_, NA), y = c(NA_real_, NA), g = NA_character_),
  "infinite" = data.frame(x = c(Inf, -Inf, 1, 2), y = c(1, 2, Inf, NA), g = c("a", "a", "b", "b")),
  "constant" = data.frame(x = rep(3, 12), y = rep(1, 12), g = "a"),
  "whole" = data.frame(x = c(1:11, NA), y = rep(c(0L, 1L), 6), g = rep(c("a", "b", NA), 4)),
  "true or false" = data.frame(x = c(TRUE, FALSE, NA), y = c(FALSE, FALSE, TRUE), g = c(TRUE, TRUE, FALSE)),
  "factors" = data.frame(x = factor(c("1", "2", "five")), y = factor(c("lo", "hi", NA)), g = factor(c("p", "q", "p"))),
  "text" = data.frame(x = c("1", "", "many"), y = c("x", "y", NA), g = c(" a", "a ", "\u00e9")),
  "dates" = data.frame(x = as.Date("2031-01-01") + c(0, 5, NA), y = as.Date("2030-01-01") + 0:2, g = c("a", "b", "a")),
  "extreme" = data.frame(x = c(-1e308, 1e308, 1e-300, 0), y = c(1e15, 1e15 + 1, 1, 2), g = c("a", "a", "b", "b")),
  "codes" = data.frame(x = c(rep(1:4, 20), 9, 99, -1), y = c(rep(1:2, 41), 8),
    g = rep(c("a", "b", "c"), length.out = 83))
)
