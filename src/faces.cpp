#include <Rcpp/Lightest>
#include <R_ext/Altrep.h>
#include <algorithm>
#include <vector>

#include "fresh.h"
#include "lengths.h"

// An original as a data frame shows it: its declared missing codes are NA. Its rows are gone
// through when something first touches them all.
namespace {

// Codes, sorted, and closed ranges of them.
struct Codes {
  const double *points;
  R_xlen_t n;
  const double *ends;
  R_xlen_t ranges;

  explicit Codes(SEXP x)
      : points(REAL(VECTOR_ELT(R_altrep_data1(x), 1))),
        n(Rf_xlength(VECTOR_ELT(R_altrep_data1(x), 1))),
        ends(REAL(VECTOR_ELT(R_altrep_data1(x), 2))),
        ranges(Rf_xlength(VECTOR_ELT(R_altrep_data1(x), 2)) / 2) {}
  bool hold(double value) const {
    for (R_xlen_t i = 0; i < n; i++)
      if (points[i] == value) return true;
    for (R_xlen_t i = 0; i < ranges; i++)
      if (value >= ends[2 * i] && value <= ends[2 * i + 1]) return true;
    return false;
  }
};

SEXP base_of(SEXP x) { return VECTOR_ELT(R_altrep_data1(x), 0); }
bool is_written(SEXP x) { return R_altrep_data2(x) != R_NilValue; }
R_xlen_t length_of(SEXP x) { return Rf_xlength(base_of(x)); }

SEXP write_out(SEXP x) {
  SEXP base = base_of(x);
  R_xlen_t rows = length_of(x);
  Codes codes(x);
  SEXP out = PROTECT(fresh_column(TYPEOF(base), rows));
  if (TYPEOF(base) == REALSXP) {
    const double *from = REAL_RO(base);
    std::transform(from, from + rows, REAL(out),
                   [&](double value) { return codes.hold(value) ? NA_REAL : value; });
  } else {
    const int *from = INTEGER_RO(base);
    std::transform(from, from + rows, INTEGER(out), [&](int value) {
      return value != NA_INTEGER && codes.hold(value) ? NA_INTEGER : value;
    });
  }
  UNPROTECT(1);
  return out;
}

SEXP written(SEXP x) {
  if (!is_written(x)) R_set_altrep_data2(x, write_out(x));
  return R_altrep_data2(x);
}

const void *values_in(SEXP x) {
  return TYPEOF(x) == REALSXP ? static_cast<const void *>(REAL_RO(x)) : INTEGER_RO(x);
}
void *data_method(SEXP x, Rboolean) { return const_cast<void *>(values_in(written(x))); }
const void *data_or_null(SEXP x) {
  return is_written(x) ? values_in(R_altrep_data2(x)) : nullptr;
}
SEXP copy(SEXP x, Rboolean) {
  return is_written(x) ? Rf_duplicate(R_altrep_data2(x)) : write_out(x);
}

double real_at(SEXP x, R_xlen_t i) {
  if (is_written(x)) return REAL_RO(R_altrep_data2(x))[i];
  double value = REAL_ELT(base_of(x), i);
  return Codes(x).hold(value) ? NA_REAL : value;
}
int whole_at(SEXP x, R_xlen_t i) {
  if (is_written(x)) return INTEGER_RO(R_altrep_data2(x))[i];
  int value = INTEGER_ELT(base_of(x), i);
  return value != NA_INTEGER && Codes(x).hold(value) ? NA_INTEGER : value;
}

// Rows in a stretch, without writing out the others.
template <typename T, typename At>
R_xlen_t stretch(SEXP x, R_xlen_t from, R_xlen_t n, T *to, At at) {
  R_xlen_t rows = std::min(n, length_of(x) - from);
  for (R_xlen_t k = 0; k < rows; k++) to[k] = at(x, from + k);
  return rows;
}
R_xlen_t some_reals(SEXP x, R_xlen_t from, R_xlen_t n, double *to) {
  return stretch(x, from, n, to, real_at);
}
R_xlen_t some_wholes(SEXP x, R_xlen_t from, R_xlen_t n, int *to) {
  return stretch(x, from, n, to, whole_at);
}

R_altrep_class_t reals, wholes;

}  // namespace

// [[Rcpp::init]]
void init_faces(DllInfo *dll) {
  reals = R_make_altreal_class("face_reals", "ableturn", dll);
  wholes = R_make_altinteger_class("face_wholes", "ableturn", dll);
  for (R_altrep_class_t type : {reals, wholes}) {
    R_set_altrep_Length_method(type, length_of);
    R_set_altrep_Duplicate_method(type, copy);
    R_set_altvec_Dataptr_method(type, data_method);
    R_set_altvec_Dataptr_or_null_method(type, data_or_null);
  }
  R_set_altreal_Elt_method(reals, real_at);
  R_set_altinteger_Elt_method(wholes, whole_at);
  R_set_altreal_Get_region_method(reals, some_reals);
  R_set_altinteger_Get_region_method(wholes, some_wholes);
}

// A column of numbers with these codes, and what lies in the closed `ranges`, two ends each, as NA.
// [[Rcpp::export]]
SEXP new_face(SEXP base, Rcpp::NumericVector codes, Rcpp::NumericVector ranges) {
  need(TYPEOF(base) == REALSXP || TYPEOF(base) == INTSXP, "columns of numbers");
  need(ranges.size() % 2 == 0, "ranges and their ends");
  Rcpp::List parts = Rcpp::List::create(base, codes, ranges);
  MARK_NOT_MUTABLE(base);
  Rcpp::Shield<SEXP> out(R_new_altrep(TYPEOF(base) == REALSXP ? reals : wholes, parts, R_NilValue));
  Rf_copyMostAttrib(base, out);
  return out;
}
