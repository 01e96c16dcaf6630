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
