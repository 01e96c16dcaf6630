#ifndef ABLETURN_INDEXED_H
#define ABLETURN_INDEXED_H

#include <Rcpp/Lightest>
#include <R_ext/Altrep.h>
#include <algorithm>
#include <vector>

#include "index.h"
#include "parallel.h"

// Columns that are an index and a table: R sees ordinary vectors, whose values are looked up one
// by one, and which are written out only when somebody asks for all of them. What always holds:
//   data1  a list of the codes, the table (of values, with one for each slot), and two numbers: the
//          length, and how many rows were looked up one by one
//   data2  NULL, or the column written out, which alone counts from then on, since R may have
//          written into it
namespace indexed {

inline SEXP codes_of(SEXP x) { return VECTOR_ELT(R_altrep_data1(x), 0); }
inline SEXP table_in(SEXP x) { return VECTOR_ELT(R_altrep_data1(x), 1); }
inline R_xlen_t length_of(SEXP x) {
  return static_cast<R_xlen_t>(REAL(VECTOR_ELT(R_altrep_data1(x), 2))[0]);
}
inline SEXP written_out(SEXP x) { return R_altrep_data2(x); }
inline bool is_written(SEXP x) { return written_out(x) != R_NilValue; }

inline Index index_in(SEXP x) { return Index(codes_of(x), Rf_xlength(table_in(x))); }

template <typename T>
void look_up(const Index &index, SEXP table, const T *values, T *to) {
  std::vector<T> slots = table_of(values, Rf_xlength(table), T());
  index.with_codes([&](auto *codes) {
    in_two_unasked(index.rows, index.rows, [&](size_t from, size_t end) {
      for (size_t i = from; i < end; i++) to[i] = slots[codes[i]];
    });
  });
}

inline void look_up_all(const Index &index, SEXP table, SEXP out) {
  switch (TYPEOF(table)) {
  case REALSXP:
    return look_up(index, table, REAL(table), REAL(out));
  case INTSXP:
    return look_up(index, table, INTEGER(table), INTEGER(out));
  case LGLSXP:
    return look_up(index, table, LOGICAL(table), LOGICAL(out));
  default:
    index.with_codes([&](auto *codes) {
      R_xlen_t slots = Rf_xlength(table);
      for (R_xlen_t i = 0; i < index.rows; i++)
        SET_STRING_ELT(out, i, codes[i] < slots ? STRING_ELT(table, codes[i]) : NA_STRING);
    });
  }
}

// The kinds of the missing rows alone, in their order; slots of valid answers have the kind 0.
inline void list_kinds(const Index &index, SEXP table, int *to, R_xlen_t gone) {
  R_xlen_t at = 0;
  std::vector<int> slots = table_of(static_cast<const int *>(INTEGER(table)), Rf_xlength(table), 0);
  index.with_codes([&](auto *codes) {
    for (R_xlen_t i = 0; i < index.rows && at < gone; i++)
      if (int kind = slots[codes[i]]) to[at++] = kind;
  });
  std::fill(to + at, to + gone, NA_INTEGER);
}

} // namespace indexed

#endif
