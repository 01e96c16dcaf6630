# Writes a book in every format into a folder, and what must be read there into expected.json: of
# each column its values (numbers with 17 digits, as texts), labels by code, and the reason of each
# code that stands for no answer.
# Use: Rscript make.R FOLDER
suppressMessages(library(ableturn))
options(ableturn.quiet = TRUE)
folder <- commandArgs(TRUE)[1]
set.seed(11)

survey <- read_data(demo_file("ferry-survey.csv"))
survey$remark <- rep(c("\u00e9t\u00e9, \"good\"", "two\nlines", "=1+1", NA, "<b>&amp;",
  " x  y ", "007"), length.out = nrow(survey))
survey$share <- ifelse(survey$age > 80, NA, stats::rnorm(nrow(survey)) / 3)
book <- turnbook(survey, codebook = demo_file("ferry-survey.codebook.json"), id = person)
book <- define(book, crossings, missing = c("Refused" = 98, "Not known" = 99))
book <- define(book, income, missing = list("Refused" = 999999,
  "Not plausible" = from(90000, upto = 99998)))
book <- turn_reverse(book, c(st_2, st_5))
book <- turn_composite(book, c(st_1, st_2_r, st_3, st_4, st_5_r, st_6), as = "strain")
book <- turn_standardize(book, strain, as = "strain_z")
book <- turn_bin(book, wait_min, as = "wait3", at = c(10, 30), accept = "boundary")
book <- turn_dummy(book, ticket)
book <- turn_compute(book, log(income + 1), as = "income_log")
book <- turn_flag(book, crossings > 5, as = "often")
book <- turn_compute(book, year(birth_date), as = "born")

inside <- function(name) file.path(folder, name)
write_package(book, inside("package.zip"), about = list(title = "Ferry panel",
  creators = c("A. Berg", "C. Dahl"), licence = "CC-BY-4.0", description = "Made up.",
  citation = "Berg & Dahl", version = "1.0", contact = "a@ferry.example", source = "Made up"))
utils::unzip(inside("package.zip"), exdir = inside("package"))
for (name in c("table.xlsx", "table.ods", "table.parquet", "table.csv", "table.jsonl")) {
  write_data(book, inside(name))
}
write_data(book, inside("comma.csv"), separator = ";", decimal = ",")

type_of <- function(x) {
  if (inherits(x, "Date")) "date" else if (is.logical(x) && !all(is.na(x))) "truth" else
    if (is.numeric(x)) "number" else "text"
}
as_texts <- function(x) {
  if (is.numeric(x) && !is.object(x)) ifelse(is.na(x), NA, sprintf("%.17g", x)) else as.character(x)
}
by_code <- function(codes) {
  stats::setNames(as.list(names(codes)), vapply(codes, format, "", scientific = FALSE))
}
values <- as.data.frame(book, missing = "codes")
why <- as.data.frame(book, missing = "reasons")
why <- why[setdiff(names(why), names(values))]
codes_of_missing <- function(missing) {
  unlist(lapply(names(missing), function(kind) {
    single <- unlist(lapply(missing[[kind]], function(m) if (m$type == "values") m$values))
    if (length(single)) stats::setNames(single, rep(kind, length(single)))
  }))
}
columns <- lapply(names(values), function(name) {
  meaning <- ableturn:::meaning_in(ableturn:::as_book(book), name)
  list(name = name, type = type_of(values[[name]]), values = as_texts(values[[name]]),
    labels = by_code(meaning$codes), missing = by_code(codes_of_missing(meaning$missing)))
})
reasons <- lapply(names(why), function(name) {
  list(name = name, type = "text", values = why[[name]], labels = list(), missing = list())
})
derived <- lapply(ableturn:::derived_of(ableturn:::as_book(book)), function(d) as.list(d$reads))
jsonlite::write_json(list(columns = columns, reasons = reasons, derived = derived),
  inside("expected.json"), auto_unbox = TRUE, na = "null")
