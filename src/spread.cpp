#include <Rcpp.h>
#include <algorithm>
#include <vector>

#include "two.h"

// Covariances of items over the rows that have them all.
namespace {

const int block = 256;

struct Column {
  const int *whole;
  const double *real;
};

std::vector<Column> columns_of(const Rcpp::List &items) {
  std::vector<Column> out;
  for (int j = 0; j < items.size(); j++) {
    SEXP x = items[j];
    if (TYPEOF(x) == REALSXP) out.push_back({nullptr, REAL(x)});
    else out.push_back({TYPEOF(x) == LGLSXP ? LOGICAL(x) : INTEGER(x), nullptr});
  }
  return out;
}

// Sums and products of small whole numbers: those of a block fit an int, all are exact.
class Whole {
  int k;
  std::vector<short> held;
  std::vector<long long> sums, products;

  template <typename T>
  bool gather(const T *x, const R_xlen_t *rows, int count, short *into) {
    bool small = true;
    for (int r = 0; r < count; r++) {
      T value = x[rows[r]];
      bool fits = value >= -1000 && value <= 1000;
      into[r] = static_cast<short>(fits ? value : 0);
      small = small && fits && into[r] == value;
    }
    for (int r = count; r < block; r++) into[r] = 0;
    return small;
  }

  static int product(const short *a, const short *b) {
    int sum = 0;
    for (int r = 0; r < block; r++) sum += a[r] * b[r];
    return sum;
  }

 public:
  explicit Whole(int k) : k(k), held(k * block), sums(k), products(k * k) {}

  // False if some value is not small or not whole.
  bool add(const std::vector<Column> &items, const R_xlen_t *rows, int count) {
    for (int j = 0; j < k; j++) {
      const Column &x = items[j];
      short *into = &held[j * block];
      if (!(x.real ? gather(x.real, rows, count, into) : gather(x.whole, rows, count, into))) return false;
    }
    for (int i = 0; i < k; i++) {
      const short *a = &held[i * block];
      for (int r = 0; r < block; r++) sums[i] += a[r];
      for (int j = i; j < k; j++) products[i * k + j] += product(a, &held[j * block]);
    }
    return true;
  }
  void add(const Whole &other) {
    for (int i = 0; i < k; i++) sums[i] += other.sums[i];
    for (int i = 0; i < k * k; i++) products[i] += other.products[i];
  }
  double covariance(int i, int j, double n) const {
    return (products[i * k + j] - static_cast<double>(sums[i]) * sums[j] / n) / (n - 1);
  }
};

bool small_spread(const std::vector<Column> &items, const std::vector<R_xlen_t> &rows, Rcpp::NumericMatrix &out) {
  int k = items.size();
  Whole whole(k), half(k);
  bool small = true, half_small = true;
  in_two(rows.size(), [&](size_t from, size_t to) {
    Whole &mine = from ? half : whole;
    bool &fits = from ? half_small : small;
    for (size_t at = from; at < to && fits; at += block)
      fits = mine.add(items, &rows[at], std::min<size_t>(block, to - at));
  });
  if (!small || !half_small) return false;
  whole.add(half);
  for (int i = 0; i < k; i++)
    for (int j = i; j < k; j++) out(i, j) = out(j, i) = whole.covariance(i, j, rows.size());
  return true;
}

// Distances from the means, a block of rows at a time.
class Any {
  int k;
  std::vector<double> mean, off;

  template <typename T>
  void gather(const T *x, const R_xlen_t *rows, int count, int item) {
    for (int r = 0; r < count; r++) off[r * k + item] = x[rows[r]] - mean[item];
  }

 public:
  std::vector<double> products;

  explicit Any(int k) : k(k), mean(k), off(k * block), products(k * k) {}

  void find_means(const std::vector<Column> &items, const std::vector<R_xlen_t> &rows) {
    for (int j = 0; j < k; j++) {
      double sum = 0;
      for (R_xlen_t row : rows) sum += items[j].real ? items[j].real[row] : items[j].whole[row];
      mean[j] = sum / rows.size();
    }
  }
  void add(const std::vector<Column> &items, const R_xlen_t *rows, int count) {
    for (int j = 0; j < k; j++) {
      if (items[j].real) gather(items[j].real, rows, count, j);
      else gather(items[j].whole, rows, count, j);
    }
    for (int r = 0; r < count; r++) {
      const double *row = &off[r * k];
      for (int i = 0; i < k; i++) {
        double *sums = &products[i * k];
        for (int j = 0; j <= i; j++) sums[j] += row[i] * row[j];
      }
    }
  }
};

void any_spread(const std::vector<Column> &items, const std::vector<R_xlen_t> &rows, Rcpp::NumericMatrix &out) {
  int k = items.size();
  Any any(k);
  any.find_means(items, rows);
  for (size_t at = 0; at < rows.size(); at += block)
    any.add(items, &rows[at], std::min<size_t>(block, rows.size() - at));
  for (int i = 0; i < k; i++)
    for (int j = 0; j <= i; j++) out(i, j) = out(j, i) = any.products[i * k + j] / (rows.size() - 1.0);
}

}  // namespace

// `valid` is the number of valid items of each row.
// [[Rcpp::export]]
Rcpp::List item_spread(Rcpp::List items, Rcpp::IntegerVector valid) {
  int k = items.size();
  std::vector<R_xlen_t> rows;
  rows.reserve(valid.size());
  for (R_xlen_t i = 0; i < valid.size(); i++)
    if (valid[i] == k) rows.push_back(i);
  Rcpp::NumericMatrix spread(k, k);
  std::vector<Column> columns = columns_of(items);
  if (rows.size() > 1 && !small_spread(columns, rows, spread)) any_spread(columns, rows, spread);
  return Rcpp::List::create(Rcpp::Named("complete") = static_cast<double>(rows.size()),
                            Rcpp::Named("spread") = spread);
}
