#ifndef ABLETURN_COLUMNS_H
#define ABLETURN_COLUMNS_H

#include <Rcpp/Lightest>
#include <climits>
#include <cmath>

// A column from R by its type: the work is written once, for any type of value, and must give the
// same type of result for each. Numbers are doubles, or whole numbers, as which truth values are
// read, too.
template <typename Work>
auto with_numbers(SEXP x, Work work) -> decltype(work(static_cast<const double *>(nullptr))) {
  if (TYPEOF(x) == REALSXP) return work(static_cast<const double *>(REAL(x)));
  return work(static_cast<const int *>(TYPEOF(x) == LGLSXP ? LOGICAL(x) : INTEGER(x)));
}

// The same for numbers or texts.
template <typename Work>
auto with_values(SEXP x, Work work) -> decltype(work(static_cast<const double *>(nullptr))) {
  if (TYPEOF(x) == STRSXP) return work(STRING_PTR_RO(x));
  return with_numbers(x, work);
}

// Whether a value is missing: of doubles, whatever is no number.
inline bool is_gone(int value) { return value == INT_MIN; }
inline bool is_gone(double value) { return std::isnan(value); }
inline bool is_gone(SEXP value) { return value == NA_STRING; }
inline bool is_gone(Rbyte) { return false; }

inline bool is_endless(int) { return false; }
inline bool is_endless(double value) { return std::isinf(value); }

// Neither missing nor infinite.
template <typename T>
bool is_finite_value(T value) {
  return !is_gone(value) && !is_endless(value);
}

#endif
