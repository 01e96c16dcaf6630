#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <vector>

#include "fresh.h"
#include "lengths.h"
#include "parallel.h"

// How much of a learned distribution lies below a value: a search that starts where the value's
// share of the range says, from the first point of its bucket.
namespace {

class Steps {
  const double *at;
  R_xlen_t n;
  double low, scale;
  std::vector<int> first;  // the first point in each bucket, or after it

  size_t bucket(double value) const {
    double place = (value - low) * scale;
    return !(place >= 0)               ? 0
           : place >= first.size() - 2 ? first.size() - 2
                                       : static_cast<size_t>(place);
  }

 public:
  explicit Steps(const Rcpp::NumericVector &points) : at(points.begin()), n(points.size()) {
    size_t buckets = std::min<size_t>(1 << 20, n + 1);
    first.assign(buckets + 1, 0);
    low = n ? at[0] : 0;
    double width = n ? at[n - 1] - low : 0;
    scale = width > 0 ? (buckets - 1) / width : 0;
    if (!std::isfinite(scale)) scale = 0;
    for (R_xlen_t j = 0; j < n; j++) first[bucket(at[j]) + 1]++;
    for (size_t b = 0; b < buckets; b++) first[b + 1] += first[b];
  }
  // How many points lie below the value.
  R_xlen_t below(double value) const {
    size_t b = bucket(value);
    return std::lower_bound(at + first[b], at + first[b + 1], value) - at;
  }
  // How many lie at or below it, the first `place` among them.
  R_xlen_t upto(double value, R_xlen_t place) const {
    while (place < n && at[place] <= value) place++;
    return place;
  }
};

}  // namespace

// For each value what `upto` holds at the last point below it, and what the points that it is next
// to, no further off than `near`, add to that; of what is not finite nothing.
// [[Rcpp::export]]
Rcpp::List held_around(Rcpp::NumericVector x, Rcpp::NumericVector at, Rcpp::NumericVector upto,
                       double near) {
  R_xlen_t n = x.size();
  need(at.size() == upto.size(), "points of a distribution");
  Rcpp::NumericVector below(fresh_column(REALSXP, n)), equal(fresh_column(REALSXP, n));
  Steps steps(at);
  const double *value = x.begin(), *held = upto.begin();
  double *under = below.begin(), *here = equal.begin();
  in_two(n, n, [&](size_t begin, size_t end) {
    for (size_t i = begin; i < end; i++) {
      under[i] = here[i] = NA_REAL;
      if (!std::isfinite(value[i])) continue;
      R_xlen_t place = steps.below(value[i] - near);
      R_xlen_t next = steps.upto(value[i] + near, place);
      under[i] = place ? held[place - 1] : 0;
      here[i] = (next ? held[next - 1] : 0) - under[i];
    }
  });
  return Rcpp::List::create(Rcpp::Named("below") = below, Rcpp::Named("equal") = equal);
}
