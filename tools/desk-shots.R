# Pictures of the desk for docs/screenshots, taken in a real browser as tools/browser drives it.
# Use: Rscript tools/desk-shots.R FOLDER, after `make test-desk` has set the browser up.
out <- normalizePath(commandArgs(TRUE)[1])
setwd("tests/testthat")
suppressMessages(library(testthat))
library(ableturn)
source("helper-browser.R")
on <- open_desk("desk(open = FALSE)", globalenv())
say <- on$say
shot <- function(name) {
  Sys.sleep(1)
  say("shot", path = file.path(out, paste0(name, ".png")))
}

choose(say, "crossings")
shot("desk")

# As for files of one's own.
on <- open_desk(paste("{ for (file in demo_file()) file.copy(demo_file(file), '.')",
  "desk('ferry-survey.csv', codebook = 'ferry-survey.codebook.json', id = person, open = FALSE) }",
  sep = "\n"), globalenv())
say <- on$say
choose(say, "crossings")
define_crossings(say)
begin_rules(say)
say("type", at = "#new-label-0", text = "Non-rider")
say("type", at = "#new-label-1", text = "Occasional")
say("ask", code = "document.getElementById('form').scrollIntoView()")
shot("desk-form")
end_rules(say)
say("type", at = "#new-label-2", text = "Regular")
say("type", at = "#f-as", text = "rider3")
keep(say)
reverse_items(say)
choose(say, c("st_1", "st_2_r", "st_3", "st_4", "st_5_r", "st_6"))
answer_with(say, "composite")
say("type", at = "#f-at_least", text = "5")
say("type", at = "#f-as", text = "strain")
keep(say)
answer_with(say, "standardize")
keep(say)
choose(say, "rider3")
say("click", at = "#tab-rows")
say("until", code = "document.querySelectorAll('.grid-row').length > 5")
say("click", at = ".grid-row[aria-rowindex='3']")
shot("desk-rows")
say("click", at = "#tab-record")
