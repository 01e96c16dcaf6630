#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>
#include <vector>

#include "facts.h"
#include "lengths.h"
#include "places.h"

namespace {

// False for what is missing or infinite.
template <typename T>
bool within(T value, const Facts &facts) {
  return value >= facts.low && value <= facts.high;
}

// Counts whole numbers between low and high, both within reach of each other.
template <typename T>
void count_in_places(const T *x, R_xlen_t n, Facts &facts) {
  int low = static_cast<int>(facts.low), size = static_cast<int>(facts.high) - low + 1;
  std::vector<int> rows(size, 0);
  for (R_xlen_t i = 0; i < n; i++)
    if (within(x[i], facts)) rows[static_cast<int>(x[i]) - low]++;
  for (int place = 0; place < size; place++)
    if (rows[place]) facts.add(static_cast<double>(place) + low, rows[place]);
}

template <typename T>
void count_by_table(const T *x, R_xlen_t n, Facts &facts) {
  Table table(many);
  std::vector<int> rows(many, 0);
  for (R_xlen_t i = 0; i < n; i++) {
    if (!within(x[i], facts)) continue;
    int place = table.add(bits_of(static_cast<double>(x[i])));
    if (place < 0) {
      facts.few = false;
      return;
    }
    rows[place]++;
  }
  std::vector<int> order(table.held.size());
  for (size_t i = 0; i < order.size(); i++) order[i] = static_cast<int>(i);
  std::sort(order.begin(), order.end(),
            [&](int a, int b) { return as_real(table.held[a]) < as_real(table.held[b]); });
  for (int i : order) facts.add(as_real(table.held[i]), rows[i]);
}

template <typename T>
struct Ends {
  T low = std::numeric_limits<T>::max(), high = std::numeric_limits<T>::lowest();
  R_xlen_t gone = 0;

  // Comparisons with what is missing are false, or it lies lowest of all.
  void add(T value) {
    bool lost = is_gone(value);
    gone += lost;
    if (value < low && !lost) low = value;
    if (value > high) high = value;
  }
  void add(const Ends &other) {
    low = std::min(low, other.low);
    high = std::max(high, other.high);
    gone += other.gone;
  }
};

template <typename T>
Ends<T> ends_of(const T *x, R_xlen_t n) {
  return tally_in_two(n, Ends<T>(), [&](Ends<T> &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++) mine.add(x[i]);
  });
}

template <typename T>
bool small_whole(const T *x, R_xlen_t n) {
  for (R_xlen_t i = 0; i < n; i++)
    if (is_finite_value(x[i]) && !(std::fabs(x[i]) < 1e9 && static_cast<int>(x[i]) == x[i]))
      return false;
  return true;
}

// Valid rows and ends, when nothing is known; infinite values are valid but no ends.
template <typename T>
bool measure(const T *x, R_xlen_t n, Facts &facts) {
  Ends<T> ends = ends_of(x, n);
  facts.valid = n - ends.gone;
  if (is_endless(ends.low) || is_endless(ends.high)) {
    ends = Ends<T>();
    for (R_xlen_t i = 0; i < n; i++)
      if (!is_endless(x[i])) ends.add(x[i]);
  }
  if (ends.low > ends.high) return false;
  facts.low = ends.low;
  facts.high = ends.high;
  count_negatives(x, n, facts);
  return facts.high - facts.low < near_reach && small_whole(x, n);
}

template <typename T>
Facts facts_of_numbers(const T *x, R_xlen_t n) {
  Facts facts;
  bool close = measure(x, n, facts);
  if (facts.low > facts.high) return facts;
  if (close) count_in_places(x, n, facts);
  else count_by_table(x, n, facts);
  return facts;
}

SEXP facts_of_text(SEXP x) {
  Facts facts;
  Table table(many);
  std::vector<int> rows(many, 0);
  R_xlen_t n = Rf_xlength(x);
  for (R_xlen_t i = 0; i < n; i++) {
    SEXP text = STRING_ELT(x, i);
    if (text == NA_STRING) continue;
    facts.valid++;
    int place = facts.few ? table.add(bits_of(text)) : -1;
    facts.few = place >= 0;
    if (facts.few) rows[place]++;
  }
  Rcpp::CharacterVector values(facts.few ? table.held.size() : 0);
  for (R_xlen_t i = 0; i < values.size(); i++) {
    values[i] = reinterpret_cast<SEXP>(table.held[i]);
    facts.rows.push_back(rows[i]);
  }
  return told_facts(facts, values);
}

}  // namespace

// The rows, from 1, whose numbers lie beyond some ends; NULL where these are more than `most`.
// [[Rcpp::export]]
SEXP rows_outside(SEXP x, double low, double high, int most) {
  std::vector<double> rows;
  with_numbers(x, [&](auto *values) {
    R_xlen_t n = Rf_xlength(x);
    for (R_xlen_t i = 0; i < n && rows.size() <= static_cast<size_t>(most); i++)
      if (is_finite_value(values[i]) && (values[i] < low || values[i] > high))
        rows.push_back(i + 1);
    return 0;
  });
  if (rows.size() > static_cast<size_t>(most)) return R_NilValue;
  return Rcpp::wrap(rows);
}

// One list for each column of numbers or text.
// [[Rcpp::export]]
Rcpp::List facts_of_columns(Rcpp::List columns) {
  Rcpp::List out(columns.size());
  for (int j = 0; j < columns.size(); j++) {
    SEXP x = columns[j];
    if (TYPEOF(x) == STRSXP) {
      out[j] = facts_of_text(x);
      continue;
    }
    Facts facts =
        with_numbers(x, [&](auto *values) { return facts_of_numbers(values, Rf_xlength(x)); });
    out[j] = told_facts(facts);
  }
  return out;
}

// The same of a column that was worked out for cells, each of which stands for so many rows.
// [[Rcpp::export]]
Rcpp::List facts_of_cells(Rcpp::NumericVector x, Rcpp::NumericVector rows) {
  Facts facts;
  need(x.size() == rows.size(), "values and rows");
  std::vector<std::pair<double, double>> seen;
  Negatives negatives;
  for (R_xlen_t i = 0; i < x.size(); i++) {
    if (std::isnan(x[i]) || !rows[i]) continue;
    facts.valid += rows[i];
    if (std::isinf(x[i])) continue;
    seen.emplace_back(x[i] + 0.0, rows[i]);
    if (x[i] < 0) negatives.add(x[i]);
  }
  std::sort(seen.begin(), seen.end());
  for (const auto &one : seen) {
    if (!facts.values.empty() && facts.values.back() == one.first) facts.rows.back() += one.second;
    else facts.add(one.first, one.second);
  }
  facts.negatives = negatives.count;
  if (!seen.empty()) {
    facts.low = seen.front().first;
    facts.high = seen.back().first;
  }
  return told_facts(facts);
}

// Whether all values that are there are whole numbers that an integer can hold.
// [[Rcpp::export]]
bool all_whole(Rcpp::NumericVector x) {
  for (double value : x)
    if (!std::isnan(value) && !(std::fabs(value) < 2147483648.0 && value == std::nearbyint(value)))
      return false;
  return true;
}
