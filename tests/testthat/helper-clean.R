# Clean survey columns and clean analyses of them: nothing above a note may be raised by these.
lacking <- function(x, share = 0.03) {
  replace(x, sample(length(x), round(length(x) * share * runif(1))), NA)
}
between <- function(x, low, high) pmin(high, pmax(low, round(x)))

clean_columns <- list(
  age = function(n) between(rnorm(n, runif(1, 35, 60), 16), 18, 95),
  count = function(n) rpois(n, runif(1, 0.5, 8)),
  likert = function(n) between(rnorm(n, runif(1, 2, 4)), 1, 5),
  likert7 = function(n) between(rnorm(n, runif(1, 3, 5), 1.4), 1, 7),
  income = function(n) round(exp(rnorm(n, 7.8, 0.6)), -1),
  code = function(n) sample(1:6, n, TRUE, prob = runif(6, 0.5, 1)),
  percent = function(n) round(100 * rbeta(n, runif(1, 1, 4), runif(1, 1, 4))),
  year = function(n) sample(1940:2012, n, TRUE),
  change = function(n) round(rnorm(n, 0, runif(1, 1, 20)), 1),
  hours = function(n) between(rnorm(n, 34, 12), 0, 80)
)
clean_column <- function(kind, n) lacking(clean_columns[[kind]](n))
any_column <- function(n) data.frame(x = clean_column(sample(names(clean_columns), 1), n))

# Items of one scale, worded alike; a panel of two waves; a categorical variable with words.
clean_items <- function(n, k = sample(3:8, 1), points = sample(c(4, 5, 7), 1)) {
  common <- rnorm(n)
  mid <- (points + 1) / 2
  items <- lapply(seq_len(k),
    function(i) lacking(between(mid + points / 6 * (common + rnorm(n)), 1, points), 0.04))
  setNames(as.data.frame(items), paste0("q", seq_len(k)))
}
# Answers to a quiz of those who know more and less; who does not know guesses.
clean_quiz <- function(n, right) {
  knows <- rnorm(n)
  answers <- lapply(right, function(answer) {
    ifelse(runif(n) < plogis(1.5 * knows), answer, sample(4, n, TRUE))
  })
  setNames(as.data.frame(answers), paste0("k", seq_along(right)))
}
clean_panel <- function(n) {
  data.frame(person = rep(seq_len(n / 2), 2), wave = rep(1:2, each = n / 2),
    x = lacking(rnorm(n, 50, 10)))
}
clean_words <- function(n) {
  data.frame(w = sample(c("yes", "no", "perhaps"), n, TRUE), x = rnorm(n, 10, 2))
}
clean_coded <- function(n) {
  book <- turnbook(data.frame(g = lacking(clean_columns$code(n)), x = rnorm(n, 10, 2)))
  define(book, g, codes = c(Bus = 1, Boat = 2, Bike = 3, Train = 4, Car = 5, Foot = 6),
    level = "nominal")
}
middle <- function(x) stats::median(x, na.rm = TRUE)
cuts_of <- function(x) unique(c(middle(x), middle(x) + max(1, stats::sd(x, na.rm = TRUE))))

on_column <- list(
  bin = function(d) turn_bin(d, x, at = cuts_of(d$x), as = "made"),
  flag = function(d) turn_flag(d, x > !!middle(d$x), as = "made"),
  recode = function(d) {
    turn_recode(d, x, as = "made", becomes(0, under(middle(d$x))),
      becomes(1, from(middle(d$x))))
  },
  z = function(d) turn_standardize(d, x, as = "made"),
  percentile = function(d) turn_standardize(d, x, as = "made", how = "percentile"),
  rank = function(d) turn_standardize(d, x, as = "made", how = "normal"),
  compute = function(d) turn_compute(d, x / 10 + 1, as = "made"),
  root = function(d) turn_compute(d, sqrt(abs(x)), as = "made"),
  branch = function(d) turn_compute(d, if (x > !!middle(d$x)) x else 0, as = "made"),
  rescale = function(d) {
    turn_rescale(d, x, limits = range(d$x, na.rm = TRUE),
      to = c(0, 100), as = "made")
  }
)

on_sets <- list(
  mean = function(n) {
    turn_composite(clean_items(n), everything(), as = "s", at_least = 2,
      high = "more")
  },
  sum = function(n) {
    turn_composite(clean_items(n), everything(), how = "sum", prorate = TRUE, at_least = 2,
      as = "s", high = "more")
  },
  reversed = function(n) {
    items <- clean_items(n, points = 5)
    turn_composite(define(turnbook(transform(items, q2 = 6 - q2)), everything(), limits = c(1, 5)),
      everything(), reversed = "q2", as = "s", high = "more")
  },
  reverse = function(n) {
    turn_reverse(clean_items(n, points = 5), everything(), limits = c(1, 5),
      high = "more")
  },
  pairs = function(n) {
    turn_composite(clean_items(n, k = 2), everything(), how = "max", as = "s",
      high = "more")
  },
  change = function(n) turn_change(clean_panel(n), x, unit = person, order = wave),
  group = function(n) {
    turn_group(data.frame(h = rep(seq_len(n / 4), 4), x = lacking(rnorm(n))),
      x, within = h)
  },
  within = function(n) {
    turn_standardize(data.frame(g = rep(1:4, n / 4), x = lacking(rnorm(n))),
      x, within = g)
  },
  interact = function(n) {
    turn_interact(data.frame(a = rnorm(n), b = lacking(rnorm(n, 4))), a, b,
      centre = TRUE)
  },
  words = function(n) {
    turn_recode(clean_words(n), w, as = "c", becomes(1, "yes"),
      becomes(0, "no", "perhaps"))
  },
  collapse = function(n) {
    turn_collapse(clean_coded(n), g, as = "c",
      becomes("Own", "Bike", "Car", "Foot"))
  },
  dummy = function(n) turn_dummy(clean_coded(n), g),
  contrast = function(n) turn_dummy(clean_words(n), w, coding = "effect"),
  crosswalk = function(n) {
    turn_crosswalk(clean_words(n), w,
      table = data.frame(w = c("yes", "no", "perhaps"), v = 2:0))
  },
  key = function(n) {
    answers <- data.frame(a = sample(letters[1:4], n, TRUE), b = sample(letters[1:4], n, TRUE))
    turn_key(answers, c(a, b), key = c(a = "b", b = "c"), high = "more right")
  },
  quiz = function(n) {
    right <- sample(4, 8, TRUE)
    turn_key(clean_quiz(n, right), everything(), key = right, unanswered = "wrong", high = "more")
  },
  tally = function(n) {
    turn_tally(clean_items(n, points = 5), everything(), of = c(4, 5), as = "t",
      high = "more")
  },
  refused = function(n) {
    book <- define(turnbook(data.frame(x = replace(rpois(n, 4), 1:9, 99))), x,
      missing = c(Refused = 99))
    turn_recode(book, x, as = "r", becomes(0, under(4)), becomes(1, from(4)))
  },
  counted = function(n) turn_bin(data.frame(x = lacking(rnorm(n))), x, groups = sample(3:6, 1)),
  replay = function(n) {
    path <- tempfile()
    save_turns(turn_dummy(clean_words(n), w), path)
    apply_turns(clean_words(n), path)
  },
  check = function(n) must_hold(turnbook(data.frame(x = rpois(n, 3), y = 20)), x <= y)
)

# So many clean analyses, half of one column and half of sets: how often each finding above a note
# came.
alarm_rates <- function(count, n = 400) {
  raised <- lapply(seq_len(count), function(i) {
    run <- if (i %% 2) on_column[[(i %/% 2) %% length(on_column) + 1]] else on_sets[[(i %/%
      2) %% length(on_sets) + 1]]
    told <- findings(quietly(run(if (i %% 2) any_column(n) else n)))
    unique(told$id[told$severity == "warn"])
  })
  table(factor(unlist(raised), core("finding_ids")()))
}
