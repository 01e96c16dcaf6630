# Regression: dummies with a chosen reference, and an interaction
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person) |>
  turn_composite(st_1:st_6, reversed = c(st_2, st_5), as = "strain", at_least = 5)
book <- turn_dummy(book, island, reference = "Northholm")
book <- turn_interact(book, wait_min, household, centre = TRUE)
survey <- as.data.frame(book)
round(coef(lm(strain ~ wait_min + island_eastray + island_sallow + island_merrin + island_tarn_skerry, survey)), 3)

# Contrasts: each answer less the one before
book <- turn_dummy(book, opinion, coding = "difference")
