#' Write the work as a script
#'
#' `"base"` gives plain R that a colleague without this package can read and
#' run: one commented block for each variable. `"ableturn"` gives the same work
#' as calls of this package.
#'
#' @param book A turnbook.
#' @param path The file to write, by custom ending in `.R`.
#' @param dialect `"base"` or `"ableturn"`.
#' @param overwrite Replace a file that exists.
#' @return The path, invisibly.
#' @section Errors: `ableturn_error_no_turns` if nothing has been made;
#'   `ableturn_error_file_exists`, `ableturn_error_file_unwritable`.
#' @seealso [prove()]
#' @examples
#' book <- turnbook(demo_file("ferry-survey.csv"), id = person)
#' book <- turn_reverse(book, c(st_2, st_5), limits = c(1, 5))
#' path <- tempfile(fileext = ".R")
#' write_script(book, path)
#' cat(readLines(path), sep = "\n")
#' @export
write_script <- function(book, path, dialect = "base", overwrite = FALSE) {
  write_lines_whole(script_lines(as_book(book), dialect), path, overwrite)
}

script_dialects <- c("base", "ableturn")

script_lines <- function(book, dialect) {
  if (!dialect %in% script_dialects) fail("bad-dialect", dialect = dialect)
  if (!length(derived_names(book))) fail("no-turns")
  if (dialect == "base") base_lines(book) else own_lines(book)
}

base_lines <- function(book) {
  name <- held(book, "info")$name
  made <- derived_names(book)
  c(
    script_heading(book), "", data_lines(book, name), "", valid_lines(book, name),
    unlist(lapply(made, function(v) c("", variable_lines_base(book, v, name)))),
    check_lines(book, name), "", "# The derived variables join the originals, which are as they came.",
    paste0(name, "[names(clean)[-seq_along(", name, ")]] <- clean[-seq_along(", name, ")]")
  )
}

script_heading <- function(book) {
  info <- held(book, "info")
  c(
    paste0("# ", counted_text(length(derived_names(book)), "variable"), " derived from ",
      if (is.null(info$file)) "a data frame" else basename(info$file),
      " (", info$rows, " rows)."),
    "# Plain R: no package is needed. The original columns are not changed."
  )
}

counted_text <- function(n, one) paste0(n, " ", one, if (n != 1) "s")

# Where the data come from: their file, or a data frame that must be there.
data_lines <- function(book, name) {
  info <- held(book, "info")
  if (is.null(info$file)) {
    return(c(paste0("# The data: a data frame named ", name, "."), paste0("stopifnot(is.data.frame(", name, "))")))
  }
  options <- c(
    "check.names = FALSE", paste("na.strings =", write_constant(info$reading$na)),
    if (!info$reading$several) "blank.lines.skip = FALSE",
    if (info$reading$sep != ",") paste0("sep = ", quote_text(info$reading$sep)),
    paste0("fileEncoding = ",
      quote_text(if (info$reading$encoding == "UTF-8") "UTF-8-BOM" else info$reading$encoding)),
    class_option(book)
  )
  lines <- c(paste0(name, " <- read.csv(", quote_text(info$file), ","), fold_arguments(options), ")")
  unlist(strsplit(lines, "\n", fixed = TRUE))
}

# Text that is read as text, and dates as dates; the types of numbers are plain to see.
class_option <- function(book) {
  classes <- vapply(originals_in_script(book), function(v) {
    raw <- held(book, "data")[[v]]
    if (is.character(raw)) "character" else if (inherits(raw, "Date")) "Date" else ""
  }, "")
  classes <- classes[nzchar(classes)]
  if (!length(classes)) return(NULL)
  each <- paste0(quote_name(names(classes)), " = ", quote_text(classes))
  if (length(each) <= 3) return(paste0("colClasses = c(", paste(each, collapse = ", "), ")"))
  paste(c("colClasses = c(", paste0("  ", fold_arguments(each, 84)), "  )"), collapse = "\n")
}

# `clean` is a copy in which declared missing codes are missing.
valid_lines <- function(book, name) {
  vars <- originals_in_script(book)
  c(
    "# A copy to work on, in which only valid answers count.",
    paste0("clean <- ", name),
    unlist(lapply(vars, clean_lines, book = book)),
    unlist(lapply(vars, asked_lines, book = book, data = name))
  )
}

# The originals that the script needs, those first that tell who was asked.
originals_in_script <- function(book) {
  checks <- unlist(lapply(check_entries(book), function(e) formula_vars(parse_formula(e$formula))))
  read <- unique(c(unlist(lapply(held(book, "columns"), `[[`, "from")), checks))
  vars <- with_asked(book, intersect(original_names(book), read))
  depth <- vapply(vars, function(v) length(with_asked(book, v)), 1L)
  vars[order(depth, match(vars, original_names(book)))]
}

# Who was not asked has no answer.
asked_lines <- function(name, book, data) {
  asked <- asked_node(meaning_in(book, name))
  if (is.null(asked)) return(NULL)
  code <- base_code(rewrite_kinds(asked, book), book, data)
  paste0("clean$", quote_name(name), "[with(clean, which(!(", paste(code$value, collapse = " "), ")))] <- NA  # not asked")
}

# What must hold is looked after when the script runs.
check_lines <- function(book, data) {
  unlist(lapply(check_entries(book), function(e) {
    code <- base_code(checked_column(book, e$formula, e$learned)$columns$checked$expr, book, data)
    target <- "fails"
    c("", remark("Must hold: ", e$label %||% e$formula), assign_code("holds", code),
      paste0("if (any(holds %in% 0)) warning(", quote_text(paste0(e$formula, " fails in ")), ", sum(holds %in% 0), \" row(s)\")"))
  }))
}

clean_lines <- function(name, book) {
  raw <- held(book, "data")[[name]]
  x <- paste0("clean$", quote_name(name))
  missing <- meaning_in(book, name)$missing
  c(
    if (is.factor(raw)) paste0(x, " <- as.character(", x, ")"),
    if (is.character(raw) && any(raw %in% "")) paste0(x, "[", x, " %in% \"\"] <- NA"),
    unlist(Map(function(matchers, kind) {
      paste0(x, "[", match_code(x, matchers, raw), "] <- NA  # ", kind)
    }, missing, names(missing)), use.names = FALSE)
  )
}

# One block: what the variable means, in remarks, and how it is made.
variable_lines_base <- function(book, name, data) {
  made <- held(book, "columns")[[name]]
  code <- base_code(made$expr, book, data)
  target <- paste0("clean$", quote_name(name))
  c(meaning_remarks(name, made), assign_code(target, code), guard_line(target, code, made, book))
}

meaning_remarks <- function(name, made) {
  m <- made$meaning
  heading <- paste0("# ", name, ": ", m$label %||% name, " ")
  c(
    paste0(heading, strrep("-", max(3, 78 - nchar(heading, "width")))),
    remark("From ", paste(made$from, collapse = ", ")),
    if (length(m$codes)) remark(codes_in_words(m$codes)),
    learned_remarks(made$learned),
    direction_remark(m), if (!is.null(m$note)) remark("Note: ", m$note)
  )
}

# A statistic stands in the code as its value.
learned_remarks <- function(learned) {
  plain <- Filter(function(note) length(note$is) && !grepl("^(spelled|rare_values|distribution)", note$of), learned)
  unlist(lapply(plain, function(note) remark(learned_in_words(note))))
}

learned_in_words <- function(note) {
  if (grepl("^categories", note$of)) return(NULL)
  if (!length(note$groups)) return(paste0(note$of, " = ", paste(show_value(note$is), collapse = ", "), ", from ", note$rows, " rows"))
  paste0(note$of, ": learned in ", sum(note$rows > 0), " groups, from ", sum(note$rows), " rows")
}

direction_remark <- function(m) {
  c(if (!is.null(m$high)) remark("High = ", m$high),
    if (is.null(m$high) && !is.null(m$low)) remark("Low = ", m$low))
}

# A code stays on the line of its sign.
remark <- function(...) {
  text <- gsub(" = ", "\u00a0=\u00a0", gsub("\\s+", " ", paste0(...)), fixed = TRUE)
  gsub("\u00a0", " ", strwrap(text, 88, prefix = "# "))
}

assign_code <- function(target, code) {
  if (length(code$before)) {
    return(c(paste0(target, " <- with(clean, {"), paste0("  ", c(code$before, code$value)), "})"))
  }
  short <- paste0(target, " <- with(clean, ", code$value[1], ")")
  if (length(code$value) == 1 && nchar(short) <= 100) return(short)
  value <- code$value
  value[length(value)] <- paste0(value[length(value)], ")")
  c(paste0(target, " <- with(clean,"), paste0("  ", value))
}

# A result outside the range of numbers, or of a function, is no result.
guard_line <- function(target, code, made, book) {
  endless <- any(vapply(made$from, function(v) {
    x <- column_in(book, v)$x
    is.double(x) && any(is.infinite(x))
  }, NA))
  if ((code$open || endless) && is.numeric(made$x)) paste0(target, "[!is.finite(", target, ")] <- NA  # undefined")
}
