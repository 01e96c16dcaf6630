#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <climits>
#include <limits>
#include <vector>

#include "two.h"

// What is known of a column in one or two passes: how many rows are valid, the ends, and, where
// there are few, the distinct values with how many rows hold each.
namespace {

const int far_apart = 65536;  // whole numbers closer than this are counted in their places
const int many = 2048;        // more distinct values than this are not told
const int negatives_told = 21;

struct Facts {
  double valid = 0, low = R_PosInf, high = R_NegInf;
  int negatives = 0;
  bool few = true;
  std::vector<double> values;
  std::vector<int> rows;

  void add(double value, int count) {
    values.push_back(value);
    rows.push_back(count);
  }
};

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

// A small open table of bit patterns; false once there are too many.
class Table {
  std::vector<uint64_t> keys;
  std::vector<int> places;
  const uint64_t mask = 4 * many - 1;

 public:
  std::vector<uint64_t> held;
  std::vector<int> rows;

  Table() : keys(4 * many), places(4 * many, -1) {}

  bool add(uint64_t key) {
    uint64_t at = (key * 0x9E3779B97F4A7C15ull) >> 40 & mask;
    while (places[at] >= 0 && keys[at] != key) at = (at + 1) & mask;
    if (places[at] < 0) {
      if (held.size() >= many) return false;
      keys[at] = key;
      places[at] = static_cast<int>(held.size());
      held.push_back(key);
      rows.push_back(0);
    }
    rows[places[at]]++;
    return true;
  }
};

double as_real(uint64_t bits) {
  double value;
  std::memcpy(&value, &bits, sizeof value);
  return value;
}

template <typename T>
void count_by_table(const T *x, R_xlen_t n, Facts &facts) {
  Table table;
  for (R_xlen_t i = 0; i < n; i++) {
    if (!within(x[i], facts)) continue;
    double value = x[i] + 0.0;  // one zero
    uint64_t bits;
    std::memcpy(&bits, &value, sizeof bits);
    if (!table.add(bits)) {
      facts.few = false;
      return;
    }
  }
  std::vector<int> order(table.held.size());
  for (size_t i = 0; i < order.size(); i++) order[i] = static_cast<int>(i);
  std::sort(order.begin(), order.end(),
            [&](int a, int b) { return as_real(table.held[a]) < as_real(table.held[b]); });
  for (int i : order) facts.add(as_real(table.held[i]), table.rows[i]);
}

// How many distinct negative values there are, up to a handful.
struct Negatives {
  double seen[negatives_told];
  int count = 0;
  void add(double value) {
    if (count == negatives_told) return;
    for (int i = 0; i < count; i++)
      if (seen[i] == value) return;
    seen[count++] = value;
  }
};

bool is_gone(int value) { return value == NA_INTEGER; }
bool is_gone(double value) { return std::isnan(value); }

const int least = -1000, near_zero = 12000;

// The place of a whole number near zero; what is missing or elsewhere has the last one.
int near_place(double value, bool &whole) {
  bool near = value >= least && value < least + near_zero;
  int place = near ? static_cast<int>(value) - least : near_zero;
  whole &= !near || place + least == value;
  return place;
}

int near_place(int value, bool &) {
  unsigned place = static_cast<unsigned>(value) - static_cast<unsigned>(least);
  return place < static_cast<unsigned>(near_zero) ? static_cast<int>(place) : near_zero;
}

template <typename T>
R_xlen_t count_gone(const T *x, R_xlen_t n) {
  R_xlen_t gone = 0;
  for (R_xlen_t i = 0; i < n; i++) gone += is_gone(x[i]);
  return gone;
}

// Where most columns lie: whole numbers near zero, counted in one pass, in turn in two tables,
// so that equal neighbours need not wait for each other. False if some lie elsewhere.
template <typename T>
bool count_near(const T *x, R_xlen_t n, Facts &facts) {
  std::vector<int> rows(near_zero + 1, 0), others(near_zero + 1, 0);
  R_xlen_t i = 0;
  bool whole = true;
  for (R_xlen_t start = std::min<R_xlen_t>(n, 1000); i < start; i++) rows[near_place(x[i], whole)]++;
  if (!whole || rows[near_zero] != count_gone(x, i)) return false;
  for (; i + 1 < n; i += 2) {
    rows[near_place(x[i], whole)]++;
    others[near_place(x[i + 1], whole)]++;
  }
  if (i < n) rows[near_place(x[i], whole)]++;
  for (int place = 0; place <= near_zero; place++) rows[place] += others[place];
  R_xlen_t gone = rows[near_zero] ? count_gone(x, n) : 0;
  if (!whole || rows[near_zero] != gone) return false;
  facts.valid = n - gone;
  for (int place = 0; place < near_zero; place++)
    if (rows[place]) facts.add(place + least, rows[place]);
  if (facts.values.empty()) return true;
  facts.low = facts.values.front();
  facts.high = facts.values.back();
  for (double value : facts.values) facts.negatives += value < 0 && facts.negatives < negatives_told;
  return true;
}

bool is_endless(int) { return false; }
bool is_endless(double value) { return std::isinf(value); }

// Lowest and highest; comparisons with what is missing are false, or it lies lowest of all.
template <typename T>
void find_ends(const T *x, R_xlen_t n, T &low, T &high) {
  for (R_xlen_t i = 0; i < n; i++) {
    T value = x[i];
    if (value < low && !is_gone(value)) low = value;
    if (value > high) high = value;
  }
}

template <typename T>
bool all_whole(const T *x, R_xlen_t n) {
  for (R_xlen_t i = 0; i < n; i++)
    if (!is_gone(x[i]) && !is_endless(x[i]) && !(std::fabs(x[i]) < 1e9 && static_cast<int>(x[i]) == x[i])) return false;
  return true;
}

// Valid rows and ends, when nothing is known; infinite values are valid but no ends.
template <typename T>
bool measure(const T *x, R_xlen_t n, Facts &facts) {
  T low = std::numeric_limits<T>::max(), high = std::numeric_limits<T>::lowest();
  find_ends(x, n, low, high);
  if (is_endless(low) || is_endless(high)) {
    low = std::numeric_limits<T>::max();
    high = std::numeric_limits<T>::lowest();
    for (R_xlen_t i = 0; i < n; i++)
      if (!is_endless(x[i])) find_ends(x + i, 1, low, high);
  }
  facts.valid = n - count_gone(x, n);
  if (low > high) return false;
  facts.low = low;
  facts.high = high;
  Negatives negatives;
  for (R_xlen_t i = 0; low < 0 && i < n && negatives.count < negatives_told; i++)
    if (x[i] < 0 && !is_gone(x[i]) && !is_endless(x[i])) negatives.add(x[i]);
  facts.negatives = negatives.count;
  return facts.high - facts.low < far_apart && all_whole(x, n);
}

template <typename T>
Facts facts_of_numbers(const T *x, R_xlen_t n) {
  Facts facts;
  if (count_near(x, n, facts)) return facts;
  facts = Facts();
  bool close = measure(x, n, facts);
  if (facts.low > facts.high) return facts;
  if (close) count_in_places(x, n, facts);
  else count_by_table(x, n, facts);
  return facts;
}

SEXP told(const Facts &facts, SEXP values) {
  bool none = facts.low > facts.high;
  return Rcpp::List::create(
      Rcpp::Named("valid") = facts.valid, Rcpp::Named("few") = facts.few,
      Rcpp::Named("low") = none ? NA_REAL : facts.low, Rcpp::Named("high") = none ? NA_REAL : facts.high,
      Rcpp::Named("negatives") = facts.negatives, Rcpp::Named("values") = values,
      Rcpp::Named("rows") = facts.rows);
}

SEXP facts_of_text(SEXP x) {
  Facts facts;
  Table table;
  R_xlen_t n = Rf_xlength(x);
  for (R_xlen_t i = 0; i < n; i++) {
    SEXP text = STRING_ELT(x, i);
    if (text == NA_STRING) continue;
    facts.valid++;
    if (facts.few) facts.few = table.add(reinterpret_cast<uint64_t>(text));
  }
  Rcpp::CharacterVector values(facts.few ? table.held.size() : 0);
  for (R_xlen_t i = 0; i < values.size(); i++) {
    values[i] = reinterpret_cast<SEXP>(table.held[i]);
    facts.rows.push_back(table.rows[i]);
  }
  return told(facts, values);
}

}  // namespace

// One list for each column of numbers or text.
// [[Rcpp::export]]
Rcpp::List facts_of_columns(Rcpp::List columns) {
  struct Numbers {
    const int *whole;
    const double *real;
    R_xlen_t n;
    int place;
    Facts facts;
  };
  Rcpp::List out(columns.size());
  std::vector<Numbers> numbers;
  for (int j = 0; j < columns.size(); j++) {
    SEXP x = columns[j];
    R_xlen_t n = Rf_xlength(x);
    if (TYPEOF(x) == STRSXP) out[j] = facts_of_text(x);
    else if (TYPEOF(x) == REALSXP) numbers.push_back({nullptr, REAL(x), n, j, Facts()});
    else numbers.push_back({TYPEOF(x) == LGLSXP ? LOGICAL(x) : INTEGER(x), nullptr, n, j, Facts()});
  }
  in_two(numbers.size(), [&](std::size_t from, std::size_t to) {
    for (std::size_t j = from; j < to; j++) {
      Numbers &one = numbers[j];
      one.facts = one.real ? facts_of_numbers(one.real, one.n) : facts_of_numbers(one.whole, one.n);
    }
  });
  for (const Numbers &one : numbers) out[one.place] = told(one.facts, Rcpp::wrap(one.facts.values));
  return out;
}

// How many rows hold each of some points, given in order.
// [[Rcpp::export]]
Rcpp::IntegerVector rows_at_points(Rcpp::NumericVector x, Rcpp::NumericVector points) {
  Rcpp::IntegerVector rows(points.size());
  for (double value : x) {
    const double *at = std::lower_bound(points.begin(), points.end(), value);
    if (at != points.end() && *at == value) rows[at - points.begin()]++;
  }
  return rows;
}

// The first row that holds each of some values; missing where none does.
// [[Rcpp::export]]
Rcpp::IntegerVector first_rows(Rcpp::NumericVector x, Rcpp::NumericVector values) {
  Rcpp::IntegerVector first(values.size(), NA_INTEGER);
  R_xlen_t open = values.size();
  for (R_xlen_t i = 0; i < x.size() && open > 0; i++)
    for (R_xlen_t j = 0; j < values.size(); j++)
      if (first[j] == NA_INTEGER && x[i] == values[j]) {
        first[j] = static_cast<int>(i) + 1;
        open--;
      }
  return first;
}
