# What the compiled code counts, places and spreads, held to a few lines of plain R.
skip_on_cran() # long; make test runs it

# Around the ends of blocks, and long enough for two threads.
some_lengths <- c(0, 1, 2, 255, 257, 2047, 2049, 50001)

column_kinds <- list(
  "codes" = function(n) sample(c(1:5, 9L, NA), n, TRUE),
  "negative" = function(n) sample(c(-3:2, NA), n, TRUE),
  "whole" = function(n) sample(c(1, 2, 7, NA), n, TRUE),
  "halves" = function(n) sample(c(0.5, 1, NA), n, TRUE),
  "wide" = function(n) sample(c(1:2000, NA), n, TRUE),
  "far" = function(n) sample(c(-2e9, 0, 2e9, NA), n, TRUE),
  "many" = function(n) c(rnorm(n)), "zeros" = function(n) sample(c(0, -0, 1), n, TRUE),
  "truth" = function(n) sample(c(TRUE, FALSE, NA), n, TRUE), "none" = function(n) rep(NA_real_, n),
  "late" = function(n) c(rep(1L, max(0, n - 2)), c(40L, NA)[seq_len(min(n, 2))]),
  "late by 13" = function(n) c(rep(3L, max(0, n - 4)), c(16L, 3L, NA, 3L)[seq_len(min(n, 4))]),
  "late by 14" = function(n) c(rep(3L, max(0, n - 4)), c(17L, 3L, NA, 3L)[seq_len(min(n, 4))]),
  "late by 15" = function(n) c(rep(3, max(0, n - 4)), c(18, 3, NA, 3)[seq_len(min(n, 4))]),
  "late half" = function(n) c(rep(1, max(0, n - 2)), c(1.5, NA)[seq_len(min(n, 2))])
)

plain_facts <- function(x) {
  v <- as.double(x[!is.na(x)])
  values <- sort(unique(v))
  list(valid = as.double(length(v)), low = if (length(v)) min(v) else NA_real_,
    high = if (length(v)) max(v) else NA_real_, negatives = min(21L, sum(values < 0)),
    values = values, rows = tabulate(match(v, values), length(values)))
}

test_each("what is known of a column is what plain R counts", column_kinds, function(make, kind) {
  set.seed(31)
  for (n in some_lengths) {
    x <- make(n)
    told <- core("facts_of_column")(x)
    right <- plain_facts(x)
    few <- length(right$values) <= 2048
    expect_equal(told$few, few, info = n)
    if (!few) right[c("values", "rows")] <- told[c("values", "rows")]
    expect_equal(told[names(right)], right, info = n)
  }
})

plain_aside <- function(x, points, kinds, ranges) {
  kind <- integer(length(x))
  for (i in seq_len(nrow(ranges))) {
    above <- if (ranges[i, 3]) x >= ranges[i, 1] else x > ranges[i, 1]
    below <- if (ranges[i, 4]) x <= ranges[i, 2] else x < ranges[i, 2]
    hit <- which(above & below & (kind == 0 | kind > ranges[i, 5]))
    kind[hit] <- ranges[i, 5]
  }
  for (j in seq_along(points)) {
    kind[which(x == points[j] & (kind == 0 | kind > kinds[j]))] <- kinds[j]
  }
  kind[is.na(x)] <- 1L
  x[kind > 0] <- NA
  list(x = x, why = as.integer(kind[kind > 0]))
}

test_that("missing codes are set aside by the first kind that holds them, and nothing else", {
  set.seed(32)
  ranges <- rbind(c(-Inf, 0, 1, 0, 3), c(4, 5, 0, 1, 2))
  for (kind in setdiff(names(column_kinds), "zeros")) for (n in some_lengths) {
    x <- column_kinds[[kind]](n)
    told <- core("set_aside")(x, c(2, 9, 2), c(4L, 2L, 3L), ranges)
    expect_identical(told, plain_aside(x, c(2, 9, 2), c(4L, 2L, 3L), ranges), info = paste(kind, n))
    none <- core("set_aside")(x, numeric(), integer(), matrix(0, 0, 5))
    expect_identical(none$x, x, info = paste(kind, n))
    expect_true(core("same_objects")(list(none$x), list(x)))
  }
  expect_identical(core("set_aside")(c(NaN, 1), numeric(), integer(), matrix(0, 0, 5))$x, c(NA, 1))
})

test_that("groups are numbered in the order of their values, alone and together", {
  set.seed(33)
  others <- list("text" = function(n) sample(c("b", "10", "9", "a", NA), n, TRUE))
  for (kind in c(names(column_kinds), "text")) for (n in some_lengths[-1]) {
    x <- c(column_kinds, others)[[kind]](n)
    keys <- core("sort_values")(unique(x[!is.na(x)]))
    told <- core("places_in")(x)
    expect_equal(told$keys, keys, info = paste(kind, n))
    expect_equal(told$place, match(x, keys, incomparables = NA), info = paste(kind, n))
  }
  a <- sample(c(3, 5, NA), 400, TRUE)
  b <- sample(letters[1:3], 400, TRUE)
  cells <- core("group_cells")(list(a = a, b = b))
  expect_equal(cells$cells, 6)
  expect_equal(cells$cell, as.integer(interaction(factor(a), factor(b))))
})

result_kinds <- list("integer" = function(k) c(11:19)[seq_len(k)],
  "real" = function(k) seq_len(k) / 4, "text" = function(k) letters[seq_len(k)])

test_that("originals are not copied, and what is known of them is forgotten with their meaning", {
  data <- data.frame(a = rep(c(1:5, NA), 20), b = rnorm(120))
  book <- turnbook(data)
  expect_true(core("same_objects")(list(core("values_of")(known_variable(book, "a"))),
    list(core("part_of_book")(book, "data")$a)))
  twice <- quietly(turn_compute(book, a + 0, as = "copy"))
  expect_match(paste(findings(twice)$what, collapse = " "), "is the same as a")
  coded <- quietly(define(book, a, missing = c(Refused = 5)))
  other <- quietly(turn_compute(coded, a + 0, as = "copy"))
  expect_match(paste(findings(other)$what, collapse = " "), "is the same as a")
  new <- quietly(turn_compute(coded, b + 0.5, as = "new"))
  expect_false(any(grepl("the same", findings(new)$what)))
})

test_that("sixty turns come back from their sheet, and ranges of codes can be joined", {
  folder <- file.path(testthat::test_path(), "..", "..", "bench")
  skip_if_not(file.exists(file.path(folder, "sixty-turns.R")), "the sources are not here")
  source(file.path(folder, "sixty-turns.R"), local = TRUE)
  set.seed(36)
  data <- sixty_columns(300)
  made <- quietly(sixty_turns(turnbook(data)))
  path <- tempfile(fileext = ".yaml")
  save_turns(made, path)
  again <- quietly(apply_turns(data, path))
  expect_equal(as.data.frame(again), as.data.frame(made))
  book <- quietly(define(made, n1, missing = c("Not sure" = from(80), Refused = 5)))
  expect_equal(is.na(book$n1), is.na(data$n1) | data$n1 >= 80 | data$n1 == 5)
  expect_error(define(made, n1, missing = c(Refused = 5, "Not sure" = from(80))),
    class = "ableturn_error_range_apart")
})

test_that("each work of the bench gives what base R gives, on two threads", {
  folder <- file.path(testthat::test_path(), "..", "..", "bench")
  skip_if_not(file.exists(file.path(folder, "works.R")), "the sources are not here")
  here <- new.env(parent = globalenv())
  for (name in getNamespaceExports("ableturn")) assign(name, core(name), here)
  source(file.path(folder, "works.R"), local = here)
  set.seed(37)
  data <- here$survey_data(60000)
  book <- turnbook(data)
  for (name in names(here$works)) {
    work <- here$works[[name]]
    ours <- lapply(core("part_of_book")(quietly(work$ours(book, data)), "columns"), `[[`, "x")
    base <- work$base(data)
    expect_length(ours, length(base))
    for (i in seq_along(base)) {
      expect_equal(as.numeric(ours[[i]]), as.numeric(base[[i]]), info = name)
    }
  }
})

plain_score <- function(v, w, all, how) {
  switch(how, mean = sum(v * w) / sum(w), sum = sum(v * w),
    prorated = sum(v * w) * sum(all) / sum(w),
    min = min(v), max = max(v), sd = stats::sd(v), median = stats::median(v))
}

plain_scores <- function(items, shift, sign, how, at_least, weights) {
  matrix <- do.call(cbind, Map(function(x, a, b) a + b * x, items, shift, sign))
  apply(matrix, 1, function(row) {
    use <- !is.na(row)
    if (sum(use) < max(1, at_least)) return(NA_real_)
    plain_score(row[use], weights[use], weights, how)
  })
}

# Each way of scoring, looked at in the first and last rows.
expect_plain_scores <- function(items, shift, sign, weights, ways, info) {
  n <- length(items[[1]])
  ends <- unique(c(1:100, n - 0:100))
  for (how in ways) {
    told <- core("row_scores")(items, shift, sign, how, 2L, weights)
    right <- plain_scores(lapply(items, `[`, ends), shift, sign, how, 2L, weights)
    expect_equal(told$x[ends], right, info = paste(info, n, how))
    expect_equal(sum(told$with), n)
  }
}

test_that("answers at and beyond the size of a code are scored alike, late or at once", {
  set.seed(38)
  ways <- c("mean", "sum", "prorated", "max")
  for (reach in c(255L, 256L, 257L, 40000L, .Machine$integer.max)) for (n in c(300, 60001)) {
    items <- replicate(3, sample(c(1:5, NA), n, TRUE), simplify = FALSE)
    items[[2]][n] <- reach
    items[[3]][1] <- -reach
    expect_plain_scores(items, c(0, 6, 0), c(1, -1, 1), rep(1, 3), ways, reach)
    expect_plain_scores(lapply(items, as.double), c(0, 6, 0), c(1, -1, 1), rep(1, 3), ways, reach)
  }
})

test_that("many items, weighted or shifted far, are scored as plain R scores them", {
  set.seed(39)
  for (k in c(2, 40, 41, 60)) {
    items <- replicate(k, sample(c(-250:250, NA), 300, TRUE), simplify = FALSE)
    sign <- sample(c(1, -1), k, TRUE)
    for (shift in c(0, 512, 513, 0.5)) for (weights in list(rep(1, k), seq_len(k) / 4)) {
      ways <- c("mean", "sum", "prorated", "min", "sd", "median")
      expect_plain_scores(items, ifelse(sign == 1, 0, shift), sign, weights, ways, paste(k, shift))
    }
  }
})

test_that("shares of a distribution are found for whatever value is asked for", {
  upto <- function(n) cumsum(rep(2, n))
  for (at in list(numeric(), 3, c(3, 3 + 1e-9), c(-1e308, 1e308), c(-5, 0, 0.5, 1e9),
    seq(0, 1, length.out = 5000))) {
    x <- c(-Inf, Inf, NA, NaN, 0, 3, -1e308, 1e308, at)
    below <- 2 * vapply(x, function(v) sum(at < v), 0)
    equal <- 2 * vapply(x, function(v) sum(at <= v), 0) - below
    below[!is.finite(x)] <- equal[!is.finite(x)] <- NA
    expect_identical(core("held_around")(x, at, upto(length(at)), 0),
      list(below = below, equal = equal))
  }
})

test_that("plain numbers are read from the bytes of a table as R reads them", {
  set.seed(6)
  real <- c("0", "-1.5", "2.57492108037695", "", "999999999999999", "NA",
    format(rnorm(60000), digits = 15, trim = TRUE, scientific = FALSE))
  whole <- c("-7", "0", "", "NA", as.character(sample(1e8, 60002)))
  for (break_at in c("\n", "\r\n", "\r")) {
    bytes <- charToRaw(paste0(paste(c("a;\"b;\";c", paste0(real, ";\"x;\ny\";", whole)),
      collapse = break_at), if (break_at == "\n") "" else break_at))
    read <- core("csv_columns")(bytes, ";", TRUE, c("number", "text", "whole"), length(real))
    expect_identical(read[[3]], suppressWarnings(as.integer(whole)))
    expect_identical(read[[1]], suppressWarnings(as.numeric(real)))
    expect_true(all(read[[2]] == "x;\ny"))
  }
  for (wrong in list(list("text", 5), list(rep("text", 3), 1e6))) {
    expect_error(core("csv_columns")(bytes, ";", TRUE, wrong[[1]], wrong[[2]]), "do not fit")
  }
})

# What a column of a file is read as, and its `spelled`: as R writes numbers, or every program.
test_that("numbers of 16 and 17 figures are read as R reads them, and their spelling is told", {
  x <- withr::with_seed(8, c(rnorm(20000), rnorm(5000) * 10^sample(-7:12, 5000, TRUE),
    round(rnorm(5000), 3), 5.138181783067163, 0.1 + 0.2, 1e-5, 1e14 + 1 / 16, -0.5))
  shortest <- core("show_number")(x)
  exact <- core("exact_figures")(x)
  expect_gt(sum(shortest != exact), 2)
  read <- function(texts) {
    bytes <- charToRaw(paste0(c("a", texts), "\n", collapse = ""))
    csv <- core("csv_columns")(bytes, ",", FALSE, "long", length(texts))
    expect_identical(csv[[1]], as.numeric(texts))
    attr(csv, "spelled")
  }
  expect_equal(read(shortest), "shortest")
  expect_equal(read(exact), "exact")
  alike <- shortest == exact
  long <- which(nchar(gsub("[-.]|e.*", "", sub("^-?0[.]0*", "", shortest))) > 15 & alike)
  for (i in c(long[1:200], which(!alike))) {
    more <- sprintf("%.18g", x[i])
    told <- c(read(shortest[i]), read(exact[i]), if (more != exact[i]) read(more))
    expect_equal(told, c("shortest", if (alike[i]) "shortest" else "exact",
      if (more != exact[i]) "otherwise"), info = more)
  }
})

test_that("texts are plain numbers where the pattern says so, and read as R reads them", {
  pieces <- c("1", "0", "12", "1234567890123456", ".", "e", "E", "+", "-", " ", "\t", "x", ",",
    "007")
  texts <- withr::with_seed(4, replicate(5000, paste(sample(pieces, sample(6, 1), TRUE),
    collapse = "")))
  plain <- grepl(core("plain_number"), texts) & !grepl("^[ \t]*[-+]?(0[0-9]|[0-9]{16})", texts)
  expect_gt(sum(plain), 300)
  expect_identical(core("plain_numbers")(texts[plain]), as.numeric(texts[plain]))
  expect_null(unlist(lapply(texts[!plain], core("plain_numbers"))))
  expect_identical(core("plain_numbers")(c("1", NA)), c(1, NA))
})

test_that("texts of plain letters are told from others", {
  plain <- list(character(), c("a b", NA, ""), "~ \t\n\v\f\r")
  other <- list(c("a", "\u00e9"), "\u00a0", "a\001", "\177", "\033[1m")
  for (texts in plain) expect_true(core("all_ascii")(texts))
  for (texts in other) expect_false(core("all_ascii")(texts), info = texts)
})

# Each memory that a kernel asks for is the occasion of a collection: of what it is given, nothing
# else is made meanwhile.
test_that("what the kernels give survives the collector of memory", {
  x <- c(1L, 2L, NA, 5L, 2L)
  bytes <- list(as.raw(c(0, 1, 1)), as.raw(c(2, 0, 1)))
  calls <- list(
    list("facts_of_columns", list(x, x + 0.5, letters[x])), list("facts_of_cells", c(1, 2, 1), 1:3),
    list("row_scores", list(x, x), c(0, 6), c(1, -1), "mean", 1L, c(1, 1)),
    list("row_scores", list(x, x), c(0, 0), c(1, 1), "median", 1L, c(1, 1)),
    list("item_sums", list(x, x), c(0, 0), c(1, 1)), list("moments", x),
    list("sorted_counts", x + 0.5), list("whole_places", x),
    list("group_statistics", x + 0, c(1L, 1L, 2L, 2L, NA), 2L, "mean"),
    list("set_aside", x, 5, 2L, matrix(0, 0, 5)), list("stretch_index", x, 1L, c(1, 2), 1L),
    list("index_column", rep(x, 4), integer(), 1L),
    list("index_column", rep(letters[x], 4), rep(2L, 4), 2L), list("joint_index", bytes, 2:3),
    list("indexed_scores", bytes, list(c(1, NA), c(1, 2, 5)), "mean", 1L),
    list("alike_at_a_glance", x, list(x, x + 0.5, letters[x]), 1:5),
    list("may_differ_by_case", "ab", c("AB", "ab", "a\u00df"))
  )
  for (call in sampled(calls)) {
    kernel <- core(call[[1]])
    given <- call[-1]
    right <- do.call(kernel, given)
    gctorture2(1)
    told <- tryCatch(do.call(kernel, given), finally = gctorture2(0))
    expect_identical(told, right, info = call[[1]])
  }
  looked_up <- core("indexed_values")(bytes[[1]], c("a", NA))
  gctorture2(1)
  told <- tryCatch(looked_up[c(3, 1)], finally = gctorture2(0))
  expect_identical(told, c(NA, "a"))
})

test_that("whatever is broken in the XML of a sheet, its cells are read or it is told", {
  whole <- charToRaw(paste0("<?xml version='1.0'?><o:document-content><t:table t:name='a&#38;b'>",
    "<t:table-row t:number-rows-repeated='3'><t:table-cell o:value-type='float' o:value='1.5' ",
    "t:number-columns-repeated='2'/><t:covered-table-cell/><t:table-cell o:value-type='string'>",
    "<p>a<s c='9'/>\u00e9 &amp;</p><!-- - --><annotation><p>x</p></annotation><p><![CDATA[<]]>",
    "</p></t:table-cell></t:table-row></t:table></o:document-content>"))
  expect_equal(core("document_sheets")(whole), "a&b")
  cells <- core("document_cells")(whole, 1L, 100)
  expect_equal(cells$column, c(1, 2, 1, 2, 1, 2, 4, 4, 4))
  expect_equal(cells$text[7], paste0("a", strrep(" ", 9), "\u00e9 &\n<"))
  expect_true(core("document_cells")(whole, 1L, 5))
  signs <- as.raw(c(0, 0x3c, 0x3e, 0x26, 0x3b, 0x27, 0x22, 0x2f, 0x21, 0x39, 0xff))
  wrong <- withr::with_seed(8, Filter(function(try) {
    bytes <- whole
    at <- sample(length(bytes), sample(3, 1))
    bytes[at] <- sample(signs, length(at), TRUE)
    if (try %% 3 == 0) bytes <- utils::head(bytes, sample(length(bytes), 1))
    names <- core("document_sheets")(bytes)
    cells <- core("document_cells")(bytes, 1L, 1e4)
    !(is.null(names) || is.character(names)) ||
      !(is.null(cells) || isTRUE(cells) || length(unique(lengths(cells))) == 1)
  }, sampled(1:4000, 7)))
  expect_equal(wrong, integer())
})
