#ifndef ABLETURN_MOMENTS_H
#define ABLETURN_MOMENTS_H

#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <limits>

// Sums from which the mean and the SD are told, and the ends.
struct Moments {
  R_xlen_t rows = 0;
  double low = R_PosInf, high = R_NegInf;
  long double sum = 0;

  void add(double value, R_xlen_t times = 1) {
    rows += times;
    sum += static_cast<long double>(value) * times;
    if (value < low) low = value;
    if (value > high) high = value;
  }
  void add(const Moments &other) {
    rows += other.rows;
    sum += other.sum;
    low = std::min(low, other.low);
    high = std::max(high, other.high);
  }
};

// Sums of the distances from a first mean, and of their squares.
struct Distances {
  long double sum = 0, squares = 0;

  void add(long double off, R_xlen_t times = 1) {
    sum += off * times;
    squares += off * off * times;
  }
  void add(const Distances &other) {
    sum += other.sum;
    squares += other.squares;
  }
};

inline Rcpp::NumericVector told_moments(const Moments &found, const Distances &off) {
  double rows = found.rows;
  double mean = static_cast<double>(found.sum / rows + off.sum / rows);
  // What rounding leaves of a mean of zero depends on the order of the rows.
  double size = std::max(std::fabs(found.low), std::fabs(found.high));
  if (std::fabs(mean) < std::numeric_limits<double>::epsilon() * size) mean = 0;
  long double squares = off.squares - off.sum * off.sum / rows;
  double sd = rows < 2 ? NA_REAL : static_cast<double>(std::sqrt(squares / (rows - 1)));
  return Rcpp::NumericVector::create(
      Rcpp::Named("rows") = rows, Rcpp::Named("sum") = static_cast<double>(found.sum),
      Rcpp::Named("mean") = rows ? mean : NA_REAL, Rcpp::Named("sd") = sd,
      Rcpp::Named("min") = rows ? found.low : NA_REAL,
      Rcpp::Named("max") = rows ? found.high : NA_REAL);
}

#endif
