# What is printed in documents: each printed thing in Markdown, HTML and LaTeX.
skip_if_not_installed("knitr")
survey <- read.csv(demo_file("ferry-survey.csv"))
survey$person <- NULL
book <- quietly(turnbook(survey) |>
  define(st_1, label = "*tense* <b>|</b> $x_1$ \\input{a}") |>
  define(age, missing = c("None" = 999)) |>
  turn_recode(age, as = "age3", becomes(1, upto(29), label = "Under 30 | <i>"), the_rest(2)) |>
  turn_composite(c(st_1, st_3, st_4), as = "strain"))

# What a chunk of code gives in a document.
knitted <- function(code, form = "markdown", options = "") {
  folder <- tempfile()
  dir.create(folder)
  withr::local_dir(folder)
  open <- list(markdown = paste0("```{r, echo=FALSE", options, "}"),
    html = paste0("<!--begin.rcode echo=FALSE", options),
    latex = paste0("<<echo=FALSE", options, ">>="))
  close <- c(markdown = "```", html = "end.rcode-->", latex = "@")
  ending <- c(markdown = ".Rmd", html = ".Rhtml", latex = ".Rnw")
  begin <- if (form == "latex") c("\\documentclass{article}", "\\begin{document}")
  end <- if (form == "latex") "\\end{document}"
  file <- paste0("a", ending[[form]])
  writeLines(c(begin, open[[form]], code, close[[form]], end), file)
  out <- knitr::knit(file, quiet = TRUE, envir = new.env(parent = environment(knitted)))
  knitr::opts_chunk$restore()
  paste(readLines(out), collapse = "\n")
}

test_each("each printed thing is a table of the document", list(
  look = list("look(book, age3, st_1)", "| 1 \\| Under 30 "),
  by = list("look(book, strain, by = age3)", "\\| age3 \\| valid \\| mean"),
  cross = list("cross(book, age, age3)", "\\*\\*age by age3, 1,200 rows\\*\\*"),
  findings = list("findings(book)", "\\| what is found \\| what to do"),
  items = list("item_analysis(book, strain)", "\\| item \\| label \\| n "),
  turns = list("turns(book)", "\\| age3 \\| recode \\| age "),
  codebook = list("codebook(book)[1:3, ]", "\\| name "),
  lineage = list("lineage(book, strain)", "\\| variable \\| label \\| by"),
  working = list("show_working(book, strain, rows = 1)", "strain \\\\= "),
  summary = list("summary(book)", "\\| variable \\| label"),
  comparison = list("compare_books(book, book)", "No difference"),
  book = list("book", "1,200 rows, 49 originals, 2 derived variables"),
  receipt = list("x <- turn_flag(book, age > 60, as = \"f\")",
    "> f: age &gt; 60[.] Made by flag of age"),
  many = list("x <- turn_reverse(book, c(st_1, st_2, st_3, st_4), limits = c(1, 5))",
    "> 4 variables by reverse: st")
), function(case, name) {
  text <- knitted(case[[1]])
  expect_match(text, case[[2]])
  expect_no_match(text, "## Error|Error in")
  for (form in c("html", "latex")) {
    text <- knitted(case[[1]], form)
    expect_no_match(text, "Error in")
    if (!name %in% c("working", "comparison", "book", "receipt", "many")) {
      expect_match(text, if (form == "html") "<table" else "begin\\{(tabular|longtable)\\}")
    }
  }
})

test_that("no text of a user becomes markup, in whatever language the document is", {
  code <- "look(book, age3, st_1)"
  expect_match(knitted(code), "\\*tense\\* &lt;b&gt;\\|&lt;/b&gt; \\$x_1\\$", fixed = TRUE)
  html <- knitted(code, "html")
  expect_no_match(html, "<b>|<i>")
  expect_match(html, "&lt;b&gt;|", fixed = TRUE)
  expect_match(knitted(code, "latex"), "\\textbackslash{}input\\{a\\}", fixed = TRUE)
})

test_that("a receipt is short, told once, and left out where messages are; figures have a text", {
  expect_equal(lengths(regmatches(made <- knitted("turn_flag(book, age > 60, as = \"f\")"),
    gregexpr("Made by flag", made))), 1)
  expect_no_match(made, "Turnbook")
  expect_no_match(knitted("turn_flag(book, age > 60, as = \"f\")", options = ", message=FALSE"),
    "Made by")
  skip_if_not_installed("ggplot2")
  figure <- knitted("figure_before_after(book, age3)")
  expect_match(figure, "![age3: age, recoded. Valid 1,193 of 1,200", fixed = TRUE)
  expect_match(knitted("plot(look(book, age3))"), "![Rows of age3.](", fixed = TRUE)
  for (device in c("pdf", "ragg_png", "svg")) {
    expect_match(knitted("plot(look(book, age3))", options = paste0(", dev='", device, "'")),
      paste0("-[0-9a-f]{8}[.]", if (device == "pdf") "pdf" else "png"))
  }
  expect_match(knitted("figure_before_after(book, age3)", options = ", fig.alt='Mine'"),
    "alt=\"Mine\"",
    fixed = TRUE)
})
