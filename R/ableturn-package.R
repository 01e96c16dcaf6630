#' @keywords internal
#' @useDynLib ableturn, .registration = TRUE
#' @importFrom Rcpp sourceCpp
"_PACKAGE"

# The data of a figure, by the name that ggplot2 knows them under.
utils::globalVariables(".data")
