#include <Rcpp.h>
#include <algorithm>
#include <limits>
#include <vector>

#include "lengths.h"

namespace {

// Sums over sorted distinct values, so that the spread of any run of them is known at once.
struct Runs {
  std::vector<double> weight, sum, squares;

  Runs(const Rcpp::NumericVector &values, const Rcpp::NumericVector &counts) {
    int n = values.size();
    double centre = n ? values[n / 2] : 0;
    weight.assign(n + 1, 0);
    sum = squares = weight;
    for (int i = 0; i < n; i++) {
      double v = values[i] - centre;
      weight[i + 1] = weight[i] + counts[i];
      sum[i + 1] = sum[i] + counts[i] * v;
      squares[i + 1] = squares[i] + counts[i] * v * v;
    }
  }
  // The sum of squares around their mean of the values from, ..., to - 1.
  double cost(int from, int to) const {
    double w = weight[to] - weight[from], s = sum[to] - sum[from];
    double around = squares[to] - squares[from] - s * s / w;
    return around > 0 ? around : 0;
  }
};

// Best last start for each end in [low, high], knowing that starts grow with ends.
void fill(const Runs &runs, const std::vector<double> &before, std::vector<double> &now,
          std::vector<int> &start, int low, int high, int first, int last) {
  if (low > high) return;
  int middle = (low + high) / 2, best = first;
  double least = std::numeric_limits<double>::infinity();
  for (int j = first; j <= std::min(middle - 1, last); j++) {
    double c = before[j] + runs.cost(j, middle);
    if (c < least) {
      least = c;
      best = j;
    }
  }
  now[middle] = least;
  start[middle] = best;
  fill(runs, before, now, start, low, middle - 1, first, best);
  fill(runs, before, now, start, middle + 1, high, best, last);
}

}  // namespace

// Where k runs of sorted distinct values begin so that the sum of squares within them is least
// (Fisher 1958): positions of the first value of the 2nd, ..., k-th run, counted from 1.
// [[Rcpp::export]]
Rcpp::IntegerVector least_squares_runs(Rcpp::NumericVector values, Rcpp::NumericVector counts, int k) {
  int n = values.size();
  need(counts.size() == n && k >= 1 && k <= n, "values, counts and runs");
  Runs runs(values, counts);
  std::vector<double> before(n + 1, 0), now(n + 1, 0);
  for (int i = 1; i <= n; i++) before[i] = runs.cost(0, i);
  std::vector<std::vector<int>> start(k + 1, std::vector<int>(n + 1, 0));
  for (int band = 2; band <= k; band++) {
    fill(runs, before, now, start[band], band, n, band - 1, n - 1);
    before.swap(now);
  }
  Rcpp::IntegerVector out(k - 1);
  for (int band = k, end = n; band >= 2; band--) {
    end = start[band][end];
    out[band - 2] = end + 1;
  }
  return out;
}
