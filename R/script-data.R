# The data a script starts from, and what must hold of them.

# Where the data come from: their file, or a data frame that must be there.
data_lines <- function(book, name) {
  info <- info_of(book)
  if (is.null(info$file)) {
    return(c(remark("The data: a data frame named ", name, "."),
      paste0("stopifnot(is.data.frame(", name, "))")))
  }
  script <- formats[[info$reading$format]]$script
  if (is.null(script)) {
    fail("script-cannot-read", file = info$file, why = "there is no way to read this format in it")
  }
  script(book, name)
}

# `clean` is a copy in which declared missing codes are missing.
valid_lines <- function(book, name) {
  vars <- originals_in_script(book)
  c(
    reader_lines(unique(unlist(lapply(vars, function(v) meaning_in(book, v)$read)))),
    remark("A copy to work on, in which only valid answers count."),
    paste0("clean <- ", name),
    unlist(lapply(vars, clean_lines, book = book)),
    unlist(lapply(vars, asked_lines, book = book, data = name))
  )
}

# The originals that the script needs, those first that tell who was asked.
originals_in_script <- function(book) {
  checks <- unlist(lapply(check_entries(book), function(e) formula_vars(parse_formula(e$formula))))
  made <- lapply(derived_of(book), function(made) formula_vars(made$expr))
  read <- unique(c(unlist(made), checks))
  vars <- with_asked(book, intersect(original_names(book), read))
  depth <- vapply(vars, function(v) length(with_asked(book, v)), 1L)
  vars[order(depth, match(vars, original_names(book)))]
}

# Who was not asked has no answer.
asked_lines <- function(name, book, data) {
  asked <- asked_node(meaning_in(book, name))
  if (is.null(asked)) return(NULL)
  code <- base_code(rewrite_kinds(asked, function(name) variable_in(book, name)), book, data)
  paste0(code_column("clean", name), "[with(clean, which(!(", paste(code$value, collapse = " "),
    ")))] <- NA", side_remark("not asked"))
}

# What must hold is looked after when the script runs.
check_lines <- function(book, data) {
  unlist(lapply(check_entries(book), function(e) {
    code <- base_code(checked_column(book, e$formula, e$learned)$columns$checked$expr, book, data)
    c("", remark("Must hold: ", e$label %||% e$formula), assign_code("holds", code),
      paste0("if (any(holds %in% 0)) warning(", code_text(paste0(e$formula, " fails in ")),
        ", sum(holds %in% 0), ", code_text(" row(s)"), ")"))
  }))
}

# Factors by their labels, dates with a time as text, spans of time as numbers.
plain_line <- function(raw, x) {
  if (is.factor(raw)) return(paste0(x, " <- as.character(", x, ")"))
  if (inherits(raw, "difftime")) {
    return(paste0(x, " <- as.numeric(", x, ", units = ", code_text(attr(raw, "units")), ")"))
  }
  if (inherits(raw, "POSIXct")) {
    paste0(x, " <- format(", x, ", ", code_text(datetime_form(raw)), ")")
  }
}

# Letters in one normal form: an accent may be a sign of its own.
spelling_lines <- function(raw, x) {
  texts <- if (is.factor(raw)) levels(raw) else if (is.character(raw)) unique(raw)
  if (all_ascii(texts)) return(NULL)
  bytes <- function(text) charToRaw(enc2utf8(text))
  odd <- Filter(function(text) !identical(bytes(text), bytes(normal_text(text))),
    texts[!is.na(texts)])
  vapply(odd, function(text) {
    paste0(x, "[", x, " %in% ", code_text(text), "] <- ", code_text(normal_text(text)))
  }, "", USE.NAMES = FALSE)
}

clean_lines <- function(name, book) {
  raw <- original_in(book, name)
  x <- code_column("clean", name)
  meaning <- meaning_in(book, name)
  missing <- meaning$missing
  if (!is.null(meaning$read)) {
    return(c(plain_line(raw, x), spelling_lines(source_of(variable_in(book, name)), x),
      reading_lines_of(x, meaning)))
  }
  c(
    plain_line(raw, x), spelling_lines(raw, x),
    if (is.character(raw) && any(raw %in% "")) paste0(x, "[", x, " %in% ",
      code_text(""), "] <- NA"),
    unlist(Map(function(matchers, kind) {
      paste0(x, "[", match_code(x, matchers, raw), "] <- NA", side_remark(kind))
    }, missing, names(missing)), use.names = FALSE)
  )
}
