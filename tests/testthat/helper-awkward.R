# Data that are odd in one way each: what is made of them must be made, or refused in words.
frames <- list(
  "no rows" = data.frame(x = numeric(), y = numeric(), g = character()),
  "one row" = data.frame(x = 3, y = 1, g = "a"),
  "all missing" = data.frame(x = c(NA_real_, NA), y = c(NA_real_, NA), g = NA_character_),
  "infinite" = data.frame(x = c(Inf, -Inf, 1, 2), y = c(1, 2, Inf, NA), g = c("a", "a", "b", "b")),
  "constant" = data.frame(x = rep(3, 12), y = rep(1, 12), g = "a"),
  "whole" = data.frame(x = c(1:11, NA), y = rep(c(0L, 1L), 6), g = rep(c("a", "b", NA), 4)),
  "true or false" = data.frame(x = c(TRUE, FALSE, NA), y = c(FALSE, FALSE, TRUE),
    g = c(TRUE, TRUE, FALSE)),
  "factors" = data.frame(x = factor(c("1", "2", "five")), y = factor(c("lo", "hi", NA)),
    g = factor(c("p", "q", "p"))),
  "text" = data.frame(x = c("1", "", "many"), y = c("x", "y", NA), g = c(" a", "a ", "\u00e9")),
  "typed" = data.frame(x = c("1,5", "1.200", "n.a.", "7"), y = 1:4,
    g = c("28.02.2020", "1.3.2021", "", NA)),
  "dates" = data.frame(x = as.Date("2031-01-01") + c(0, 5, NA), y = as.Date("2030-01-01") + 0:2,
    g = c("a", "b", "a")),
  "extreme" = data.frame(x = c(-1e308, 1e308, 1e-300, 0), y = c(1e15, 1e15 + 1, 1, 2),
    g = c("a", "a", "b", "b")),
  "extreme, many rows" = data.frame(x = rep(c(-1e308, -1.7e308, 1e-300, 0), 20),
    y = rep(c(1, 2, 9, 1e308), 20)),
  "codes" = data.frame(x = c(rep(1:4, 20), 9, 99, -1), y = c(rep(1:2, 41), 8),
    g = rep(c("a", "b", "c"), length.out = 83))
)

# One step each, whatever the data are.
steps <- list(
  recode = function(b) {
    turn_recode(b, x, as = "r", becomes(1, upto(2)), becomes(2, from(3)),
      the_rest(0))
  },
  several = function(b) turn_recode(b, as = "r", becomes(1, x = 1, y = from(1)), the_rest(2)),
  unchanged = function(b) turn_recode(b, g, as = "r", becomes("z", "a"), the_rest(unchanged())),
  loose = function(b) turn_recode(b, g, as = "r", loose = TRUE, becomes(1, "A", "E"), the_rest(0)),
  piece = function(b) turn_recode(b, g, as = "h", becomes(1, holding("a", "\u00e9")), the_rest(0)),
  pattern = function(b) {
    turn_recode(b, x, as = "p", loose = TRUE,
      becomes(1, holding(regex = "^[MF]|1")), the_rest(0))
  },
  comma = function(b) define(b, x, read = "decimal comma"),
  first_day = function(b) define(b, g, read = "day first"),
  rename = function(b) {
    b <- turn_flag(b, unanswered(x), as = "before")
    rename_turn(b, after = before)
  },
  trimmed = function(b) {
    turn_compute(b, paste0(trimws(toupper(paste0(g, "-", trimws(x)))), y),
      as = "t")
  },
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
  look_up = function(b) {
    turn_crosswalk(b, c(x, g),
      table = data.frame(code = c("a", "1", "x"), v = 1:3))
  },
  norm = function(b) {
    turn_norm(b, x, table = data.frame(raw = c("0 .. 2", "3 .."),
      scaled = c(10, 20)))
  },
  change = function(b) turn_change(b, x, unit = g, order = y),
  ratio = function(b) turn_change(b, y, unit = x, order = x, how = "percent"),
  first = function(b) turn_change(b, x, unit = g, order = y, from = "first"),
  baseline = function(b) turn_change(b, x, unit = g, order = y, from = y == 1),
  reliable = function(b) {
    turn_change(b, occasions = c(x, y), how = "reliable", reliability = 0.8, better = "low",
      cutoff = 2)
  },
  carried = function(b) turn_change(b, x, unit = g, order = y, skip_missing = TRUE),
  component = function(b) {
    turn_component(b, c(x, y), as = "f", at_least = 1, loadings = c(x = 2, y = 1))
  },
  fill = function(b) turn_fill(b, c(x, y), at_least = 1, filled = "n", round = TRUE),
  held = function(b) turn_winsorize(b, c(x, y)),
  held_in = function(b) turn_winsorize(b, x, within = g, at = c(0.1, 0.9), outside = "missing"),
  split = function(b) turn_split(b, g, by = " "),
  consensus = function(b) turn_consensus(b, c(x, y), as = "k", at_least = 1),
  others = function(b) turn_group(b, x, within = g, leave_out = TRUE),
  lms = function(b) {
    turn_norm(b, x, table = data.frame(y = c(0, 5), L = c(1, 0), M = 2, S = 0.3),
      between = "linear")
  },
  chance = function(b) {
    turn_key(b, c(x, y), key = c(1, 2), wrong = "chance", choices = 3, unanswered = 0)
  },
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
