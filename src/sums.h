#ifndef ABLETURN_SUMS_H
#define ABLETURN_SUMS_H

#include <Rcpp/Lightest>
#include <vector>

// Sums over the rows that have every item, for the variances of the items and of their total and
// for the covariance of each item with that. `Number` is a whole number where the answers are, so
// that the sums are exact.
template <typename Number>
struct ItemSums {
  Number complete = 0, total = 0, total_square = 0;
  std::vector<Number> sum, square, with_total;

  explicit ItemSums(int k) : sum(k), square(k), with_total(k) {}

  void add(const ItemSums &other) {
    complete += other.complete;
    total += other.total;
    total_square += other.total_square;
    for (size_t j = 0; j < sum.size(); j++) {
      sum[j] += other.sum[j];
      square[j] += other.square[j];
      with_total[j] += other.with_total[j];
    }
  }
  // Of two variables, from the sum of their products and their own sums.
  double covariance(Number product, Number a, Number b) const {
    return static_cast<double>((product - static_cast<long double>(a) * b / complete) /
                               (complete - 1));
  }
  Rcpp::List told() const {
    R_xlen_t k = static_cast<R_xlen_t>(sum.size());
    Rcpp::NumericVector own(k), shared(k);
    for (R_xlen_t j = 0; j < k; j++) {
      own[j] = covariance(square[j], sum[j], sum[j]);
      shared[j] = covariance(with_total[j], sum[j], total);
    }
    return Rcpp::List::create(Rcpp::Named("complete") = static_cast<double>(complete),
                              Rcpp::Named("own") = own, Rcpp::Named("with_total") = shared,
                              Rcpp::Named("total") = covariance(total_square, total, total));
  }
};

#endif
