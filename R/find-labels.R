# Labels of bands whose numbers contradict the cut points, as when these were amended and stated
# labels stayed.
label_contradicts <- function(made) {
  bands <- labelled_bands(made$out)
  if (!length(bands)) return(NULL)
  wrong <- bands_contradicted(bands, 1)
  if (!any(wrong) || any(vapply(other_units, fits_in_unit, NA, bands = bands))) return(NULL)
  or <- if (identical(made$turn$verb, "bin")) for_reader(paste0(", or none: amend(book, ",
    made$out$name, ", labels = NULL)"), ", or none")
  new_finding("label-contradicts", made$out$name, or = or %||% "",
    values = vapply(bands[wrong], function(band) {
      paste0(quote_text(band$label), " for ", band$caught)
    }, ""))
}

# The rules that catch one range and have a label with numbers: these, the ends, and the label.
labelled_bands <- function(out) {
  compact(lapply(out$rules, function(rule) {
    if (length(rule$when) != 1 || length(rule$where) || rule$rest) return(NULL)
    range <- rule$when[[1]]
    if (range$type != "range" || range$low < 0 && is.finite(range$low)) return(NULL)
    label <- label_of(rule$code, out$meaning$codes) %|% (rule$label %||% NA)
    numbers <- numbers_in_label(label)
    if (length(numbers) %in% 1:2) list(label = label, numbers = numbers, range = range,
      caught = describe_rule(rule))
  }))
}

# Numbers that stand by themselves in a text; those with letters or a percent sign at them may be
# in another unit.
numbers_in_label <- function(label) {
  if (is.na(label)) return(numeric())
  plain <- gsub("(?<=[0-9]),(?=[0-9]{3}(?![0-9]))", "", label, perl = TRUE)
  if (grepl("[0-9][A-Za-z%]|[A-Za-z][0-9]|%", plain)) return(numeric())
  found <- regmatches(plain, gregexpr("[0-9]+([.,][0-9]+)?", plain))[[1]]
  as.numeric(sub(",", ".", found, fixed = TRUE))
}

# Cut points may be in months and labels in years.
other_units <- c(10, 100, 1000, 1e6, 7, 12, 24, 60, 365, 365.25)

fits_in_unit <- function(unit, bands) !any(bands_contradicted(bands, unit))

bands_contradicted <- function(bands, unit) {
  vapply(bands, function(band) {
    range <- band$range
    range[c("low", "high")] <- list(range$low / unit, range$high / unit)
    numbers <- band$numbers
    if (length(numbers) == 2) !fits_both(numbers, range) else !fits_one(numbers, band$label, range)
  }, NA)
}

fits_both <- function(numbers, range) {
  if (numbers[1] > numbers[2]) return(TRUE)
  (is.infinite(range$low) && numbers[1] <= range$high || fits_low(numbers[1], range)) &&
    (is.infinite(range$high) && numbers[2] >= range$low || fits_high(numbers[2], range))
}

# A number with a word that says on which side of it the band lies.
fits_one <- function(number, label, range) {
  above <- grepl("[>\u2265+]|\\b(over|above|more|older|least|plus|from)\\b", label,
    ignore.case = TRUE)
  below <- grepl("[<\u2264]|\\b(under|below|less|fewer|younger|most|up to|until)\\b", label,
    ignore.case = TRUE)
  if (above == below) return(TRUE)
  if (above) fits_low(number, range) else fits_high(number, range)
}

# A band that begins beyond 29 may be called 30, and one that ends before 40 may be called 39.
fits_low <- function(number, range) {
  number == range$low || is.finite(range$low) && abs(number - range$low) <= 1
}

fits_high <- function(number, range) {
  number == range$high || is.finite(range$high) && abs(number - range$high) <= 1
}
