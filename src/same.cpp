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

// One value of a column, as it is compared at a glance.
double number_at(SEXP x, R_xlen_t i) {
  if (TYPEOF(x) == REALSXP) return REAL_ELT(x, i);
  int value = TYPEOF(x) == LGLSXP ? LOGICAL_ELT(x, i) : INTEGER_ELT(x, i);
  return is_gone(value) ? NA_REAL : value;
}

bool near(SEXP x, SEXP other, R_xlen_t i) {
  if (TYPEOF(x) == STRSXP) {
    SEXP a = STRING_ELT(x, i), b = STRING_ELT(other, i);
    return is_gone(a) || (!is_gone(b) && Rf_NonNullStringMatch(a, b));
  }
  double a = number_at(x, i), b = number_at(other, i);
  return is_gone(a) || a == b ||
         (!is_gone(b) && std::fabs(a - b) <= 1e-9 * (std::fabs(a) + std::fabs(b)));
}

// Numbers, with truth values; texts; all else, such as factors and dates.
int family(SEXP x) {
  if (OBJECT(x)) return 0;
  switch (TYPEOF(x)) {
  case LGLSXP:
  case INTSXP:
  case REALSXP:
    return 1;
  case STRSXP:
    return 2;
  default:
    return 0;
  }
}

// A column, or the values of a variable.
SEXP values_of_column(SEXP column) {
  return TYPEOF(column) == ENVSXP ? SEXP(Rcpp::Environment(column).get("x")) : column;
}

}  // namespace

// Which columns hold the values of another one, in the given rows, from 1, in which that has any:
// NA where this cannot be told at a glance, as one of them is of another kind. A variable stands
// for its values. No column is expanded for it.
// [[Rcpp::export]]
Rcpp::LogicalVector alike_at_a_glance(SEXP x, Rcpp::List others, Rcpp::IntegerVector rows) {
  Rcpp::LogicalVector alike(others.size(), NA_LOGICAL);
  for (R_xlen_t j = 0; j < others.size(); j++) {
    Rcpp::RObject other = values_of_column(others[j]);
    if (!family(x) || family(x) != family(other)) continue;
    need(Rf_xlength(other) == Rf_xlength(x), "columns");
    alike[j] = std::all_of(rows.begin(), rows.end(), [&](int row) {
      need(row > 0 && row <= Rf_xlength(x), "rows");
      return near(x, other, row - 1);
    });
  }
  return alike;
}

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
