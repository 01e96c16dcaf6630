#include <Rcpp.h>

#include "lengths.h"

// Which parts of two lists are one and the same object.
// [[Rcpp::export]]
Rcpp::LogicalVector same_objects(Rcpp::List a, Rcpp::List b) {
  need(b.size() >= a.size(), "lists");
  Rcpp::LogicalVector same(a.size());
  for (R_xlen_t i = 0; i < a.size(); i++) same[i] = VECTOR_ELT(a, i) == VECTOR_ELT(b, i);
  return same;
}

// For each part of a list the place of the first that is the same object.
// [[Rcpp::export]]
Rcpp::IntegerVector match_objects(Rcpp::List x) {
  Rcpp::IntegerVector first(x.size());
  for (R_xlen_t i = 0; i < x.size(); i++) {
    R_xlen_t j = 0;
    while (VECTOR_ELT(x, j) != VECTOR_ELT(x, i)) j++;
    first[i] = static_cast<int>(j) + 1;
  }
  return first;
}
