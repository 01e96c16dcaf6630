#include <Rcpp.h>
#include <algorithm>
#include <vector>

#include "columns.h"
#include "lengths.h"
#include "parallel.h"

// The missing rows of a column, and why they are missing.
namespace {

struct GoneRows {
  std::vector<int> rows;

  template <typename T>
  void find(const T *x, size_t from, size_t to) {
    const size_t block = 512;
    for (size_t at = from; at < to; at += block) {
      size_t end = std::min(at + block, to);
      int gone = 0;
      for (size_t i = at; i < end; i++) gone += is_gone(x[i]);
      for (size_t i = at; gone && i < end; i++)
        if (is_gone(x[i])) rows.push_back(static_cast<int>(i) + 1);
    }
  }
  void add(const GoneRows &other) { rows.insert(rows.end(), other.rows.begin(), other.rows.end()); }
};

}  // namespace

// The numbers of the missing rows, from 1.
// [[Rcpp::export]]
Rcpp::IntegerVector gone_rows(SEXP x) {
  R_xlen_t n = Rf_xlength(x);
  GoneRows gone = with_values(x, [&](auto *values) {
    return tally_in_two(n, GoneRows(), [&](GoneRows &mine, size_t from, size_t to) {
      mine.find(values, from, to);
    });
  });
  return Rcpp::wrap(gone.rows);
}

// The kinds of some rows in their order: `why` of those that are missing, else 0.
// [[Rcpp::export]]
Rcpp::IntegerVector kinds_of_rows(SEXP x, Rcpp::IntegerVector why, Rcpp::IntegerVector rows) {
  R_xlen_t n = Rf_xlength(x), before = 0, at = 0;
  need(std::is_sorted(rows.begin(), rows.end()), "rows and their order");
  Rcpp::IntegerVector kinds(rows.size());
  with_values(x, [&](auto *values) {
    for (R_xlen_t k = 0; k < rows.size(); k++) {
      need(rows[k] >= 1 && rows[k] <= n, "columns and rows");
      for (; at < rows[k] - 1; at++) before += is_gone(values[at]);
      need(!is_gone(values[at]) || before < why.size(), "missing rows and their reasons");
      kinds[k] = is_gone(values[at]) ? why[before] : 0;
    }
    return true;
  });
  return kinds;
}
