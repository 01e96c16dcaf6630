# The pieces of a session that tools/screenshots.sh takes pictures of.
library(ableturn)
options(width = 100)

# Runs an example and shows the steps whose text holds one of these pieces.
play <- function(file, ...) {
  steps <- parse(file, keep.source = TRUE)
  texts <- vapply(attr(steps, "srcref"), function(s) paste(as.character(s), collapse = "\n"), "")
  for (i in seq_along(steps)) {
    if (any(vapply(c(...), grepl, NA, x = texts[i], fixed = TRUE))) show_call(texts[i], steps[[i]])
    else suppressMessages(eval(steps[[i]], globalenv()))
  }
}

show_call <- function(text, step) {
  cat(ableturn:::as_code_text(paste0("> ", gsub("\n", "\n+ ", text))), "\n", sep = "")
  out <- withVisible(eval(step, globalenv()))
  if (out$visible) print(out$value)
}

try_wrong <- function(code) {
  cat(ableturn:::as_code_text(paste0("> ", code)), "\n", sep = "")
  told <- function(e) cat("Error: ", conditionMessage(e), "\n\n", sep = "")
  tryCatch(eval(parse(text = code), globalenv()), error = told)
}

show <- function(name) {
  switch(name,
    look = play("01-look.R", "look(book, crossings", "log10"),
    receipts = {
      play("02-recode.R", "rider3\", label")
      play("03-score.R", "turn_reverse", "\"strain\"")
    },
    check = play("02-recode.R", "cross(", "look_rows("),
    coding = play("04-regression.R", "turn_dummy"),
    change = play("06-change-your-mind.R", "amend(", "compare_books", "undo", "drop_turn"),
    files = play("09-open-and-hand-on.R", "office <- turnbook", "asked <-", "write_package",
      "  turnbook(\"office.zip\")", "check_package"),
    prove = play("08-save-and-prove.R", "turns(", "write_script", "prove("),
    errors = {
      play("01-look.R")
      for (code in c(
        "turn_reverse(book, wait_min)",
        "turn_reverse(book, ea_1, limits = c(0, 3))",
        "turn_compute(book, income / sqroot(household), as = \"income_eq\")",
        "turn_recode(book, island, as = \"north\", becomes(1, \"Northolm\"), the_rest(0))",
        "turn_dummy(book, island, reference = \"Westholm\")",
        "turn_change(book, wait_min, unit = household_id, order = wave)",
        "book$age <- 3"
      )) try_wrong(code)
    }
  )
}
