#ifndef ABLETURN_FACTS_H
#define ABLETURN_FACTS_H

#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <vector>

#include "columns.h"
#include "places.h"
#include "parallel.h"

// What is known of a column: how many rows are valid, the ends, and, where there are few, the
// distinct values with how many rows hold each.
const int many =
    2048;  // more distinct values than this are not told, unless they are close together
const int negatives_told = 21;

struct Facts {
  double valid = 0, low = R_PosInf, high = R_NegInf;
  int negatives = 0;
  bool few = true;
  std::vector<double> values;
  std::vector<double> rows;

  void add(double value, double count) {
    values.push_back(value);
    rows.push_back(count);
  }
  // Once all values are there in their order.
  void close() {
    if (values.empty()) return;
    low = values.front();
    high = values.back();
    for (double value : values) negatives += value < 0 && negatives < negatives_told;
  }
};

// How many distinct negative values there are, up to a handful.
struct Negatives {
  double seen[negatives_told];
  int count = 0;
  void add(double value) {
    if (count == negatives_told) return;
    for (int i = 0; i < count; i++)
      if (seen[i] == value) return;
    seen[count++] = value;
  }
};

// Of a column whose ends are known.
template <typename T>
void count_negatives(const T *x, R_xlen_t n, Facts &facts) {
  Negatives negatives;
  for (R_xlen_t i = 0; facts.low < 0 && i < n && negatives.count < negatives_told; i++)
    if (x[i] < 0 && is_finite_value(x[i])) negatives.add(x[i]);
  facts.negatives = negatives.count;
}

// Counts are whole numbers of R as long as these hold them.
inline Rcpp::RObject told_rows(const std::vector<double> &rows) {
  for (double count : rows)
    if (count > INT_MAX) return Rcpp::wrap(rows);
  Rcpp::IntegerVector counts(rows.size());
  for (size_t i = 0; i < rows.size(); i++) counts[i] = static_cast<int>(rows[i]);
  return counts;
}

inline Rcpp::List told_facts(const Facts &facts, Rcpp::RObject values) {
  bool none = facts.low > facts.high;
  return Rcpp::List::create(
      Rcpp::Named("valid") = facts.valid, Rcpp::Named("few") = facts.few,
      Rcpp::Named("low") = none ? NA_REAL : facts.low,
      Rcpp::Named("high") = none ? NA_REAL : facts.high, Rcpp::Named("negatives") = facts.negatives,
      Rcpp::Named("values") = values, Rcpp::Named("rows") = told_rows(facts.rows));
}

inline Rcpp::List told_facts(const Facts &facts) {
  return told_facts(facts, Rcpp::wrap(facts.values));
}

#endif
