# In which way the texts of a file's columns are typed: numbers with a decimal comma, dates with the
# day first. A way is taken where it was stated, or where it alone fits every text; what two ways
# fit is asked for.

# Of a table as it was read and what was stated: `ways` by column; `asked`, the ways that fit, by
# columns that are left as text; and the `data`, where these are so left. `texts(name)` gives the
# texts of a column in its file; `commas` are columns that are known to have a decimal comma.
# Of the columns for which a way was stated nothing is found out; of others neither where it was
# stated for none, or a sheet says how all are read.
settle_ways <- function(data, stated, comma_file, texts, commas = NULL) {
  columns <- stated$columns
  for (name in names(columns)) if (!name %in% names(data)) fail_unknown(name, names(data))
  if (!is.null(columns) && (!length(columns) || isTRUE(attr(columns, "all_known")))) {
    return(list(ways = columns, asked = list(), data = data))
  }
  found <- found_ways(data, setdiff(names(data), names(columns)), stated, comma_file, texts, commas)
  found$ways <- c(columns, found$ways)
  found
}

found_ways <- function(data, names, stated, comma_file, texts, commas) {
  fits <- lapply(self_named(names), function(name) {
    if (name %in% commas) return(list(ways = "decimal comma", certain = TRUE))
    if (is.character(data[[name]])) ways_that_fit(data[[name]], stated)
  })
  fits <- fits[lengths(fits) > 0]
  certain <- vapply(fits, is_settled, NA)
  asked <- lapply(fits[!certain], `[[`, "ways")
  ways <- unlist(lapply(fits[certain], `[[`, "ways"))
  by_comma <- stated$decimal %||% if (any(ways == "decimal comma")) ","
  if (!identical(stated$decimal, ".") && (comma_file || identical(by_comma, ","))) {
    for (name in pointed_columns(data[setdiff(names, commas)], texts)) {
      if (identical(stated$decimal, ",")) {
        ways <- c(ways, setNames("decimal comma", name))
      } else {
        asked[[name]] <- c("decimal comma", "decimal point")
        data[[name]] <- texts(name)
      }
    }
  }
  list(ways = ways, asked = asked, data = data)
}

is_settled <- function(found) found$certain && length(found$ways) == 1

# The `ways` in which all texts can be read that are more than plain numbers or texts as they stand;
# several only where they give different values; and whether it is `certain` that they are numbers
# or dates. NULL where none fits, and of texts that are names rather than numbers.
ways_that_fit <- function(texts, stated) {
  met <- texts_met(texts)
  some <- met[some_rows(length(met))]
  if (!length(met)) return()
  if (!all(grepl("^\\s*[-+]?[0-9.,]", some) & grepl("[0-9]", some))) return(ways_that_fit_most(met))
  if (hold_labels(met) || (all(stand_so(some)) && all(stand_so(met)))) return()
  read <- lapply(self_named(names(ways_to_read)), function(way) {
    if (!anyNA(read_texts_as(some, way))) read_texts_as(met, way)
  })
  fits <- names(Filter(function(x) !is.null(x) && !anyNA(x), read))
  ways_judged(by_what_is_stated(fits, stated), read, met, stated)
}

# The ways in which nearly all texts with digits can be read, beside others such as "none".
ways_that_fit_most <- function(met) {
  ways <- reading_offers(met)
  if (!length(ways) || hold_labels(met[grepl("[0-9]", met)])) return()
  list(ways = ways, certain = FALSE)
}

# The texts of a column but for blank ones, each once where they are few.
texts_met <- function(texts) {
  met <- letters_of(texts)
  met[!are_blank(met)]
}

# Whether some texts are digits that are a name rather than a number.
hold_labels <- function(texts) !all(grepl(typed_date, texts[start_with_zero(texts)]))

# Plain numbers and sorted-out dates.
stand_so <- function(texts) grepl(plain_number, texts) | grepl(year_first[["date"]], texts)

typed_date <- "^\\s*[0-9]{1,2}[./-] ?[0-9]{1,2}[./-] ?[0-9]{4}"

by_what_is_stated <- function(fits, stated) {
  number <- c("," = "decimal comma", "." = "decimal point")[stated$decimal %||% character()]
  kept <- fits[!startsWith(fits, "decimal") | fits %in% number]
  if (length(number) && any(fits %in% number)) fits <- kept
  if (is.null(stated$dates) || !any(startsWith(fits, stated$dates))) return(fits)
  fits[startsWith(fits, stated$dates)]
}

ways_judged <- function(fits, read, met, stated) {
  if (!length(fits)) return(NULL)
  if (length(unique(unname(read[fits]))) == 1) fits <- fits[1]
  certain <- !startsWith(fits[1], "decimal") || !is.null(stated$decimal) || length(fits) > 1 ||
    is_certain(met, fits)
  list(ways = fits, certain = certain)
}

# Digits in groups alone may be a number of another kind (123 456), and pairs of rising codes may be
# answers that were ticked (1,3).
is_certain <- function(met, way) {
  mark <- c("decimal comma" = ",", "decimal point" = ".")[[way]]
  parted <- met[grepl(mark, met, fixed = TRUE)]
  if (!length(parted)) return(any(grepl("%", met, fixed = TRUE)))
  ticks <- function(texts) grepl("^\\s*[1-9][0-9]?,[1-9][0-9]?\\s*$", texts)
  if (!all(ticks(utils::head(parted, 1000))) || !all(ticks(parted))) return(TRUE)
  sides <- vapply(strsplit(unique(parted), ",", fixed = TRUE), as.integer, c(1L, 1L))
  any(sides[1, ] >= sides[2, ])
}

# Columns of numbers with a point whose texts could be whole numbers with marks at the thousands.
pointed_columns <- function(data, texts) {
  names <- names(Filter(function(x) is.double(x) && !is.object(x) && !is_whole(x), data))
  Filter(function(name) {
    met <- texts_met(texts(name))
    !anyNA(typed_numbers(met[some_rows(length(met))], TRUE)) && !anyNA(typed_numbers(met, TRUE))
  }, names)
}

# What is asked of a column that stays text: the `ways` in which it may be read, an `example` of its
# texts that can be read so, and of those that cannot (`unfit`). NULL where that is only what looks
# like its label, in a line `above`, of which it is asked already.
open_question <- function(ways, texts, above = NULL) {
  met <- texts_met(unique(texts))
  unfit <- met[is.na(read_texts_as(met, ways[1]))]
  if (length(unfit) == 1 && isTRUE(one_line(unfit) == above)) return(NULL)
  list(ways = ways, example = example_read(met, ways[1]), unfit = utils::head(unfit, 1))
}

# A text of a column that shows how its texts are typed: the longest of the first ones.
example_of <- function(texts) {
  some <- utils::head(texts, 1000)
  if (all(are_blank(some))) some <- utils::head(texts[!are_blank(texts)], 1000)
  met <- utils::head(unique(some[!are_blank(some)]), 100)
  met[order(-nchar(met), method = "radix")][1]
}

# The same, of texts that can be read in a way, if any can.
example_read <- function(texts, way) {
  some <- utils::head(texts, 1000)
  fit <- some[!is.na(read_texts_as(normal_text(some), way))]
  example_of(if (length(fit)) fit else texts)
}
