#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <vector>

#include "items.h"
#include "lengths.h"
#include "parallel.h"
#include "sums.h"

// How items hang together, over the rows that have them all: sums of products of their distances
// from a first value, which are exact for answers that are whole numbers.
namespace {

class Sums : public ItemSums<double> {
  int k;
  std::vector<double> held;  // a block of each item
  double there[block_rows], all[block_rows], row_total[block_rows];

  void read(const std::vector<Item> &items, const std::vector<double> &first, R_xlen_t from,
            int rows) {
    std::fill_n(all, block_rows, 1.0);
    for (int r = rows; r < block_rows; r++) all[r] = 0;
    for (int j = 0; j < k; j++) {
      items[j].read(from, rows, &held[j * block_rows], there);
      for (int r = 0; r < block_rows; r++) all[r] *= there[r];
    }
    std::fill_n(row_total, block_rows, 0.0);
    for (int j = 0; j < k; j++) {
      double *x = &held[j * block_rows], off = first[j];
      for (int r = 0; r < block_rows; r++) {
        x[r] = all[r] != 0 ? x[r] - off : 0.0;
        row_total[r] += x[r];
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
  std::vector<double> products;

  Sums(int k, bool pairs) : ItemSums(k), k(k), held(k * block_rows), products(pairs ? k * k : 0) {}

  void add_rows(const std::vector<Item> &items, const std::vector<double> &first, R_xlen_t from,
                int rows) {
    read(items, first, from, rows);
    for (int r = 0; r < rows; r++) complete += all[r];
    total_square += product(row_total, row_total);
    total += product(all, row_total);
    for (int j = 0; j < k; j++) {
      const double *x = &held[j * block_rows];
      sum[j] += product(all, x);
      square[j] += product(x, x);
      with_total[j] += product(x, row_total);
      for (int i = 0; i <= j && !products.empty(); i++)
        products[j * k + i] += product(x, &held[i * block_rows]);
    }
  }
  void add(const Sums &other) {
    ItemSums::add(other);
    for (size_t i = 0; i < products.size(); i++) products[i] += other.products[i];
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
  std::vector<double> first = first_values(items, n);
  return tally_in_two(n, Sums(k, pairs), [&](Sums &mine, size_t from, size_t to) {
    for (size_t at = from; at < to; at += block_rows)
      mine.add_rows(items, first, at, static_cast<int>(std::min<size_t>(block_rows, to - at)));
  });
}

std::vector<Item> checked_items(const Rcpp::List &columns, const Rcpp::NumericVector &shift,
                                const Rcpp::NumericVector &sign) {
  need(columns.size() > 0 && shift.size() == columns.size() && sign.size() == columns.size(),
       "items and their signs");
  return items_of(columns, shift, sign);
}

}  // namespace

// The complete rows, the variances of the items and of their sum, and each item's covariance with
// that.
// [[Rcpp::export]]
Rcpp::List item_sums(Rcpp::List columns, Rcpp::NumericVector shift, Rcpp::NumericVector sign) {
  std::vector<Item> items = checked_items(columns, shift, sign);
  return sums_of(items, items[0].length, false).told();
}

// The covariances of the items.
// [[Rcpp::export]]
Rcpp::NumericMatrix item_spread(Rcpp::List columns, Rcpp::NumericVector shift,
                                Rcpp::NumericVector sign) {
  std::vector<Item> items = checked_items(columns, shift, sign);
  Sums sums = sums_of(items, items[0].length, true);
  int k = columns.size();
  Rcpp::NumericMatrix out(k, k);
  for (int j = 0; j < k; j++)
    for (int i = 0; i <= j; i++)
      out(i, j) = out(j, i) = sums.covariance(sums.products[j * k + i], sums.sum[i], sums.sum[j]);
  return out;
}

// What item_sums() tells, from sums over the complete rows: of each item, of its square and of its
// product with the sum of all items, of that sum and of its square.
// [[Rcpp::export]]
Rcpp::List told_item_sums(double complete, Rcpp::NumericVector sum, Rcpp::NumericVector square,
                          Rcpp::NumericVector with_total, double total, double total_square) {
  int k = sum.size();
  need(square.size() == k && with_total.size() == k, "sums of the items");
  ItemSums<double> sums(k);
  sums.complete = complete;
  sums.total = total;
  sums.total_square = total_square;
  sums.sum.assign(sum.begin(), sum.end());
  sums.square.assign(square.begin(), square.end());
  sums.with_total.assign(with_total.begin(), with_total.end());
  return sums.told();
}
