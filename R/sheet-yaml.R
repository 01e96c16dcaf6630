# YAML as our sheets have it: texts, numbers, lists and mappings. Tags, anchors, aliases and merge
# keys do not exist in it: before the parser sees them, the letters that they begin with become
# letters that have no meaning anywhere, and are put back in the texts that it gives. So nothing can
# be disguised as a text by quotes, and what was meant as a tag meets the check of its field.

# What a text in YAML holds. `broken`: a function that is told why it cannot be read.
parse_yaml <- plainly(function(text, broken) {
  text <- enc2utf8(text)
  refuse_endless_yaml(text, broken)
  read <- tryCatch(read_pieces(stringi::stri_split_lines1(text), yaml_handlers), error = identity)
  if (inherits(read, "error")) broken(with_signs(conditionMessage(read)))
  if (depth_of(read) > most_depth) broken(too_deep)
  if (size_within(read, most_values) > most_values) {
    broken(paste("it holds more than", most_values, "values"))
  }
  with_signs_inside(read)
})

# Words such as No and On stay text; 010 is ten; times and dates stay text.
yaml_handlers <- list(
  "bool#yes" = function(x) if (x %in% c("true", "True", "TRUE")) TRUE else x,
  "bool#no" = function(x) if (x %in% c("false", "False", "FALSE")) FALSE else x,
  "float#fix" = as.numeric, "float#exp" = as.numeric, "int" = as.numeric, "int#oct" = as.numeric,
  "int#hex" = identity, "int#base60" = identity, "float#base60" = identity, "seq" = identity,
  "timestamp#iso8601" = identity, "timestamp#ymd" = identity, "timestamp#spaced" = identity
)

# By R itself: the library takes a mark of byte order away where a text begins with one.
with_signs <- function(text) {
  if (all_ascii(text)) return(text)
  for (i in seq_along(yaml_signs)) {
    text <- gsub(sign_letters[i], yaml_signs[i], text, fixed = TRUE)
  }
  text
}

# The same in all texts and names of a list.
with_signs_inside <- function(x) {
  if (!is.null(names(x))) names(x) <- with_signs(names(x))
  if (is.list(x)) return(lapply(x, with_signs_inside))
  if (is.character(x)) x[] <- with_signs(x)
  x
}

# What would take more than the memory is refused before a parser begins.
refuse_endless_yaml <- function(text, broken) {
  if (nchar(text, "bytes") > most_yaml) broken("it is larger than 16 MB")
  own <- "[\uf8a1-\uf8a4]|\\\\u[Ff]8[Aa][1-4]|\\\\U0000[Ff]8[Aa][1-4]"
  if (stringi::stri_detect_regex(text, own)) {
    broken("it holds a letter that has no meaning anywhere (U+F8A1 to U+F8A4)")
  }
  if (stringi::stri_detect_regex(text, " {400}[^ \n]")) {
    broken("it is indented by more than 400 blanks")
  }
  if (stringi::stri_detect_regex(text, "(?:[-?:][ \t]+){50}")) broken(too_deep)
}

most_yaml <- 16e6
most_depth <- 100
most_values <- 2e6
too_deep <- "it holds lists within lists more than 100 times over"

# How many lists lie within each other.
depth_of <- function(x) {
  depth <- 0
  while (is.list(x) && length(x) && depth <= most_depth) {
    depth <- depth + 1
    x <- unlist(x[vapply(x, is.list, NA)], recursive = FALSE, use.names = FALSE)
  }
  depth
}

# How many values a list holds, counted no further than to `most`.
size_within <- function(x, most) {
  if (!is.list(x)) return(length(x))
  size <- 0
  for (part in x) {
    size <- size + 1 + size_within(part, most - size)
    if (size > most) break
  }
  size
}
