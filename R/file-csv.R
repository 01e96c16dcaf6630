#' @include base-files.R
NULL

# Tables with separators. When they are read, the separator is found out, whatever the ending says.
separated_format <- function(name, endings, sep) {
  file_format(name, endings,
    read = function(path, stated) read_checked(path, stated),
    write = function(columns, rows, put, how) {
      write_fields(columns, rows, put, how$separator %||% sep, how$decimal, how$came,
        how$bare)
    },
    spells = TRUE, cells = TRUE,
    script = function(book, name) csv_lines(book, name), words = c("read.csv", "unz")
  )
}

separated_format("csv", c("csv", "txt"), ",")
separated_format("tsv", "tsv", "\t")

read_checked <- function(path, stated = list()) {
  refuse_unused(stated, c("separator", "encoding", "skip", "second_line", "table", "texts"), path)
  source <- bytes_of_table(path, stated)
  if (!is.null(stated$second_line)) source <- without_second_line(source, stated)
  reading <- how_to_read(source, stated)
  reading$second <- source$second
  forms <- setNames(reading$shape$forms, check_header(reading$shape$names))
  reading$unnamed <- is_unnamed(reading$shape$names[1])
  reading$shape[c("forms", "names")] <- NULL
  types <- column_types(forms, stated)
  read <- read_fields(source$bytes, reading, forms, types)
  reading$exact <- read$exact
  table <- typed_table(read$columns, reading, forms, stated)
  attr(table, "ascii") <- source$ascii
  table
}

# The lines of names and below: bytes without the second one, and what it holds by the names.
without_second_line <- function(source, stated) {
  ends <- utils::head(line_ends(utils::head(source$bytes, 1e6)), 2)
  if (length(ends) < 2) fail("second-line-none", path = source$path)
  top <- source
  top$bytes <- source$bytes[seq_len(ends[2])]
  reading <- how_to_read(top, stated)
  names <- check_header(reading$shape$names)
  texts <- csv_columns(top$bytes, reading$sep, reading$several, rep("text", length(names)), 1)
  source$bytes <- source$bytes[c(seq_len(ends[1]), seq(ends[2] + 1,
    length.out = length(source$bytes) - ends[2]))]
  source$second <- list(texts = setNames(vapply(texts, `[`, "", 1), names),
    lines = sum(top$bytes == as.raw(10)))
  source
}

# The names of the columns, which tell these apart.
check_header <- function(names) {
  if (is_unnamed(names[1])) names[1] <- row_name(names[-1])
  refuse_odd_names(names)
  names
}

# How each column is to be read, see csv_columns(). Numbers with a decimal comma are read as such
# where their values are wanted and not the texts.
column_types <- function(forms, stated) {
  type <- vapply(forms, function(form) {
    if (form$whole) "whole" else if (form$long) "long" else "number"
  }, "")
  type[!plain_columns(forms, stated$blank) | names(forms) %in% stated$texts] <- "text"
  type[type == "text" & is.null(stated$blank) & marks_na(forms)] <- "marked"
  if (isTRUE(stated$values)) type[comma_columns(forms, stated)] <- "comma"
  type
}

# The columns that hold nothing but numbers as the package writes them, and blanks or NA but not
# both: nothing of these needs to be judged. NA counts for that only where nothing was stated to be
# `blank`.
plain_columns <- function(forms, blank) {
  has <- function(what) forms_have(forms, what)
  numbers <- has("numbers") & !has("other") & !has("commas") & !(has("na") & has("blank"))
  if (any(grepl(plain_number, blank))) return(numbers & FALSE)
  if (!is.null(blank)) numbers & !has("na") else numbers
}

# The columns with NA in quotes and without: programs that put texts in quotes write NA without them
# where there is no answer.
marks_na <- function(forms) {
  vapply(forms, function(form) form$na_quoted > 0 && form$na > form$na_quoted, NA)
}

# The columns of numbers that surely have a decimal comma, where nothing was stated that might say
# otherwise.
comma_columns <- function(forms, stated) {
  sure <- !length(stated$blank) && is.null(stated$columns)
  forms_have(forms, "comma") & sure & !names(forms) %in% stated$texts
}

forms_have <- function(forms, what) vapply(forms, function(form) form[[what]] > 0, NA)

# The `columns` of a table. Where a number of one is spelled otherwise than it would be written, its
# texts are needed after all; columns are `exact` that were written for other programs, see
# field_column().
read_fields <- function(bytes, reading, forms, types) {
  read <- function(types) {
    csv_columns(bytes, reading$sep, reading$several, types, reading$shape$rows - 1)
  }
  table <- read(types)
  spelled <- attr(table, "spelled")
  as_text <- spelled == "otherwise" | (spelled == "exact" & forms_have(forms, "na"))
  if (any(as_text)) table[as_text] <- read(ifelse(as_text, "text", "none"))[as_text]
  columns <- setNames(as.list(table), names(forms))
  columns[types != "comma"] <- lapply(columns[types != "comma"], as_code)
  list(columns = columns, exact = names(forms)[spelled == "exact" & !as_text])
}

# The table, each column with its type. Its attribute `spelling` holds the texts of columns that
# are spelled otherwise than the package writes them; `commas`, an example of each column of numbers
# that surely have a decimal comma; and `reading`, besides, which texts stand for blank answers
# (`na`), in which columns NA does not (`kept_na`), and what nobody has said (see asked_signs()).
typed_table <- function(columns, reading, forms, stated) {
  number <- !vapply(columns, is.character, NA)
  comma <- comma_columns(forms, stated)
  with_na <- forms_have(forms, "na")
  text <- columns[!number & !comma]
  doubtful <- text[with_na[names(text)]]
  meant <- meaning_of_na(if (is.null(stated$blank)) doubtful else list(), forms)
  blank <- stated$blank %||% if (any(with_na & number) || any(startsWith(meant, "blank"))) "NA"
  reading$na <- unique(c("", blank))
  reading$kept_na <- names(meant)[startsWith(meant, "answer")]
  reading$quoted_na <- names(forms)[forms_have(forms, "na_quoted")]
  reading$both_na <- names(forms)[marks_na(forms)]
  if (is.null(stated$blank)) reading$signs <- asked_signs(text, forms, meant)
  guess <- lapply(self_named(names(text)), function(name) {
    kept <- name %in% c(reading$kept_na, reading$both_na)
    guess_column(text[[name]], setdiff(reading$na, if (kept) "NA"),
      if (name %in% stated$texts) identity else guess_type)
  })
  columns[names(text)] <- lapply(guess, `[[`, "x")
  differs <- vapply(guess, `[[`, NA, "differs")
  spelling <- c(text[differs], lapply(columns[number & with_na], function(x) list(na = "NA")))
  structure(columns,
    class = "data.frame", row.names = .set_row_names(length(columns[[1]])),
    reading = reading, spelling = spelling, commas = vapply(forms[comma], `[[`, "", "shown")
  )
}

# What NA stands for in each column of texts: "blank" or an "answer", as far as the file tells; else
# with a question mark what it is taken for. What one column holds says nothing of another.
meaning_of_na <- function(texts, forms) {
  vapply(self_named(names(texts) %||% character()), function(name) {
    form <- forms[[name]]
    if (form$na == form$na_quoted) return("answer")
    # other texts stand in quotes; or it is all that keeps numbers or dates from being such
    if (form$quoted > 0 || says_na(texts[[name]])) return("blank")
    if (holds_code_na(texts[[name]])) "answer?" else "blank?"
  }, "")
}

# Of columns that hold NA or another sign for no answer, of which nothing says what it is: the
# `sign`, how many rows hold it, and whether it was `taken` for a blank or an answer.
asked_signs <- function(texts, forms, meant) {
  open <- names(meant)[endsWith(meant, "?")]
  na <- lapply(self_named(open), function(name) {
    list(sign = "NA", rows = forms[[name]]$na, taken = sub("?", "", meant[[name]], fixed = TRUE))
  })
  others <- names(texts)[forms_have(forms[names(texts)], "signs")]
  c(na, lapply(self_named(setdiff(others, open)), function(name) {
    met <- texts[[name]][texts[[name]] %in% signs_of_none]
    list(sign = names(sort(table(met), decreasing = TRUE))[1], rows = length(met), taken = "answer")
  }))
}

# Separator and form, as far as they are not stated; and what is around the bytes of the table.
how_to_read <- function(source, stated = list()) {
  bytes <- source$bytes
  header <- first_line(bytes)
  likely <- stated$separator %||% likely_separators(header)
  several <- any(vapply(likely, grepl, NA, x = header, fixed = TRUE, useBytes = TRUE))
  shapes <- lapply(likely, function(sep) csv_shape(bytes, sep, several))
  fits <- which(!vapply(shapes, is_broken, NA))
  sep <- likely[c(fits, 1)[1]]
  shape <- shapes[[c(fits, 1)[1]]]
  refuse_broken(shape, source$path, source$skipped %||% 0)
  around <- intersect(names(source), c("encoding", "packed", "member", "wide", "skipped"))
  c(list(bom = has_bom(bytes), sep = sep, several = several, shape = shape), source[around])
}

# A quote that is never closed would swallow the rest of the file; rows of another length would be
# filled up or cut; both are told with their line.
refuse_broken <- function(shape, path, above) {
  if (shape$unclosed) fail("open-quote", path = path, line = shape$unclosed + above)
  if (shape$after_line) fail("after-quote", path = path, line = shape$after_line + above,
    begun = shape$after_begun + above)
  all_below <- shape$rows > 2 && shape$ragged == shape$rows - 1
  if (all_below && shape$ragged_fields == shape$fields + 1) fail("short-header", path = path,
    names = shape$fields, fields = shape$ragged_fields)
  if (shape$ragged) fail("ragged", path = path, line = shape$ragged_line + above,
    expected = fields_in_words(shape$fields),
    actual = fields_in_words(shape$ragged_fields), lines = shape$ragged)
}

fields_in_words <- function(n) paste(n, if (n == 1) "column" else "columns")

# The line of names; where its names are in quotes, with the line ends inside these.
first_line <- function(bytes) {
  for (reach in c(1e4, 1e6)) {
    start <- utils::head(bytes, reach)
    quotes <- cumsum(start == as.raw(0x22)) %% 2
    ends <- which(start %in% as.raw(c(10, 13)))
    outside <- ends[quotes[ends] == 0]
    if (length(outside)) break
  }
  end <- c(if (length(outside)) outside else ends, length(start) + 1)[1]
  rawToChar(bytes[seq_len(end - 1)])
}

# The separators that the header holds, the most frequent first.
likely_separators <- function(header) {
  bare <- gsub('"([^"]|"")*"', "", header, useBytes = TRUE)
  counts <- vapply(separators_known, function(s) {
    lengths(regmatches(bare, gregexpr(s, bare, fixed = TRUE, useBytes = TRUE)))
  }, 1L)
  order <- order(-counts)
  names(counts)[order][seq_len(max(1, sum(counts > 0)))]
}

is_broken <- function(shape) shape$unclosed > 0 || shape$after_line > 0 || shape$ragged > 0

# The first column may have no name, where a program has written the names of its rows there.
is_unnamed <- function(name) is.na(name) || !nzchar(name)

row_name <- function(others) setdiff(c("row", "row_name", "row_0"), others)[1]

word_errors(list(
  "second-line-none" = c("{path} has no second line under its names.",
    "Leave second_line out of `reading`.")
), unread = TRUE)
