#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <vector>

#include "columns.h"
#include "lengths.h"
#include "parallel.h"

namespace {

// The rows, from 1, in which two columns of numbers differ, and the largest difference of all.
struct Differing {
  std::vector<int> rows;
  double largest = 0;

  template <typename A, typename B>
  void compare(const A *a, const B *b, bool exact, size_t from, size_t to) {
    for (size_t i = from; i < to; i++) {
      bool gone = is_gone(a[i]);
      bool unlike = gone != is_gone(b[i]);
      if (!gone && !unlike)
        unlike = differ(static_cast<double>(a[i]), static_cast<double>(b[i]), exact);
      if (unlike) rows.push_back(static_cast<int>(i) + 1);
    }
  }
  bool differ(double x, double y, bool exact) {
    if (x == y) return false;
    double gap = std::fabs(x - y);
    largest = std::max(largest, gap);
    if (!std::isfinite(gap)) return true;
    return gap > (exact ? 0 : 1e-12 * std::max(std::fabs(x), std::fabs(y)));
  }
  void add(const Differing &other) {
    rows.insert(rows.end(), other.rows.begin(), other.rows.end());
    largest = std::max(largest, other.largest);
  }
};

}  // namespace

// The rows in which two columns of numbers differ: exactly, or by more than 1e-12 of the larger
// one; and always where one of them alone is missing. And the largest difference, of any row.
// [[Rcpp::export]]
Rcpp::List differing_numbers(SEXP a, SEXP b, bool exact) {
  R_xlen_t n = Rf_xlength(a);
  need(Rf_xlength(b) == n, "columns");
  Differing all = with_numbers(a, [&](auto *x) {
    return with_numbers(b, [&](auto *y) {
      return tally_in_two(n, Differing(), [&](Differing &mine, size_t from, size_t to) {
        mine.compare(x, y, exact, from, to);
      });
    });
  });
  return Rcpp::List::create(Rcpp::Named("rows") = all.rows, Rcpp::Named("largest") = all.largest);
}

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
