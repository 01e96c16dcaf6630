#ifndef ABLETURN_INDEX_H
#define ABLETURN_INDEX_H

#include <Rcpp/Lightest>
#include <cstdint>
#include <vector>

#include "lengths.h"

// The index of a column says for each row in which slot its answer stands, in one byte where there
// are up to 256 slots, else in two. R holds it as a raw vector; how many slots there are is always
// told with it.
const R_xlen_t narrow_slots = 256, most_slots = 65536;

inline bool is_wide(R_xlen_t slots) { return slots > narrow_slots; }

struct Index {
  const uint8_t *narrow = nullptr;
  const uint16_t *wide = nullptr;
  R_xlen_t rows = 0;

  Index(SEXP codes, R_xlen_t slots) {
    need(TYPEOF(codes) == RAWSXP && slots <= most_slots, "an index and its slots");
    rows = Rf_xlength(codes);
    if (!is_wide(slots)) {
      narrow = RAW(codes);
      return;
    }
    need(rows % 2 == 0, "an index and its slots");
    wide = reinterpret_cast<const uint16_t *>(RAW(codes));
    rows /= 2;
  }
  // Calls work(codes) with the codes of either width.
  template <typename Work>
  void with_codes(Work work) const {
    if (narrow) work(narrow);
    else work(wide);
  }
};

// A table over slots, long enough for any code, so that no row leads beyond it.
template <typename T>
std::vector<T> table_of(const T *from, R_xlen_t slots, T rest) {
  std::vector<T> table(is_wide(slots) ? most_slots : narrow_slots, rest);
  std::copy(from, from + slots, table.begin());
  return table;
}

#endif
