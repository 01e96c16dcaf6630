# One run of the whole demo and of some odd letters, in the locale that this process was started in.
# Arguments: the folder for the files, a locale for numbers ("" for none), and the option
# `encoding`.
given <- commandArgs(TRUE)
if (nzchar(given[2])) suppressWarnings(Sys.setlocale("LC_NUMERIC", given[2]))
options(OutDec = if (nzchar(given[2])) "," else ".", encoding = given[3],
  width = if (nzchar(given[2])) 60 else 100)
suppressPackageStartupMessages(library(ableturn))
options(ableturn.quiet = TRUE)
dir.create(given[1])
setwd(given[1])
for (file in demo_file()) invisible(file.copy(demo_file(file), file))
for (script in list.files(system.file("examples", package = "ableturn"), full.names = TRUE)) {
  code <- parse(file(script, encoding = "UTF-8"), keep.source = FALSE)
  room <- new.env(parent = globalenv())
  invisible(capture.output(for (step in code) print(eval(step, room))))
}
odd <- data.frame(name = c("\u00e9t\u00e9 \u2026", "\u4e2d\u6587", "I\u0130", "stra\u00dfe I"),
  x = c(0.1, 1e-5, 100000, NA), i = c(100000L, 2L, NA, 3L))
book <- turnbook(odd)
book <- turn_recode(book, name, as = "k", becomes(1, "\u00e9t\u00e9 \u2026",
  label = "\u2026 \u00e9"), the_rest(0.5))
book <- turn_compute(book, paste0(tolower(name), toupper(name)), as = "letters")
book <- turn_recode(book, name, as = "holds", loose = TRUE,
  becomes(1, holding("STRASSE", "ET")), the_rest(0))
book <- turn_compute(book, x / 3, as = "third", label = "a third \u20ac")
book <- turn_recode(book, name, as = "loose", loose = TRUE, becomes(1, "STRA\u00dfE i"), becomes(2,
  "\u00c9T\u00c9 \u2026"),
  the_rest(0))
save_turns(book, "odd.yaml")
write_script(book, "odd.R")
write_script(book, "own.R", "ableturn")
write_data(book, "odd.csv", columns = c(name, x, i))
write_data(book, "all.csv")
write_codebook(book, "odd.json")
report(book, "odd.md")
again <- apply_turns("odd.csv", "odd.yaml")
write_data(again, "again.csv")
stopifnot(isTRUE(attr(prove(book), "proved")))
invisible(capture.output(print(look(book)), print(findings(book)), print(codebook(book)),
  print(turns(book))))
