#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include "columns.h"
#include "facts.h"
#include "fresh.h"
#include "lanes.h"
#include "lengths.h"
#include "parallel.h"

// A formula of arithmetic, comparisons and logic as steps on a stack of blocks: what is worked out
// on the way stays in the processor's own memory. Truth is 1, 0 or, where it is missing, no number.
namespace {

typedef void (*Run)(double *a, const double *b);

// Always a whole block, whatever stands after the last row: so the processor can take several rows
// at once.
template <double (*f)(double, double)>
void two_sided(double *__restrict__ a, const double *__restrict__ b) {
  for (int r = 0; r < block_size; r++) a[r] = f(a[r], b[r]);
}
template <double (*f)(double)>
void one_sided(double *__restrict__ a, const double *) {
  for (int r = 0; r < block_size; r++) a[r] = f(a[r]);
}

double truth(bool yes, double a, double b) {
  double held = yes ? 1.0 : 0.0;
  return (a != a) | (b != b) ? NA_REAL : held;
}
double finite(double x) { return std::isfinite(x) ? x : NA_REAL; }

double plus(double a, double b) { return a + b; }
double minus(double a, double b) { return a - b; }
double times(double a, double b) { return a * b; }
double over(double a, double b) {
  double share = a / b;
  return b == 0 ? NA_REAL : share;
}
double power(double a, double b) {
  if (std::isnan(a) || std::isnan(b)) return NA_REAL;
  return finite(b == 2 ? a * a : R_pow(a, b));
}
double below(double a, double b) { return truth(a < b, a, b); }
double above(double a, double b) { return truth(a > b, a, b); }
double at_most(double a, double b) { return truth(a <= b, a, b); }
double at_least(double a, double b) { return truth(a >= b, a, b); }
double equal(double a, double b) { return truth(a == b, a, b); }
double unlike(double a, double b) { return truth(a != b, a, b); }
double both(double a, double b) { return a == 0 || b == 0 ? 0 : truth(true, a, b); }
double either(double a, double b) {
  bool yes = (!std::isnan(a) && a != 0) || (!std::isnan(b) && b != 0);
  return yes ? 1 : truth(false, a, b);
}
double negation(double a) { return truth(a == 0, a, a); }
double opposite(double a) { return -a; }
double size(double a) { return std::fabs(a); }
double root(double a) { return std::sqrt(a); }
double exponential(double a) { return finite(std::exp(a)); }
// Outside its domain a logarithm is no number, and at its edge it is below all numbers: both are
// missing.
double bounded(double y) { return y == R_NegInf ? NA_REAL : y; }
double log_natural(double a) { return bounded(std::log(a)); }
double log_ten(double a) { return bounded(std::log10(a)); }
double log_two(double a) { return bounded(std::log2(a)); }
double log_one_more(double a) { return bounded(std::log1p(a)); }
double down(double a) { return std::floor(a); }
double up(double a) { return std::ceil(a); }
double lacking(double a) { return std::isnan(a) ? 1 : 0; }

struct Word {
  const char *name;
  int takes;
  Run run;
};

const Word words[] = {{"+", 2, two_sided<plus>},
                      {"-", 2, two_sided<minus>},
                      {"*", 2, two_sided<times>},
                      {"/", 2, two_sided<over>},
                      {"^", 2, two_sided<power>},
                      {"<", 2, two_sided<below>},
                      {">", 2, two_sided<above>},
                      {"<=", 2, two_sided<at_most>},
                      {">=", 2, two_sided<at_least>},
                      {"==", 2, two_sided<equal>},
                      {"!=", 2, two_sided<unlike>},
                      {"&", 2, two_sided<both>},
                      {"|", 2, two_sided<either>},
                      {"!", 1, one_sided<negation>},
                      {"negative", 1, one_sided<opposite>},
                      {"abs", 1, one_sided<size>},
                      {"sqrt", 1, one_sided<root>},
                      {"exp", 1, one_sided<exponential>},
                      {"log", 1, one_sided<log_natural>},
                      {"log10", 1, one_sided<log_ten>},
                      {"log2", 1, one_sided<log_two>},
                      {"log1p", 1, one_sided<log_one_more>},
                      {"floor", 1, one_sided<down>},
                      {"ceiling", 1, one_sided<up>},
                      {"is.na", 1, one_sided<lacking>}};

// A word by its name; one that is not among them stops everything before a row is read.
const Word *find_word(SEXP name) {
  std::string asked = Rcpp::as<std::string>(name);
  const Word *word = std::find_if(std::begin(words), std::end(words),
                                  [&](const Word &w) { return asked == w.name; });
  if (word == std::end(words)) Rcpp::stop("no block knows the word %s", asked);
  return word;
}

struct Step {
  const Word *word;    // or, where it is none,
  const int *whole;    // a column
  const double *real;  // of either type
  double number;       // or a number
};

std::vector<Step> read_steps(const Rcpp::List &steps) {
  std::vector<Step> out;
  for (R_xlen_t i = 0; i < steps.size(); i++) {
    SEXP step = steps[i];
    Step made = {nullptr, nullptr, nullptr, 0};
    if (TYPEOF(step) == STRSXP) {
      made.word = find_word(step);
    } else if (Rf_xlength(step) == 1) {
      made.number = Rcpp::as<double>(step);
    } else if (TYPEOF(step) == REALSXP) {
      made.real = REAL(step);
    } else {
      made.whole = TYPEOF(step) == LGLSXP ? LOGICAL(step) : INTEGER(step);
    }
    out.push_back(made);
  }
  return out;
}

// Known words, each with what it takes before it, one result at the end, and columns of all rows.
void check_steps(const Rcpp::List &steps, R_xlen_t n) {
  R_xlen_t depth = 0;
  for (R_xlen_t i = 0; i < steps.size(); i++) {
    SEXP step = steps[i];
    if (TYPEOF(step) != STRSXP) {
      need(Rf_xlength(step) == 1 || Rf_xlength(step) == n, "columns and rows");
      depth++;
      continue;
    }
    const Word *word = find_word(step);
    need(depth >= word->takes, "steps and what they take");
    depth -= word->takes - 1;
  }
  need(depth == 1, "steps and their result");
}

void load_whole(const int *__restrict__ x, double *__restrict__ to) {
  for (int r = 0; r < block_size; r++) {
    double value = x[r];
    to[r] = x[r] == INT_MIN ? NA_REAL : value;
  }
}

void load(const Step &step, R_xlen_t from, int rows, double *to) {
  int last[block_size];
  if (step.real) {
    std::copy(step.real + from, step.real + from + rows, to);
  } else if (!step.whole) {
    std::fill(to, to + block_size, step.number);
  } else if (rows == block_size) {
    load_whole(step.whole + from, to);
  } else {
    std::fill_n(last, block_size, 0);
    std::copy(step.whole + from, step.whole + from + rows, last);
    load_whole(last, to);
  }
}

// Calls put(first row, rows, results) for a block of rows after the other.
template <typename Put>
void run(const std::vector<Step> &steps, R_xlen_t begin, R_xlen_t end, Put put) {
  std::vector<double> stack(block_size * (steps.size() + 1));
  for (R_xlen_t from = begin; from < end; from += block_size) {
    int rows = static_cast<int>(std::min<R_xlen_t>(block_size, end - from));
    double *top = stack.data() - block_size;
    for (const Step &step : steps) {
      if (!step.word) {
        top += block_size;
        load(step, from, rows, top);
      } else {
        if (step.word->takes == 2) top -= block_size;
        step.word->run(top, top + block_size);
      }
    }
    put(from, rows, top);
  }
}

Rcpp::RObject truths_of(const std::vector<Step> &steps, R_xlen_t n) {
  Rcpp::RObject out = fresh_column(LGLSXP, n);
  int *yes = LOGICAL(out);
  in_two(n, n, [&](size_t from, size_t to) {
    run(steps, from, to, [&](R_xlen_t at, int rows, const double *x) {
      for (int r = 0; r < rows; r++) yes[at + r] = std::isnan(x[r]) ? NA_LOGICAL : x[r] != 0;
    });
  });
  return out;
}

Rcpp::RObject numbers_of(const std::vector<Step> &steps, R_xlen_t n) {
  Rcpp::RObject out = fresh_column(REALSXP, n);
  double *number = REAL(out);
  in_two(n, n, [&](size_t from, size_t to) {
    run(steps, from, to, [&](R_xlen_t at, int rows, const double *x) {
      for (int r = 0; r < rows; r++) number[at + r] = std::isnan(x[r]) ? NA_REAL : x[r];
    });
  });
  return out;
}

}  // namespace

// `steps`: columns, numbers, and the names of words, each after what it takes. With `told` a list:
// the numbers `x`, of which what is infinite is missing, and their `facts`.
// [[Rcpp::export]]
SEXP run_in_blocks(Rcpp::List steps, double rows, bool gives_truth, bool told) {
  R_xlen_t n = static_cast<R_xlen_t>(rows);
  check_steps(steps, n);
  std::vector<Step> read = read_steps(steps);
  if (gives_truth) return truths_of(read, n);
  if (!told) return numbers_of(read, n);
  Rcpp::RObject out = fresh_column(REALSXP, n);
  double *number = REAL(out);
  Lanes all = tally_in_two(n, Lanes(), [&](Lanes &mine, size_t from, size_t to) {
    run(read, from, to, [&](R_xlen_t at, int rows, double *x) { mine.copy(x, rows, number + at); });
  });
  return Rcpp::List::create(Rcpp::Named("x") = out,
                            Rcpp::Named("facts") = told_facts(all.facts(number, n)));
}

// The names of all words that can be run in blocks.
// [[Rcpp::export]]
Rcpp::CharacterVector words_in_blocks() {
  Rcpp::CharacterVector names;
  for (const Word &word : words) names.push_back(word.name);
  return names;
}
