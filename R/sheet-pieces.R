# Large sheets are read in pieces: the parser takes the square of the time for entries that wait for
# the end of what they are in, and for brackets that are open at once. A piece that is read without
# an error ends with all brackets and quotes closed, so that the pieces one after the other are the
# whole.

# What the lines of a document, or of a part of it, hold; the parser's errors are errors.
read_pieces <- function(lines, handlers) {
  if (weight_of(lines) <= light_weight) return(read_yaml(paste(lines, collapse = "\n"), handlers))
  at <- piece_starts(lines)
  if (is.null(at)) return(read_leaf(lines, handlers))
  pieces <- joined_pieces(lines_of_pieces(lines, at$starts))
  read <- lapply(pieces, if (at$dashes) read_entry else read_named, handlers)
  read <- unlist(read, recursive = FALSE)
  twice <- anyDuplicated(names(read))
  if (twice) stop("Duplicate map key: '", names(read)[twice], "'")
  read
}

# What can make a parser wait: brackets, names, entries of lists.
weight_of <- function(lines) sum(stringi::stri_count_regex(lines, "[\\[{]|:(?=\\s|$)|^\\s*-\\s"))

light_weight <- 2000
heavy_weight <- 10000

read_leaf <- function(lines, handlers) {
  if (weight_of(lines) > heavy_weight) {
    stop("it holds more than ", heavy_weight, " entries in one line or one part")
  }
  read_yaml(paste(lines, collapse = "\n"), handlers)
}

# The lines on which the outermost entries of a part begin, and whether these are those of a list;
# NULL where the part does not consist of such. Under a name, a list may stand as far left as that.
piece_starts <- function(lines) {
  indent <- stringi::stri_locate_first_regex(lines, "[^ ]")[, 1]
  told <- which(!is.na(indent) & !stringi::stri_detect_regex(lines, "^\\s*(#|$)"))
  if (!length(told) || any(indent[told] < indent[told[1]])) return(NULL)
  outer <- told[indent[told] == indent[told[1]]]
  dashed <- stringi::stri_detect_regex(lines[outer], "^ *-( |$)")
  if (dashed[1] && all(dashed)) return(list(starts = outer, dashes = TRUE))
  if (!dashed[1]) list(starts = outer[!dashed], dashes = FALSE)
}

lines_of_pieces <- function(lines, starts) {
  unname(split(lines, cut(seq_along(lines), c(0, starts[-1] - 1, length(lines)), labels = FALSE)))
}

# Small neighbours are read together.
joined_pieces <- function(pieces) {
  weight <- vapply(pieces, weight_of, 1)
  large <- weight > light_weight
  after_large <- c(FALSE, utils::head(large, -1))
  full <- c(0, diff(cumsum(weight) %/% (light_weight / 2))) > 0
  lapply(unname(split(pieces, cumsum(large | after_large | full))), unlist)
}

# Entries of a list, as a list; where one is large, what follows its dash is a part of its own.
read_entry <- function(lines, handlers) {
  first <- stringi::stri_detect_regex(lines, "^ *-( |$)")
  place <- which(first)[1]
  if (weight_of(lines) <= light_weight) return(read_yaml(paste(lines, collapse = "\n"), handlers))
  lines[place] <- sub("-", " ", lines[place], fixed = TRUE)
  list(read_pieces(lines[seq(place, length(lines))], handlers))
}

# Names with their values, as a list; where one is large, its value is a part of its own.
read_named <- function(lines, handlers) {
  name <- which(!stringi::stri_detect_regex(lines, "^\\s*(#|$)"))[1]
  alone <- stringi::stri_detect_regex(lines[name], "^ *[^ \"'\\[{|>#-][^\"'\\[{|>#]*:\\s*(#.*)?$")
  if (weight_of(lines) <= light_weight || !alone) return(read_leaf(lines, handlers))
  read <- read_yaml(lines[name], handlers)
  read[1] <- list(read_pieces(lines[-seq_len(name)], handlers))
  read
}

# The line on which a spot of a large sheet begins, as far as its parts stand on lines of their own.
line_in_pieces <- function(spot, lines, from = 1) {
  at <- piece_starts(lines)
  if (is.null(at) || !length(spot)) return(from)
  key <- spot[[1]]
  names <- stringi::stri_match_first_regex(lines[at$starts], "^ *\"?([^\":]+)\"?:")[, 2]
  place <- if (at$dashes) key else match(key, names)
  if (!isTRUE(place >= 1 && place <= length(at$starts))) return(from)
  start <- at$starts[place]
  end <- c(at$starts, length(lines) + 1)[place + 1] - 1
  inside <- lines[start:end]
  if (at$dashes) inside[1] <- sub("-", " ", inside[1], fixed = TRUE) else inside <- inside[-1]
  below <- !at$dashes && length(spot) > 1
  if (!length(inside)) return(from + start - 1)
  line_in_pieces(spot[-1], inside, from + start - 1 + below)
}

# The signs, and the letters of the private-use area that stand for them.
yaml_signs <- c("!", "&", "*", "<<")
sign_letters <- c("\uf8a1", "\uf8a2", "\uf8a3", "\uf8a4")

read_yaml <- function(text, handlers = NULL) {
  yaml::yaml.load(without_signs(text), eval.expr = FALSE, handlers = handlers)
}

without_signs <- function(text) {
  stringi::stri_replace_all_fixed(text, yaml_signs, sign_letters, vectorize_all = FALSE)
}
