#include <Rcpp/Lightest>
#include <vector>

#include "lengths.h"

// The first test that is true for each row: its position, 0 where all are false, missing where
// one before it cannot be decided; how many rows each has, and how many have none; and in
// `also[i, j]` how many rows of i would be caught by j as well. Each row may stand for several.
// [[Rcpp::export]]
Rcpp::List first_true(Rcpp::List tests, double rows,
                      Rcpp::Nullable<Rcpp::IntegerVector> stand_for) {
  int k = tests.size();
  R_xlen_t n = static_cast<R_xlen_t>(rows);
  std::vector<Rcpp::LogicalVector> held;
  std::vector<const int *> test(k);
  std::vector<R_xlen_t> step(k);
  for (int j = 0; j < k; j++) {
    held.push_back(Rcpp::as<Rcpp::LogicalVector>(tests[j]));
    test[j] = LOGICAL(held[j]);
    need(held[j].size() == 1 || held[j].size() == n, "tests and rows");
    step[j] = held[j].size() == 1 ? 0 : 1;
  }
  Rcpp::IntegerVector each =
      stand_for.isNull() ? Rcpp::IntegerVector(0) : Rcpp::IntegerVector(stand_for.get());
  need(!each.size() || each.size() == n, "tests and rows");
  Rcpp::IntegerVector branch(n);
  Rcpp::NumericMatrix also(k, k);
  Rcpp::NumericVector caught(k);
  double none = 0;
  for (R_xlen_t i = 0; i < n; i++) {
    if (i % 1000000 == 0) Rcpp::checkUserInterrupt();
    int j = 0, times = each.size() ? each[i] : 1;
    while (j < k && test[j][i * step[j]] == 0) j++;
    if (j == k) {
      none += times;
      continue;
    }
    if (test[j][i * step[j]] == NA_LOGICAL) {
      branch[i] = NA_INTEGER;
      continue;
    }
    branch[i] = j + 1;
    caught[j] += times;
    for (int later = j + 1; later < k; later++)
      if (test[later][i * step[later]] == 1) also(j, later) += times;
  }
  return Rcpp::List::create(Rcpp::Named("branch") = branch, Rcpp::Named("rows") = caught,
                            Rcpp::Named("none") = none, Rcpp::Named("also") = also);
}

// The values of a choose over numbers: `whole` for the rest, and for each branch one number or one
// for each row; missing where no test could be decided.
// [[Rcpp::export]]
Rcpp::NumericVector fill_chosen(Rcpp::NumericVector whole, Rcpp::IntegerVector branch,
                                Rcpp::List values) {
  const R_xlen_t rows = branch.size();
  const int choices = values.size();
  std::vector<Rcpp::NumericVector> kept;
  std::vector<const double *> value;
  std::vector<bool> single;
  for (int i = 0; i < choices; i++) {
    kept.push_back(Rcpp::NumericVector(static_cast<SEXP>(values[i])));
    value.push_back(kept.back().begin());
    single.push_back(kept.back().size() == 1);
    need(single.back() || kept.back().size() == rows, "values and rows");
  }
  need(whole.size() == rows, "the rest and rows");
  Rcpp::NumericVector out(Rcpp::no_init(rows));
  for (R_xlen_t row = 0; row < rows; row++) {
    const int at = branch[row];
    if (at == 0) {
      out[row] = whole[row];
    } else if (at == NA_INTEGER) {
      out[row] = NA_REAL;
    } else {
      need(at > 0 && at <= choices, "branches and values");
      out[row] = single[at - 1] ? value[at - 1][0] : value[at - 1][row];
    }
  }
  return out;
}
