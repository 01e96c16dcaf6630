#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include "fresh.h"
#include "lengths.h"
#include "median.h"
#include "places.h"
#include "parallel.h"

// Rows by the values of a variable, and statistics of each group over its finite values.
namespace {

// Whole numbers that span no more than a few times the rows are found by a table of all of them.
template <typename T>
bool whole_ends(const T *x, R_xlen_t n, double &low, double &high) {
  for (R_xlen_t i = 0; i < n; i++) {
    if (is_gone(x[i])) continue;
    double value = x[i];
    if (!(std::fabs(value) < 2e9) || value != std::floor(value)) return false;
    low = std::min(low, value);
    high = std::max(high, value);
  }
  return high - low < 4.0 * n + 1000;
}

template <typename T>
Rcpp::List place_whole(const T *x, R_xlen_t n, double low, double high) {
  std::vector<int> place(static_cast<size_t>(high - low) + 1, 0);
  for (R_xlen_t i = 0; i < n; i++)
    if (!is_gone(x[i])) place[static_cast<size_t>(x[i] - low)] = 1;
  int keys = 0;
  for (int &p : place) p = p ? ++keys : 0;
  Rcpp::NumericVector values(keys);
  for (size_t j = 0; j < place.size(); j++)
    if (place[j]) values[place[j] - 1] = low + static_cast<double>(j);
  Rcpp::IntegerVector out(fresh_column(INTSXP, n));
  int *to = out.begin();
  in_two(n, n, [&](size_t from, size_t end) {
    for (size_t i = from; i < end; i++)
      to[i] = is_gone(x[i]) ? NA_INTEGER : place[static_cast<size_t>(x[i] - low)];
  });
  return Rcpp::List::create(Rcpp::Named("keys") = values, Rcpp::Named("place") = out);
}

template <typename T>
SEXP places_of_numbers(const T *x, R_xlen_t n) {
  double low = R_PosInf, high = R_NegInf;
  if (!whole_ends(x, n, low, high)) return R_NilValue;
  if (low > high) low = high = 0;
  return place_whole(x, n, low, high);
}

class Groups {
  const double *x;
  const int *cell;
  R_xlen_t n;

 public:
  std::vector<int> rows;

  Groups(const Rcpp::NumericVector &x, const Rcpp::IntegerVector &cell, int cells)
      : x(x.begin()), cell(cell.begin()), n(x.size()), rows(cells, 0) {
    each([&](int at, double) { rows[at]++; });
  }
  template <typename F>
  void each(F f) const {
    for (R_xlen_t i = 0; i < n; i++)
      if (cell[i] != NA_INTEGER && std::isfinite(x[i])) f(cell[i] - 1, x[i]);
  }
  std::vector<long double> sums() const {
    std::vector<long double> out(rows.size(), 0);
    each([&](int at, double value) { out[at] += value; });
    return out;
  }
  // As for one column: the mean, then the mean of what is left over.
  std::vector<double> means() const {
    std::vector<long double> sum = sums(), left(rows.size(), 0);
    std::vector<double> out(rows.size());
    for (size_t j = 0; j < out.size(); j++) sum[j] /= rows[j];
    each([&](int at, double value) { left[at] += value - sum[at]; });
    for (size_t j = 0; j < out.size(); j++)
      out[j] = static_cast<double>(sum[j] + left[j] / rows[j]);
    return out;
  }
  std::vector<double> spreads() const {
    std::vector<double> out = means();
    std::vector<long double> squares(rows.size(), 0);
    each([&](int at, double value) {
      long double off = value - static_cast<long double>(out[at]);
      squares[at] += off * off;
    });
    for (size_t j = 0; j < out.size(); j++)
      out[j] = rows[j] < 2 ? NA_REAL : static_cast<double>(std::sqrt(squares[j] / (rows[j] - 1)));
    return out;
  }
  std::vector<double> ends(bool high) const {
    std::vector<double> out(rows.size(), high ? R_NegInf : R_PosInf);
    each([&](int at, double value) {
      if (high ? value > out[at] : value < out[at]) out[at] = value;
    });
    return out;
  }
  std::vector<double> middles() const {
    std::vector<R_xlen_t> start(rows.size() + 1, 0);
    for (size_t j = 0; j < rows.size(); j++) start[j + 1] = start[j] + rows[j];
    std::vector<double> sorted(start.back()), out(rows.size());
    std::vector<R_xlen_t> at(start.begin(), start.end() - 1);
    each([&](int group, double value) { sorted[at[group]++] = value; });
    for (size_t j = 0; j < rows.size(); j++)
      if (rows[j]) out[j] = middle_of(sorted.begin() + start[j], sorted.begin() + start[j + 1]);
    return out;
  }
};

std::vector<double> statistic_of(const Groups &groups, const std::string &how) {
  if (how == "mean") return groups.means();
  if (how == "sd") return groups.spreads();
  if (how == "min" || how == "max") return groups.ends(how == "max");
  if (how == "median") return groups.middles();
  if (how == "sum") {
    std::vector<long double> sums = groups.sums();
    return std::vector<double>(sums.begin(), sums.end());
  }
  return std::vector<double>(groups.rows.begin(), groups.rows.end());
}

}  // namespace

// The distinct values of whole numbers in their order, and the place of each row's value among
// them; NULL for other numbers.
// [[Rcpp::export]]
SEXP whole_places(SEXP x) {
  return with_numbers(x, [&](auto *values) { return places_of_numbers(values, Rf_xlength(x)); });
}

// The sum of values at each of some places, from 1; what has no place is left out.
// [[Rcpp::export]]
Rcpp::NumericVector sums_by_place(Rcpp::NumericVector x, Rcpp::IntegerVector place, int places) {
  need(x.size() == place.size(), "values and their places");
  Rcpp::NumericVector sums(places);
  for (R_xlen_t i = 0; i < x.size(); i++) {
    if (place[i] == NA_INTEGER) continue;
    need(place[i] >= 1 && place[i] <= places, "places and their number");
    sums[place[i] - 1] += x[i];
  }
  return sums;
}

// A statistic of each group: mean, sd, min, max, median, sum, or the number of rows. Groups
// without a finite value have none.
// [[Rcpp::export]]
Rcpp::List group_statistics(Rcpp::NumericVector x, Rcpp::IntegerVector cell, int cells,
                            std::string how) {
  need(x.size() == cell.size(), "values and their groups");
  for (int at : cell) need(at == NA_INTEGER || (at >= 1 && at <= cells), "groups and their number");
  Groups groups(x, cell, cells);
  Rcpp::NumericVector value = Rcpp::wrap(statistic_of(groups, how));
  for (int j = 0; j < cells; j++)
    if (!groups.rows[j]) value[j] = NA_REAL;
  return Rcpp::List::create(Rcpp::Named("value") = value, Rcpp::Named("rows") = groups.rows);
}
