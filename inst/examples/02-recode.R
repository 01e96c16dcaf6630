# Recode: each turn leaves a receipt of what became of every row
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person) |>
  define(crossings, missing = c("Don't know" = 98, "Refused" = 99)) |>
  define(age, missing = c("Not given" = 999))
book <- turn_recode(book, crossings, as = "rider3", label = "Kind of rider",
  becomes(0, 0,                 label = "Non-rider"),
  becomes(1, from(1, upto = 4), label = "Occasional"),
  becomes(2, from(5),           label = "Regular"))

# Rules over several variables, and typed answers
book <- turn_recode(book, as = "gender_age", label = "Gender by age",
  becomes(1, gender_code = 1, age = under(40), label = "Men under 40"),
  becomes(2, gender_code = 1, age = from(40),  label = "Men 40 and over"),
  becomes(3, gender_code = 2, age = under(40), label = "Women under 40"),
  becomes(4, gender_code = 2, age = from(40),  label = "Women 40 and over"),
  the_rest(5, label = "Other combinations"))
book <- turn_recode(book, gender, as = "gender3", loose = TRUE, label = "Gender",
  becomes(1, "m", "man", "male",     label = "Man"),
  becomes(2, "f", "woman", "female", label = "Woman"),
  becomes(3, "nb", "non-binary",     label = "Non-binary"))

# Bands, fewer categories, a flag
book <- turn_bin(book, age, as = "age3", at = c(30, 60))
book <- turn_collapse(book, ticket, as = "ticket4", rarer_than = 0.05)
book <- turn_flag(book, wait_min > median(wait_min), as = "long_wait", label = "Waits long")

# Check: old by new, missing answers included
cross(book, rider3)
cross(book, age3, rider3)

# ... and row by row: some rows, old beside new, with their working
look_rows(book, rider3, where = is.na(rider3) | crossings == 4, n = 6, working = TRUE)
