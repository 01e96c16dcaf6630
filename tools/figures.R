# The figures of docs/screenshots. Use, in a folder with the demo survey: Rscript tools/figures.R
# FOLDER
library(ableturn)
options(ableturn.quiet = TRUE)
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person)
book <- define(book, crossings, missing = c("Don't know" = 98, "Refused" = 99))
book <- define(book, age, missing = c("Not given" = 999))
book <- turn_recode(book, crossings, as = "rider3", label = "Kind of rider",
  becomes(0, 0, label = "Non-rider"),
  becomes(1, from(1, upto = 4), label = "Occasional"), becomes(2, from(5), label = "Regular"))
book <- turn_bin(book, age, as = "age5", at = c(25, 40, 55, 70))
book <- turn_collapse(book, ticket, as = "ticket4", rarer_than = 0.05)
book <- turn_composite(book, tr_1:tr_4, as = "trust", at_least = 3, label = "Trust in neighbours")

save <- function(figure, name) {
  ggplot2::ggsave(file.path(commandArgs(TRUE)[1], paste0(name, ".png")), figure, width = 1280,
    height = 800, units = "px", dpi = 110, bg = "white")
}
save(figure_before_after(book, age5), "figure-before-after")
save(figure_flow(book, ticket4), "figure-flow")
save(figure_items(book, st_1:st_6), "figure-items")
save(figure_items(book, tr_1:tr_4, by = island, omega = TRUE), "figure-reliability")
