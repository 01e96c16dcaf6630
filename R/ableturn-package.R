#' @keywords internal
#' @useDynLib ableturn, .registration = TRUE
#' @importFrom Rcpp sourceCpp
"_PACKAGE"
