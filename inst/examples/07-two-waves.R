# Two waves: the record of the first wave is used for the second
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person) |>
  turn_composite(st_1:st_6, reversed = c(st_2, st_5), as = "strain", at_least = 5) |>
  turn_standardize(strain) |>
  turn_dummy(ticket)
save_turns(book, "waves.turns.yaml", overwrite = TRUE)

# With the mean and SD of the first wave, or those of the second
second <- apply_turns("ferry-wave2.csv", "waves.turns.yaml")
refitted <- apply_turns("ferry-wave2.csv", "waves.turns.yaml", learned = "refit")

# Change from wave to wave
panel <- rbind(as.data.frame(book), as.data.frame(second))
change <- turn_change(panel, strain, unit = person, order = wave)
