# Makes the demo survey: an invented ferry panel on five invented islands, three waves.
# Run from the root of the repository: Rscript data-raw/make-demo.R
out <- file.path("inst", "extdata")
set.seed(48170, kind = "Mersenne-Twister", normal.kind = "Inversion", sample.kind = "Rejection")

likert <- function(latent, low, high, middle, spread) {
  pmin(high, pmax(low, round(middle + spread * latent)))
}

skip <- function(x, share) {
  x[runif(length(x)) < share] <- NA
  x
}

people <- function(n) {
  household_size <- sample(1:6, n, TRUE, c(.2, .33, .2, .16, .08, .03))
  age <- pmin(93, pmax(18, round(rnorm(n, 47, 17))))
  interview <- as.Date("2031-03-03") + sample(0:40, n, TRUE)
  birth <- interview - round(age * 365.25 + runif(n, 5, 355))
  child_cap <- pmin(household_size - 1, 4)
  data.frame(
    person = 1000 + seq_len(n), wave = 1L,
    household_id = sprintf("H%04d", sample(seq_len(round(n * .7)), n, TRUE)),
    weight = round(exp(rnorm(n, 0, .35)), 3),
    birth_date = birth, interview_date = interview, age = age,
    sex = sample(1:3, n, TRUE, c(.47, .5, .03)),
    island = sample(1:5, n, TRUE, c(.34, .27, .19, .14, .06)),
    household = household_size, children = rbinom(n, child_cap, .35)
  )
}

typed_gender <- function(sex) {
  ways <- list(c("M", "m", "Man", "male", "MALE "), c("F", "f", "Woman", "female ", "Female",
    "fem\u00e0le"), c("NB", "nb", "non-binary"))
  chances <- list(c(.4, .2, .2, .15, .05), c(.4, .15, .2, .1, .14, .01), c(.5, .2, .3))
  typed <- vapply(sex, function(s) sample(ways[[s]], 1, prob = chances[[s]]), "")
  typed[runif(length(typed)) < .02] <- ""
  typed
}

travel <- function(d) {
  n <- nrow(d)
  remote <- c(0, .3, .5, .9, 1.6)[d$island]
  d$ticket <- sample(
    c("Single", "Return", "Ten-trip card", "Monthly", "Annual", "Crew pass", "Islander free pass"),
    n, TRUE, c(.3, .29, .16, .16, .035, .03, .025)
  )
  d$occupation <- sample(c(1110, 1240, 2130, 2210, 2350, 3120, 3310, 4110, 4220, 5140, 5230,
    6110, 7150, 8340, 9120), n, TRUE)
  d$crossings <- pmin(20, rpois(n, exp(1.1 + .15 * remote) * rgamma(n, 1.2, 1.2)))
  d$wait_min <- pmin(95, round(rgamma(n, 1.5, .1)))
  d$wait_min[runif(n) < .06] <- 0
  d$income <- round(exp(rnorm(n, 7.75, .5)), -1)
  d$hours <- pmax(0, round(rnorm(n, 31, 12)))
  d$hours[d$age > 67] <- 0
  d
}

attitudes <- function(d, strain) {
  n <- nrow(d)
  for (i in 1:6) {
    sign <- if (i %in% c(2, 5)) -1 else 1
    d[[paste0("st_", i)]] <- likert(sign * strain + rnorm(n, 0, .8), 1, 5,
      if (sign > 0) 2.8 else 3.2, .95)
  }
  trust <- rnorm(n)
  for (i in 1:4) d[[paste0("tr_", i)]] <- likert(trust + rnorm(n, 0, .7), 1, 7, 4.4, 1.3)
  rnorm(10 * n) # drawn and not used, see at_ease()
  content <- -.4 * strain + rnorm(n, 0, .9)
  for (i in 1:5) d[[paste0("sat_", i)]] <- likert(content + rnorm(n, 0, .7), 1, 10, 6.3, 1.9)
  d$opinion <- likert(-.5 * strain + rnorm(n), 1, 5, 2.7, 1.1)
  d
}

# How at ease someone is aboard, in seven items of our own, two of which are worded the other way.
# They draw from a stream of their own, as all that came later, so that older columns stay as they
# are.
ease_items <- paste0("ea_", 1:7)
ease_turned <- c("ea_4", "ea_6")

at_ease <- function(d, strain, seed) {
  n <- nrow(d)
  withr::with_seed(seed, {
    ease <- -.5 * strain + rnorm(n, 0, .9)
    for (item in ease_items) {
      sign <- if (item %in% ease_turned) -1 else 1
      answers <- likert(sign * ease + rnorm(n, 0, .9), 1, 5, if (sign > 0) 3.3 else 2.6, .85)
      d[[item]] <- skip(answers, .015 * runif(1, .5, 1.8))
    }
  })
  d
}

quiz_key <- c(qz_1 = 2, qz_2 = 4, qz_3 = 1, qz_4 = 3, qz_5 = 2)

# Some know more than others: `knowledge` has mean 0 and standard deviation 1.
quiz_and_uses <- function(d, knowledge) {
  n <- nrow(d)
  for (q in names(quiz_key)) {
    knows <- runif(n) < plogis(.4 + 2.4 * knowledge)
    d[[q]] <- ifelse(knows, quiz_key[[q]], sample(1:4, n, TRUE))
  }
  shares <- c(use_work = .46, use_school = .14, use_care = .21, use_shop = .63)
  for (u in names(shares)) d[[u]] <- rbinom(n, 1, shares[[u]])
  d
}

# What real files contain: skipped items, missing codes, words among numbers, straight-liners.
as_collected <- function(d) {
  n <- nrow(d)
  d$gender <- typed_gender(d$sex)
  d$gender_code <- skip(d$sex, .015)
  straight <- sample(n, 24)
  for (i in 1:6) d[[paste0("st_", i)]][straight] <- 3
  for (i in 1:4) d[[paste0("tr_", i)]][straight] <- 4
  rates <- c(st = .02, tr = .03, qz = .04)
  for (set in names(rates)) {
    if (set == "qz") runif(9 * (n + 1)) # not used, see at_ease()
    for (item in grep(paste0("^", set, "_"), names(d), value = TRUE)) d[[item]] <- skip(d[[item]],
      rates[[set]] * runif(1, .5, 1.8))
  }
  d$tr_4 <- skip(d$tr_4, .31)
  d$opinion <- skip(d$opinion, .025)
  d$hours <- skip(d$hours, .03)
  d$age[sample(n, round(n * .006))] <- 999
  d$crossings[sample(n, round(n * .028))] <- 98
  d$crossings[sample(n, round(n * .017))] <- 99
  d$wait_min[sample(n, round(n * .01))] <- NA
  d$income[sample(n, round(n * .07))] <- 999999
  words <- c("dk", "n/a", "ten", "don't know")
  for (i in 1:5) {
    item <- as.character(d[[paste0("sat_", i)]])
    item[sample(n, 6)] <- sample(words, 6, TRUE)
    d[[paste0("sat_", i)]] <- skip(item, .02)
  }
  d
}

columns <- c(
  "person", "wave", "household_id", "weight", "birth_date", "interview_date", "age", "gender",
  "gender_code", "island", "ticket", "occupation", "crossings", "wait_min", "income", "household",
  "children", "hours",
  paste0("st_", 1:6), paste0("tr_", 1:4), ease_items, paste0("sat_", 1:5),
  paste0("qz_", 1:5), "use_work", "use_school", "use_care", "use_shop", "opinion"
)

save_csv <- function(d, file) {
  con <- file(file.path(out, file), "wb")
  on.exit(close(con))
  utils::write.csv(d, con, row.names = FALSE, na = "", quote = which(vapply(d, is.character, NA)),
    fileEncoding = "UTF-8", eol = "\n")
}

first <- people(1200)
strain <- rnorm(1200)
knowledge <- withr::with_seed(48171, rnorm(1200))
wave1 <- at_ease(as_collected(quiz_and_uses(attitudes(travel(first), strain), knowledge)), strain,
  48172)
save_csv(wave1[columns], "ferry-survey.csv")

again <- sort(sample(1200, 900))
second <- first[again, ]
second$wave <- 2L
second$interview_date <- second$interview_date + 364 + sample(0:20, 900, TRUE)
second$age <- as.integer(floor(as.numeric(second$interview_date - second$birth_date) / 365.25))
later <- travel(second)
later$ticket[sample(900, 14)] <- "Night saver"
strain_later <- .7 * strain[again] + rnorm(900, -.2, .6)
later <- as_collected(quiz_and_uses(attitudes(later, strain_later), knowledge[again]))
later <- at_ease(later, strain_later, 48173)
save_csv(later[sample(900), columns], "ferry-wave2.csv")

# The third wave: people leave, some of those who skipped the second come back. It asks for wishes,
# ticked answers that stand in one text, and why people cross less, an open answer that two coders
# have put into four codes; they agree on most.
wishes <- c("later boats", "lower fares", "shelter", "more crew", "wifi")
wish_text <- function(n) {
  chosen <- matrix(runif(n * 5) < rep(c(.42, .55, .3, .12, .2), each = n), n)
  vapply(seq_len(n), function(i) {
    if (!any(chosen[i, ])) return("nothing")
    paste(sample(wishes[chosen[i, ]]), collapse = sample(c("; ", ";"), 1, prob = c(.8, .2)))
  }, "")
}

third_wave <- function() {
  others <- setdiff(seq_len(1200), again)
  back <- sort(c(sample(again, 620), sample(others, 90)))
  third <- first[back, ]
  third$wave <- 3L
  third$interview_date <- third$interview_date + 728 + sample(0:20, length(back), TRUE)
  third$age <- as.integer(floor(as.numeric(third$interview_date - third$birth_date) / 365.25))
  strain_then <- .65 * strain[back] + rnorm(length(back), -.3, .65)
  d <- as_collected(quiz_and_uses(attitudes(travel(third), strain_then), knowledge[back]))
  d <- at_ease(d, strain_then, 48175)
  n <- nrow(d)
  d$wishes <- wish_text(n)
  d$wishes[runif(n) < .06] <- ""
  reason <- sample(1:4, n, TRUE, c(.35, .28, .25, .12))
  coded <- function() ifelse(runif(n) < .88, reason, sample(1:4, n, TRUE))
  d$why_less_a <- coded()
  d$why_less_b <- coded()
  silent <- runif(n) < .45
  d$why_less_a[silent] <- d$why_less_b[silent] <- NA
  d$why_less_b[runif(n) < .05] <- NA
  d[sample(n), ]
}
wave3 <- withr::with_seed(48174, third_wave())
save_csv(wave3[c(columns, "wishes", "why_less_a", "why_less_b")], "ferry-wave3.csv")

# Norms of the wait by age: L, M and S at some ages, between which they are interpolated.
norm_ages <- c(18, 25, 35, 45, 55, 65, 75, 95)
save_csv(data.frame(age = norm_ages, L = round(seq(.35, .5, length.out = 8), 3),
  M = round(12.4 + .03 * (norm_ages - 18), 2), S = round(seq(.78, .7, length.out = 8), 3)),
"wait-norms.csv")

save_csv(data.frame(item = names(quiz_key), right = unname(quiz_key)), "quiz-key.csv")
codes <- sort(unique(wave1$occupation))
save_csv(data.frame(occupation = codes,
  status = round(seq(88, 21, length.out = length(codes)) + rnorm(length(codes), 0, 4))),
  "status-score.csv")
bands <- c("18 .. 39", "40 .. 59", "60 ..")
norms <- expand.grid(raw = 0:28, age = bands, stringsAsFactors = FALSE)
norms$scaled <- round(pmax(20,
  pmin(90, 50 + 10 * (norms$raw - c(15, 16, 17)[match(norms$age, bands)]) / 5)))
save_csv(norms[c("age", "raw", "scaled")], "ease-norms.csv")
save_csv(data.frame(
  code = c("0", "1", "2"), when = c("0", "1 .. 4", "5 .."),
  label = c("Non-rider", "Occasional", "Regular")
), "rider-rules.csv")

ease_answers <- c("Not me", "Hardly me", "Partly me", "Mostly me", "Just like me")
writeLines(c(
  "instrument: \"Ease aboard, 7 items\"",
  "response:", "  limits: [1, 5]", "  score: [0, 4]",
  paste0("  labels: {", paste0(seq_along(ease_answers), ": \"", ease_answers, "\"",
    collapse = ", "), "}"),
  "scales:", "  ease:", paste0("    items: [", toString(ease_items), "]"),
  paste0("    reversed: [", toString(ease_turned), "]"), "    how: sum", "    at_least: 5",
  "    prorate: true", "    round: 0", "    high: \"more at ease\"",
  "    bands: {Uneasy: \".. 11\", Settled: \"12 .. 19\", At home: \"20 ..\"}"
), file.path(out, "ease-aboard.instrument.yaml"))

# The codebook -------------------------------------------------------------------------------
field <- function(name, title, type, ...) {
  c(list(name = name, title = title, type = type), list(...))
}
pairs <- function(labels, values = seq_along(labels)) {
  Map(function(v, l) list(value = v, label = l), values, labels, USE.NAMES = FALSE)
}
within <- function(low, high) list(minimum = low, maximum = high)
series <- function(stem, titles, make) {
  Map(make, paste0(stem, seq_along(titles)), titles, USE.NAMES = FALSE)
}

agree5 <- pairs(c("Not at all", "A little", "Somewhat", "Quite a lot", "Very much"))
strain_titles <- c(
  "Crossings leave me tense", "I feel calm on board", "I worry about missing the boat",
  "Delays upset my day", "I look forward to crossing", "Rough water keeps me at home"
)
ease_titles <- c(
  "I find my way about the boat without asking", "I like the hum of the engines",
  "I can read while we cross", "I watch the clock until we land", "I go out on deck",
  "I dread the crowd at the ramp", "I chat with those who sit near me"
)
tick <- pairs(c("Not ticked", "Ticked"), 0:1)
fields <- c(
  list(
    field("person", "Person number", "integer"), field("wave", "Wave", "integer"),
    field("household_id", "Household number", "string"),
    field("weight", "Survey weight", "number", level = "ratio"),
    field("birth_date", "Date of birth", "date"), field("interview_date",
      "Date of interview", "date"),
    field("age", "Age", "integer", level = "ratio", unit = "years", high = "older"),
    field("gender", "Gender, as typed", "string", level = "nominal"),
    field("gender_code", "Gender", "integer", categories = pairs(c("Man", "Woman", "Non-binary")),
      level = "nominal"),
    field("island", "Island of residence", "integer",
      categories = pairs(c("Northholm", "Eastray", "Sallow", "Merrin", "Tarn Skerry")),
      level = "nominal"),
    field("ticket", "Kind of ticket", "string", level = "nominal"),
    field("occupation", "Occupation code", "integer", level = "nominal"),
    field("crossings", "Crossings last week", "integer", level = "ratio", high = "more crossings"),
    field("wait_min", "Usual wait at the pier", "integer", level = "ratio", unit = "minutes",
      high = "longer wait"),
    field("income", "Monthly household income", "integer", level = "ratio", unit = "crowns",
      high = "more income", missingValues = list(list(value = "", label = "blank"),
        list(value = "999999", label = "Refused"))),
    field("household", "People in the household", "integer", level = "ratio"),
    field("children", "Children in the household", "integer", level = "ratio"),
    field("hours", "Hours worked last week", "integer", level = "ratio", unit = "hours")
  ),
  series("st_", strain_titles, function(n, t) {
    turned <- n %in% c("st_2", "st_5")
    field(n, t, "integer", categories = agree5, categoriesOrdered = TRUE,
      constraints = within(1, 5),
      level = "ordinal", high = if (turned) "less strain" else "more strain",
      low = if (turned) "more strain" else "less strain")
  }),
  series("tr_",
    c("Neighbours help each other", "Neighbours keep their word",
      "I would lend a neighbour my boat",
    "Neighbours watch over my house"), function(n, t) {
    field(n, t, "integer", constraints = within(1, 7), level = "ordinal", high = "more trust")
  }),
  series("ea_", ease_titles, function(n, t) {
    field(n, t, "integer", categories = pairs(ease_answers), categoriesOrdered = TRUE,
      constraints = within(1, 5), level = "ordinal",
      high = if (n %in% ease_turned) "less at ease" else "more at ease")
  }),
  series("sat_", paste("Satisfaction with", c("timetable", "fares", "crew", "seats",
    "information")), function(n, t) {
    field(n, t, "string", constraints = within(1, 10), level = "ordinal", high = "more satisfied")
  }),
  series("qz_", paste("Safety quiz, question", 1:5), function(n, t) {
    field(n, t, "integer", level = "nominal")
  }),
  Map(function(n, t) field(n, t, "integer", categories = tick, level = "nominal"),
    c("use_work", "use_school", "use_care", "use_shop"), paste("Uses the ferry for",
    c("work", "school", "care", "shopping")), USE.NAMES = FALSE),
  list(field("opinion", "A night ferry should run", "integer",
    categories = pairs(c("Strongly agree", "Agree", "Neither", "Disagree",
    "Strongly disagree")), categoriesOrdered = TRUE, constraints = within(1, 5),
    level = "ordinal", high = "against a night ferry", low = "for a night ferry"))
)
codebook <- list(
  "$schema" = "https://datapackage.org/profiles/2.0/datapackage.json",
  name = "lantern-isles-ferry-panel", title = "Lantern Isles ferry panel (made up)",
  resources = list(list(name = "ferry-survey", path = "ferry-survey.csv", format = "csv",
    schema = list(fields = fields, missingValues = list(""))))
)
save_codebook <- function(codebook, file) {
  writeLines(jsonlite::toJSON(codebook, auto_unbox = TRUE, pretty = TRUE), file.path(out, file))
}
save_codebook(codebook, "ferry-survey.codebook.json")

# That of the third wave has what was asked then as well.
reasons <- pairs(c("Moved or changed work", "Too dear", "Times do not suit", "Something else"))
codebook$resources[[1]]$name <- "ferry-wave3"
codebook$resources[[1]]$path <- "ferry-wave3.csv"
codebook$resources[[1]]$schema$fields <- c(fields, list(
  field("wishes", "What would help most (all that apply)", "string"),
  field("why_less_a", "Why you cross less, coder A", "integer", categories = reasons,
    level = "nominal"),
  field("why_less_b", "Why you cross less, coder B", "integer", categories = reasons,
    level = "nominal")))
save_codebook(codebook, "ferry-wave3.codebook.json")
