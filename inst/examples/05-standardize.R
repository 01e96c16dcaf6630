# Standardize: in the whole sample, within groups, and against norms
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person) |>
  define(age, missing = c("Not given" = 999)) |>
  turn_composite(st_1:st_6, reversed = c(st_2, st_5), as = "strain", at_least = 5) |>
  turn_instrument("ease-aboard.instrument.yaml")
book <- turn_standardize(book, strain)
book <- turn_standardize(book, c(income, wait_min), how = "percentile", within = island, weight = weight)
book <- turn_norm(book, ease, table = "ease-norms.csv")

# Look up codes, and give each row its household's mean
book <- turn_crosswalk(book, occupation, table = "status-score.csv")
book <- turn_group(book, income, within = household_id)

# Compute: dates, and a statistic within groups
book <- turn_compute(book, years_between(birth_date, interview_date), as = "age_at_interview")
book <- turn_compute(book, income / median(income, within = island), as = "relative_income",
  label = "Income as a share of the island's median")
