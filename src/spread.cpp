#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <vector>

#include "items.h"
#include "lengths.h"
#include "parallel.h"

// How items hang together, over the rows that have them all: sums of products of their distances
// from a first value, which are exact for answers that are whole numbers.
namespace {

class Sums {
  int k;
  std::vector<double> held;  // a block of each item
  double there[block_rows], all[block_rows], total[block_rows];

  void read(const std::vector<Item> &items, const std::vector<double> &first, R_xlen_t from, int rows) {
    std::fill_n(all, block_rows, 1.0);
    for (int r = rows; r < block_rows; r++) all[r] = 0;
    for (int j = 0; j < k; j++) {
      items[j].read(from, rows, &held[j * block_rows], there);
      for (int r = 0; r < block_rows; r++) all[r] *= there[r];
    }
    std::fill_n(total, block_rows, 0.0);
    for (int j = 0; j < k; j++) {
      double *x = &held[j * block_rows], off = first[j];
      for (int r = 0; r < block_rows; r++) {
        x[r] = all[r] != 0 ? x[r] - off : 0.0;
        total[r] += x[r];
      }
    }
  }
  static double product(const double *a, const double *b) {
    double lanes[4] = {0, 0, 0, 0};
    for (int r = 0; r < block_rows; r += 4)
      for (int lane = 0; lane < 4; lane++) lanes[lane] += a[r + lane] * b[r + lane];
    return (lanes[0] + lanes[1]) + (lanes[2] + lanes[3]);
  }

 public:
  double complete = 0, total_sum = 0, total_square = 0;
  std::vector<double> sum, square, with_total, products;

  Sums(int k, bool pairs)
      : k(k), held(k * block_rows), sum(k), square(k), with_total(k), products(pairs ? k * k : 0) {}

  void add(const std::vector<Item> &items, const std::vector<double> &first, R_xlen_t from, int rows) {
    read(items, first, from, rows);
    for (int r = 0; r < rows; r++) complete += all[r];
    total_square += product(total, total);
    total_sum += product(all, total);
    for (int j = 0; j < k; j++) {
      const double *x = &held[j * block_rows];
      sum[j] += product(all, x);
      square[j] += product(x, x);
      with_total[j] += product(x, total);
      for (int i = 0; i <= j && !products.empty(); i++) products[j * k + i] += product(x, &held[i * block_rows]);
    }
  }
  void add(const Sums &other) {
    complete += other.complete;
    total_sum += other.total_sum;
    total_square += other.total_square;
    for (int j = 0; j < k; j++) {
      sum[j] += other.sum[j];
      square[j] += other.square[j];
      with_total[j] += other.with_total[j];
    }
    for (size_t i = 0; i < products.size(); i++) products[i] += other.products[i];
  }
  double covariance(double product, double a, double b) const {
    return (product - a * b / complete) / (complete - 1);
  }
};

// A value of each item to measure from: that of the first row which has it.
std::vector<double> first_values(const std::vector<Item> &items, R_xlen_t n) {
  std::vector<double> out(items.size(), 0);
  double value[block_rows], there[block_rows];
  for (size_t j = 0; j < items.size(); j++) {
    bool found = false;
    for (R_xlen_t from = 0; from < n && !found; from += block_rows) {
      int rows = static_cast<int>(std::min<R_xlen_t>(block_rows, n - from));
      items[j].read(from, rows, value, there);
      for (int r = 0; r < rows && !found; r++)
        if (there[r] != 0 && std::isfinite(value[r])) {
          out[j] = value[r];
          found = true;
        }
    }
  }
  return out;
}

Sums sums_of(const std::vector<Item> &items, R_xlen_t n, bool pairs) {
  int k = static_cast<int>(items.size());
  Sums front(k, pairs), back(k, pairs);
  std::vector<double> first = first_values(items, n);
  in_two(n, n, [&](size_t from, size_t to) {
    Sums &mine = from ? back : front;
    for (size_t at = from; at < to; at += block_rows)
      mine.add(items, first, at, static_cast<int>(std::min<size_t>(block_rows, to - at)));
  });
  front.add(back);
  return front;
}

void check_items(const Rcpp::List &columns, const Rcpp::NumericVector &shift, const Rcpp::NumericVector &sign) {
  need(columns.size() > 0 && shift.size() == columns.size() && sign.size() == columns.size(), "items and their signs");
  need_columns(columns, Rf_xlength(columns[0]));
}

}  // namespace

// The complete rows, the variances of the items and of their sum, and each item's covariance with that.
// [[Rcpp::export]]
Rcpp::List item_sums(Rcpp::List columns, Rcpp::NumericVector shift, Rcpp::NumericVector sign) {
  check_items(columns, shift, sign);
  Sums sums = sums_of(items_of(columns, shift, sign), Rf_xlength(columns[0]), false);
  int k = columns.size();
  Rcpp::NumericVector own(k), with_total(k);
  for (int j = 0; j < k; j++) {
    own[j] = sums.covariance(sums.square[j], sums.sum[j], sums.sum[j]);
    with_total[j] = sums.covariance(sums.with_total[j], sums.sum[j], sums.total_sum);
  }
  return Rcpp::List::create(Rcpp::Named("complete") = sums.complete, Rcpp::Named("own") = own,
                            Rcpp::Named("with_total") = with_total,
                            Rcpp::Named("total") = sums.covariance(sums.total_square, sums.total_sum, sums.total_sum));
}

// The covariances of the items.
// [[Rcpp::export]]
Rcpp::NumericMatrix item_spread(Rcpp::List columns, Rcpp::NumericVector shift, Rcpp::NumericVector sign) {
  check_items(columns, shift, sign);
  Sums sums = sums_of(items_of(columns, shift, sign), Rf_xlength(columns[0]), true);
  int k = columns.size();
  Rcpp::NumericMatrix out(k, k);
  for (int j = 0; j < k; j++)
    for (int i = 0; i <= j; i++)
      out(i, j) = out(j, i) = sums.covariance(sums.products[j * k + i], sums.sum[i], sums.sum[j]);
  return out;
}
