#include <Rcpp/Lightest>
#include <R_ext/Altrep.h>

// Columns whose rows stay where they are: R sees a vector of their type, class and length, and may
// ask for these; who touches a value is stopped. What always holds:
//   data1  a function of R that stops with an error in words
//   data2  the length, as a number
namespace {

R_xlen_t unread_length(SEXP x) { return static_cast<R_xlen_t>(REAL(R_altrep_data2(x))[0]); }

// The function does not come back.
void refuse(SEXP x) {
  SEXP call = PROTECT(Rf_lang1(R_altrep_data1(x)));
  Rf_eval(call, R_BaseEnv);
  UNPROTECT(1);
  Rf_error("the rows of a table are not here");
}

void *unread_data(SEXP x, Rboolean) {
  refuse(x);
  return nullptr;
}
const void *unread_data_or_null(SEXP) { return nullptr; }
int unread_whole(SEXP x, R_xlen_t) {
  refuse(x);
  return 0;
}
double unread_real(SEXP x, R_xlen_t) {
  refuse(x);
  return 0;
}
SEXP unread_text(SEXP x, R_xlen_t) {
  refuse(x);
  return R_BlankString;
}
void set_unread_text(SEXP x, R_xlen_t, SEXP) { refuse(x); }

// No values are asked for where none are wanted; and a copy, which R makes where it sets
// attributes, is as unread.
SEXP unread_subset(SEXP x, SEXP rows, SEXP) {
  if (Rf_xlength(rows) == 0) return Rf_allocVector(TYPEOF(x), 0);
  refuse(x);
  return nullptr;
}

R_altrep_class_t unread_reals, unread_wholes, unread_truths, unread_texts;

R_altrep_class_t unread_class(SEXP like) {
  switch (TYPEOF(like)) {
  case REALSXP:
    return unread_reals;
  case INTSXP:
    return unread_wholes;
  case LGLSXP:
    return unread_truths;
  case STRSXP:
    return unread_texts;
  default:
    Rcpp::stop("no column holds such values");
  }
}

SEXP unread_copy(SEXP x, Rboolean) {
  SEXP out = PROTECT(R_new_altrep(unread_class(x), R_altrep_data1(x), R_altrep_data2(x)));
  UNPROTECT(1);
  return out;
}

void unread_methods(R_altrep_class_t type) {
  R_set_altrep_Length_method(type, unread_length);
  R_set_altrep_Duplicate_method(type, unread_copy);
  R_set_altvec_Dataptr_method(type, unread_data);
  R_set_altvec_Dataptr_or_null_method(type, unread_data_or_null);
  R_set_altvec_Extract_subset_method(type, unread_subset);
}

}  // namespace

// [[Rcpp::init]]
void init_unread(DllInfo *dll) {
  unread_reals = R_make_altreal_class("unread_reals", "ableturn", dll);
  unread_wholes = R_make_altinteger_class("unread_wholes", "ableturn", dll);
  unread_truths = R_make_altlogical_class("unread_truths", "ableturn", dll);
  unread_texts = R_make_altstring_class("unread_texts", "ableturn", dll);
  for (R_altrep_class_t type : {unread_reals, unread_wholes, unread_truths, unread_texts})
    unread_methods(type);
  R_set_altreal_Elt_method(unread_reals, unread_real);
  R_set_altinteger_Elt_method(unread_wholes, unread_whole);
  R_set_altlogical_Elt_method(unread_truths, unread_whole);
  R_set_altstring_Elt_method(unread_texts, unread_text);
  R_set_altstring_Set_elt_method(unread_texts, set_unread_text);
}

// A column of so many rows, of the type and class of another, that stops who touches it.
// [[Rcpp::export]]
SEXP unread_column(SEXP like, double rows, Rcpp::Function refuse) {
  Rcpp::NumericVector length = Rcpp::NumericVector::create(rows);
  Rcpp::Shield<SEXP> out(R_new_altrep(unread_class(like), refuse, length));
  Rf_copyMostAttrib(like, out);
  return out;
}
