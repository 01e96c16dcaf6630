#include <Rcpp.h>
#include <algorithm>
#include <vector>

#include "fresh.h"
#include "lengths.h"
#include "places.h"
#include "parallel.h"

// What was worked out for each distinct value of a column, put back into its rows.
namespace {

// The rows from the front, or those from the back: the missing ones of the source and of the
// result are counted from the same end, so that two ends can be worked on at once.
struct Way {
  R_xlen_t first, rows;
  int step;
  R_xlen_t source_gone, gone;
};

// Calls work(way) for both of them.
template <typename Work>
void from_both_ends(R_xlen_t n, R_xlen_t source_gone, R_xlen_t gone, Work work) {
  in_two(2, n, [&](size_t from, size_t to) {
    if (from == 0) work(Way{0, n - n / 2, 1, 0, 0});
    if (to == 2) work(Way{n - 1, n / 2, -1, source_gone - 1, gone - 1});
  });
}

struct Reasons {
  const int *of_source;  // for each missing row of the source, its kind, counted from 1
  const int *of_cell;  // for each cell whose result is missing, the reason, counted from 1; else 0
  int *out;
  int cells;                    // those of values; those of the kinds of missing follow
  R_xlen_t sources, gone, all;  // how many there are of each: of_source, out, of_cell

  // The cell of a missing row, the place of whose reason is `at`.
  int cell_of_missing(R_xlen_t at) const {
    need(at >= 0 && at < sources, "missing rows and their reasons");
    return cells - 1 + of_source[at];
  }
  void check(int cell) const { need(cell >= 0 && cell < all, "cells and results"); }
  void put(R_xlen_t at, int reason) const {
    need(at >= 0 && at < gone, "missing rows and their reasons");
    out[at] = reason;
  }
};

template <typename T, typename R, typename Places>
void spread_way(const T *x, const R *result, R *out, const Places &places, const Reasons &reasons,
                Way way) {
  for (R_xlen_t k = 0, i = way.first; k < way.rows; k++, i += way.step) {
    int cell = places.find(x[i]);
    if (cell < 0) {
      cell = reasons.cell_of_missing(way.source_gone);
      way.source_gone += way.step;
    }
    reasons.check(cell);
    out[i] = result[cell];
    if (reasons.of_cell[cell]) {
      reasons.put(way.gone, reasons.of_cell[cell]);
      way.gone += way.step;
    }
  }
}

// Without any missing row on either side.
template <typename T, typename R, typename Places>
void spread_whole(const T *x, const R *result, R *out, const Places &places, const Reasons &reasons,
                  R_xlen_t from, R_xlen_t to) {
  for (R_xlen_t i = from; i < to; i++) {
    int cell = places.find(x[i]);
    reasons.check(cell);
    out[i] = result[cell];
  }
}

template <typename R>
void spread(SEXP x, SEXP keys, const R *result, R *out, const Reasons &reasons,
            R_xlen_t source_gone, R_xlen_t gone) {
  R_xlen_t n = Rf_xlength(x);
  with_places(x, keys, [&](auto *values, const auto &places) {
    if (!source_gone && !gone) {
      in_two(n, n, [&](size_t from, size_t to) {
        spread_whole(values, result, out, places, reasons, from, to);
      });
      return;
    }
    from_both_ends(n, source_gone, gone,
                   [&](Way way) { spread_way(values, result, out, places, reasons, way); });
  });
}

void spread_text(SEXP x, SEXP keys, SEXP result, SEXP out, const Reasons &reasons) {
  R_xlen_t n = Rf_xlength(x), source_gone = 0, gone = 0;
  with_places(x, keys, [&](auto *values, const auto &places) {
    for (R_xlen_t i = 0; i < n; i++) {
      int cell = places.find(values[i]);
      if (cell < 0) cell = reasons.cell_of_missing(source_gone++);
      reasons.check(cell);
      SET_STRING_ELT(out, i, STRING_ELT(result, cell));
      if (reasons.of_cell[cell]) reasons.put(gone++, reasons.of_cell[cell]);
    }
  });
}

// The place of each row among the combinations of several columns' values.
template <typename T, typename Places>
void add_places(const T *x, const int *why, R_xlen_t gone, const Places &places, int cells, int all,
                int step, int *index, R_xlen_t n) {
  from_both_ends(n, gone, 0, [&](Way way) {
    for (R_xlen_t k = 0, i = way.first; k < way.rows; k++, i += way.step) {
      int cell = places.find(x[i]);
      if (cell < 0) {
        need(way.source_gone >= 0 && way.source_gone < gone, "missing rows and their reasons");
        cell = cells - 1 + why[way.source_gone];
        way.source_gone += way.step;
      }
      need(cell >= 0 && cell < all, "cells and their number");
      index[i] += cell * step;
    }
  });
}

// How many rows each cell has.
struct Counts {
  std::vector<int> rows;

  explicit Counts(int cells) : rows(cells, 0) {}
  void add(const Counts &other) {
    for (size_t j = 0; j < rows.size(); j++) rows[j] += other.rows[j];
  }
};

Counts count_places(const int *index, R_xlen_t n, int cells) {
  return tally_in_two(n, Counts(cells), [&](Counts &mine, size_t from, size_t to) {
    for (size_t i = from; i < to; i++) mine.rows[index[i]]++;
  });
}

// The place among stretches between points: 2j below the point j (from 0), 2j + 1 on it.
template <typename T>
Rbyte stretch_of(T value, const std::vector<double> &points) {
  const double *at = points.data();
  size_t left = points.size();
  while (left > 0) {
    size_t half = left / 2;
    bool above = at[half] < value;
    at = above ? at + half + 1 : at;
    left = above ? left - half - 1 : half;
  }
  size_t j = at - points.data();
  return static_cast<Rbyte>(2 * j + (j < points.size() && *at == value));
}

template <typename T>
Counts find_stretches(const T *x, const Rcpp::IntegerVector &why, const std::vector<double> &points,
                      Rbyte *index, R_xlen_t n, int kinds) {
  Counts front(static_cast<int>(2 * points.size()) + 1 + kinds), back(front);
  const int *kind = why.begin();
  R_xlen_t gone = why.size();
  from_both_ends(n, gone, 0, [&](Way way) {
    std::vector<int> &rows = (way.step > 0 ? front : back).rows;
    for (R_xlen_t k = 0, i = way.first; k < way.rows; k++, i += way.step) {
      if (!is_gone(x[i])) {
        index[i] = stretch_of(x[i], points);
      } else {
        need(way.source_gone >= 0 && way.source_gone < gone, "missing rows and their reasons");
        need(kind[way.source_gone] >= 1 && kind[way.source_gone] <= kinds,
             "kinds and their number");
        index[i] = static_cast<Rbyte>(2 * points.size() + kind[way.source_gone]);
        way.source_gone += way.step;
      }
      rows[index[i]]++;
    }
  });
  front.add(back);
  return front;
}

}  // namespace

// x, a column, or the place of each row among `cells` (raw or whole numbers from 0, then keys is
// NULL); why, the kind of each of its missing rows; result, for each of its values and then for
// each kind of missing; reason, where that is missing, else 0; gone, the rows that will be missing.
// [[Rcpp::export]]
Rcpp::List spread_cells(SEXP x, Rcpp::IntegerVector why, SEXP keys, SEXP result,
                        Rcpp::IntegerVector reason, double gone) {
  R_xlen_t n = Rf_xlength(x);
  Rcpp::IntegerVector told(static_cast<R_xlen_t>(gone));
  need(Rf_xlength(result) == reason.size(), "results and their reasons");
  Reasons reasons{why.begin(), reason.begin(), told.begin(), static_cast<int>(Rf_xlength(keys)),
                  why.size(),  told.size(),    reason.size()};
  Rcpp::RObject out = fresh_column(TYPEOF(result), n);
  if (TYPEOF(result) == STRSXP) spread_text(x, keys, result, out, reasons);
  else if (TYPEOF(result) == REALSXP)
    spread(x, keys, REAL(result), REAL(out), reasons, why.size(), told.size());
  else spread(x, keys, INTEGER(result), INTEGER(out), reasons, why.size(), told.size());
  return Rcpp::List::create(Rcpp::Named("x") = out, Rcpp::Named("why") = told);
}

// The place of each row among the combinations of the columns' values and kinds of missing, the
// first running fastest; and how many rows have each. `sizes` are their numbers.
// [[Rcpp::export]]
Rcpp::List combine_cells(Rcpp::List columns, Rcpp::List whys, Rcpp::List keys,
                         Rcpp::IntegerVector sizes) {
  need(columns.size() > 0 && whys.size() == columns.size() && keys.size() == columns.size() &&
           sizes.size() == columns.size(),
       "columns and their keys");
  R_xlen_t n = Rf_xlength(columns[0]);
  need_columns(columns, n);
  Rcpp::IntegerVector index(n);
  int step = 1;
  for (int j = 0; j < columns.size(); j++) {
    Rcpp::IntegerVector why = whys[j];
    SEXP of = keys[j];
    with_places(columns[j], of, [&](auto *x, const auto &places) {
      add_places(x, why.begin(), why.size(), places, static_cast<int>(Rf_xlength(of)), sizes[j],
                 step, index.begin(), n);
    });
    step *= sizes[j];
  }
  return Rcpp::List::create(Rcpp::Named("index") = index,
                            Rcpp::Named("rows") = count_places(index.begin(), n, step).rows);
}

// The place of each row among the stretches below, on and between at most 100 points in their
// order and the kinds of missing; and how many rows have each.
// [[Rcpp::export]]
Rcpp::List stretch_cells(SEXP x, Rcpp::IntegerVector why, Rcpp::NumericVector points, int kinds) {
  R_xlen_t n = Rf_xlength(x);
  std::vector<double> at(points.begin(), points.end());
  need(2 * at.size() + 1 + kinds <= 256 && std::is_sorted(at.begin(), at.end()),
       "points and cells");
  Rcpp::RawVector index(fresh_column(RAWSXP, n));
  Counts rows = with_numbers(
      x, [&](auto *values) { return find_stretches(values, why, at, index.begin(), n, kinds); });
  return Rcpp::List::create(Rcpp::Named("index") = index, Rcpp::Named("rows") = rows.rows);
}
