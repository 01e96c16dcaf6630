# Whatever the data are, a turn is made or refused in words: nothing else ever stops it, and no
# finding, receipt or print does either.
skip_on_cran() # long; make test runs it

steps <- list(
  recode = function(b) turn_recode(b, x, as = "r", becomes(1, upto(2)), becomes(2, from(3)), the_rest(0)),
  several = function(b) turn_recode(b, as = "r", becomes(1, x = 1, y = from(1)), the_rest(2)),
  unchanged = function(b) turn_recode(b, g, as = "r", becomes("z", "a"), the_rest(unchanged())),
  loose = function(b) turn_recode(b, g, as = "r", loose = TRUE, becomes(1, "A", "E"), the_rest(0)),
  reverse = function(b) turn_reverse(b, c(x, y), limits = c(0, 10)),
  rescale = function(b) turn_rescale(b, x, limits = c(0, 10), to = c(0, 100)),
  shift = function(b) turn_rescale(b, c(x, y), shift = 1),
  cuts = function(b) turn_bin(b, x, at = c(1, 2.5)),
  count = function(b) turn_bin(b, x, groups = 3),
  gaps = function(b) turn_bin(b, x, groups = 2, by = "gaps"),
  spread = function(b) turn_bin(b, c(x, y), groups = 3, by = "spread", weight = y),
  merge = function(b) turn_collapse(b, g, becomes("ab", "a", "b")),
  rare = function(b) turn_collapse(b, c(x, g), rarer_than = 0.3),
  dummy = function(b) turn_dummy(b, c(x, g), missing = "level"),
  effect = function(b) turn_dummy(b, g, coding = "effect"),
  trend = function(b) turn_dummy(b, x, coding = "polynomial"),
  flag = function(b) turn_flag(b, x > 1 | y == 1, as = "f"),
  missing = function(b) turn_flag(b, unanswered(x), as = "f"),
  compute = function(b) turn_compute(b, log(x) / y, as = "c"),
  power = function(b) turn_compute(b, x^y * 1e200, as = "c"),
  within = function(b) turn_compute(b, x - mean(x, within = g, weight = y), as = "c"),
  text = function(b) turn_compute(b, paste0(toupper(g), substr(x, 1, 2)), as = "c"),
  dates = function(b) turn_compute(b, x - y, as = "c"),
  years = function(b) turn_compute(b, years_between(y, x), as = "c"),
  read = function(b) turn_compute(b, month(as.Date(g)), as = "c"),
  chosen = function(b) turn_compute(b, if (y == 1) x else first_valid(y, x), as = "c"),
  key = function(b) turn_key(b, c(x, y), key = c(1, 2), unanswered = "wrong"),
  tally = function(b) turn_tally(b, c(x, y), of = from(1), as = "n"),
  mean = function(b) turn_composite(b, c(x, y), as = "s", at_least = 1, valid_count = TRUE),
  sum = function(b) turn_composite(b, c(x, y), how = "sum", as = "s", at_least = 1, prorate = TRUE),
  z = function(b) turn_standardize(b, c(x, y)),
  by_group = function(b) turn_standardize(b, x, within = g),
  percentile = function(b) turn_standardize(b, x, how = "percentile", weight = y),
  stanine = function(b) turn_standardize(b, x, how = "stanine", within = g),
  robust = function(b) turn_standardize(b, x, how = "robust"),
  sten = function(b) turn_standardize(b, x, how = "sten"),
  pomp = function(b) turn_standardize(b, x, how = "pomp", limits = c(-10, 200)),
  look_up = function(b) turn_crosswalk(b, c(x, g), table = data.frame(code = c("a", "1", "x"), v = 1:3)),
  norm = function(b) turn_norm(b, x, table = data.frame(raw = c("0 .. 2", "3 .."), scaled = c(10, 20))),
  change = function(b) turn_change(b, x, unit = g, order = y),
  ratio = function(b) turn_change(b, y, unit = x, order = x, how = "percent"),
  group = function(b) turn_group(b, x, within = g),
  size = function(b) turn_group(b, g, within = c(x, y), how = "size"),
  product = function(b) turn_interact(b, x, y, centre = TRUE),
  instrument = function(b) {
    turn_instrument(b, list(scales = list(s = list(items = c("x", "y"), how = "mean", at_least = 1,
      bands = list(Low = ".. 2", High = "3 ..")))))
  },
  check = function(b) must_hold(b, x <= y),
  asked = function(b) define(b, x, asked_if = y == 1)
)

test_that("any turn on any data is made and told, or refused in words", {
  made <- 0
  for (frame in names(frames)) {
    for (step in names(steps)) {
      info <- paste(step, "on", frame)
      told <- tryCatch(receipts(book <- steps[[step]](turnbook(frames[[frame]]))), error = identity)
      if (inherits(told, "error")) {
        expect_s3_class(told, "ableturn_error")
        expect_true(inherits(told, "ableturn_error"), info = paste(info, conditionMessage(told)))
        expect_match(conditionMessage(told), "\n", info = info)
        next
      }
      made <- made + 1
      expect_true(is.character(told) && length(told) > 0, info = info)
      expect_true(all(nchar(told, "width") <= 100), info = info)
      expect_output(print(book), "Turnbook")
      expect_output(print(findings(book)), ".")
      derived <- core("derived_names")(book)
      column <- core("column_in")
      for (name in derived) {
        expect_length(column(book, name)$x, nrow(frames[[frame]]))
        expect_false(any(is.infinite(suppressWarnings(as.numeric(column(book, name)$x)))), info = info)
      }
      if (length(derived)) expect_output(print(lineage(book)), derived[1], fixed = TRUE)
    }
  }
  expect_gt(made, 250)
})

test_that("what is made on any data is the same in a script and by sheet", {
  for (frame in setdiff(names(frames), "no rows")) {
    survey <- frames[[frame]]
    for (step in names(steps)) {
      book <- tryCatch(quietly(steps[[step]](turnbook(survey))), ableturn_error = function(e) NULL)
      if (is.null(book) || !length(core("derived_names")(book))) next
      given <- run_base_script(book, survey)
      for (name in core("derived_names")(book)) {
        off <- core("rows_that_differ")(core("column_in")(book, name)$x, given[[name]])
        expect_equal(off, integer(), info = paste(name, "by", step, "on", frame))
      }
      path <- tempfile()
      save_turns(book, path)
      again <- quietly(apply_turns(survey, path))
      expect_equal(as.data.frame(again), as.data.frame(book), info = paste(step, "on", frame))
    }
  }
})
