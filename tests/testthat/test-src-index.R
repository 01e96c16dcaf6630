# The index of a column, and columns that are an index and a table, against plain R.
index_of <- function(x, why = integer(), kinds = 1L) core("index_column")(x, why, kinds)

index_columns <- list(
  "answers" = function(n) sample(c(1:5, NA), n, TRUE),
  "answers as doubles" = function(n) sample(c(1:5, NA), n, TRUE) + 0,
  "with gaps" = function(n) sample(c(-9L, 1:5, 99L), n, TRUE),
  "a late code" = function(n) c(sample(5L, n - 1, TRUE), 250L),
  "many codes" = function(n) sample(c(100:900, NA), n, TRUE),
  "far apart" = function(n) sample(c(-2e9, 3, 2e9), n, TRUE),
  "halves" = function(n) sample(c(seq(0, 20, 0.5), NA, NaN), n, TRUE),
  "two zeros" = function(n) sample(c(-0, 0, 0.25), n, TRUE),
  "a late fraction" = function(n) c(sample(5, n - 1, TRUE), 1.5),
  "texts" = function(n) sample(c(letters, "\u00e9", "", NA), n, TRUE),
  "many texts" = function(n) sample(c(paste0("t", 1:400), NA), n, TRUE),
  "truth" = function(n) sample(c(TRUE, FALSE, NA), n, TRUE),
  "nothing" = function(n) rep(NA_integer_, n)
)

# By unique() and match().
right_index <- function(x) {
  values <- unique(x[!is.na(x)])
  values <- if (is.character(x)) values else sort(values)
  place <- match(x, values, length(values) + 1L)
  list(values = c(values, values[NA_integer_]), rows = tabulate(place, length(values) + 1),
    x = replace(x, is.na(x), NA))
}

test_each("an index holds every row", index_columns, function(column, name) {
  set.seed(7)
  for (n in c(8, 1203, 2048, 70000)) {
    x <- column(n)
    found <- index_of(x)
    right <- right_index(x)
    if ((length(right$values) - 1) * 4 > n) {
      expect_null(found)
      next
    }
    expect_equal(found[c("values", "rows")], right[c("values", "rows")])
    expect_identical(typeof(found$values), typeof(x))
    expect_equal(length(found$codes), n * if (length(found$rows) > 256) 2 else 1)
    expect_equal(core("indexed_values")(found$codes, found$values)[seq_len(n)], right$x)
  }
})

test_that("columns of many answers, or of infinite ones, have no index", {
  set.seed(8)
  columns <- list(rnorm(70000), seq_len(70000), c(rep(1:3, 20), Inf), as.character(1:50),
    c(rep(0.5, 69999), Inf), sample(1e6, 70000, TRUE) * 1000)
  for (x in columns) expect_null(index_of(x))
})

test_that("kinds of missing have a slot each, and come back in the order of the rows", {
  set.seed(9)
  for (values in list(1:5, 1:252, paste0("t", 1:300))) {
    x <- sample(c(values, NA, NA), 40000, TRUE)
    why <- sample(6L, sum(is.na(x)), TRUE)
    found <- index_of(x, why, 6L)
    slots <- length(values)
    in_order <- if (is.character(values)) unique(x[!is.na(x)]) else values
    expect_equal(found$rows, c(tabulate(match(x, in_order), slots), tabulate(why, 6)))
    kind <- c(integer(slots), 1:6)
    told <- core("indexed_kinds")(found$codes, kind, length(why))
    expect_equal(length(told), length(why))
    expect_identical(told[seq_along(why)], why)
    expect_identical(core("indexed_values")(found$codes, found$values)[seq_along(x)], x)
  }
})

test_that("an indexed column is for R a vector like any other", {
  tables <- list(c(2.5, NA, 7), c(4L, NA, 9L), c(TRUE, NA, FALSE), c("a", NA, "b"),
    as.Date(c("2031-03-01", NA, "2032-01-01")))
  set.seed(10)
  place <- sample(3, 30000, TRUE)
  for (table in tables) {
    fresh <- function() core("indexed_values")(as.raw(place - 1), table)
    plain <- table[place]
    x <- fresh()
    expect_identical(x[c(5, 1)], plain[c(5, 1)])
    expect_identical(x[c(5L, 1L)], plain[c(5L, 1L)])
    expect_identical(x[7:9999], plain[7:9999])
    expect_identical(x[c(2.9, 1.1)], plain[2:1])
    expect_identical(head(x), head(plain))
    expect_identical(x[[30000]], plain[[30000]])
    expect_true(core("is_not_written")(x))
    expect_identical(fresh()[c(TRUE, FALSE)], plain[c(TRUE, FALSE)])
    expect_identical(fresh()[-1], plain[-1])
    expect_identical(fresh()[c(1, NA, 40000)], plain[c(1, NA, 40000)])
    expect_identical(is.na(fresh()), is.na(plain))
    expect_identical(table(fresh()), table(plain), ignore_attr = TRUE)
    expect_identical(rev(fresh()), rev(plain))
    expect_identical(fresh(), plain)
    y <- x
    y[2] <- plain[1]
    expect_identical(y, replace(plain, 2, plain[1]))
    expect_identical(x, plain)
    path <- withr::local_tempfile()
    saveRDS(fresh(), path)
    expect_identical(readRDS(path), plain)
    expect_identical(data.frame(x = fresh())$x, plain)
    for (i in 1:9000) last <- x[[i]]
    expect_identical(last, plain[[9000]])
  }
  some <- core("indexed_values")(as.raw(place - 1), c(5L, NA, 9L))
  parts <- core("indexed_parts")(some)
  expect_equal(parts[-1], list(values = c(5L, NA, 9L), rows = tabulate(place, 3)))
  expect_error(core("indexed_parts")(1:3), "do not fit")
  texts <- core("indexed_values")(as.raw(c(0, 1, 0)), c("a", "b"))
  texts[3] <- "c"
  expect_identical(texts, c("a", "b", "c"))
  # a code without a slot leads nowhere
  expect_true(core("indexed_values")(as.raw(c(0, 9)), c(1, NA))[2] %in% NA)
})

test_that("rows are placed between points, and among the cells of several indexes", {
  set.seed(35)
  kinds <- setdiff(names(index_columns), c("texts", "many texts", "truth"))
  columns <- c(lapply(index_columns[kinds], function(make) make(5001)),
    list(ends = rep(c(-Inf, Inf, NaN, NA, -1, 7, 2.5), 300)))
  for (points in list(c(-1, 0, 0.5, 7), seq(-2, 9.5, by = 0.5), seq(-2, 13, by = 0.5))) {
    for (kind in names(columns)) {
      x <- columns[[kind]]
      told <- core("stretch_index")(x, rep(2L, sum(is.na(x))), points, 2L)
      place <- findInterval(x, points, left.open = TRUE) + findInterval(x, points)
      slots <- 2 * length(points) + 3
      place[is.na(x)] <- slots - 1
      expect_equal(as.integer(told$codes), place, info = kind)
      expect_equal(told$rows, tabulate(place + 1, slots), info = kind)
    }
  }
  for (sizes in list(c(3L, 4L), c(60L, 5L, 7L), c(300L, 4L))) {
    places <- lapply(sizes, function(size) sample(size, 60001, TRUE))
    codes <- Map(function(place, size) {
      if (size > 256) writeBin(place - 1L, raw(), size = 2) else as.raw(place - 1)
    }, places, sizes)
    told <- core("joint_index")(codes, sizes)
    right <- Reduce(`+`, Map(function(place, step) (place - 1) * step, places,
      cumprod(c(1, sizes[-length(sizes)]))))
    wide <- prod(sizes) > 256
    expect_equal(if (wide) readBin(told$codes, "int", 60001, 2, signed = FALSE) else
      as.integer(told$codes), right)
    expect_equal(told$rows, tabulate(right + 1, prod(sizes)))
  }
})

score_items <- list(
  "one scale" = replicate(20, c(1:5, NA), simplify = FALSE),
  "several scales" = list(0:1, c(0:10, NA, NA), c(-3:3, NA), 5L, NA_integer_),
  "wide answers" = replicate(3, c(0:200, NA), simplify = FALSE),
  "one item" = list(c(1:3, NA)), "gaps" = list(c(1, 2, 4, NA), c(NA, 1:5), c(5, NA, 6)),
  "missing first" = list(c(NA, 1:5), c(NA, NA, 3:9), c(2:4, NA), c(NA, NA)),
  "a byte" = list(c(0:254, NA)), "more than a byte" = list(0:255, c(0:3, NA))
)

test_each("scores of indexes are those of their columns", score_items, function(answers, name) {
  set.seed(11)
  for (n in c(1, 1023, 60001)) {
    place <- lapply(answers, function(values) sample(length(values), n, TRUE))
    x <- do.call(cbind, Map(function(values, at) as.double(values[at]), answers, place))
    for (how in c("mean", "sum", "prorated")) for (least in unique(c(0, 1, ncol(x)))) {
      told <- core("indexed_scores")(lapply(place, function(at) as.raw(at - 1)),
        lapply(answers, as.double), how, as.integer(least))
      valid <- rowSums(!is.na(x))
      score <- switch(how, mean = rowMeans(x, na.rm = TRUE), sum = rowSums(x, na.rm = TRUE),
        prorated = rowMeans(x, na.rm = TRUE) * ncol(x))
      score[valid < max(least, 1)] <- NA
      expect_equal(core("indexed_values")(told$codes, told$x)[seq_len(n)], score)
      lost <- ifelse(valid < least, 1L, 2L)[is.na(score)]
      expect_identical(core("indexed_kinds")(told$codes, told$lost, length(lost))[seq_along(lost)],
        lost)
      expect_equal(sum(told$rows), n)
      expect_equal(told$with, tabulate(valid + 1, ncol(x) + 1))
    }
    whole <- x[valid == ncol(x), , drop = FALSE]
    expect_equal(told$sums$complete, nrow(whole))
    if (nrow(whole) < 2) next
    expect_equal(told$sums$own, unname(apply(whole, 2, var)))
    expect_equal(told$sums$total, var(rowSums(whole)))
    expect_equal(told$sums$with_total, as.vector(cov(whole, rowSums(whole))))
  }
})

test_that("scores that an index cannot hold are left to the rows", {
  code <- list(as.raw(0:1))
  for (values in list(c(1, 0.5), c(1, Inf), c(0, 70000), c(0, 2e6))) {
    expect_null(core("indexed_scores")(code, list(values), "sum", 1L))
  }
  expect_null(core("indexed_scores")(list(raw(4)), list(as.double(1:300)), "sum", 1L))
})
