# Between which ends the numbers of a table lie, how many there are, and how many are not whole.

#' @export
extent_at.ableturn_table_site <- function(site, x, keys = list()) {
  question <- new_question(site, c(list(x), keys), numbers = 1)
  found <- fetch_ends(question)
  in_order_of_keys(c(list(keys = found$keys), found$told))
}

# The ends of the first column in each group and, summed up, what else is `told`. Numbers are seldom
# infinite: only where one is are the ends of the others asked for.
fetch_ends <- function(question, told = NULL) {
  found <- fetch_ends_of(question, "s.ask_1", told)
  ends <- c(found$told$low, found$told$high)
  if (!any(is.infinite(ends) | is.nan(ends))) return(found)
  finite <- finite_test("s.ask_1", question$site$engine)
  fetch_ends_of(question, paste0("CASE WHEN ", finite, " THEN s.ask_1 END"), told)
}

fetch_ends_of <- function(question, finite, told) {
  ends <- c(
    n = "COUNT(*)", valid = "COUNT(s.ask_1)", rows = paste0("COUNT(", finite, ")"),
    low = paste0("MIN(", finite, ")"), high = paste0("MAX(", finite, ")"),
    fractions = paste0("SUM(CASE WHEN s.ask_1 <> ", fill_sql(question$site$engine$floor, "s.ask_1"),
      " THEN 1 ELSE 0 END)"))
  found <- fetch_grouped(question, question$names[-1], c(ends, told), c("SUM", "SUM", "SUM", "MIN",
    "MAX", rep("SUM", 1 + length(told))))
  check_same_rows(question, found$told$n)
  found$told$rows <- found$told$rows %|% 0
  found$told$fractions <- found$told$fractions %|% 0
  found
}

finite_test <- function(x, engine) {
  largest <- number_sql(.Machine$double.xmax, engine)
  paste0(x, " >= -", largest, " AND ", x, " <= ", largest)
}
