#' @export
conditionMessage.ableturn_progress <- function(c) {
  told <- c$progress
  paste0("  ", grouped(told$done), " of ", counted(told$steps, told$what), " made, ", round(told$seconds),
    " s so far\n")
}
