#ifndef ABLETURN_DISTINCT_H
#define ABLETURN_DISTINCT_H

#include <Rcpp/Lightest>
#include <algorithm>
#include <vector>

#include "columns.h"
#include "places.h"

// Any other values, found by their bits. `most` of them at the most.
template <typename T>
class Distinct {
  Table table;

  static uint64_t key(double value) { return bits_of(value); }
  static uint64_t key(int value) { return bits_of(static_cast<double>(value)); }
  static uint64_t key(SEXP value) { return bits_of(value); }

 public:
  explicit Distinct(size_t most) : table(most) {}
  const std::vector<uint64_t> &held() const { return table.held; }
  // False once there is no room for a value.
  bool add(const T *x, size_t from, size_t to) {
    for (size_t i = from; i < to; i++)
      if (!is_gone(x[i]) && table.add(key(x[i])) < 0) return false;
    return true;
  }
  // Where most of the first rows differ, so will the others.
  static bool repeats(const T *x, R_xlen_t n) {
    const R_xlen_t some = std::min<R_xlen_t>(n, 4096);
    Table begin(some);
    R_xlen_t there = 0;
    for (R_xlen_t i = 0; i < some; i++) {
      if (is_gone(x[i])) continue;
      begin.add(key(x[i]));
      there++;
    }
    return there < 1000 || there - static_cast<R_xlen_t>(begin.held.size()) > there / 64;
  }
  // Codes by the order in which the values came; false at one that was not met.
  bool write(const T *x, uint16_t *to, size_t from, size_t end, std::vector<int> &rows) const {
    const uint16_t gone = static_cast<uint16_t>(table.held.size());
    for (size_t i = from; i < end; i++) {
      int place = is_gone(x[i]) ? gone : table.find(key(x[i]));
      if (place < 0) return false;
      to[i] = static_cast<uint16_t>(place);
      rows[place]++;
    }
    return true;
  }
};

#endif
