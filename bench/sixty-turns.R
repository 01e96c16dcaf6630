# Sixty columns of a survey, and sixty turns as an analyst would mix them.
sixty_columns <- function(rows) {
  answers <- function(i) sample(c(1:5, NA), rows, TRUE, c(rep(.19, 5), .05))
  counts <- function(i) sample(c(0:90, NA), rows, TRUE)
  amounts <- function(i) round(exp(stats::rnorm(rows, 7, .6)), 2)
  columns <- c(lapply(1:40, answers), lapply(1:10, counts), lapply(1:10, amounts))
  names(columns) <- c(paste0("q", 1:40), paste0("n", 1:10), paste0("a", 1:10))
  as.data.frame(columns)
}

sixty_turns <- function(book) {
  each <- function(letter, i) as.name(paste0(letter, i))
  for (i in 1:10) {
    n <- each("n", i)
    a <- each("a", i)
    book <- turn_recode(book, !!n, as = paste0("r", i), becomes(1, upto(29)),
      becomes(2, from(30, under = 60)), the_rest(3))
    book <- turn_bin(book, !!a, as = paste0("b", i), groups = 5)
    book <- turn_reverse(book, !!each("q", i), limits = c(1, 5), as = paste0("v", i))
    book <- turn_composite(book, paste0("q", i:(i + 9)), as = paste0("s", i), at_least = 7)
    book <- turn_standardize(book, !!each("s", i), as = paste0("z", i))
    book <- if (i %% 2) turn_flag(book, !!a > 1000 & !!n > 30, as = paste0("f", i))
    else turn_compute(book, !!a / (!!n + 1), as = paste0("f", i))
  }
  book
}
