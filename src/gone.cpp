#include <Rcpp/Lightest>
#include <algorithm>
#include <cstring>
#include <vector>

#include "columns.h"
#include "index.h"
#include "lengths.h"
#include "parallel.h"

// The missing rows of a column, and why they are missing.
namespace {

const size_t block = 512;

// How many rows of a whole block are missing; of doubles two at a time.
template <typename T>
int gone_in_block(const T *__restrict__ x) {
  int gone = 0;
  for (size_t r = 0; r < block; r++) gone += is_gone(x[r]) ? 1 : 0;
  return gone;
}
inline int gone_in_block(const double *__restrict__ x) {
  typedef double Two __attribute__((vector_size(16)));
  typedef long long Flags __attribute__((vector_size(16)));
  Flags gone = {0, 0};
  Two value;
  for (size_t r = 0; r < block; r += 2) {
    std::memcpy(&value, x + r, sizeof value);
    gone -= value != value;
  }
  return static_cast<int>(gone[0] + gone[1]);
}

// Calls work(row) for each missing row.
template <typename T, typename Work>
void each_gone(const T *x, size_t from, size_t to, Work work) {
  for (size_t at = from; at < to; at += block) {
    size_t end = std::min(at + block, to);
    if (at + block <= to && !gone_in_block(x + at)) continue;
    for (size_t i = at; i < end; i++)
      if (is_gone(x[i])) work(i);
  }
}

struct GoneRows {
  std::vector<int> rows;

  template <typename T>
  void find(const T *x, size_t from, size_t to) {
    each_gone(x, from, to, [&](size_t i) { rows.push_back(static_cast<int>(i) + 1); });
  }
  void add(const GoneRows &other) { rows.insert(rows.end(), other.rows.begin(), other.rows.end()); }
};

// A source of a result: why its rows are missing. Its kinds are counted from 1; 0 is a valid
// answer. It is an index and the kind of each cell, or a column and the kinds of its missing rows
// in their order.
struct Source {
  std::vector<Index> index;  // one, or none
  std::vector<int> kind_of_cell;
  const double *real = nullptr;
  const int *whole = nullptr;
  const SEXP *text = nullptr;
  const int *why = nullptr;
  R_xlen_t rows = 0, gone = 0;
  int kinds;

  Source(const Rcpp::List &from, int kinds) : kinds(kinds) {
    SEXP x = from[0];
    Rcpp::IntegerVector of = from[1];
    for (int kind : of) need(kind >= 0 && kind <= kinds, "kinds and their number");
    rows = Rf_xlength(x);
    if (TYPEOF(x) == RAWSXP) {
      index.emplace_back(x, of.size());
      rows = index[0].rows;
      kind_of_cell = table_of(static_cast<const int *>(of.begin()), of.size(), 0);
    } else if (TYPEOF(x) == REALSXP) real = REAL(x);
    else if (TYPEOF(x) == STRSXP) text = STRING_PTR_RO(x);
    else whole = TYPEOF(x) == LGLSXP ? LOGICAL(x) : INTEGER(x);
    why = INTEGER(from[1]);
    gone = of.size();
  }
  bool is_missing(R_xlen_t row) const {
    if (real) return is_gone(real[row]);
    return whole ? is_gone(whole[row]) : is_gone(text[row]);
  }
};

// Goes through a source from one of its rows on.
class Reader {
  const Source *source;
  R_xlen_t at, before = 0;
  bool counted = false;

  // How many rows before this one are missing; only asked for where their kinds differ.
  void count_to(R_xlen_t row) {
    if (!counted) at = 0;
    counted = true;
    for (; at < row; at++) before += source->is_missing(at);
  }

 public:
  explicit Reader(const Source &source) : source(&source), at(0) {}
  int kind_at(R_xlen_t row) {
    if (!source->index.empty()) {
      const Index &index = source->index[0];
      return source->kind_of_cell[index.narrow ? index.narrow[row] : index.wide[row]];
    }
    if (!source->is_missing(row)) return 0;
    if (source->kinds == 1) return 1;
    count_to(row);
    need(before < source->gone, "missing rows and their reasons");
    return source->why[before];
  }
};

// The reasons of missing results in some rows: 1 where every source has a valid answer; 2 where
// some source has none, or, of a single source, 1 and its kind.
struct Reasons {
  std::vector<int> why;
  std::vector<std::vector<double>> rows;  // of each source: how many lack it for each kind

  explicit Reasons(const std::vector<Source> &sources) {
    for (const Source &source : sources) rows.emplace_back(source.kinds, 0.0);
  }
  void add(const Reasons &other) {
    why.insert(why.end(), other.why.begin(), other.why.end());
    for (size_t s = 0; s < rows.size(); s++)
      for (size_t k = 0; k < rows[s].size(); k++) rows[s][k] += other.rows[s][k];
  }
  void explain(std::vector<Reader> &readers, R_xlen_t row) {
    int reason = 1;
    for (size_t s = 0; s < readers.size(); s++) {
      int kind = readers[s].kind_at(row);
      if (!kind) continue;
      reason = readers.size() == 1 ? 1 + kind : 2;
      rows[s][kind - 1]++;
    }
    why.push_back(reason);
  }
  template <typename T>
  void find(const T *x, const std::vector<Source> &sources, size_t from, size_t to) {
    std::vector<Reader> readers(sources.begin(), sources.end());
    each_gone(x, from, to, [&](size_t i) { explain(readers, static_cast<R_xlen_t>(i)); });
  }
};

}  // namespace

// The numbers of the missing rows, from 1.
//
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
//
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

// Why the results `x` are missing, from why their sources are: for each missing row of `x` 1 where
// every source has a valid answer, and else 2, or, of a single source, 1 and the kind there; and
// for each source how many of these rows lack it for each of its `kinds`. A source is a list: an
// index and the kind of each cell, or a column and the kinds of its missing rows.
// [[Rcpp::export]]
Rcpp::List explain_gone(SEXP x, Rcpp::List sources, Rcpp::IntegerVector kinds) {
  need(sources.size() == kinds.size(), "sources and their kinds");
  R_xlen_t n = Rf_xlength(x);
  std::vector<Source> from;
  for (R_xlen_t s = 0; s < sources.size(); s++) {
    from.emplace_back(Rcpp::List(sources[s]), kinds[s]);
    need(from.back().rows == n, "columns");
  }
  Reasons all = with_values(x, [&](auto *values) {
    return tally_in_two(n, Reasons(from), [&](Reasons &mine, size_t begin, size_t end) {
      mine.find(values, from, begin, end);
    });
  });
  return Rcpp::List::create(Rcpp::Named("why") = all.why, Rcpp::Named("rows") = all.rows);
}
