#include <Rcpp/Lightest>
#include <R_ext/Altrep.h>
#include <algorithm>
#include <vector>

#include "fresh.h"
#include "index.h"
#include "indexed.h"

// The columns of indexed.h as R meets them: what R calls when it works with one.
namespace {

using namespace indexed;

// R calls these from its own code, through which no exception of ours may pass.
SEXP write_out(SEXP x) {
  SEXP out = PROTECT(fresh_column(TYPEOF(table_in(x)), length_of(x)));
  bool done = true;
  try {
    look_up_all(index_in(x), table_in(x), out);
  } catch (...) {
    done = false;
  }
  if (!done) Rf_error("a column could not be written out: no memory is left");
  UNPROTECT(1);
  return out;
}

SEXP write_kinds(SEXP x) {
  SEXP out = PROTECT(fresh_column(INTSXP, length_of(x)));
  bool done = true;
  try {
    list_kinds(index_in(x), table_in(x), INTEGER(out), length_of(x));
  } catch (...) {
    done = false;
  }
  if (!done) Rf_error("the reasons of a column could not be written out: no memory is left");
  UNPROTECT(1);
  return out;
}

SEXP all_values(SEXP x) {
  if (!is_written(x)) R_set_altrep_data2(x, write_out(x));
  return written_out(x);
}
SEXP all_kinds(SEXP x) {
  if (!is_written(x)) R_set_altrep_data2(x, write_kinds(x));
  return written_out(x);
}

// The slot of a row; the last one for a code that has none.
R_xlen_t slot_at(SEXP x, R_xlen_t i) {
  SEXP codes = codes_of(x);
  R_xlen_t slots = Rf_xlength(table_in(x));
  R_xlen_t slot =
      is_wide(slots) ? reinterpret_cast<const uint16_t *>(RAW(codes))[i] : RAW(codes)[i];
  return slot < slots ? slot : slots - 1;
}

void *data_of(SEXP x) {
  switch (TYPEOF(x)) {
  case REALSXP:
    return REAL(x);
  case INTSXP:
    return INTEGER(x);
  case LGLSXP:
    return LOGICAL(x);
  default:
    return const_cast<SEXP *>(STRING_PTR_RO(x));
  }
}

R_xlen_t length_method(SEXP x) { return length_of(x); }
void *data_method(SEXP x, Rboolean) { return data_of(all_values(x)); }
void *kinds_method(SEXP x, Rboolean) { return INTEGER(all_kinds(x)); }
const void *data_or_null(SEXP x) { return is_written(x) ? data_of(written_out(x)) : nullptr; }

// A copy is an ordinary vector; the column itself need not be written out for it.
SEXP copy_values(SEXP x, Rboolean) {
  return is_written(x) ? Rf_duplicate(written_out(x)) : write_out(x);
}
SEXP copy_kinds(SEXP x, Rboolean) {
  return is_written(x) ? Rf_duplicate(written_out(x)) : write_kinds(x);
}

// Who looks up many rows one by one wants them all: they are written out.
bool is_written_by_now(SEXP x) {
  if (is_written(x)) return true;
  SEXP counts = VECTOR_ELT(R_altrep_data1(x), 2);
  if (++REAL(counts)[1] < 4096 + REAL(counts)[0] / 16) return false;
  all_values(x);
  return true;
}

double real_at(SEXP x, R_xlen_t i) {
  return is_written_by_now(x) ? REAL(written_out(x))[i] : REAL(table_in(x))[slot_at(x, i)];
}
int whole_at(SEXP x, R_xlen_t i) {
  return is_written_by_now(x) ? INTEGER(written_out(x))[i] : INTEGER(table_in(x))[slot_at(x, i)];
}
int truth_at(SEXP x, R_xlen_t i) {
  return is_written_by_now(x) ? LOGICAL(written_out(x))[i] : LOGICAL(table_in(x))[slot_at(x, i)];
}
SEXP text_at(SEXP x, R_xlen_t i) {
  return is_written_by_now(x) ? STRING_ELT(written_out(x), i)
                              : STRING_ELT(table_in(x), slot_at(x, i));
}
void set_text(SEXP x, R_xlen_t i, SEXP text) { SET_STRING_ELT(all_values(x), i, text); }
int kind_at(SEXP x, R_xlen_t i) { return INTEGER(all_kinds(x))[i]; }

// The slots of rows, by their numbers from 1; whether each is the number of a row.
template <typename Row>
bool slots_of_rows(SEXP x, Row row_at, std::vector<int> &slots) {
  Index index = index_in(x);
  const int last = static_cast<int>(Rf_xlength(table_in(x))) - 1;
  const double most = static_cast<double>(length_of(x));
  bool all = true;
  index.with_codes([&](auto *codes) {
    for (size_t k = 0; k < slots.size() && all; k++) {
      double row = row_at(k);
      all = row >= 1 && row <= most;
      if (all) slots[k] = std::min<int>(codes[static_cast<R_xlen_t>(row) - 1], last);
    }
  });
  return all;
}

// Numbers that R has as a sequence are not written out.
bool slots_of(SEXP x, SEXP rows, std::vector<int> &slots) {
  if (TYPEOF(rows) == INTSXP)
    return slots_of_rows(x, [=](size_t k) { return INTEGER_ELT(rows, k); }, slots);
  return slots_of_rows(x, [=](size_t k) { return REAL_ELT(rows, k); }, slots);
}

template <typename T>
void values_of_slots(const std::vector<int> &slots, const T *table, T *to) {
  for (size_t k = 0; k < slots.size(); k++) to[k] = table[slots[k]];
}

SEXP values_of_rows(SEXP table, const std::vector<int> &slots) {
  SEXP out = PROTECT(Rf_allocVector(TYPEOF(table), slots.size()));
  if (TYPEOF(table) == REALSXP) values_of_slots(slots, REAL(table), REAL(out));
  else if (TYPEOF(table) == LGLSXP) values_of_slots(slots, LOGICAL(table), LOGICAL(out));
  else if (TYPEOF(table) == INTSXP) values_of_slots(slots, INTEGER(table), INTEGER(out));
  else
    for (size_t k = 0; k < slots.size(); k++) SET_STRING_ELT(out, k, STRING_ELT(table, slots[k]));
  UNPROTECT(1);
  return out;
}

// Some rows, by their numbers from 1; NULL, for R to do it itself, where these are no plain ones.
SEXP some_values(SEXP x, SEXP rows, SEXP) {
  if (is_written(x) || (TYPEOF(rows) != INTSXP && TYPEOF(rows) != REALSXP)) return nullptr;
  bool whole = false, enough = true;
  SEXP out = nullptr;
  try {
    std::vector<int> slots(Rf_xlength(rows));
    whole = slots_of(x, rows, slots);
    if (whole) out = values_of_rows(table_in(x), slots);
  } catch (...) {
    enough = false;
  }
  if (!enough) Rf_error("rows of a column could not be looked up: no memory is left");
  return out;
}

R_altrep_class_t reals, wholes, truths, texts, kinds;

void common_methods(R_altrep_class_t type, bool of_kinds) {
  R_set_altrep_Length_method(type, length_method);
  R_set_altrep_Duplicate_method(type, of_kinds ? copy_kinds : copy_values);
  R_set_altvec_Dataptr_method(type, of_kinds ? kinds_method : data_method);
  R_set_altvec_Dataptr_or_null_method(type, data_or_null);
}

SEXP new_indexed(R_altrep_class_t type, SEXP codes, SEXP table, R_xlen_t length) {
  Rcpp::Shield<SEXP> parts(Rf_allocVector(VECSXP, 3));
  SET_VECTOR_ELT(parts, 0, codes);
  SET_VECTOR_ELT(parts, 1, table);
  Rcpp::NumericVector counts = Rcpp::NumericVector::create(static_cast<double>(length), 0);
  SET_VECTOR_ELT(parts, 2, counts);
  MARK_NOT_MUTABLE(codes);
  MARK_NOT_MUTABLE(table);
  Rcpp::Shield<SEXP> out(R_new_altrep(type, parts, R_NilValue));
  Rf_copyMostAttrib(table, out);
  return out;
}

R_altrep_class_t class_for(SEXP table) {
  switch (TYPEOF(table)) {
  case REALSXP:
    return reals;
  case INTSXP:
    return wholes;
  case LGLSXP:
    return truths;
  case STRSXP:
    return texts;
  default:
    Rcpp::stop("no column holds such values");
  }
}

struct SlotRows {
  std::vector<int> rows;
  void add(const SlotRows &other) {
    for (size_t j = 0; j < rows.size(); j++) rows[j] += other.rows[j];
  }
};

std::vector<int> rows_of_slots(const Index &index, R_xlen_t slots) {
  SlotRows none{std::vector<int>(is_wide(slots) ? most_slots : narrow_slots, 0)};
  std::vector<int> rows;
  index.with_codes([&](auto *codes) {
    rows = tally_in_two(index.rows, none, [&](SlotRows &mine, size_t from, size_t to) {
             for (size_t i = from; i < to; i++) mine.rows[codes[i]]++;
           }).rows;
  });
  rows.resize(slots);
  return rows;
}

}  // namespace

// [[Rcpp::init]]
void init_indexed(DllInfo *dll) {
  reals = R_make_altreal_class("indexed_reals", "ableturn", dll);
  wholes = R_make_altinteger_class("indexed_wholes", "ableturn", dll);
  truths = R_make_altlogical_class("indexed_truths", "ableturn", dll);
  texts = R_make_altstring_class("indexed_texts", "ableturn", dll);
  kinds = R_make_altinteger_class("indexed_kinds", "ableturn", dll);
  for (R_altrep_class_t type : {reals, wholes, truths, texts}) {
    common_methods(type, false);
    R_set_altvec_Extract_subset_method(type, some_values);
  }
  common_methods(kinds, true);
  R_set_altreal_Elt_method(reals, real_at);
  R_set_altinteger_Elt_method(wholes, whole_at);
  R_set_altlogical_Elt_method(truths, truth_at);
  R_set_altstring_Elt_method(texts, text_at);
  R_set_altstring_Set_elt_method(texts, set_text);
  R_set_altinteger_Elt_method(kinds, kind_at);
}

// The column of an index and a value for each slot, whose attributes it has.
// [[Rcpp::export]]
SEXP indexed_values(SEXP codes, SEXP table) {
  need(Rf_xlength(table) > 0, "an index and its slots");
  R_altrep_class_t type = class_for(table);
  return new_indexed(type, codes, table, Index(codes, Rf_xlength(table)).rows);
}

// The kinds of its missing rows, `gone` of them; `kind` has 0 for slots of valid answers.
// [[Rcpp::export]]
SEXP indexed_kinds(SEXP codes, Rcpp::IntegerVector kind, double gone) {
  Index(codes, kind.size());
  return new_indexed(kinds, codes, kind, static_cast<R_xlen_t>(gone));
}

// Whether a column is one of these and not yet written out.
// [[Rcpp::export]]
bool is_not_written(SEXP x) {
  return ALTREP(x) &&
         (R_altrep_inherits(x, reals) || R_altrep_inherits(x, wholes) ||
          R_altrep_inherits(x, truths) || R_altrep_inherits(x, texts)) &&
         !is_written(x);
}

// What such a column consists of: `codes`, the `values` of the slots, and how many `rows` are in
// each.
// [[Rcpp::export]]
Rcpp::List indexed_parts(SEXP x) {
  need(is_not_written(x), "an index and its slots");
  Index index = index_in(x);
  std::vector<int> rows = rows_of_slots(index, Rf_xlength(table_in(x)));
  return Rcpp::List::create(Rcpp::Named("codes") = codes_of(x),
                            Rcpp::Named("values") = table_in(x), Rcpp::Named("rows") = rows);
}
