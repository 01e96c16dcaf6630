# Look: open the survey, and look before you turn
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person)
book

# Codes that look like missing answers
# They are named, with the call that declares them. Nothing is recorded by looking.
look(book, crossings, age, island)
look(book, log10(wait_min))

# Say what is not an answer, and who was asked
book <- book |>
  define(crossings, missing = c("Don't know" = 98, "Refused" = 99)) |>
  define(age, missing = c("Not given" = 999)) |>
  define(hours, asked_if = age < 75)
look(book, hours, wait_min, by = island)
