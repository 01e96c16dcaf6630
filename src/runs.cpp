#include <Rcpp/Lightest>
#include <cmath>
#include <algorithm>
#include <limits>
#include <vector>

#include "lengths.h"

namespace {

// A number as the sum of two, which keeps about 32 figures: sums of squares of values far apart do
// not lose the small ones.
struct Pair {
  double high, low;
};

Pair plus(Pair a, Pair b) {
  double s = a.high + b.high, v = s - a.high;
  double rest = (a.high - (s - v)) + (b.high - v) + a.low + b.low;
  double high = s + rest;
  return {high, rest - (high - s)};
}
Pair minus(Pair a, Pair b) { return plus(a, {-b.high, -b.low}); }
Pair times(Pair a, Pair b) {
  double p = a.high * b.high;
  double rest = std::fma(a.high, b.high, -p) + a.high * b.low + a.low * b.high;
  double high = p + rest;
  return {high, rest - (high - p)};
}
Pair over(Pair a, double b) {
  double q = a.high / b;
  Pair left = minus(a, times({q, 0}, {b, 0}));
  return plus({q, 0}, {left.high / b, 0});
}

// Sums over sorted distinct values, around one in their middle, so that the spread of any run is
// known at once.
class Runs {
  std::vector<double> weight;
  std::vector<Pair> sum, squares;

 public:
  Runs(const Rcpp::NumericVector &values, const Rcpp::NumericVector &counts) {
    int n = values.size();
    double centre = n ? values[n / 2] : 0;
    weight.assign(n + 1, 0);
    sum.assign(n + 1, {0, 0});
    squares = sum;
    for (int i = 0; i < n; i++) {
      Pair v = plus({values[i], 0}, {-centre, 0}), held = times({counts[i], 0}, v);
      weight[i + 1] = weight[i] + counts[i];
      sum[i + 1] = plus(sum[i], held);
      squares[i + 1] = plus(squares[i], times(held, v));
    }
  }
  // The sum of squares around their mean of the values from, ..., to - 1.
  double cost(int from, int to) const {
    Pair s = minus(sum[to], sum[from]), q = minus(squares[to], squares[from]);
    double around = minus(q, over(times(s, s), weight[to] - weight[from])).high;
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
Rcpp::IntegerVector least_squares_runs(Rcpp::NumericVector values, Rcpp::NumericVector counts,
                                       int k) {
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
