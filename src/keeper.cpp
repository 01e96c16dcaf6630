#include <Rcpp/Lightest>
#include <R_ext/Altrep.h>

#include "lengths.h"

// What a data frame that is a book remembers stands in one attribute: a whole-number vector of no
// length, so that who copies, compares or prints attributes meets nothing. It holds the book and
// the very columns of the data frame. It is written to files by way of a function of R, `packing`,
// and comes back as what that gave, which is read when it is first asked for.
namespace {

R_altrep_class_t keepers;
SEXP packing = R_NilValue;

R_xlen_t no_length(SEXP) { return 0; }
void *no_data(SEXP, Rboolean) {
  static int none = 0;
  return &none;
}
const void *no_data_yet(SEXP x) { return no_data(x, FALSE); }
int no_element(SEXP, R_xlen_t) { return NA_INTEGER; }
SEXP itself(SEXP x, Rboolean) { return x; }

SEXP packed(SEXP x) {
  if (packing == R_NilValue) return R_NilValue;
  SEXP call = PROTECT(Rf_lang3(packing, R_altrep_data1(x), R_altrep_data2(x)));
  SEXP out = R_forceAndCall(call, 2, R_BaseEnv);
  UNPROTECT(1);
  return out;
}

SEXP unpacked(SEXP, SEXP state) { return R_new_altrep(keepers, state, R_NilValue); }

Rboolean inspect(SEXP, int, int, int, void (*)(SEXP, int, int, int)) {
  Rprintf("what a turned data frame remembers\n");
  return TRUE;
}

}  // namespace

// [[Rcpp::init]]
void init_keepers(DllInfo *dll) {
  keepers = R_make_altinteger_class("keeper", "ableturn", dll);
  R_set_altrep_Length_method(keepers, no_length);
  R_set_altrep_Duplicate_method(keepers, itself);
  R_set_altrep_Inspect_method(keepers, inspect);
  R_set_altrep_Serialized_state_method(keepers, packed);
  R_set_altrep_Unserialize_method(keepers, unpacked);
  R_set_altvec_Dataptr_method(keepers, no_data);
  R_set_altvec_Dataptr_or_null_method(keepers, no_data_yet);
  R_set_altinteger_Elt_method(keepers, no_element);
}

// A keeper of a book and of the columns of its data frame.
// [[Rcpp::export]]
SEXP new_keeper(SEXP book, SEXP columns) { return R_new_altrep(keepers, book, columns); }

// [[Rcpp::export]]
bool is_keeper(SEXP x) { return ALTREP(x) && R_altrep_inherits(x, keepers); }

// Its book, or what came from a file in its place.
// [[Rcpp::export]]
SEXP kept_book(SEXP keeper) {
  need(is_keeper(keeper), "books");
  return R_altrep_data1(keeper);
}

// The columns that it was made with; NULL for one from a file.
// [[Rcpp::export]]
SEXP kept_columns(SEXP keeper) {
  need(is_keeper(keeper), "books");
  return R_altrep_data2(keeper);
}

// What a keeper of a file is from now on.
// [[Rcpp::export]]
void keep_in(SEXP keeper, SEXP book, SEXP columns) {
  need(is_keeper(keeper), "books");
  R_set_altrep_data1(keeper, book);
  R_set_altrep_data2(keeper, columns);
}

// The function that makes of a book and its columns what is written to files.
// [[Rcpp::export]]
void pack_keepers_by(SEXP pack) {
  if (packing != R_NilValue) R_ReleaseObject(packing);
  packing = pack;
  R_PreserveObject(packing);
}

// Whether a data frame has the very columns that a book made.
// [[Rcpp::export]]
bool has_very_columns(SEXP frame, SEXP columns) {
  if (TYPEOF(frame) != VECSXP || Rf_xlength(frame) != Rf_xlength(columns)) return false;
  for (R_xlen_t i = 0; i < Rf_xlength(columns); i++)
    if (VECTOR_ELT(frame, i) != VECTOR_ELT(columns, i)) return false;
  return true;
}
