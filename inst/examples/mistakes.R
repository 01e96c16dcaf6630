# Mistakes: ten hurried analyses, and what the package says to each
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person)

# 1. An open range swallows "don't know" and "refused" (98 and 99)
first <- turn_recode(book, crossings, as = "rider", becomes(0, 0), becomes(1, from(1)))

# 2. A mean over a missing code: 999 years of age
second <- turn_compute(book, age - mean(age), as = "age_centred")

# 3. Two items were worded the other way and never reversed
third <- turn_composite(book, st_1:st_6, as = "strain", at_least = 5, high = "more strain")

# 4. A sum that is too low for all who skipped an item
fourth <- turn_composite(book, tr_1:tr_4, how = "sum", at_least = 3, as = "trust", high = "more trust")

# 5. Rules that leave a gap: nobody waits 10 minutes, it seems
fifth <- turn_recode(book, wait_min, as = "wait3", becomes(1, upto(9)), becomes(2, from(11, upto = 20)), becomes(3, over(20)))

# 6. Rules that overlap: who waits 20 minutes?
sixth <- turn_recode(book, wait_min, as = "wait2", becomes(1, upto(20)), becomes(2, from(20)))

# 7. Islands are names, not amounts
seventh <- turn_compute(book, island * 10, as = "island_score")

# 8. Numbers typed as words
eighth <- turn_composite(book, sat_1:sat_5, as = "satisfaction", at_least = 3, high = "more satisfied")

# 9. The logarithm of a wait of no minutes
ninth <- turn_compute(book, log(wait_min), as = "wait_log")

# 10. The items are on different scales
tenth <- turn_composite(book, c(st_1, tr_1), as = "feelings", high = "stronger feelings")

# All that is open can be listed, and settled or accepted with a reason
findings(first)
judged <- amend(tenth, feelings, accept = c("mixed-ranges" = "only an example"))
findings(judged)
