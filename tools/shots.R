# The pieces of a session that tools/screenshots.sh takes pictures of.
library(ableturn)
options(width = 100)
steps <- parse("01-first-session.R", keep.source = TRUE)
room <- globalenv()
texts <- vapply(attr(steps, "srcref"), function(s) paste(as.character(s), collapse = "\n"), "")

run_step <- function(i, shown) {
  if (shown) cat(ableturn:::as_code_text(paste0("> ", gsub("\n", "\n+ ", texts[i]))), "\n", sep = "")
  out <- if (shown) withVisible(eval(steps[[i]], room)) else suppressMessages(withVisible(eval(steps[[i]], room)))
  if (shown && out$visible) print(out$value)
}

try_wrong <- function(code) {
  cat(ableturn:::as_code_text(paste0("> ", code)), "\n", sep = "")
  tryCatch(eval(parse(text = code), room), error = function(e) cat("Error: ", conditionMessage(e), "\n\n", sep = ""))
}

show <- function(name) {
  upto <- function(last, shown) for (i in seq_len(last)) run_step(i, i %in% shown)
  place <- function(start) which(startsWith(texts, start))[1]
  switch(name,
    look = upto(5, 3:4),
    receipts = upto(11, c(7, 10, 11)),
    check = upto(place("turns(book)"), place("cross(") + 0:2),
    prove = upto(length(texts), place("save_turns") + 0:4),
    errors = {
      upto(2, integer())
      for (code in c(
        "turn_reverse(book, tr_1)",
        "turn_reverse(book, md_1, limits = c(0, 3))",
        "turn_compute(book, income / sqroot(household), as = \"income_eq\")",
        "turn_recode(book, island, as = \"north\", becomes(1, \"Northolm\"), the_rest(0))",
        "turn_recode(book, age, as = \"age2\", becomes(1, from(36, upto = 35)))",
        "book$age <- 3"
      )) try_wrong(code)
    }
  )
}
