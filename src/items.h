#ifndef ABLETURN_ITEMS_H
#define ABLETURN_ITEMS_H

#include <Rcpp/Lightest>
#include <climits>
#include <cmath>
#include <vector>

#include "index.h"

// Items of a scale, read a block of rows at a time from their columns, which are not copied: a
// vector, or a list of an index and a number for each of its cells. A reversed item is its column
// with sign -1 and shifted.
const int block_rows = 256;

class Item {
  // Missing values are read as 0, with 0 in `there`.
  template <typename T, bool plain>
  static void take(const T *__restrict__ x, double shift, double sign, double *__restrict__ value,
                   double *__restrict__ there) {
    for (int r = 0; r < block_rows; r++) {
      bool held = is_there(x[r]);
      there[r] = held ? 1.0 : 0.0;
      double v = plain ? static_cast<double>(x[r]) : shift + sign * static_cast<double>(x[r]);
      value[r] = held ? v : 0.0;
    }
  }
  static bool is_there(int x) { return x != INT_MIN; }
  static bool is_there(double x) { return x == x; }

  template <typename T>
  void read_from(const T *x, int rows, double *value, double *there) const {
    T copy[block_rows];
    if (rows < block_rows) {
      for (int r = 0; r < block_rows; r++) copy[r] = x[r < rows ? r : 0];
      x = copy;
    }
    if (shift == 0 && sign == 1) take<T, true>(x, shift, sign, value, there);
    else take<T, false>(x, shift, sign, value, there);
  }

  void read_cells(R_xlen_t from, int rows, double *value, double *there) const {
    for (int r = 0; r < block_rows; r++) {
      R_xlen_t i = from + (r < rows ? r : 0);
      double held = table[narrow ? narrow[i] : wide[i]];
      there[r] = held == held ? 1.0 : 0.0;
      value[r] = held == held ? held : 0.0;
    }
  }
  void take_index(SEXP codes, const Rcpp::NumericVector &values) {
    Index index(codes, values.size());
    narrow = index.narrow;
    wide = index.wide;
    length = index.rows;
    table = table_of(values.begin(), values.size(), NA_REAL);
    for (double &value : table) value = shift + sign * value;
  }

 public:
  const int *whole = nullptr;
  const double *real = nullptr;
  const uint8_t *narrow = nullptr;
  const uint16_t *wide = nullptr;
  R_xlen_t length;
  double shift, sign;
  std::vector<double> table;

  Item(SEXP x, double shift, double sign) : length(Rf_xlength(x)), shift(shift), sign(sign) {
    if (TYPEOF(x) == VECSXP) take_index(VECTOR_ELT(x, 0), VECTOR_ELT(x, 1));
    else if (TYPEOF(x) == REALSXP) real = REAL(x);
    else whole = TYPEOF(x) == LGLSXP ? LOGICAL(x) : INTEGER(x);
  }
  bool is_indexed() const { return narrow || wide; }

  // `value` and `there` hold a whole block, whatever the rows; those after the last mean nothing.
  void read(R_xlen_t from, int rows, double *value, double *there) const {
    if (is_indexed()) read_cells(from, rows, value, there);
    else if (real) read_from(real + from, rows, value, there);
    else read_from(whole + from, rows, value, there);
  }
};

inline std::vector<Item> items_of(const Rcpp::List &columns, const Rcpp::NumericVector &shift,
                                  const Rcpp::NumericVector &sign) {
  std::vector<Item> out;
  for (int j = 0; j < columns.size(); j++)
    out.emplace_back(static_cast<SEXP>(columns[j]), shift[j], sign[j]);
  for (const Item &item : out) need(item.length == out[0].length, "columns");
  return out;
}

#endif
