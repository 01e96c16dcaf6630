#include <Rcpp/Lightest>
#include <algorithm>
#include <vector>

#include "columns.h"
#include "fresh.h"
#include "index.h"
#include "parallel.h"

// Indexes of rows by the stretch of numbers that a value lies in, and by the answers of several
// columns.
namespace {

const int block_rows = 1024;

// How many rows each cell has.
struct Counts {
  std::vector<int> rows;

  explicit Counts(R_xlen_t cells) : rows(cells, 0) {}
  void add(const Counts &other) {
    for (size_t j = 0; j < rows.size(); j++) rows[j] += other.rows[j];
  }
};

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

// The places of a block of rows by comparing each with one point after the other.
template <typename T>
void compare_block(const T *__restrict__ x, const std::vector<double> &points,
                   Rbyte *__restrict__ code) {
  std::fill_n(code, block_rows, 0);
  for (double point : points)
    for (int r = 0; r < block_rows; r++)
      code[r] = static_cast<Rbyte>(code[r] + (x[r] >= point) + (x[r] > point));
}

// Two rows at a time, each with every point.
template <typename T>
void compare_in_pairs(const T *__restrict__ x, const std::vector<double> &points,
                      Rbyte *__restrict__ code) {
  typedef double Two __attribute__((vector_size(16)));
  typedef long long Flags __attribute__((vector_size(16)));
  for (int r = 0; r < block_rows; r += 2) {
    Two value = {static_cast<double>(x[r]), static_cast<double>(x[r + 1])};
    Flags passed = {0, 0};
    for (double point : points) {
      Two edge = {point, point};
      passed += (value >= edge) + (value > edge);
    }
    code[r] = static_cast<Rbyte>(-passed[0]);
    code[r + 1] = static_cast<Rbyte>(-passed[1]);
  }
}

// Codes of a block of rows; false where one is missing, whose code means nothing.
template <typename T>
bool code_block(const T *__restrict__ x, const std::vector<double> &points,
                Rbyte *__restrict__ code) {
  int gone = 0;
  for (int r = 0; r < block_rows; r++) gone += is_gone(x[r]);
  if (points.size() <= 2) compare_block(x, points, code);
  else if (points.size() <= 24) compare_in_pairs(x, points, code);
  else
    for (int r = 0; r < block_rows; r++) code[r] = is_gone(x[r]) ? 0 : stretch_of(x[r], points);
  return gone == 0;
}

// One half of the rows; `at` missing rows come before it.
struct Stretches {
  Counts counts;
  explicit Stretches(int cells) : counts(4 * cells) {}
  void add(const Stretches &other) { counts.add(other.counts); }

  static int reason(const Rcpp::IntegerVector &why, R_xlen_t at, int below) {
    need(at < why.size() && why[at] >= 1 && why[at] < below, "missing rows and their reasons");
    return why[at];
  }
  template <typename T>
  static void one_reason(const T *__restrict__ x, int cell, Rbyte *__restrict__ code) {
    for (int r = 0; r < block_rows; r++)
      code[r] = is_gone(x[r]) ? static_cast<Rbyte>(cell) : code[r];
  }
  template <typename T>
  void find(const T *x, const Rcpp::IntegerVector &why, R_xlen_t at,
            const std::vector<double> &points, Rbyte *index, size_t from, size_t to) {
    const int cells = static_cast<int>(counts.rows.size() / 4),
              first = 2 * static_cast<int>(points.size());
    std::vector<T> last(block_rows);
    Rbyte code[block_rows];
    for (size_t i = from; i < to; i += block_rows) {
      int rows = static_cast<int>(std::min<size_t>(block_rows, to - i));
      const T *block = x + i;
      if (rows < block_rows) {
        std::copy(block, block + rows, last.begin());
        block = last.data();
      }
      if (!code_block(block, points, code)) {
        if (cells == first + 2) one_reason(block, first + 1, code);
        else
          for (int r = 0; r < rows; r++)
            if (is_gone(block[r]))
              code[r] = static_cast<Rbyte>(first + reason(why, at++, cells - first));
      }
      for (int r = 0; r < rows; r++) counts.rows[(r % 4) * cells + code[r]]++;
      std::copy(code, code + rows, index + i);
    }
  }
};

template <typename T>
R_xlen_t rows_gone(const T *x, R_xlen_t n) {
  R_xlen_t gone = 0;
  for (R_xlen_t i = 0; i < n; i++) gone += is_gone(x[i]);
  return gone;
}

template <typename T>
std::vector<int> find_stretches(const T *x, const Rcpp::IntegerVector &why,
                                const std::vector<double> &points, Rbyte *index, R_xlen_t n,
                                int kinds) {
  const int cells = 2 * static_cast<int>(points.size()) + 1 + kinds;
  const R_xlen_t gone_before = kinds > 1 ? rows_gone(x, n / 2) : 0;
  Stretches all = tally_in_two(n, Stretches(cells), [&](Stretches &mine, size_t from, size_t to) {
    mine.find(x, why, from ? gone_before : 0, points, index, from, to);
  });
  std::vector<int> rows(cells, 0);
  for (int j = 0; j < 4 * cells; j++) rows[j % cells] += all.counts.rows[j];
  return rows;
}

// What the slots of one column add to the code of a combination.
std::vector<uint16_t> steps_of(R_xlen_t slots, R_xlen_t step) {
  std::vector<uint16_t> adds(slots);
  for (R_xlen_t j = 0; j < slots; j++) adds[j] = static_cast<uint16_t>(j * step);
  return table_of(adds.data(), slots, uint16_t(0));
}

template <typename Code>
Counts combine(const std::vector<Index> &indexes, const std::vector<std::vector<uint16_t>> &adds,
               Code *to, R_xlen_t n, R_xlen_t cells) {
  const size_t block = 4096;
  return tally_in_two(n, Counts(cells), [&](Counts &mine, size_t from, size_t end) {
    std::vector<uint16_t> sum(block);
    for (size_t at = from; at < end; at += block) {
      size_t rows = std::min(block, end - at);
      std::fill(sum.begin(), sum.end(), 0);
      for (size_t j = 0; j < indexes.size(); j++) {
        const uint16_t *add = adds[j].data();
        indexes[j].with_codes([&](auto *codes) {
          for (size_t r = 0; r < rows; r++)
            sum[r] = static_cast<uint16_t>(sum[r] + add[codes[at + r]]);
        });
      }
      for (size_t r = 0; r < rows; r++) {
        to[at + r] = static_cast<Code>(sum[r]);
        mine.rows[sum[r]]++;
      }
    }
  });
}

}  // namespace

// The index by all combinations of the slots of several indexes, the first running fastest, and how
// many rows have each. `slots` are their numbers.
// [[Rcpp::export]]
Rcpp::List joint_index(Rcpp::List codes, Rcpp::IntegerVector slots) {
  need(codes.size() > 0 && slots.size() == codes.size(), "indexes and their slots");
  std::vector<Index> indexes;
  std::vector<std::vector<uint16_t>> adds;
  R_xlen_t step = 1;
  for (R_xlen_t j = 0; j < codes.size(); j++) {
    need(slots[j] >= 1 && step * slots[j] <= most_slots, "indexes and their slots");
    indexes.emplace_back(static_cast<SEXP>(codes[j]), slots[j]);
    need(indexes[j].rows == indexes[0].rows, "columns");
    adds.push_back(steps_of(slots[j], step));
    step *= slots[j];
  }
  R_xlen_t n = indexes[0].rows;
  Rcpp::RawVector out(fresh_column(RAWSXP, is_wide(step) ? 2 * n : n));
  Counts rows = is_wide(step)
                    ? combine(indexes, adds, reinterpret_cast<uint16_t *>(RAW(out)), n, step)
                    : combine(indexes, adds, RAW(out), n, step);
  return Rcpp::List::create(Rcpp::Named("codes") = out, Rcpp::Named("rows") = rows.rows);
}

// The index by the stretches below, on and between at most 100 points in their order and then the
// kinds of missing; and how many rows have each.
// [[Rcpp::export]]
Rcpp::List stretch_index(SEXP x, Rcpp::IntegerVector why, Rcpp::NumericVector points, int kinds) {
  R_xlen_t n = Rf_xlength(x);
  std::vector<double> at(points.begin(), points.end());
  need(2 * at.size() + 1 + kinds <= 256 && std::is_sorted(at.begin(), at.end()),
       "points and cells");
  Rcpp::RawVector index(fresh_column(RAWSXP, n));
  std::vector<int> rows = with_numbers(
      x, [&](auto *values) { return find_stretches(values, why, at, index.begin(), n, kinds); });
  if (kinds == 1) need(rows.back() == why.size(), "missing rows and their reasons");
  return Rcpp::List::create(Rcpp::Named("codes") = index, Rcpp::Named("rows") = rows);
}
