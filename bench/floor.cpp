#include <Rcpp.h>

// The least that any work on these columns costs: each value is read once, on one core.
namespace {

template <typename T>
int64_t read_words(const T *x, R_xlen_t n) {
  int64_t all = 0;
  for (R_xlen_t i = 0; i < n; i++) all ^= x[i];
  return all;
}

}  // namespace

// [[Rcpp::export]]
double read_once(Rcpp::List columns) {
  int64_t all = 0;
  for (R_xlen_t j = 0; j < columns.size(); j++) {
    SEXP x = columns[j];
    bool wide = TYPEOF(x) == REALSXP || TYPEOF(x) == STRSXP;
    all ^= wide ? read_words(static_cast<const int64_t *>(DATAPTR_RO(x)), Rf_xlength(x))
                : read_words(static_cast<const int *>(DATAPTR_RO(x)), Rf_xlength(x));
  }
  return static_cast<double>(all & 1);
}
