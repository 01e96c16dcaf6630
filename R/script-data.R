# The data a script starts from, and what must hold of them.

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
  read <- unique(c(unlist(lapply(held(book, "columns"), `[[`, "needs")), checks))
  vars <- with_asked(book, intersect(original_names(book), read))
  depth <- vapply(vars, function(v) length(with_asked(book, v)), 1L)
  vars[order(depth, match(vars, original_names(book)))]
}

# Who was not asked has no answer.
asked_lines <- function(name, book, data) {
  asked <- asked_node(meaning_in(book, name))
  if (is.null(asked)) return(NULL)
  code <- base_code(rewrite_kinds(asked, book), book, data)
  paste0("clean$", quote_name(name), "[with(clean, which(!(", paste(code$value, collapse = " "),
    ")))] <- NA  # not asked")
}

# What must hold is looked after when the script runs.
check_lines <- function(book, data) {
  unlist(lapply(check_entries(book), function(e) {
    code <- base_code(checked_column(book, e$formula, e$learned)$columns$checked$expr, book, data)
    c("", remark("Must hold: ", e$label %||% e$formula), assign_code("holds", code),
      paste0("if (any(holds %in% 0)) warning(", quote_text(paste0(e$formula, " fails in ")),
        ", sum(holds %in% 0), \" row(s)\")"))
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
