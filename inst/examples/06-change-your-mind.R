# Change your mind: what depends on a change is made again, and nothing else
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person) |>
  turn_composite(st_1:st_6, reversed = c(st_2, st_5), as = "strain") |>
  turn_standardize(strain) |>
  turn_flag(strain_z > 1, as = "strained") |>
  turn_flag(wait_min > 30, as = "long_wait") |>
  must_hold(children <= household)
amended <- amend(book, strain, at_least = 5)
compare_books(book, amended)

# Take back, drop, replace
book <- undo(amended)
book <- drop_turn(book, strained)
book <- turn_compute(book, row_mean(st_1, st_3, st_4, st_6), as = "strain", replace = TRUE)
turns(book)
