#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

#include "columns.h"
#include "lengths.h"
#include "moments.h"
#include "parallel.h"

// Statistics of a column over its finite values, without a copy of the column.
namespace {

template <typename T>
Moments sum_and_ends(const T *x, R_xlen_t n) {
  return tally_in_two(n, Moments(), [&](Moments &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++)
      if (is_finite_value(x[i])) mine.add(x[i]);
  });
}

template <typename T>
Distances distances_from(const T *x, R_xlen_t n, long double mean) {
  return tally_in_two(n, Distances(), [&](Distances &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++)
      if (is_finite_value(x[i])) mine.add(x[i] - mean);
  });
}

template <typename T>
Rcpp::NumericVector moments_of(const T *x, R_xlen_t n) {
  Moments found = sum_and_ends(x, n);
  return told_moments(found, distances_from(x, n, found.mean()));
}

template <typename T>
std::vector<double> finite_values(const T *x, R_xlen_t n) {
  std::vector<double> out;
  out.reserve(n);
  for (R_xlen_t i = 0; i < n; i++)
    if (is_finite_value(x[i])) out.push_back(x[i]);
  return out;
}

// Values in buckets of equal width, so that only those buckets are sorted that hold a wanted rank.
class Buckets {
  static const int most = 1 << 15;
  double low, scale;

 public:
  std::vector<R_xlen_t> rows;

  Buckets(double low, double high) : low(low), scale((most - 1) / (high - low)), rows(most, 0) {}
  void add(const Buckets &other) {
    for (size_t j = 0; j < rows.size(); j++) rows[j] += other.rows[j];
  }
  bool fit() const { return std::isfinite(scale) && scale > 0; }
  int of(double value) const {
    double place = (value - low) * scale;
    return place < 0 ? 0 : place > most - 1 ? most - 1 : static_cast<int>(place);
  }
};

// The values of some buckets.
struct Kept {
  std::vector<std::vector<double>> values;

  explicit Kept(size_t buckets) : values(buckets) {}
  void add(const Kept &other) {
    for (size_t j = 0; j < values.size(); j++)
      values[j].insert(values[j].end(), other.values[j].begin(), other.values[j].end());
  }
};

// The values at some ranks, counted from 0 and in order.
template <typename T>
Rcpp::NumericVector values_at(const T *x, R_xlen_t n, const Rcpp::NumericVector &ranks, double low,
                              double high) {
  Rcpp::NumericVector out(ranks.size(), low);
  Buckets buckets(low, high);
  if (!buckets.fit()) {
    if (low == high) return out;
    std::vector<double> all = finite_values(x, n);
    std::sort(all.begin(), all.end());
    need(!ranks.size() || ranks[ranks.size() - 1] < all.size(), "ranks and rows");
    for (R_xlen_t j = 0; j < ranks.size(); j++) out[j] = all[static_cast<size_t>(ranks[j])];
    return out;
  }
  buckets = tally_in_two(n, buckets, [&](Buckets &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++)
      if (is_finite_value(x[i])) mine.rows[mine.of(x[i])]++;
  });
  std::vector<int> held(buckets.rows.size(), -1);
  std::vector<R_xlen_t> before;
  R_xlen_t sum = 0, at = 0;
  for (size_t j = 0; j < held.size(); j++) {
    for (; at < ranks.size() && ranks[at] < sum + buckets.rows[j]; at++) {
      if (held[j] >= 0) continue;
      held[j] = static_cast<int>(before.size());
      before.push_back(sum);
    }
    sum += buckets.rows[j];
  }
  std::vector<std::vector<double>> kept =
      tally_in_two(n, Kept(before.size()), [&](Kept &mine, size_t from, size_t to) {
        for (size_t i = from; i < to; i++) {
          if (!is_finite_value(x[i])) continue;
          int place = held[buckets.of(x[i])];
          if (place >= 0) mine.values[place].push_back(x[i]);
        }
      }).values;
  need(at == ranks.size(), "ranks and rows");
  for (auto &values : kept) std::sort(values.begin(), values.end());
  at = 0;
  for (size_t place = 0; place < kept.size(); place++)
    for (;
         at < ranks.size() && ranks[at] < before[place] + static_cast<R_xlen_t>(kept[place].size());
         at++)
      out[at] = kept[place][static_cast<R_xlen_t>(ranks[at]) - before[place]];
  return out;
}

// The rows of each band between cuts, and the lowest and the highest value there.
struct Bands {
  std::vector<int> rows;
  std::vector<double> low, high;

  explicit Bands(size_t bands) : rows(bands, 0), low(bands, R_PosInf), high(bands, R_NegInf) {}
  void put(size_t band, double value) {
    rows[band]++;
    low[band] = std::min(low[band], value);
    high[band] = std::max(high[band], value);
  }
  void add(const Bands &other) {
    for (size_t j = 0; j < rows.size(); j++) {
      rows[j] += other.rows[j];
      low[j] = std::min(low[j], other.low[j]);
      high[j] = std::max(high[j], other.high[j]);
    }
  }
};

// How many cuts lie below a value, or at it where a cut begins the next band.
size_t band_of(double value, const std::vector<double> &cuts, bool ends) {
  const size_t few = 24;
  size_t band = 0;
  if (cuts.size() > few)
    return (ends ? std::lower_bound(cuts.begin(), cuts.end(), value)
                 : std::upper_bound(cuts.begin(), cuts.end(), value)) -
           cuts.begin();
  if (ends)
    for (double cut : cuts) band += cut < value;
  else
    for (double cut : cuts) band += cut <= value;
  return band;
}

}  // namespace

// Of the bands that cuts, in their order, make of the finite values: how many rows are in each, and
// the lowest and the highest of its values. With `ends` a cut is the last value of its band, else
// the first of the next.
// [[Rcpp::export]]
Rcpp::List band_ends(SEXP x, Rcpp::NumericVector cuts, bool ends) {
  std::vector<double> at(cuts.begin(), cuts.end());
  need(std::is_sorted(at.begin(), at.end()), "cuts and their order");
  R_xlen_t n = Rf_xlength(x);
  Bands all = with_numbers(x, [&](auto *values) {
    return tally_in_two(n, Bands(at.size() + 1), [&](Bands &mine, size_t from, size_t to) {
      for (size_t i = from; i < to; i++)
        if (is_finite_value(values[i])) mine.put(band_of(values[i], at, ends), values[i]);
    });
  });
  return Rcpp::List::create(Rcpp::Named("rows") = all.rows, Rcpp::Named("low") = all.low,
                            Rcpp::Named("high") = all.high);
}

// The rows that have a finite value, and their sum, mean, SD (n - 1), lowest and highest.
//
// [[Rcpp::export]]
Rcpp::NumericVector moments(SEXP x) {
  return with_numbers(x, [&](auto *values) { return moments_of(values, Rf_xlength(x)); });
}

// The same of a column of few answers: the answer of each cell and how many rows are in it.
//
// [[Rcpp::export]]
Rcpp::NumericVector moments_of_cells(Rcpp::NumericVector x, Rcpp::NumericVector rows) {
  need(x.size() == rows.size(), "values and rows");
  Moments found;
  Distances off;
  for (R_xlen_t i = 0; i < x.size(); i++)
    if (is_finite_value(x[i]) && rows[i]) found.add(x[i], static_cast<R_xlen_t>(rows[i]));
  long double mean = found.mean();
  for (R_xlen_t i = 0; i < x.size(); i++)
    if (is_finite_value(x[i])) off.add(x[i] - mean, static_cast<R_xlen_t>(rows[i]));
  return told_moments(found, off);
}

// The finite values at some ranks, counted from 0 and in their order.
//
// [[Rcpp::export]]
Rcpp::NumericVector values_at_ranks(SEXP x, Rcpp::NumericVector ranks, double low, double high) {
  need(std::is_sorted(ranks.begin(), ranks.end()) && (!ranks.size() || ranks[0] >= 0),
       "ranks and their order");
  return with_numbers(
      x, [&](auto *values) { return values_at(values, Rf_xlength(x), ranks, low, high); });
}

// The distinct finite values in their order and how many rows hold each.
//
// [[Rcpp::export]]
Rcpp::List sorted_counts(SEXP x) {
  std::vector<double> all =
      with_numbers(x, [&](auto *values) { return finite_values(values, Rf_xlength(x)); });
  R_xlen_t n = Rf_xlength(x);
  size_t half = all.size() / 2;  // sorted by themselves, then merged
  in_two(2, n, [&](size_t from, size_t to) {
    if (from == 0) std::sort(all.begin(), all.begin() + half);
    if (to == 2) std::sort(all.begin() + half, all.end());
  });
  std::inplace_merge(all.begin(), all.begin() + half, all.end());
  size_t distinct = 0;
  for (size_t i = 0; i < all.size(); i++) distinct += i == 0 || all[i] != all[i - 1];
  Rcpp::NumericVector values(distinct);
  Rcpp::IntegerVector rows(distinct);
  R_xlen_t at = -1;
  for (size_t i = 0; i < all.size(); i++) {
    if (i == 0 || all[i] != all[i - 1]) values[++at] = all[i] + 0.0;
    rows[at]++;
  }
  return Rcpp::List::create(Rcpp::Named("values") = values, Rcpp::Named("rows") = rows);
}
