#ifndef ABLETURN_MOMENTS_H
#define ABLETURN_MOMENTS_H

#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <limits>

// A sum of many numbers that keeps the figures of a long double: plain sums of 64 numbers are put
// together with what rounding leaves of each step (Neumaier 1974). A plain sum of millions would be
// off in the last digit of a double, and differ from the exact ones that databases give.
class LongSum {
  long double block = 0, total = 0, lost = 0;
  int held = 0;

  void put(long double value) {
    long double next = total + value;
    bool larger = std::fabs(total) >= std::fabs(value);
    if (std::isfinite(next)) lost += larger ? (total - next) + value : (value - next) + total;
    total = next;
  }

 public:
  void add(long double value) {
    block += value;
    if (++held < 64) return;
    put(block);
    block = 0;
    held = 0;
  }
  void add(const LongSum &other) {
    put(other.total);
    put(other.lost);
    put(other.block);
  }
  long double value() const { return total + (lost + block); }
};

// Sums from which the mean and the SD are told, and the ends.
struct Moments {
  R_xlen_t rows = 0;
  double low = R_PosInf, high = R_NegInf;
  LongSum sum;

  void add(double value, R_xlen_t times = 1) {
    rows += times;
    sum.add(static_cast<long double>(value) * times);
    if (value < low) low = value;
    if (value > high) high = value;
  }
  void add(const Moments &other) {
    rows += other.rows;
    sum.add(other.sum);
    low = std::min(low, other.low);
    high = std::max(high, other.high);
  }
  long double mean() const { return sum.value() / static_cast<double>(rows); }
};

// Sums of the distances from a first mean, and of their squares.
struct Distances {
  LongSum sum, squares;

  void add(long double off, R_xlen_t times = 1) {
    sum.add(off * times);
    squares.add(off * off * times);
  }
  void add(const Distances &other) {
    sum.add(other.sum);
    squares.add(other.squares);
  }
};

inline Rcpp::NumericVector told_moments(const Moments &found, const Distances &off) {
  double rows = found.rows;
  double mean = static_cast<double>(found.mean() + off.sum.value() / rows);
  // What rounding of the sum and of the numbers leaves of a mean of zero tells nothing.
  double size = std::max(std::fabs(found.low), std::fabs(found.high));
  if (std::fabs(mean) < 4 * std::numeric_limits<double>::epsilon() * size) mean = 0;
  long double sum = off.sum.value();
  long double squares = off.squares.value() - sum * sum / rows;
  double sd = rows < 2 ? NA_REAL : static_cast<double>(std::sqrt(squares / (rows - 1)));
  return Rcpp::NumericVector::create(
      Rcpp::Named("rows") = rows, Rcpp::Named("sum") = static_cast<double>(found.sum.value()),
      Rcpp::Named("mean") = rows ? mean : NA_REAL, Rcpp::Named("sd") = sd,
      Rcpp::Named("min") = rows ? found.low : NA_REAL,
      Rcpp::Named("max") = rows ? found.high : NA_REAL);
}

#endif
