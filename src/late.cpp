#include <Rcpp/Lightest>
#include <R_ext/Altrep.h>

#include "lengths.h"

// A column of numbers that is worked out when something first touches it.
namespace {

SEXP values_of(SEXP x) {
  SEXP done = R_altrep_data2(x);
  if (done != R_NilValue) return done;
  SEXP parts = R_altrep_data1(x);
  SEXP call = PROTECT(Rf_lang1(VECTOR_ELT(parts, 0)));
  done = PROTECT(Rf_eval(call, R_BaseEnv));
  if (TYPEOF(done) != REALSXP || Rf_xlength(done) != Rf_asReal(VECTOR_ELT(parts, 1)))
    Rf_error("A column that is worked out late has other values than it must.");
  R_set_altrep_data2(x, done);
  SET_VECTOR_ELT(parts, 0, R_NilValue);
  UNPROTECT(2);
  return done;
}

R_xlen_t length_of(SEXP x) {
  return static_cast<R_xlen_t>(Rf_asReal(VECTOR_ELT(R_altrep_data1(x), 1)));
}
void *data_method(SEXP x, Rboolean) { return REAL(values_of(x)); }
const void *data_or_null(SEXP x) {
  return R_altrep_data2(x) == R_NilValue ? nullptr : REAL_RO(R_altrep_data2(x));
}
double real_at(SEXP x, R_xlen_t i) { return REAL_RO(values_of(x))[i]; }

R_altrep_class_t late;

}  // namespace

// [[Rcpp::init]]
void init_late(DllInfo *dll) {
  late = R_make_altreal_class("late_reals", "ableturn", dll);
  R_set_altrep_Length_method(late, length_of);
  R_set_altvec_Dataptr_method(late, data_method);
  R_set_altvec_Dataptr_or_null_method(late, data_or_null);
  R_set_altreal_Elt_method(late, real_at);
}

// As many numbers as `rows`, which `make` gives, with these attributes.
// [[Rcpp::export]]
SEXP new_late(Rcpp::Function make, double rows, Rcpp::List attributes) {
  Rcpp::List parts = Rcpp::List::create(make, rows);
  Rcpp::Shield<SEXP> out(R_new_altrep(late, parts, R_NilValue));
  if (attributes.size() == 0) return out;
  Rcpp::CharacterVector names = attributes.names();
  for (R_xlen_t i = 0; i < attributes.size(); i++)
    Rf_setAttrib(out, Rf_installChar(names[i]), attributes[i]);
  return out;
}
