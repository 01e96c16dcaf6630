# The rows in which two columns differ: exactly for whole numbers and text, to 1e-12 relative for
# other numbers, and always where one of them is missing.
rows_that_differ <- function(ours, theirs) {
  unlike <- is.na(ours) != is.na(theirs)
  both <- which(!is.na(ours) & !is.na(theirs))
  if (is.character(ours) || is.character(theirs)) {
    unlike[both] <- as.character(ours[both]) != as.character(theirs[both])
  } else {
    a <- as.numeric(ours[both])
    b <- as.numeric(theirs[both])
    allowed <- if (is.integer(ours)) 0 else 1e-12 * pmax(abs(a), abs(b))
    unlike[both] <- abs(a - b) > allowed | is.infinite(a) != is.infinite(b)
  }
  which(unlike)
}
