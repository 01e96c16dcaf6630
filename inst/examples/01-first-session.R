# 1. Open the survey
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person)
book

# 2. Look before you turn
# Codes that look like missing answers are named, with the call that declares them.
look(book, crossings, age, island)
look(book, log10(wait_min))

# 3. Say what is not an answer
book <- book |>
  define(crossings, missing = c("Don't know" = 98, "Refused" = 99)) |>
  define(age, missing = c("Not given" = 999))

# 4. Recode, over one variable and over several
# Each turn leaves a receipt: what became of every row.
book <- turn_recode(book, crossings, as = "rider3", label = "Kind of rider",
  becomes(0, 0,                 label = "Non-rider"),
  becomes(1, from(1, upto = 4), label = "Occasional"),
  becomes(2, from(5),           label = "Regular"))
book <- turn_recode(book, as = "gender_age", label = "Gender by age",
  becomes(1, gender_code = 1, age = under(40), label = "Men under 40"),
  becomes(2, gender_code = 1, age = from(40),  label = "Men 40 and over"),
  becomes(3, gender_code = 2, age = under(40), label = "Women under 40"),
  becomes(4, gender_code = 2, age = from(40),  label = "Women 40 and over"),
  the_rest(5, label = "Other combinations"))
book <- turn_recode(book, gender, as = "gender3", loose = TRUE, label = "Gender",
  becomes(1, "m", "man", "male",              label = "Man"),
  becomes(2, "f", "woman", "female",          label = "Woman"),
  becomes(3, "nb", "non-binary",              label = "Non-binary"))

# 5. Reverse two items and score the scale
book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
book <- turn_composite(book, c(st_1, st_2_r, st_3, st_4, st_5_r, st_6), as = "strain",
  how = "mean", at_least = 5, label = "Crossing strain", high = "more strain")

# 6. Flag and compute
book <- turn_flag(book, wait_min > median(wait_min), as = "long_wait", label = "Waits long")
book <- turn_compute(book, income / sqrt(household), as = "income_eq", label = "Equivalised income")
book <- turn_compute(book, log10(.x), each = c(income, wait_min), as = "{name}_log")

# 7. Check: old by new, missing answers included
cross(book, crossings, rider3)
look(book, strain, by = rider3)
turns(book)

# 8. Save the work, write it as plain R, and prove the script
save_turns(book, "ferry.turns.yaml", overwrite = TRUE)
write_script(book, "derive.R", overwrite = TRUE)
prove(book)
write_data(book, "ferry-derived.csv", columns = c(person, rider3:wait_min_log), overwrite = TRUE)

# 9. The same work on the second wave
next_wave <- apply_turns("ferry-wave2.csv", "ferry.turns.yaml")
