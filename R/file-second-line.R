# A second line under the names, of labels or question texts, as some programs write it: it is found
# and told, and taken for labels or left out where that is said: reading = list(second_line = ).

# Whether the first row looks like one: it holds texts alone, and without it at least one column is
# of numbers or dates. The texts, or NULL.
second_line_in <- function(data) {
  if (NROW(data) < 3) return(NULL)
  first <- vapply(data, function(x) if (is.character(x)) x[1] else show_value(x[1]), "")
  told <- !are_blank(first)
  texts <- vapply(data, is.character, NA)
  if (!any(told) || any(told & !texts) || any(stand_so(first[told]))) return(NULL)
  spoiled <- vapply(data[texts & told], function(x) {
    met <- texts_met(utils::head(x[-1], 1000))
    length(met) > 0 && (all(stand_so(met)) || length(reading_offers(met)) > 0)
  }, NA)
  if (any(spoiled)) one_line(first[told])
}

# What such a line holds is the codebook of the data, or it is told that there may be one.
with_labels_of_line <- function(data, stated) {
  reading <- attr(data, "reading")
  if (!is.null(reading$second)) {
    reading$codebook <- labels_of_second_line(reading$second$texts, stated$second_line)
  } else if (is.null(stated$second_line)) {
    reading$likely_labels <- second_line_in(data)
    reading$mixed <- reading$mixed[lengths(lapply(reading$mixed, `[[`, "cells")) > 1 |
      !names(reading$mixed) %in% names(reading$likely_labels)]
  }
  attr(data, "reading") <- reading
  data
}

# Labels by the texts of such a line; NULL where it is left out.
labels_of_second_line <- function(texts, way) {
  texts <- texts[!are_blank(texts)]
  if (way == "labels") structure(lapply(texts, function(text) {
    new_meaning(label = normal_text(one_line(text)))
  }), class = "codebook_file", unused = NULL)
}
