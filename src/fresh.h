#ifndef ABLETURN_FRESH_H
#define ABLETURN_FRESH_H

#include <Rcpp/Lightest>
#include <cstdint>
#ifdef __linux__
#include <sys/mman.h>
#endif

// A new column. Most of the time it takes to fill a large one goes into fetching its memory page
// by page; where the system can, it is asked for large pages.
inline SEXP fresh_column(SEXPTYPE type, R_xlen_t n) {
  SEXP x = Rf_allocVector(type, n);
#if defined(__linux__) && defined(MADV_HUGEPAGE)
  const uintptr_t page = uintptr_t(1) << 21;
  if (n < 1000000 || type == STRSXP) return x;
  uintptr_t begin = 0, bytes = n * (type == REALSXP ? 8 : type == RAWSXP ? 1 : 4);
  if (type == REALSXP) begin = reinterpret_cast<uintptr_t>(REAL(x));
  else if (type == RAWSXP) begin = reinterpret_cast<uintptr_t>(RAW(x));
  else begin = reinterpret_cast<uintptr_t>(type == LGLSXP ? LOGICAL(x) : INTEGER(x));
  uintptr_t from = (begin + page - 1) & ~(page - 1), to = (begin + bytes) & ~(page - 1);
  if (to > from) madvise(reinterpret_cast<void *>(from), to - from, MADV_HUGEPAGE);
#endif
  return x;
}

#endif
