# The whole work in one pipe
library(ableturn)
options(ableturn.quiet = TRUE)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person) |>
  define(crossings, missing = c("Don't know" = 98, "Refused" = 99)) |>
  define(age, missing = c("Not given" = 999)) |>
  turn_recode(crossings, as = "rider3", label = "Kind of rider",
    becomes(0, 0,                 label = "Non-rider"),
    becomes(1, from(1, upto = 4), label = "Occasional"),
    becomes(2, from(5),           label = "Regular")) |>
  turn_reverse(c(st_2, st_5), limits = c(1, 5)) |>
  turn_composite(c(st_1, st_2_r, st_3, st_4, st_5_r, st_6), as = "strain", how = "mean", at_least = 5,
    label = "Crossing strain", high = "more strain") |>
  turn_standardize(strain, within = island) |>
  turn_bin(age, as = "age3", at = c(30, 60)) |>
  turn_collapse(ticket, as = "ticket4", rarer_than = 0.05) |>
  turn_dummy(island, reference = "Northholm") |>
  turn_flag(wait_min > median(wait_min), as = "long_wait") |>
  turn_compute(income / sqrt(household), as = "income_eq", label = "Equivalised income") |>
  turn_compute(log10(each), each = c(income, wait_min), as = "{name}_log") |>
  turn_crosswalk(occupation, table = "status-score.csv") |>
  turn_group(income, within = household_id) |>
  turn_instrument("ease-aboard.instrument.yaml") |>
  turn_norm(ease, table = "ease-norms.csv") |>
  must_hold(children <= household)
options(ableturn.quiet = NULL)
turns(book)

# Save it, write it as plain R, and prove the scripts
save_turns(book, "ferry.turns.yaml", overwrite = TRUE)
write_script(book, "derive.R", overwrite = TRUE)
prove(book)

# Write the data: chosen columns, in the order asked
write_data(book, "ferry-derived.csv", columns = c(person, rider3:ease_norm), overwrite = TRUE)

# One file that explains every derived variable, for a supervisor, a colleague or a journal
if (requireNamespace("svglite", quietly = TRUE)) report(book, "ferry.html", overwrite = TRUE)
