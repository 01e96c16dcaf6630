#' @section Options: `options(ableturn.quiet = TRUE)` shows no receipts, `"findings"` only those in
#'   which something looks wrong. Work of many steps that takes over two
#'   seconds says how far it is where a person waits, in a session or a terminal;
#'   `options(ableturn.progress = FALSE)` keeps that quiet, `TRUE` shows it in a log too.
#' @keywords internal
#' @useDynLib ableturn, .registration = TRUE
#' @importFrom Rcpp sourceCpp
#' @importFrom stats setNames
"_PACKAGE"

# The data of a figure, by the name that ggplot2 knows them under.
utils::globalVariables(".data")
