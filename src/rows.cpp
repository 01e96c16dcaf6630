#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <vector>

namespace {

// One item's column, read as double whatever its type.
struct Item {
  int type;
  const int *whole;
  const double *real;

  explicit Item(SEXP x)
      : type(TYPEOF(x)),
        whole(type == REALSXP ? nullptr : (type == LGLSXP ? LOGICAL(x) : INTEGER(x))),
        real(type == REALSXP ? REAL(x) : nullptr) {}

  bool read(R_xlen_t row, double &value) const {
    if (real) {
      value = real[row];
      return !std::isnan(value);
    }
    if (whole[row] == NA_INTEGER) return false;
    value = whole[row];
    return true;
  }
};

struct Row {
  std::vector<double> values;
  double sum = 0, weight = 0;

  void clear() {
    values.clear();
    sum = weight = 0;
  }
  void add(double value, double w) {
    values.push_back(value);
    sum += w * value;
    weight += w;
  }
  double spread() const {
    double n = values.size(), mean = sum / n, squares = 0;
    for (double v : values) squares += (v - mean) * (v - mean);
    return n < 2 ? NA_REAL : std::sqrt(squares / (n - 1));
  }
  double middle() {
    size_t half = values.size() / 2;
    std::nth_element(values.begin(), values.begin() + half, values.end());
    double upper = values[half];
    if (values.size() % 2) return upper;
    return (*std::max_element(values.begin(), values.begin() + half) + upper) / 2;
  }
};

enum How { mean, sum, prorated, least, most, sd, median };

How how_named(const std::string &name) {
  const char *names[] = {"mean", "sum", "prorated", "min", "max", "sd", "median"};
  for (int i = 0; i < 7; i++)
    if (name == names[i]) return static_cast<How>(i);
  Rcpp::stop("unknown row statistic");
}

double score(Row &row, How how, double all_weight) {
  switch (how) {
  case mean: return row.sum / row.weight;
  case sum: return row.sum;
  case prorated: return row.sum * (all_weight / row.weight);
  case least: return *std::min_element(row.values.begin(), row.values.end());
  case most: return *std::max_element(row.values.begin(), row.values.end());
  case sd: return row.spread();
  default: return row.middle();
  }
}

}  // namespace

// A score for each row over its valid items, the number of those, and how many rows have 0, 1, ...
// [[Rcpp::export]]
Rcpp::List row_scores(Rcpp::List items, std::string how, int at_least, Rcpp::NumericVector weights) {
  int k = items.size();
  R_xlen_t n = Rf_xlength(items[0]);
  std::vector<Item> columns;
  for (int j = 0; j < k; j++) columns.emplace_back(static_cast<SEXP>(items[j]));
  How wanted = how_named(how);
  double all_weight = Rcpp::sum(weights);
  Rcpp::NumericVector out(n);
  Rcpp::IntegerVector valid(n);
  std::vector<int> with(k + 1, 0);
  Row row;
  for (R_xlen_t i = 0; i < n; i++) {
    if (i % 1000000 == 0) Rcpp::checkUserInterrupt();
    row.clear();
    double value = 0;
    for (int j = 0; j < k; j++)
      if (columns[j].read(i, value)) row.add(value, weights[j]);
    int v = row.values.size();
    valid[i] = v;
    with[v]++;
    out[i] = (v >= at_least && v > 0) ? score(row, wanted, all_weight) : NA_REAL;
  }
  return Rcpp::List::create(Rcpp::Named("x") = out, Rcpp::Named("valid") = valid,
                            Rcpp::Named("with") = with);
}
