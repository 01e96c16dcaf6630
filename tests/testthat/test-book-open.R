test_that("originals cannot be changed, and the fingerprint shows it", {
  data <- data.frame(x = 1:3, y = c("a", "b", NA))
  book <- quietly(turn_compute(data, x * 2, as = "z"))
  before <- core("fingerprint_of")(book)
  refused(book$x <- 4, "assign-original")
  refused(book[["z"]] <- 4, "assign-derived")
  refused(names(book) <- c("a", "b", "c"), "assign-derived")
  refused(turn_compute(book, x * 3, as = "x", replace = TRUE), "name-original")
  expect_identical(core("fingerprint")(core("part_of_book")(book, "data")), before)
  expect_identical(core("fingerprint")(list(y = c("a", "b", NA), x = c(1, 2, 3))), before)
  expect_false(identical(core("fingerprint")(list(y = c("a", "b", NA), x = c(1, 2, 4))), before))
  far <- list("\u00e9" = c("\u00fc", NA, ""), n = c(NaN, NA, -1))
  there <- core("fingerprint")(far)
  far[[1]] <- iconv(far[[1]], "UTF-8", "latin1")
  withr::local_locale(c(LC_CTYPE = "C"))
  expect_identical(core("fingerprint")(far), there)
})

test_that("every verb gives a new book and leaves the old one", {
  old <- quietly(turnbook(data.frame(x = c(1, 9))))
  new <- quietly(define(old, x, missing = c("Refused" = 9)) |> turn_reverse(x, limits = c(1, 5)))
  expect_equal(old$x, c(1, 9))
  expect_equal(new$x, c(1, NA))
  expect_equal(names(old), "x")
})

test_that("definitions hold from the start, are remade and undone", {
  book <- quietly(turnbook(data.frame(x = c(1, 2, 99), y = 1:3)) |>
    turn_compute(x + 1, as = "a") |> turn_compute(a * 2, as = "b") |> turn_compute(y * 2, as = "c"))
  defined <- quietly(define(book, x, missing = c("Refused" = 99)))
  expect_equal(defined$b, c(4, 6, NA))
  expect_equal(quietly(undo(defined))$b, book$b)
  amended <- quietly(define(book, b, label = "Twice", high = "more", level = "ratio"))
  expect_equal(codebook(amended)[4, c("label", "high", "level")],
    data.frame(label = "Twice", high = "more", level = "ratio"), ignore_attr = TRUE)
  expect_equal(codebook(amended)$label[3], "x + 1")
  expect_equal(codebook(quietly(undo(amended)))$label[4], "a * 2")
  refused(define(book, b, missing = c("Refused" = 9)), "missing-derived")
  refused(define(book, x), "define-nothing")
  refused(define(book, x, missing = 9), "codes-unnamed")
  refused(define(book, x, missing = c("blank" = 9)), "kind-taken")
  refused(define(book, x, codes = c("a" = 1, "b" = 1)), "codes-twice")
  refused(define(book, x, level = "scale"), "bad-choice")
})

test_that("undo takes back the last step, and replacing makes again what depends on it", {
  book <- quietly(turn_compute(data.frame(x = 1:3), x + 1, as = "a") |>
    turn_compute(a + 1, as = "b"))
  expect_equal(names(quietly(undo(book))), c("x", "a"))
  expect_equal(names(quietly(undo(undo(book)))), "x")
  refused(undo(undo(undo(quietly(undo(book))))), "nothing-to-undo")
  refused(turn_compute(book, x + 5, as = "b"), "name-taken")
  expect_equal(quietly(turn_compute(book, x + 5, as = "b", replace = TRUE))$b, 6:8)
  replaced <- quietly(turn_compute(book, x + 5, as = "a", replace = TRUE))
  expect_equal(replaced$b, 7:9)
  expect_equal(quietly(undo(replaced))$b, 3:5)
  again <- quietly(redo(redo(undo(undo(replaced)))))
  expect_equal(again$b, 7:9)
  expect_match(receipts(redo(quietly(undo(book)))), "Done again: compute of b", all = FALSE)
  other <- quietly(turn_compute(undo(book), x * 2, as = "b"))
  refused(redo(other), "nothing-to-redo")
  refused(turn_compute(book, b + 5, as = "a", replace = TRUE), "cycle")
  expect_equal(turns(book)[c("name", "turn", "from", "valid", "missing")],
    data.frame(name = c("a", "b"), turn = "compute", from = c("x", "a"), valid = 3L,
      missing = 0L), ignore_attr = TRUE)
})

test_that("columns of a data frame bring their meaning along", {
  data <- data.frame(
    f = factor(c("lo", "hi", NA, "lo"), levels = c("lo", "hi"), ordered = TRUE),
    d = as.Date("2031-01-01") + 0:3, l = c(TRUE, NA, FALSE, TRUE)
  )
  carried <- list(label = "Question", labels = c("Yes" = 1, "No" = 2, "Refused" = 8),
    na_values = 8, na_range = c(90, 99), class = "other")
  data$q <- do.call(structure, c(list(c(1, 2, 8, 95)), carried))
  book <- turnbook(data[c("q", "f", "d", "l")])
  expect_identical(book$q, do.call(structure, c(list(c(1, 2, NA, NA)), carried)))
  expect_equal(why(book, "q"), c("Refused", "Declared range"))
  told <- codebook(book)
  expect_equal(told$label[1], "Question")
  expect_equal(told$codes[1:2], c("1 = Yes; 2 = No", "lo; hi"))
  expect_equal(told$level[2], "ordinal")
  expect_equal(told$type, c("whole number", "text", "date", "true or false"))
  expect_equal(levels(as.data.frame(book, values = "labels")$f), c("lo", "hi"))
  expect_identical(as.data.frame(book, missing = "codes")$q, data$q)
  expect_equal(quietly(turn_recode(book, l, as = "k", becomes(1, TRUE), the_rest(0)))$k,
    c(1, NA, 0, 1))
  odd <- data.frame(a = 1:2)
  odd$money <- structure(1:2, class = "money")
  odd$l <- list(1, 2)
  odd$d <- as.difftime(1:2, units = "days")
  odd$big <- structure(c(4.94065645841247e-324, 0), class = "integer64") # the bits of 1
  expect_match(paste(receipts(book <- turnbook(odd)), collapse = " "),
    "money \\(money\\), l \\(list\\)\\.")
  expect_equal(names(book), c("a", "d", "big"))
  expect_equal(quietly(turn_compute(book, big + 1, as = "more"))$more[1], 2)
  # more than a double can tell from its neighbour
  odd$big <- structure(c(0.1, 0), class = "integer64")
  expect_false("big" %in% names(quietly(turnbook(odd))))
  blank <- turnbook(data.frame(f = factor(c("a", "", NA), exclude = NULL)))
  expect_equal(as.list(codebook(blank))$codes, "a")
  refused(turnbook(data.frame(a = "\xe9\xff")), "bad-letters")
  refused(define(turnbook(data.frame(a = 1)), a, label = "no\ufffesign"), "bad-letters")
  refused(turnbook(structure(list(1, 2), names = c("a", "a"), class = "data.frame",
    row.names = 1L)), "column-twice")
  refused(turnbook(1:3), "not-data")
})

test_that("an identifier tells the rows apart", {
  data <- data.frame(id = c(1, 2, 2), n = c(1, NA, 3))
  refused(turnbook(data, id = id), "id-twice")
  refused(turnbook(data, id = n), "id-missing")
  refused(turnbook(data, id = nope), "unknown-variable")
  expect_output(print(turnbook(data[1:2, ], id = "id")), "identified by id")
})

test_that("columns are taken by name and completed", {
  book <- demo_work()
  expect_identical(book$rider3, book[["rider3"]])
  expect_named(book[c("age", "strain")], c("age", "strain"))
  expect_equal(utils::.DollarNames(book, "^ride"), "rider3")
  expect_equal(dim(book), c(1200L, 56L))
  expect_equal(ncol(as.data.frame(book)), 56)
  expect_warning(expect_null(book$strian), "Did you mean `strain`", fixed = TRUE)
})

test_that("values that look like missing codes are named, ordinary ones are not", {
  suspects <- core("suspect_codes")
  set.seed(5)
  found <- list(
    list(c(rpois(300, 3), rep(98, 4), rep(99, 6)),
      c(98, 99)), list(c(round(rnorm(300, 45, 15)), rep(999, 3)), 999),
    list(c(sample(1:4, 300, TRUE), rep(9, 20)),
      9), list(c(sample(0:20, 200, TRUE), rep(-1, 5), rep(-9, 4)), -9),
    list(c(exp(rnorm(200, 8)), rep(999999, 5)), 999999)
  )
  for (case in found) expect_equal(suspects(case[[1]]), case[[2]])
  clean <- list(round(rnorm(500, 50, 18)), sample(0:10, 300, TRUE), sample(1:9, 300, TRUE),
    rnorm(300), sample(0:100, 400, TRUE), rpois(500, 4), c(1, 1, 2), round(exp(rnorm(500, 7, .5)),
      -1))
  for (x in clean) expect_length(suspects(x), 0)
})

test_that("a replaced variable comes back when the replacement is undone", {
  data <- data.frame(x = 1:3)
  book <- quietly(turn_compute(data, x + 1, as = "a", label = "First"))
  other <- quietly(turn_compute(book, x * 10, as = "a", replace = TRUE))
  expect_equal(other$a, c(10, 20, 30))
  expect_equal(nrow(turns(other)), 1)
  back <- quietly(undo(other))
  expect_equal(back$a, 2:4)
  expect_equal(codebook(back), codebook(book))
  two <- quietly(turn_reverse(data, x, limits = c(1, 5)) |>
    turn_composite(c(x, x_r), as = "m", valid_count = TRUE))
  refused(turn_compute(two, x + 1, as = "m", replace = TRUE), "replace-group")
})

test_that("a misspelt argument is never passed over", {
  data <- data.frame(x = 1:3, y = 3:1)
  error <- refused(turn_reverse(data, x, limits = c(1, 5), lable = "X"), "unused-argument")
  expect_match(conditionMessage(error), "There is no argument `lable`. Did you mean `label`?",
    fixed = TRUE)
  refused(turn_composite(data, x:y, at_least = 1, as = "s", revresed = x), "unused-argument")
  refused(turn_compute(data, x + 1, as = "z", hihg = "more"), "unused-argument")
  refused(define(data, x, "A label"), "unused-argument")
  refused(write_data(turnbook(data), tempfile(), value = "labels"), "unused-argument")
  refused(apply_turns(data, tempfile(), learnt = "refit"), "unused-argument")
})

test_that("wrong arguments are named with what to write instead", {
  data <- data.frame(x = 1:3, y = 3:1)
  refused(turn_compute(data, x + 1, as = 3), "bad-as")
  refused(turn_compute(data, x + 1, as = " "), "empty-name")
  refused(turn_reverse(data, x:y, limits = c(1, 5), as = c("r", "r")), "name-twice")
  refused(turn_reverse(data, x:y, limits = c(1, 5), as = "r"), "as-count")
  refused(turn_reverse(data, starts_with("z"), limits = c(1, 5)), "nothing-selected")
  refused(turn_reverse(data, x, limits = c(1, 5), label = 3), "not-a-text")
  refused(turn_recode(data, x, as = "r", loose = "yes", the_rest(1)), "not-yes-no")
  refused(turn_recode(data, x, as = "r", missing = "drop", the_rest(1)), "bad-choice")
  refused(turn_recode(data, x, as = "r", becomes(1, NA)), "matches-na")
  refused(turn_recode(data, x, as = "r", becomes(1, mean)), "bad-matcher")
  refused(from("a"), "bad-end")
  refused(when(1), "when-unnamed")
  refused(as.data.frame(turnbook(data), values = "texts"), "bad-choice")
  refused(turn_reverse(list(1), x), "not-a-book")
  refused(demo_file("ferry.csv"), "file-missing")
})
