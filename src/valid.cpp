#include <Rcpp/Lightest>
#include <vector>

#include "columns.h"
#include "lengths.h"
#include "parallel.h"

// The valid values of a column of numbers: what is blank or a declared missing code is set aside.
namespace {

struct Range {
  double low, high;
  bool low_in, high_in;
  int kind;
  bool holds(double value) const {
    return (low_in ? value >= low : value > low) && (high_in ? value <= high : value < high);
  }
};

struct Codes {
  std::vector<double> points;
  std::vector<int> kinds;
  std::vector<Range> ranges;

  Codes(const Rcpp::NumericVector &at, const Rcpp::IntegerVector &of,
        const Rcpp::NumericMatrix &rows)
      : points(at.begin(), at.end()), kinds(of.begin(), of.end()) {
    for (int i = 0; i < rows.nrow(); i++)
      ranges.push_back(
          {rows(i, 0), rows(i, 1), rows(i, 2) != 0, rows(i, 3) != 0, static_cast<int>(rows(i, 4))});
  }
  bool none() const { return points.empty() && ranges.empty(); }
  // 0 for a valid value; where several kinds hold a value, the first.
  int kind_of(double value) const {
    int kind = 0;
    for (size_t j = 0; j < points.size(); j++)
      if (points[j] == value && (!kind || kinds[j] < kind)) kind = kinds[j];
    for (const Range &range : ranges)
      if (range.holds(value) && (!kind || range.kind < kind)) kind = range.kind;
    return kind;
  }
};

bool is_odd_blank(int) { return false; }
bool is_odd_blank(double value) { return !R_IsNA(value); }

struct Blanks {
  R_xlen_t rows = 0, odd = 0;  // odd: no number, but not marked as missing

  void add(const Blanks &other) {
    rows += other.rows;
    odd += other.odd;
  }
};

template <typename T>
Blanks count_blank(const T *x, R_xlen_t n) {
  return tally_in_two(n, Blanks(), [&](Blanks &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++) {
      if (!is_gone(x[i])) continue;
      mine.rows++;
      mine.odd += is_odd_blank(x[i]);
    }
  });
}

// Whether some row was found.
struct Found {
  bool any = false;
  void add(const Found &other) { any |= other.any; }
};

template <typename A, typename B>
bool same_gone(const A *a, const B *b, R_xlen_t n) {
  Found unlike = tally_in_two(n, Found(), [&](Found &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++) mine.any |= is_gone(a[i]) != is_gone(b[i]);
  });
  return !unlike.any;
}

template <typename T>
void find_kinds(const T *x, R_xlen_t n, const Codes &codes, std::vector<unsigned short> &kind) {
  in_two(n, n, [&](size_t from, size_t to) {
    for (size_t i = from; i < to; i++)
      kind[i] =
          static_cast<unsigned short>(is_gone(x[i]) ? 1 : codes.kind_of(static_cast<double>(x[i])));
  });
}

template <typename T>
void set_gone(T *x, const std::vector<unsigned short> &kind, T missing) {
  for (size_t i = 0; i < kind.size(); i++)
    if (kind[i]) x[i] = missing;
}

template <typename T>
Rcpp::List set_aside_of(SEXP x, const T *values, const Codes &codes, T missing, T *(*data)(SEXP)) {
  R_xlen_t n = Rf_xlength(x);
  std::vector<unsigned short> kind;
  Rcpp::RObject out = x;
  Blanks blank = count_blank(values, n);
  R_xlen_t gone = blank.rows;
  if (!codes.none()) {
    kind.resize(n);
    find_kinds(values, n, codes, kind);
    gone = 0;
    for (unsigned short k : kind) gone += k != 0;
  } else if (blank.odd) {
    kind.resize(n);
    for (R_xlen_t i = 0; i < n; i++) kind[i] = is_gone(values[i]);
  }
  Rcpp::IntegerVector why(gone, 1);
  if (!kind.empty() && gone) {
    R_xlen_t at = 0;
    for (unsigned short k : kind)
      if (k) why[at++] = k;
    out = Rf_duplicate(x);
    set_gone(data(out), kind, missing);
  }
  return Rcpp::List::create(Rcpp::Named("x") = out, Rcpp::Named("why") = why);
}

}  // namespace

// Whether two columns are missing in the same rows.
// [[Rcpp::export]]
bool gone_alike(SEXP a, SEXP b) {
  R_xlen_t n = Rf_xlength(a);
  if (Rf_xlength(b) != n) return false;
  return with_values(a, [&](auto *mine) {
    return with_values(b, [&](auto *other) { return same_gone(mine, other, n); });
  });
}

// Whether some value is infinite, or no number without being missing.
// [[Rcpp::export]]
bool any_endless(Rcpp::NumericVector x) {
  const double *value = x.begin();
  Found odd = tally_in_two(x.size(), Found(), [&](Found &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++)
      if (!std::isfinite(value[i])) mine.any |= !R_IsNA(value[i]);
  });
  return odd.any;
}

// `points` and the rows of `ranges` (low, high, whether each belongs to it, kind) are missing codes
// of these kinds; kind 1 is blank. Where nothing is set aside, x is not copied.
// [[Rcpp::export]]
Rcpp::List set_aside(SEXP x, Rcpp::NumericVector points, Rcpp::IntegerVector kinds,
                     Rcpp::NumericMatrix ranges) {
  need(points.size() == kinds.size() && ranges.ncol() == 5, "missing codes and their kinds");
  Codes codes(points, kinds, ranges);
  if (TYPEOF(x) == REALSXP) return set_aside_of<double>(x, REAL(x), codes, NA_REAL, REAL);
  if (TYPEOF(x) == LGLSXP) return set_aside_of<int>(x, LOGICAL(x), codes, NA_LOGICAL, LOGICAL);
  return set_aside_of<int>(x, INTEGER(x), codes, NA_INTEGER, INTEGER);
}
