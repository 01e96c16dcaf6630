#include <Rcpp/Lightest>

#include "lengths.h"
#include "moments.h"

namespace {

// A sum from those of the four parts of 22 bits that each number was split into, see
// parts_at_site() in R. `scale`: what the numbers were divided by.
long double sum_of_parts(const Rcpp::NumericMatrix &parts, int row, double scale) {
  const long double unit = 1.0L / (1 << 22);
  long double sum = 0;
  for (int part = 3; part >= 0; part--) sum = (sum + parts(row, part)) * unit;
  return sum * scale;
}

}  // namespace

// What moments() tells, from sums alone, a row for each group of rows: how many there are, the ends,
// the parts of their sum and of that of the squares of their distances from `centre`, which were
// divided by `unit` first so that no square is too large or too small.
//
// [[Rcpp::export]]
Rcpp::NumericMatrix moments_of_parts(Rcpp::NumericVector rows, Rcpp::NumericVector low,
                                     Rcpp::NumericVector high, Rcpp::NumericMatrix sums,
                                     double scale, Rcpp::NumericMatrix squares,
                                     double unit, Rcpp::NumericVector centre) {
  int n = rows.size();
  need(sums.nrow() == n && squares.nrow() == n && centre.size() == n, "rows and sums");
  Rcpp::NumericMatrix out(n, 6);
  Rcpp::colnames(out) = Rcpp::CharacterVector::create("rows", "sum", "mean", "sd", "min", "max");
  for (int i = 0; i < n; i++) {
    Moments found;
    found.rows = static_cast<R_xlen_t>(rows[i]);
    found.low = low[i];
    found.high = high[i];
    Distances off;
    if (found.rows) {
      found.sum.add(sum_of_parts(sums, i, scale));
      long double from_centre = found.sum.value() - rows[i] * static_cast<long double>(centre[i]);
      from_centre /= unit;
      long double from_mean = sum_of_parts(squares, i, 2) - from_centre * from_centre / rows[i];
      off.squares.add(from_mean * unit * unit);
    }
    out.row(i) = told_moments(found, off);
  }
  return out;
}
