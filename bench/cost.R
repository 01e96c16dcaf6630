# What receipts and findings add to the time of a turn: the turn with them and without, in turn.
# Nothing is known of the columns before: what was counted of them is dropped before each run.
# Use: make bench, or Rscript bench/cost.R (ROWS=1000000)
library(ableturn)
options(ableturn.quiet = TRUE)
rows <- as.numeric(Sys.getenv("ROWS", "1000000"))
set.seed(1)
core <- asNamespace("ableturn")

answers <- function() sample(c(1:5, NA), rows, TRUE, c(rep(.19, 5), .05))
data <- as.data.frame(stats::setNames(replicate(20, answers(), simplify = FALSE), paste0("q", 1:20)))
data <- transform(data, age = sample(c(18:95, NA), rows, TRUE), income = round(exp(rnorm(rows, 7.8, .6)), 2),
  code = sample(1:6, rows, TRUE), home = sample(rows / 3, rows, TRUE))
book <- define(turnbook(data), code, codes = c(a = 1, b = 2, c = 3, d = 4, e = 5, f = 6), level = "nominal")
cuts <- seq(20, 90, 10)
bands <- c(list(becomes(0, under(20))), lapply(cuts, function(cut) becomes(cut, from(cut, under = cut + 10))))

work <- list(
  "composite, mean of 20 items" = function() turn_composite(book, q1:q20, as = "s", at_least = 15),
  "recode by 9 ranges" = function() turn_recode(book, age, as = "r", !!!bands),
  "10 bands of equal count" = function() turn_bin(book, income, as = "i", groups = 10),
  "z score" = function() turn_standardize(book, income, as = "z"),
  "percentile rank" = function() turn_standardize(book, age, as = "p", how = "percentile"),
  "reverse 20 items" = function() turn_reverse(book, q1:q20, limits = c(1, 5)),
  "5 dummies" = function() turn_dummy(book, code),
  "logarithm" = function() turn_compute(book, log(income), as = "l"),
  "ratio" = function() turn_compute(book, income / age, as = "l"),
  "flag" = function() turn_flag(book, age > 65, as = "f"),
  "merge categories" = function() turn_collapse(book, code, as = "c", becomes("a", "b"), becomes("d", "e", "f")),
  "mean of the household" = function() turn_group(book, income, as = "g", within = home)
)

forget <- function() {
  cache <- core$held(book, "cache")
  rm(list = grep("\r", ls(cache), value = TRUE, fixed = TRUE), envir = cache)
}
seconds <- function(f) {
  forget()
  system.time(f(), gcFirst = TRUE)[["elapsed"]]
}
told <- as.list(core)[c("find_all", "receipt_part", "facts_of_column")]
untold <- list(find_all = function(...) list(), receipt_part = function(...) list(), facts_of_column = function(x) NULL)
put <- function(parts) {
  for (name in names(parts)) {
    unlockBinding(name, core)
    assign(name, parts[[name]], core)
  }
}
measure <- function(name) {
  work[[name]]()
  times <- replicate(7, {
    put(untold)
    alone <- seconds(work[[name]])
    put(told)
    c(alone = alone, whole = seconds(work[[name]]))
  })
  data.frame(turn = name, alone = stats::median(times["alone", ]), whole = stats::median(times["whole", ]),
    added = stats::median(times["whole", ] - times["alone", ]) / stats::median(times["alone", ]))
}
result <- do.call(rbind, lapply(names(work), measure))
cat(format(rows, big.mark = ","), "rows; seconds of the turn alone, with receipt and findings, and what they add\n")
print(format(result, digits = 2), row.names = FALSE)
cat("In all:", format(sum(result$whole) / sum(result$alone) - 1, digits = 2), "added\n")
dir.create("bench/results", showWarnings = FALSE)
write.csv(result, "bench/results/cost.csv", row.names = FALSE)
