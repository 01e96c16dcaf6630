# Measurement: three waves, an index, missing items, norms, two coders
library(ableturn)
waves <- c("ferry-survey.csv", "ferry-wave2.csv", "ferry-wave3.csv")
scored <- lapply(waves, function(file) {
  book <- turnbook(file, codebook = "ferry-survey.codebook.json", id = person)
  book <- turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), as = "strain", at_least = 5)
  as.data.frame(book)[c("person", "wave", "interview_date", "age", "strain")]
})
panel <- turnbook(do.call(rbind, scored))

# Change since the first wave; who was not there has none, and is told apart
panel <- turn_change(panel, strain, unit = person, order = wave, from = wave == 1)
panel <- turn_change(panel, interview_date, unit = person, order = wave, from = "first", as = "days")

# Is it beyond what the errors of measurement would give?
first <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person)
alpha <- item_analysis(turn_reverse(first, c(st_2, st_5)), c(st_1, st_2_r, st_3, st_4, st_5_r, st_6))
panel <- turn_change(panel, strain, unit = person, order = wave, from = "first", how = "reliable",
  reliability = alpha, better = "low", cutoff = 3.5)

# Missing items filled, an index of what goes together, far values held
first <- turn_fill(first, tr_1:tr_4, at_least = 3, round = TRUE, filled = "tr_filled",
  accept = c("filled-much" = "one item was asked of two thirds alone"))
first <- turn_component(first, st_1:st_6, as = "strain_c", positive = st_1, at_least = 5)
first <- turn_winsorize(first, wait_min, at = c(0, 0.99))

# Norms by age, between the ages of the table
first <- define(first, age, missing = c("Not given" = 999))
first <- turn_norm(first, wait_min, table = "wait-norms.csv", between = "linear", as = "wait_z",
  accept = c(undefined = "who does not wait has no place among those who do"))

# What was ticked in one text, and what two coders made of an open answer
third <- turnbook("ferry-wave3.csv", codebook = "ferry-wave3.codebook.json", id = person)
third <- turn_split(third, wishes)
look(third, starts_with("wishes_"), together = TRUE)
third <- turn_consensus(third, c(why_less_a, why_less_b), as = "why_less")
disagreements(third, c(why_less_a, why_less_b))

# How reliable the scale is, in all and on each island
item_analysis(first, tr_1:tr_4, by = island, omega = TRUE)
