#include <Rcpp.h>
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
  // How many points lie below the value, or, with `own`, at it as well.
  R_xlen_t count(double value, bool own) const {
    size_t b = bucket(value);
    const double *from = at + first[b], *to = at + first[b + 1];
    return (own ? std::upper_bound(from, to, value) : std::lower_bound(from, to, value)) - at;
  }
};

}  // namespace

// For each value what `upto` holds at the last point below it; with `own`, at it or below. `near`
// is added to the value first.
// [[Rcpp::export]]
Rcpp::NumericVector held_below(Rcpp::NumericVector x, Rcpp::NumericVector at,
                               Rcpp::NumericVector upto, double near, bool own) {
  R_xlen_t n = x.size();
  need(at.size() == upto.size(), "points of a distribution");
  Rcpp::NumericVector out(fresh_column(REALSXP, n));
  Steps steps(at);
  const double *value = x.begin(), *held = upto.begin();
  double *to = out.begin();
  in_two(n, n, [&](size_t begin, size_t end) {
    for (size_t i = begin; i < end; i++) {
      if (std::isnan(value[i])) {
        to[i] = NA_REAL;
        continue;
      }
      R_xlen_t place = steps.count(value[i] + near, own);
      to[i] = place ? held[place - 1] : 0;
    }
  });
  return out;
}
