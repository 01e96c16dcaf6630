# Score: reverse two items, then build the scale
library(ableturn)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person)
book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
book <- turn_composite(book, c(st_1, st_2_r, st_3, st_4, st_5_r, st_6), as = "strain",
  how = "mean", at_least = 5, label = "Crossing strain", high = "more strain")
look(book, strain, by = island)

# Defend it: the items, where the score comes from, and one row worked out
item_analysis(book, c(st_1, st_2_r, st_3, st_4, st_5_r, st_6))
lineage(book, strain)
show_working(book, strain, rows = 11)

# Many items at once: one receipt
book <- turn_rescale(book, tr_1:tr_4, to = c(0, 100), as = "{name}_100")
book <- turn_key(book, qz_1:qz_5, key = "quiz-key.csv", unanswered = "wrong")
book <- turn_composite(book, qz_1_k:qz_5_k, as = "quiz", how = "sum", high = "more right answers")
book <- turn_tally(book, use_work:use_shop, of = "Ticked", as = "uses")

# A whole questionnaire from its instrument file
book <- turn_instrument(book, "ease-aboard.instrument.yaml")
