# Measures turns against the base R a careful analyst would write, in one run on one machine.
# Results are checked equal first; ratios are medians of alternating runs. Use: make bench [ROWS=1000000]
library(ableturn)
options(ableturn.quiet = TRUE)
rows <- as.numeric(Sys.getenv("ROWS", "1000000"))
set.seed(1)

items <- as.data.frame(replicate(20, sample(c(1:5, NA), rows, TRUE, c(rep(.19, 5), .05)), simplify = FALSE))
names(items) <- paste0("q", 1:20)
items$age <- sample(18:95, rows, TRUE)
book <- turnbook(items)

base_mean <- function() {
  x <- as.matrix(items[1:20])
  ifelse(rowSums(!is.na(x)) >= 15, rowMeans(x, na.rm = TRUE), NA)
}
cuts <- seq(20, 100, 10)
rules <- lapply(seq_along(cuts), function(i) becomes(i, from(cuts[i], under = cuts[i] + 10)))
base_bands <- function() {
  out <- rep(NA_integer_, rows)
  for (i in seq_along(cuts)) out[items$age >= cuts[i] & items$age < cuts[i] + 10] <- i
  out
}

work <- list(
  "composite of 20 items, mean, at_least = 15" = list(
    ours = function() turn_composite(book, q1:q20, as = "s", at_least = 15)$s, base = base_mean
  ),
  "recode one variable by 9 ranges" = list(
    ours = function() turn_recode(book, age, as = "b", !!!rules)$b, base = base_bands
  ),
  "reverse 20 items in one call" = list(
    ours = function() turn_reverse(book, q1:q20, limits = c(1, 5))$q20_r,
    base = function() {
      for (i in 1:20) last <- 6L - items[[i]]
      last
    }
  )
)

seconds <- function(f) system.time(f(), gcFirst = TRUE)[["elapsed"]]

measure <- function(name) {
  pair <- work[[name]]
  stopifnot(isTRUE(all.equal(as.numeric(pair$ours()), as.numeric(pair$base()))))
  times <- replicate(5, c(ours = seconds(pair$ours), base = seconds(pair$base)))
  data.frame(
    work = name, ours = median(times["ours", ]), base = median(times["base", ]),
    ratio = median(times["base", ] / times["ours", ])
  )
}

result <- do.call(rbind, lapply(names(work), measure))
cat(format(rows, big.mark = ","), "rows; seconds, and how many times faster than base R\n")
print(format(result, digits = 3), row.names = FALSE)
dir.create("bench/results", showWarnings = FALSE)
write.csv(result, "bench/results/turns.csv", row.names = FALSE)
