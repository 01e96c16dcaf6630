#ifndef ABLETURN_LENGTHS_H
#define ABLETURN_LENGTHS_H

#include <Rcpp/Lightest>

// Kernels read what they are given by position: what is too short is refused before anything is
// read.
inline void need(bool fits, const char *what) {
  if (!fits) Rcpp::stop("%s do not fit each other; nothing was read", what);
}

inline void need_columns(const Rcpp::List &columns, R_xlen_t rows) {
  for (R_xlen_t j = 0; j < columns.size(); j++) need(Rf_xlength(columns[j]) == rows, "columns");
}

#endif
