#' @include script-dialect.R script-prove.R
NULL

script_dialect("base", "Plain R, no package needed",
  paste(
    paste("gives plain R that a colleague without this package can read and run: one commented",
      "block for each"),
    "variable."),
  lines = function(book) base_lines(book),
  words = function() c(base_script_words, unlist(lapply(all_formats(), `[[`, "words"))),
  run = run_in_r
)

base_lines <- function(book) {
  came <- info_of(book)$name
  name <- data_in_script(book)
  lines <- unlist(lapply(derived_names(book), function(v) {
    c("",
      variable_lines_base(book, v, name))
  }))
  checks <- check_lines(book, name)
  c(
    script_heading(book), "", data_lines(book, came), if (name != came) paste0(name, " <- ", came),
    case_lines(book), "", number_text_lines(c(lines, checks)), valid_lines(book, name),
    lines, checks, "", remark("The derived variables join the originals, which are as they came."),
    paste0(name, "[names(clean)[-seq_along(", name, ")]] <- clean[-seq_along(", name, ")]"),
    if (name != came) paste0(came, " <- ", name)
  )
}

# What the data are called in a script: another name where theirs is one that the script needs for
# something else, or that a variable has.
data_in_script <- function(book) {
  name <- info_of(book)$name
  taken <- c(names(book), "clean", "holds")
  if (!name %in% taken) return(name)
  setdiff(c("survey", "survey_data", paste0("survey_", seq_along(taken))), taken)[1]
}

# In a Turkish locale R turns i into another letter.
case_lines <- function(book) {
  turns_case <- vapply(derived_of(book), function(derived) {
    uses(derived$expr,
                                                    words_with("changes case"))
  },
    NA)
  if (any(turns_case)) c("",
    remark("Letters change their case as in most languages, not as in Turkish."),
    paste0("stopifnot(toupper(", code_text("i"), ") == ", code_text("I"), ")"))
}

# The R functions of a base script, beside the words of formulas and those that read a file.
base_script_words <- c(
  "stopifnot", "is.data.frame", "with", "which", "ifelse", "as.character", "names",
  "seq_along", "$", "[",
  "[[", "function", "for", ":", "match", "cbind", "array", "rowSums", "rowMeans", "colSums", "t",
  "apply", "ave", "any", "cummax",
  "all", "nrow", "findInterval", "pmax", "pmin", "rep", "length", "as.numeric", "is.finite",
  "format", "as.POSIXct",
  "as.POSIXlt", "order", "head", "duplicated", "vapply", "Reduce", "utf8ToInt", "enc2utf8", "cos",
  "warning", "get", "qnorm", "pnorm", "unique", "tryCatch", "stop", "sprintf", "is.logical",
    "return"
)

script_heading <- function(book) {
  info <- info_of(book)
  c(
    remark(counted_text(length(derived_names(book)), "variable"), " derived from ",
      if (is.null(info$file)) "a data frame" else basename(info$reading$file %||% info$file), " (",
      info$rows, " rows)."),
    remark(packages_in_words(info), " The original columns are not changed.")
  )
}

packages_in_words <- function(info) {
  words <- if (!is.null(info$file)) formats[[info$reading$format]]$words
  used <- unique(sub("::.*", "", grep("::", words, fixed = TRUE, value = TRUE)))
  if (length(used)) paste0("Plain R, but for the package ", used, ", which reads the file.") else
    "Plain R: no package is needed."
}

counted_text <- function(n, one) paste0(n, " ", one, if (n != 1) "s")
